import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import type PgBoss from 'pg-boss';
import {
  benchOf,
  editsTo,
  exerciseVersion,
  isSearch,
  openingBoard,
  terminalsOf,
  wireProblems,
  type BenchSheet,
  type Exercise,
  type SheetEntries,
  type Wire,
} from '@contactum/core';
import type { Person, SheetRequest, SheetTaken, SheetToTake, SheetView } from '@contactum/contract';
import { AssignmentModel, AttemptModel, LogModel, SheetModel } from '../database/models.js';
import { queueMarking } from '../marking/queue.js';
import type { Lane } from '../marking/threads.js';
import { putBounded } from '../bounded.js';
import { note } from './audit.js';
import type { Journal } from './journal.js';
import { requireOwnSetting, requireReadableAttempt } from './permissions.js';
import { Refusal, invalidAt, notFound } from './refusal.js';
import { shutFor, studentTimes } from './settings.js';
import { requireShown } from './sight.js';

/** Sheets that a process remembers. */
const MADE = 200;

/** Sheets of physical boards: made for a setting, entered at the bench, and marked in the queue like any attempt. */
export class Sheets {
  private readonly made = new Map<string, Promise<BenchSheet>>();

  constructor(
    private readonly database: Knex,
    private readonly journal: Journal,
    private readonly boss: PgBoss,
    private readonly lane: Lane<unknown, unknown>,
  ) {}

  /** What is taken to the bench. */
  async toTake(settingId: string, person: Person): Promise<SheetToTake> {
    const setting = await this.requireSetting(settingId, person);
    const exercise = setting.document;
    if (isSearch(exercise)) throw new Refusal('conflict', 'A search for faults has no bench sheet.');
    const students = await this.database('assignment_students as v')
      .join('people as p', 'p.id', 'v.student_id')
      .where('v.assignment_id', settingId)
      .modify((query) => {
        if (person.role === 'student') void query.where('p.id', person.id);
      })
      .orderBy('p.name')
      .select<{ id: string; name: string }[]>('p.id', 'p.name');
    return {
      settingId,
      className: setting.class?.name ?? '',
      exerciseId: exercise.id,
      version: exerciseVersion(exercise),
      sheet: await this.sheetOf(exercise),
      terminals: terminalsOf(exercise.bench),
      students,
      takenAt: new Date().toISOString(),
    };
  }

  private async requireSetting(settingId: string, person: Person): Promise<AssignmentModel> {
    if (person.role !== 'student') return requireOwnSetting(this.database, settingId, person);
    const setting = await AssignmentModel.query(this.database)
      .findById(settingId)
      .whereExists(
        this.database('assignment_students').where('assignment_id', settingId).where('student_id', person.id),
      )
      .withGraphFetched('class');
    if (!setting) throw notFound('setting');
    // A sheet says between which terminals what is to be read.
    await requireShown(this.database, setting.document, person, 'answers');
    return setting;
  }

  /** Made in a thread, once for each version of an exercise. */
  private sheetOf(exercise: Exercise): Promise<BenchSheet> {
    const key = exerciseVersion(exercise);
    const known = this.made.get(key);
    if (known) return known;
    const making = this.lane.run<BenchSheet>({ exercise }, 'sheet');
    putBounded(this.made, key, making, MADE);
    making.catch(() => this.made.delete(key));
    return making;
  }

  /** Takes a sheet that was entered; the same one sent again is taken once. */
  async take(settingId: string, given: SheetRequest, person: Person): Promise<SheetTaken> {
    if (person.role === 'student' && given.studentId !== person.id)
      throw new Refusal('forbidden', 'A sheet is entered for oneself, or by an instructor.');
    const setting = await this.requireSetting(settingId, person);
    const exercise = setting.document;
    if (isSearch(exercise)) throw new Refusal('conflict', 'A search for faults has no bench sheet.');
    requireFitting(exercise, given.entries);
    const digest = digestOf(settingId, given);
    return this.database.transaction(async (trx) => {
      await trx.raw('select pg_advisory_xact_lock(hashtextextended(?, 0))', [
        `${settingId} ${given.studentId}`,
      ]);
      const known = await SheetModel.query(trx)
        .findById(given.id)
        .select('id', 'attemptId', 'digest')
        .withGraphFetched('attempt');
      if (known?.attempt) {
        if (known.digest !== digest)
          throw new Refusal('conflict', 'This sheet was sent before with other entries; those were taken.');
        return { id: known.id, attemptId: known.attemptId, number: known.attempt.number };
      }
      const number = await this.nextNumber(trx, setting, given, person);
      const attempt = await AttemptModel.query(trx)
        .insert({
          assignmentId: settingId,
          studentId: given.studentId,
          number,
          state: 'handed-in',
          startedAt: begunAt(given.entries),
          handedInAt: endedAt(given.entries),
        })
        .returning('*');
      await this.writeWiring(trx, attempt, setting.document, given.entries);
      await SheetModel.query(trx).insert({
        id: given.id,
        attemptId: attempt.id,
        enteredBy: person.id,
        entries: given.entries,
        digest,
        photoType: given.photo?.type ?? null,
        photo: given.photo ? Buffer.from(given.photo.base64, 'base64') : null,
      });
      await queueMarking(this.boss, attempt.id, numbered(trx));
      await note(trx, {
        actor: person,
        kind: 'entered a bench sheet',
        about: exercise.title,
        classId: setting.classId,
        detail: { attemptId: attempt.id, studentId: given.studentId },
      });
      return { id: given.id, attemptId: attempt.id, number };
    });
  }

  /** The number of the next attempt; what stands against one more is said, unless it is taken anyway. */
  private async nextNumber(
    trx: Knex,
    setting: AssignmentModel,
    { studentId, anyway }: SheetRequest,
    person: Person,
  ): Promise<number> {
    const times = (await studentTimes(trx, studentId, setting.id)).get(setting.id);
    if (!times) throw new Refusal('conflict', 'This exercise is not set to this student any more.');
    const attempts = await AttemptModel.query(trx)
      .where({ assignmentId: setting.id, studentId })
      .orderBy('number');
    const last = attempts.at(-1)?.number ?? 0;
    if (anyway && person.role !== 'student') return last + 1;
    if (attempts.some(({ state }) => state === 'open'))
      throw new Refusal('conflict', 'An attempt at this exercise is open on the screen.');
    const shut = shutFor(setting, times, last);
    if (shut !== null) throw new Refusal('conflict', shut);
    return last + 1;
  }

  /** The leads as they really lie are the attempt's log, so that its board is seen and worked like any other. */
  private async writeWiring(
    trx: Knex,
    attempt: AttemptModel,
    exercise: Exercise,
    { asWired = [] }: SheetEntries,
  ): Promise<void> {
    if (asWired.length === 0) return;
    const edits = editsTo(openingBoard(exercise), asWired);
    await LogModel.query(trx).insert(
      edits.map((edit, k) => ({
        attemptId: attempt.id,
        seq: k + 1,
        body: { kind: 'edit' as const, edit },
        at: attempt.handedInAt ?? new Date(),
      })),
    );
    await AttemptModel.query(trx).findById(attempt.id).patch({ lastSeq: edits.length });
  }

  /** The leads of a student's last attempt on the screen: laid on the Bench as they lie on the board. */
  async wiringOf(settingId: string, studentId: string, person: Person): Promise<{ wires: Wire[] }> {
    if (person.role === 'student' && studentId !== person.id) throw notFound('attempt');
    const setting = await this.requireSetting(settingId, person);
    const attempt = await AttemptModel.query(this.database)
      .where({ assignmentId: settingId, studentId })
      .whereNotExists(this.database('bench_sheets').where('attempt_id', this.database.ref('attempts.id')))
      .orderBy('number', 'desc')
      .first();
    if (!attempt) throw new Refusal('conflict', 'This student has not wired this exercise on the Bench.');
    const { bench } = await this.journal.boardOf(attempt.id);
    return { wires: benchOf(bench).wires.slice(setting.document.bench.wires.length) };
  }

  /** What was entered for an attempt; null where it was made on the screen. */
  async of(attemptId: string, person: Person): Promise<SheetView | null> {
    await requireReadableAttempt(this.database, attemptId, person);
    const sheet = await SheetModel.query(this.database)
      .findOne({ attemptId })
      .select('id', 'entries', 'sentAt', 'enteredBy', 'photoType')
      .withGraphFetched('author');
    return sheet
      ? {
          entries: sheet.entries,
          enteredBy: sheet.author?.name ?? '',
          sentAt: sheet.sentAt.toISOString(),
          photo: sheet.photoType === null ? null : `/api/attempts/${attemptId}/sheet/photo`,
        }
      : null;
  }

  async photoOf(attemptId: string, person: Person): Promise<{ type: string; data: Buffer }> {
    await requireReadableAttempt(this.database, attemptId, person);
    const sheet = await SheetModel.query(this.database).findOne({ attemptId });
    if (!sheet?.photo || sheet.photoType === null) throw notFound('photograph');
    return { type: sheet.photoType, data: sheet.photo };
  }
}

/** Asks in a transaction what numbers its values, as the queue does; the builder of queries names them by question marks. */
const numbered =
  (trx: Knex) =>
  async (text: string, values: unknown[]): Promise<{ rows: unknown[] }> => {
    const given: unknown[] = [];
    const sql = text.replaceAll('?', '\\?').replace(/\$(\d+)/g, (_, n: string) => {
      given.push(values[Number(n) - 1] ?? null);
      return '?';
    });
    return trx.raw<{ rows: unknown[] }>(sql, given as Knex.RawBinding[]);
  };

const dateOf = (text: string | undefined): Date => (text === undefined ? new Date() : new Date(text));
const begunAt = ({ begun, ended }: SheetEntries): Date => dateOf(begun ?? ended);
/** Never before it was begun. */
const endedAt = (entries: SheetEntries): Date =>
  new Date(Math.max(dateOf(entries.ended ?? entries.begun).getTime(), begunAt(entries).getTime()));

/** Entries name nothing that is not on the sheet's board. */
function requireFitting(exercise: Exercise, entries: SheetEntries): void {
  const functions = new Set(exercise.behaviours.map(({ id }) => id));
  const strange = Object.keys(entries.functions).find((id) => !functions.has(id));
  if (strange !== undefined)
    throw invalidAt(`entries.functions["${strange}"]`, 'is no function of this exercise');
  const tags = new Set(exercise.bench.devices.map(({ tag }) => tag));
  const unknown = Object.keys(entries.settings).find((key) => !tags.has(key.slice(0, key.lastIndexOf('.'))));
  if (unknown !== undefined) throw invalidAt(`entries.settings["${unknown}"]`, 'is no device of this board');
  const [problem] = wireProblems(entries.asWired ?? [], exercise.bench, 'entries.asWired');
  if (problem) throw invalidAt(problem.path, problem.message);
}

const digestOf = (settingId: string, { studentId, entries, photo }: SheetRequest): string =>
  createHash('sha256')
    .update(JSON.stringify([settingId, studentId, entries, photo]))
    .digest('base64url');
