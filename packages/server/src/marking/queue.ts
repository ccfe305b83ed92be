import type { Knex } from 'knex';
import PgBoss from 'pg-boss';
import { Piscina } from 'piscina';
import type { Logger } from 'pino';
import type { AttemptState } from '@contactum/contract';
import type { Bench, Exercise, Repair, Report, WorkEvent } from '@contactum/core';
import { logOf, wiredBench, workEvents } from '../attempts.js';
import { AttemptModel, FormerMarkingModel, MarkingModel } from '../database/models.js';

const QUEUE = 'mark';

export interface MarkingTask {
  readonly exercise: Exercise;
  readonly bench: Bench;
  readonly log: readonly WorkEvent[];
}

/** Marks attempts in worker threads, fed by a queue in the database. */
export interface Marker {
  /** Puts a handed-in attempt into the queue. */
  enqueue(attemptId: string): Promise<void>;
  /** Marks an attempt that is marked already once more, by an exercise, and keeps what it was given before. */
  markAgain(attemptId: string, exercise: Exercise): Promise<void>;
  /** Looks for the repairs of a wiring; ends the search where the signal says so. */
  repair(exercise: Exercise, bench: Bench, signal: AbortSignal): Promise<Repair>;
  stop(): Promise<void>;
}

export interface MarkerOptions {
  readonly database: Knex;
  readonly databaseUrl: string;
  readonly worker: URL;
  readonly workerArguments?: readonly string[];
  readonly threads: number;
  readonly log: Logger;
}

/** Starts the queue and its workers, and takes up what an earlier process left unmarked. */
export async function startMarker({ database, databaseUrl, worker, workerArguments = [], threads, log }: MarkerOptions): Promise<Marker> {
  const boss = new PgBoss({ connectionString: databaseUrl, schema: 'jobs', max: 4 });
  boss.on('error', (error) => log.error({ err: error }, 'queue'));
  await boss.start();
  await boss.createQueue(QUEUE, { name: QUEUE, policy: 'standard', retryLimit: 3, retryDelay: 2, expireInSeconds: 120 });
  const execArgv = [...process.execArgv, ...workerArguments];
  const pool = new Piscina<MarkingTask, Report>({ filename: worker.href, minThreads: threads, maxThreads: threads, execArgv });
  // A thread of its own: a long search never holds up marking.
  const searches = new Piscina<Omit<MarkingTask, 'log'>, Repair>({ filename: worker.href, minThreads: 0, maxThreads: 1, idleTimeout: 30_000, execArgv });

  /** The report of an attempt in a state, by its own exercise or another; null where it is not in that state. */
  const reportOn = async (attemptId: string, state: AttemptState, by?: Exercise): Promise<Report | null> => {
    const attempt = await AttemptModel.query(database).findById(attemptId).where({ state }).withGraphFetched('[assignment, permissions]');
    if (!attempt?.assignment) return null;
    const exercise = by ?? attempt.assignment.document;
    const log = await logOf(database, attemptId);
    return pool.run({ exercise, bench: wiredBench(exercise, log), log: workEvents(attempt, log) });
  };

  const mark = async (attemptId: string): Promise<void> => {
    const report = await reportOn(attemptId, 'handed-in');
    if (!report) return;
    await database.transaction(async (trx) => {
      const changed = await AttemptModel.query(trx).findById(attemptId).where({ state: 'handed-in' }).patch({ state: 'marked' });
      if (changed > 0) await MarkingModel.query(trx).insert({ attemptId, report });
    });
  };

  const workIds: string[] = [];
  // A worker looks again at once instead of at its next poll.
  const wake = (): void => workIds.forEach((id) => boss.notifyWorker(id));
  const started = await Promise.all(
    Array.from({ length: threads }, () =>
      boss.work<{ attemptId: string }>(QUEUE, { batchSize: 1, pollingIntervalSeconds: 1 }, async ([job]) => {
        if (job) await mark(job.data.attemptId);
        wake();
      }),
    ),
  );

  workIds.push(...started);

  const enqueue = async (attemptId: string): Promise<void> => {
    await boss.send(QUEUE, { attemptId });
    // Another process finds the job at its next poll.
    wake();
  };

  const left = await AttemptModel.query(database).where({ state: 'handed-in' }).select('id');
  for (const { id } of left) await enqueue(id);

  return {
    enqueue,
    async markAgain(attemptId, exercise) {
      const report = await reportOn(attemptId, 'marked', exercise);
      if (!report) return;
      await database.transaction(async (trx) => {
        const marking = await MarkingModel.query(trx).findById(attemptId).forUpdate();
        if (!marking) return;
        await FormerMarkingModel.query(trx).insert({ attemptId, report: marking.report, markedAt: marking.markedAt });
        await MarkingModel.query(trx).findById(attemptId).patch({ report, markedAt: new Date() });
      });
    },
    repair: (exercise, bench, signal) => searches.run({ exercise, bench }, { name: 'search', signal }),
    async stop() {
      await boss.stop({ graceful: true, timeout: 10_000 });
      await Promise.all([pool.destroy(), searches.destroy()]);
    },
  };
}
