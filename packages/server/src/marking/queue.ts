import type { Knex } from 'knex';
import PgBoss from 'pg-boss';
import { Piscina } from 'piscina';
import type { Logger } from 'pino';
import type { Bench, Exercise, Report } from '@contactum/core';
import { logOf, wiredBench } from '../attempts.js';
import { AttemptModel, MarkingModel } from '../database/models.js';

const QUEUE = 'mark';

export interface MarkingTask {
  readonly exercise: Exercise;
  readonly bench: Bench;
}

/** Marks attempts in worker threads, fed by a queue in the database. */
export interface Marker {
  /** Puts a handed-in attempt into the queue. */
  enqueue(attemptId: string): Promise<void>;
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
  const pool = new Piscina<MarkingTask, Report>({ filename: worker.href, minThreads: threads, maxThreads: threads, execArgv: [...process.execArgv, ...workerArguments] });

  const mark = async (attemptId: string): Promise<void> => {
    const attempt = await AttemptModel.query(database).findById(attemptId).withGraphFetched('assignment');
    if (!attempt?.assignment || attempt.state !== 'handed-in') return;
    const exercise = attempt.assignment.document;
    const bench = wiredBench(exercise, await logOf(database, attemptId));
    const report = await pool.run({ exercise, bench });
    await database.transaction(async (trx) => {
      const changed = await AttemptModel.query(trx).findById(attemptId).where({ state: 'handed-in' }).patch({ state: 'marked' });
      if (changed > 0) await MarkingModel.query(trx).insert({ attemptId, report });
    });
  };

  const workIds = await Promise.all(
    Array.from({ length: threads }, () =>
      boss.work<{ attemptId: string }>(QUEUE, { batchSize: 1, pollingIntervalSeconds: 1 }, async ([job]) => {
        if (job) await mark(job.data.attemptId);
      }),
    ),
  );

  const enqueue = async (attemptId: string): Promise<void> => {
    await boss.send(QUEUE, { attemptId });
    // This process looks at once; another one finds the job at its next poll.
    for (const id of workIds) boss.notifyWorker(id);
  };

  const left = await AttemptModel.query(database).where({ state: 'handed-in' }).select('id');
  for (const { id } of left) await enqueue(id);

  return {
    enqueue,
    async stop() {
      await boss.stop({ graceful: true, timeout: 10_000 });
      await pool.destroy();
    },
  };
}
