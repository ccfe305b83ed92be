import type { Knex } from 'knex';
import { benchOf, type Bench, type Exercise, type PackWork, type Report } from '@contactum/core';
import type { AttemptState } from '@contactum/contract';
import { AttemptModel, FormerMarkingModel, MarkingModel, markingOf } from '../database/models.js';
import { SearchThreads } from '../threads/searches.js';
import { markedWork } from '../domain/records/work.js';
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
    const found = await markedWork(this.database, this.journal, attemptId, states, by);
    if (!found) return null;
    const { attempt, exercise, work } = found;
    const report = await this.reportOf(exercise, work, most);
    // Joints of a variant are those of no other attempt; what was measured is looked at where leads were entered.
    const bench =
      work.kind === 'wiring' ? work.bench : work.kind === 'sheet' && (await this.entered(attemptId, work));
    return markingOf(report, bench && !attempt.document ? { exercise, bench } : null);
  }

  /** The wiring that was entered at a physical board; false where none was. */
  private async entered(
    attemptId: string,
    { entries }: Extract<PackWork, { kind: 'sheet' }>,
  ): Promise<Bench | false> {
    return entries.asWired ? benchOf((await this.journal.boardOf(attemptId)).bench) : false;
  }

  private reportOf(exercise: Exercise, work: PackWork, most: number | undefined): Promise<Report> {
    switch (work.kind) {
      case 'wiring': {
        const { bench, log, hints } = work;
        const task: MarkingTask = { exercise, bench, log, hints, ...(most === undefined ? {} : { most }) };
        return this.lane.run<Report>(task);
      }
      case 'answers':
        return this.lane.run<Report>({ exercise, answers: work.answers }, 'markAnswers');
      case 'sheet':
        return this.lane.run<Report>({ exercise, entries: work.entries }, 'markPhysical');
      case 'search':
        return new SearchThreads(this.lane).grade(exercise, work.work);
    }
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
