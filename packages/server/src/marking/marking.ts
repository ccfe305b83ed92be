import type { Knex } from 'knex';
import { answersIn, benchOf, isAsked, isSearch, type Exercise, type Report } from '@contactum/core';
import type { AttemptState } from '@contactum/contract';
import { logOf, workEvents } from '../domain/attempts/attempts.js';
import {
  AttemptModel,
  FormerMarkingModel,
  MarkingModel,
  SearchModel,
  markingOf,
} from '../database/models.js';
import { searchLog } from '../domain/searches/searches.js';
import { SearchThreads } from '../threads/searches.js';
import { hintsOf } from '../domain/attempts/hints.js';
import type { Journal } from '../domain/attempts/journal.js';
import type { Lane } from '../runtime/lane.js';
import type { MarkingTask } from '../threads/worker.js';

type Marked = ReturnType<typeof markingOf>;

/** Makes reports of attempts in worker threads and writes them down. */
export class Marking {
  constructor(
    private readonly database: Knex,
    private readonly journal: Journal,
    private readonly lane: Lane<unknown, unknown>,
  ) {}

  /**
   * The report of an attempt in one of some states, by its own exercise or another; null where it is in
   * none of them.
   */
  private async reportOn(
    attemptId: string,
    states: readonly AttemptState[],
    { by, most }: { readonly by?: Exercise; readonly most?: number | undefined } = {},
  ): Promise<Marked | null> {
    const attempt = await AttemptModel.query(this.database)
      .findById(attemptId)
      .whereIn('state', states)
      .withGraphFetched('[assignment.people, permissions, sheet(entered)]')
      .modifiers({ entered: (query) => void query.select('id', 'attemptId', 'entries') });
    if (!attempt?.assignment) return null;
    const own = attempt.assignment.people?.find(({ studentId }) => studentId === attempt.studentId);
    const extra = own?.extraMinutes ?? 0;
    const exercise = withTime(by ?? attempt.exercise ?? attempt.assignment.document, extra);
    if (isSearch(exercise)) return markingOf(await this.searchReport(attemptId, exercise, extra), null);
    if (isAsked(exercise)) {
      const answers = answersIn((await logOf(this.database, attemptId)).map(({ body }) => body));
      return markingOf(await this.lane.run<Report>({ exercise, answers }, 'markAnswers'), null);
    }
    const { bench } = await this.journal.boardOf(attemptId);
    if (attempt.sheet) {
      const { entries } = attempt.sheet;
      const report = await this.lane.run<Report>({ exercise, entries }, 'markPhysical');
      // Which joints go wrong is known where the leads were entered.
      return markingOf(report, entries.asWired ? { exercise, bench: benchOf(bench) } : null);
    }
    const log = exercise.practice ? workEvents(attempt, await logOf(this.database, attemptId)) : [];
    const wiring = benchOf(bench);
    const hints = (await hintsOf(this.database, attemptId)).map(({ degree }) => degree);
    const task: MarkingTask = {
      exercise,
      bench: wiring,
      log,
      hints,
      ...(most === undefined ? {} : { most }),
    };
    const report = await this.lane.run<Report>(task);
    // Joints of a variant are those of no other attempt.
    return markingOf(report, attempt.document ? null : { exercise, bench: wiring });
  }

  /** The report of a search for faults. */
  private async searchReport(attemptId: string, exercise: Exercise, extra: number): Promise<Report> {
    const search = await SearchModel.query(this.database).findOne({ attemptId });
    const log = search ? await searchLog(this.database, search.id) : [];
    const set = exercise.sets?.[0];
    return new SearchThreads(this.lane).grade(exercise, {
      faults: search?.hidden ?? set?.faults ?? [],
      log,
      minutes: (search?.minutes ?? set?.minutes ?? 30) + extra,
    });
  }

  /**
   * Marks a handed-in attempt, by at most so many situations where that is said; one that is marked already
   * stays as it is.
   */
  async mark(attemptId: string, most?: number): Promise<void> {
    const marked = await this.reportOn(attemptId, ['handed-in'], { most });
    if (!marked) return;
    await this.database.transaction(async (trx) => {
      const changed = await AttemptModel.query(trx)
        .findById(attemptId)
        .where({ state: 'handed-in' })
        .patch({ state: 'marked', failure: null });
      if (changed > 0) await MarkingModel.query(trx).insert({ attemptId, ...marked });
    });
  }

  /** An attempt that cannot be marked: its slip says why, and the student may go on. */
  async fail(attemptId: string, reason: string): Promise<void> {
    await AttemptModel.query(this.database)
      .findById(attemptId)
      .where({ state: 'handed-in' })
      .patch({ state: 'failed', failure: reason.slice(0, 500) });
  }

  /** Marks an attempt once more, by an exercise, and keeps what it was given before. */
  async markAgain(attemptId: string, exercise: Exercise): Promise<void> {
    const marked = await this.reportOn(attemptId, ['marked', 'failed'], { by: exercise });
    if (!marked) return;
    await this.database.transaction(async (trx) => {
      const marking = await MarkingModel.query(trx).findById(attemptId).forUpdate();
      if (marking) {
        await FormerMarkingModel.query(trx).insert({
          attemptId,
          report: marking.report,
          markedAt: marking.markedAt,
        });
        await MarkingModel.query(trx)
          .findById(attemptId)
          .patch({ ...marked, markedAt: new Date() });
        return;
      }
      const changed = await AttemptModel.query(trx)
        .findById(attemptId)
        .where({ state: 'failed' })
        .patch({ state: 'marked', failure: null });
      if (changed > 0) await MarkingModel.query(trx).insert({ attemptId, ...marked });
    });
  }
}

/** An exercise with the time that a person has more; what else it asks, and so its version, stays. */
const withTime = (exercise: Exercise, extra: number): Exercise =>
  exercise.practice?.minutes === undefined || extra === 0
    ? exercise
    : { ...exercise, practice: { ...exercise.practice, minutes: exercise.practice.minutes + extra } };
