import type { Knex } from 'knex';
import {
  benchOf,
  isAsked,
  candidateBench,
  progressOf,
  referenceBench,
  type Bench,
  type Exercise,
  type PermitCheck,
  type Progress,
} from '@contactum/core';
import type { AttemptState, FloorBoard, Person, PointsRequest, Slip } from '@contactum/contract';
import { isAway } from '../../database/database.js';
import { ExerciseModel, PointChangeModel, RemarkModel, type AttemptModel } from '../../database/models.js';
import { permittedAt, resultOf, summaryOf } from './attempts.js';
import { note } from '../people/audit.js';
import { hintTaken, hintsOf } from './hints.js';
import type { Journal } from './journal.js';
import { changeView } from './mark-book.js';
import { mayRepair, requireOwnAttempt, requireReadableAttempt } from '../people/permissions.js';
import { Refusal, invalidAt } from '../../runtime/refusal.js';

/** All that is on a slip beside whose it is. */
const SLIP = 'marking, former, permissions, changes.author, remarks.author';

function formerOf({ former }: AttemptModel): Slip['former'] {
  const last = [...(former ?? [])].sort((a, b) => b.markedAt.getTime() - a.markedAt.getTime())[0];
  return last ? { markedAt: last.markedAt.toISOString(), report: last.report } : null;
}

/** An attempt's exercise as it was set and the wiring so far, without what else is on its slip. */
export async function workOf(
  database: Knex,
  journal: Journal,
  id: string,
  person: Person,
): Promise<{
  exercise: Exercise;
  bench: Bench;
  state: AttemptState;
  mayRepair: boolean;
  /** The exercise is this attempt's alone. */
  isVariant: boolean;
}> {
  const readable = await requireReadableAttempt(database, id, person);
  const { attempt, exercise } = readable;
  return {
    exercise,
    bench: benchOf((await journal.boardOf(id)).bench),
    state: attempt.state,
    mayRepair: mayRepair(readable, person),
    isVariant: attempt.document !== null,
  };
}

/** How many potentials of the reference a student's wiring has whole, where the exercise tells it. */
export async function attemptProgress(
  database: Knex,
  journal: Journal,
  id: string,
  student: Person,
): Promise<Progress | null> {
  const { exercise } = await requireOwnAttempt(database, id, student);
  if (!exercise?.shows?.includes('progress')) return null;
  return progressOf(exercise, benchOf((await journal.boardOf(id)).bench));
}

/** A slip with everything on it, for its student or for the instructor of its class. */
async function slipOf(database: Knex, journal: Journal, id: string, person: Person): Promise<Slip> {
  const readable = await requireReadableAttempt(database, id, person, SLIP);
  const { attempt, student, group, exercise, held } = readable;
  const byTime = <T extends { at: Date }>(rows: readonly T[] | undefined) =>
    [...(rows ?? [])].sort((a, b) => a.at.getTime() - b.at.getTime());
  return {
    attempt: summaryOf(attempt, held),
    student: { id: student.id, name: student.name },
    className: group.name,
    classId: group.id,
    exercise: { id: exercise.id, title: exercise.title, task: exercise.task ?? 'wire' },
    bench: isAsked(exercise) ? referenceBench(exercise) : benchOf((await journal.boardOf(id)).bench),
    failure: attempt.state === 'failed' ? (attempt.failure ?? 'it could not be marked') : null,
    ...(held
      ? { report: null, result: null, changes: [], markedAt: null, former: null }
      : {
          report: attempt.marking?.report ?? null,
          result: resultOf(attempt),
          changes: byTime(attempt.changes).map(changeView),
          markedAt: attempt.marking?.markedAt.toISOString() ?? null,
          former: formerOf(attempt),
        }),
    remarks: byTime(held ? [] : attempt.remarks).map(({ id: remark, text, author, at }) => ({
      id: remark,
      text,
      by: author?.name ?? '',
      at: at.toISOString(),
    })),
    hints: (await hintsOf(database, id)).map(hintTaken),
    permittedAt: permittedAt(attempt),
    mayRepair: mayRepair(readable, person),
    reference: person.role !== 'student' ? referenceBench(exercise) : null,
  };
}

/** Makes the report of an attempt anew, by its own exercise or another version of it. */
export interface MarkAgain {
  markAgain(attemptId: string, by: Exercise): Promise<unknown>;
}

type Relay = (attemptId: string, exercise: Exercise, instructor: Person) => Promise<PermitCheck | null>;

/** What an instructor does with the attempts of the own classes; each answers with the slip as it then is. */
export class Slips {
  constructor(
    private readonly database: Knex,
    private readonly journal: Journal,
    private readonly marking: MarkAgain,
    /** Lets the permit relay of an attempt's physical board close, where that may be. */
    private readonly relay: Relay,
  ) {}

  of(id: string, person: Person): Promise<Slip> {
    return slipOf(this.database, this.journal, id, person);
  }

  /** A board as it is wired now, and what it is asked to do. */
  async boardOf(id: string, instructor: Person): Promise<FloorBoard> {
    const { bench, exercise } = await workOf(this.database, this.journal, id, instructor);
    return { bench, functions: exercise.behaviours.map(({ id, title, steps }) => ({ id, title, steps })) };
  }

  /** Gives permission to energise the wiring as it is now. */
  async permit(id: string, instructor: Person): Promise<Slip> {
    await this.givePermission(id, instructor);
    return this.of(id, instructor);
  }

  /**
   * The same without the slip: from the floor. Returns whether the permit relay of a physical board may close;
   * null where none is connected.
   */
  async givePermission(id: string, instructor: Person): Promise<PermitCheck | null> {
    const { attempt, student, group, exercise } = await requireReadableAttempt(this.database, id, instructor);
    if (attempt.state !== 'open')
      throw new Refusal('conflict', 'This attempt has been handed in; there is nothing to energise.');
    await this.database.transaction(async (trx) => {
      await trx.raw(
        'insert into permissions (attempt_id, author_id, after_seq) select id, ?, last_seq from attempts where id = ?',
        [instructor.id, id],
      );
      await trx('bench_states').where({ attempt_id: id }).update({ asks_at: null });
      await note(trx, {
        actor: instructor,
        kind: 'gave permission',
        about: `${student.name}: ${exercise.title}`,
        classId: group.id,
      });
    });
    return this.relay(id, exercise, instructor);
  }

  /** Marks again, by the exercise as it was when it was set or as it is now. */
  async markAgain(id: string, instructor: Person, by: 'set' | 'now'): Promise<Slip> {
    const {
      exercise: set,
      bench,
      state,
      isVariant,
    } = await workOf(this.database, this.journal, id, instructor);
    if (state !== 'marked' && state !== 'failed')
      throw new Refusal('conflict', 'This attempt is not marked yet.');
    if (by === 'now' && isVariant)
      throw new Refusal(
        'conflict',
        'This attempt has a variant of the exercise; mark it by the exercise as it was set.',
      );
    const now = by === 'now' ? await ExerciseModel.query(this.database).findById(set.id) : undefined;
    const exercise = now?.document ?? set;
    // The board of the exercise may have changed since; a wiring of another board cannot be marked by it.
    const fitted = candidateBench(exercise, bench);
    const problem = 'problems' in fitted ? fitted.problems[0] : undefined;
    if (problem)
      throw new Refusal(
        'conflict',
        `The board has changed since this attempt: ${problem.path}: ${problem.message}. Mark it by the exercise as it was set.`,
      );
    try {
      await this.marking.markAgain(id, exercise);
    } catch (error) {
      if (isAway(error)) throw error;
      throw new Refusal('conflict', `It could not be marked: ${(error as Error).message}`);
    }
    const slip = await this.of(id, instructor);
    await note(this.database, {
      actor: instructor,
      kind: 'marked again',
      about: `${slip.student.name}: ${slip.exercise.title}`,
      classId: slip.classId,
      detail: { by, before: slip.former?.report.score ?? null, after: slip.report?.score ?? null },
    });
    return slip;
  }

  async remark(id: string, instructor: Person, text: string): Promise<Slip> {
    await requireReadableAttempt(this.database, id, instructor);
    await RemarkModel.query(this.database).insert({ attemptId: id, text, authorId: instructor.id });
    return this.of(id, instructor);
  }

  /** Gives a criterion other points, with a reason. */
  async changePoints(id: string, instructor: Person, change: PointsRequest): Promise<Slip> {
    const { part, criterion, points, reason } = change;
    const { report, changes, student, exercise, classId } = await this.of(id, instructor);
    const row = report?.criteria.find((one) => one.part === part && one.id === criterion);
    if (!row) throw invalidAt('criterion', `"${criterion}" is not a criterion of this slip`);
    const after = Math.round(points * 10) / 10;
    if (after > row.max) throw invalidAt('points', `must be at most ${row.max}, is ${points}`);
    const last = changes.findLast((one) => one.part === part && one.criterion === criterion);
    const before = last?.to ?? row.points;
    await this.database.transaction(async (trx) => {
      await PointChangeModel.query(trx).insert({
        attemptId: id,
        part,
        criterion,
        before,
        after,
        reason,
        authorId: instructor.id,
      });
      await note(trx, {
        actor: instructor,
        kind: 'changed points',
        about: `${student.name}: ${exercise.title}`,
        classId,
        detail: { part, criterion: row.title, before, after, reason },
      });
    });
    return this.of(id, instructor);
  }
}
