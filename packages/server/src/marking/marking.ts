import type { Knex } from 'knex';
import type { Piscina } from 'piscina';
import { isSearch, type Exercise, type Report } from '@contactum/core';
import type { AttemptState } from '@contactum/contract';
import { logOf, workEvents } from '../domain/attempts.js';
import { AttemptModel, FormerMarkingModel, MarkingModel, SearchModel } from '../database/models.js';
import { searchLog } from '../domain/searches.js';
import { SearchThreads } from './search-work.js';
import type { Journal } from '../domain/journal.js';
import type { MarkingTask } from './worker.js';

/** Makes reports of attempts in worker threads and writes them down. */
export class Marking {
  constructor(
    private readonly database: Knex,
    private readonly journal: Journal,
    private readonly pool: Piscina<MarkingTask, Report>,
  ) {}

  /** The report of an attempt in one of some states, by its own exercise or another; null where it is in none of them. */
  private async reportOn(
    attemptId: string,
    states: readonly AttemptState[],
    by?: Exercise,
  ): Promise<Report | null> {
    const attempt = await AttemptModel.query(this.database)
      .findById(attemptId)
      .whereIn('state', states)
      .withGraphFetched('[assignment, permissions]');
    if (!attempt?.assignment) return null;
    const exercise = by ?? attempt.assignment.document;
    if (isSearch(exercise)) return this.searchReport(attemptId, exercise);
    const { bench } = await this.journal.boardOf(attemptId);
    const log = exercise.practice ? workEvents(attempt, await logOf(this.database, attemptId)) : [];
    return this.pool.run({ exercise, bench, log });
  }

  /** The report of a search for faults. */
  private async searchReport(attemptId: string, exercise: Exercise): Promise<Report> {
    const search = await SearchModel.query(this.database).findOne({ attemptId });
    const log = search ? await searchLog(this.database, search.id) : [];
    const set = exercise.sets?.[0];
    return new SearchThreads(this.pool).grade(exercise, {
      faults: search?.hidden ?? set?.faults ?? [],
      log,
      minutes: search?.minutes ?? set?.minutes ?? 30,
    });
  }

  /** Marks a handed-in attempt; one that is marked already stays as it is. */
  async mark(attemptId: string): Promise<void> {
    const report = await this.reportOn(attemptId, ['handed-in']);
    if (!report) return;
    await this.database.transaction(async (trx) => {
      const changed = await AttemptModel.query(trx)
        .findById(attemptId)
        .where({ state: 'handed-in' })
        .patch({ state: 'marked', failure: null });
      if (changed > 0) await MarkingModel.query(trx).insert({ attemptId, report });
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
    const report = await this.reportOn(attemptId, ['marked', 'failed'], exercise);
    if (!report) return;
    await this.database.transaction(async (trx) => {
      const marking = await MarkingModel.query(trx).findById(attemptId).forUpdate();
      if (marking) {
        await FormerMarkingModel.query(trx).insert({
          attemptId,
          report: marking.report,
          markedAt: marking.markedAt,
        });
        await MarkingModel.query(trx).findById(attemptId).patch({ report, markedAt: new Date() });
        return;
      }
      const changed = await AttemptModel.query(trx)
        .findById(attemptId)
        .where({ state: 'failed' })
        .patch({ state: 'marked', failure: null });
      if (changed > 0) await MarkingModel.query(trx).insert({ attemptId, report });
    });
  }
}
