import type { Knex } from 'knex';
import { benchOf, type Bench, type Exercise, type PackWork, type Report } from '@contactum/core';
import type { AttemptState } from '@contactum/contract';
import { AttemptModel, FormerMarkingModel, MarkingModel, markingOf } from '../database/models.js';
import { SearchThreads } from '../threads/searches.js';
import { markedWork } from '../domain/records/work.js';
import type { Journal } from '../domain/attempts/journal.js';
import type { Lane } from '../runtime/lane.js';
import type { MarkingTask } from '../threads/worker.js';
import { WorkedWirings } from './worked-wirings.js';

type Marked = ReturnType<typeof markingOf>;

/** Makes reports of attempts in worker threads and writes them down. */
export class Marking {
  private readonly wirings: WorkedWirings;

  constructor(
    private readonly database: Knex,
    private readonly journal: Journal,
    private readonly lane: Lane<unknown, unknown>,
  ) {
    this.wirings = new WorkedWirings(lane);
  }

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
    return markingOf(report, await this.wiringIn(attempt, exercise, work));
  }

  /**
   * The wiring of which it is kept where it differs from the reference: as it was laid, or entered at a
   * physical board. None of a variant: its joints are those of no other attempt.
   */
  private async wiringIn(
    { id, document }: AttemptModel,
    exercise: Exercise,
    work: PackWork,
  ): Promise<{ exercise: Exercise; bench: Bench } | null> {
    if (document) return null;
    if (work.kind === 'wiring') return { exercise, bench: work.bench };
    if (work.kind !== 'sheet' || !work.entries.asWired) return null;
    return { exercise, bench: benchOf((await this.journal.boardOf(id)).bench) };
  }

  private async reportOfWiring(
    exercise: Exercise,
    { bench, log, hints }: Extract<PackWork, { kind: 'wiring' }>,
    most: number | undefined,
  ): Promise<Report> {
    const worked = await this.wirings.of({
      exercise,
      bench,
      // Where a whole proof is too large; the report says then that it is not complete.
      how: most === undefined ? {} : { most, faults: false },
    });
    const task: MarkingTask = { exercise, bench, log, hints, worked };
    return this.lane.run<Report>(task);
  }

  private reportOf(exercise: Exercise, work: PackWork, most: number | undefined): Promise<Report> {
    switch (work.kind) {
      case 'wiring': {
        return this.reportOfWiring(exercise, work, most);
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
