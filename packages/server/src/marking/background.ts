import { toldTo } from '../runtime/logging.js';
import type { Knex } from 'knex';
import type pg from 'pg';
import type PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { Repair } from '@contactum/core';
import { AttemptModel } from '../database/models.js';
import { isAway } from '../database/database.js';
import { listenTo } from '../runtime/listen.js';
import type { Journal } from '../domain/attempts/journal.js';
import { DoorKeys } from '../domain/doors/keys.js';
import { Services } from '../domain/doors/services.js';
import { MarkTelling, type StatementStore } from '../domain/doors/tell-marks.js';
import { Marking } from './marking.js';
import { Desk } from '../domain/attempts/desk.js';
import {
  CHANNEL,
  EXPIRES,
  HEAVY,
  HEAVY_EXPIRES,
  LONGER,
  QUEUE,
  openQueue,
  queueAgain,
} from '../runtime/queue.js';
import { Lane, TooMuch, type Worker } from '../runtime/lane.js';
import { EDITS, STOP, TRIED, type SearchTask } from '../threads/worker.js';

export interface BackgroundOptions {
  readonly database: Knex;
  readonly pool: pg.Pool;
  readonly journal: Journal;
  readonly databaseUrl: string;
  readonly worker: Worker;
  readonly threads: number;
  /** Longest turn of a marking before it waits with the heavy ones, seconds. */
  readonly turnSeconds: number;
  /** Longest search for repairs, seconds. */
  readonly searchSeconds: number;
  /** Where statements of recorded marks go, if anywhere. */
  readonly statements: StatementStore | null;
  readonly log: Logger;
}

const POLL_MS = 1_000;
/** How often it is looked which marks are to be told elsewhere. */
const TELL_MS = 2_000;
/** Situations that are tried of a board that is too large for a whole proof. */
const BOUNDED = 20_000;
/** How often it is looked whether an exercise has closed. */
const CLOSE_MS = 5_000;
/** How often it is looked whether an attempt waits for marks that nobody makes. */
const LOST_MS = 15_000;
/** Attempts that are read or written down while as many as there are threads are worked. */
const AHEAD = 2;
/** A search goes on as long as somebody asks for it this often, seconds. */
const UNSEEN_SECONDS = 20;

/** Marks attempts and looks for repairs, whatever asked for them; takes up what an earlier process left. */
export async function startBackground(options: BackgroundOptions): Promise<{ stop(): Promise<void> }> {
  const { database, pool, journal, databaseUrl, worker, threads, log, turnSeconds } = options;
  const markers = new Lane({ worker, staying: threads, seconds: turnSeconds });
  const heavy = new Lane({ worker, seconds: LONGER * turnSeconds });
  const marking = new Marking(database, journal, markers);
  const heavyMarking = new Marking(database, journal, heavy);
  const boss = await openQueue(databaseUrl, log, true);

  const takeJob = async (by: Marking, attemptId: string, tries: number): Promise<void> => {
    try {
      await by.mark(attemptId);
    } catch (error) {
      if (isAway(error)) throw error;
      if (error instanceof TooMuch) {
        log.warn({ attemptId, limit: error.limit }, 'a marking took too much');
        // It waits with its like; what is too much for those too is marked by what can be tried.
        if (by === marking) await boss.send(HEAVY, { attemptId }, { singletonKey: attemptId });
        else await by.mark(attemptId, BOUNDED).catch(() => marking.fail(attemptId, error.message));
        return;
      }
      log.error({ err: error, attemptId }, 'marking failed');
      // Once more, in case a thread was lost; what fails twice fails always.
      if (tries < 1) throw error;
      await marking.fail(attemptId, (error as Error).message);
    }
  };
  const takeFrom = (queue: string, by: Marking) =>
    boss.work<{ attemptId: string }>(
      queue,
      { batchSize: 1, pollingIntervalSeconds: 1, includeMetadata: true },
      async ([job]) => {
        if (job) await takeJob(by, job.data.attemptId, job.retryCount);
        wake();
      },
    );
  const ids = await Promise.all([
    ...Array.from({ length: threads + AHEAD }, () => takeFrom(QUEUE, marking)),
    takeFrom(HEAVY, heavyMarking),
  ]);
  const searches = new Searches(options);
  function wake(): void {
    for (const id of ids) boss.notifyWorker(id);
    searches.look();
  }
  const listener = listenTo(databaseUrl, CHANNEL, log, wake);

  await takeUp(database, boss);
  wake();
  const every = [...sweeping({ pool, log }, boss, wake), telling(options)];
  return {
    async stop() {
      for (const one of every) clearInterval(one);
      await listener.stop();
      await boss.stop({ graceful: true, timeout: 10_000 });
      await Promise.all([markers.destroy(), heavy.destroy(), searches.stop()]);
    },
  };
}

/** Tells gradebooks and statement stores the marks that have changed, one turn after the other. */
function telling({ database, statements, log }: BackgroundOptions): NodeJS.Timeout {
  const marks = new MarkTelling(database, new Services(new DoorKeys(database)), statements, log);
  let busy = false;
  return setInterval(() => {
    if (busy) return;
    busy = true;
    void marks
      .turn()
      .catch(toldTo(log, 'telling marks'))
      .finally(() => (busy = false));
  }, TELL_MS);
}

/** What is looked at again and again, with nobody asking. */
function sweeping({ pool, log }: Pick<BackgroundOptions, 'pool' | 'log'>, boss: PgBoss, wake: () => void) {
  const desk = new Desk(pool, boss);
  const takeUpAgain = async () => {
    if ((await takeUpLost(pool, boss)) > 0) wake();
  };
  return [
    setInterval(wake, POLL_MS),
    setInterval(() => void closeAttempts(pool, desk).catch(toldTo(log, 'closing attempts')), CLOSE_MS),
    setInterval(() => void takeUpAgain().catch(toldTo(log, 'lost markings')), LOST_MS),
  ];
}

/** What an earlier process left: attempts that wait for their marks, and searches. */
async function takeUp(database: Knex, boss: PgBoss): Promise<void> {
  const left = await AttemptModel.query(database).where({ state: 'handed-in' }).select('id');
  await queueAgain(
    boss,
    left.map(({ id }) => id),
  );
  await database.raw("update repairs set state = 'waiting' where state = 'running'");
}

/**
 * Attempts that were handed in and have no job any more: it was tried too often by processes that were
 * killed, or begun by one that is gone. They are put into the queue again.
 */
export async function takeUpLost(pool: pg.Pool, boss: Pick<PgBoss, 'send'>): Promise<number> {
  const { rows } = await pool.query<{ id: string }>(
    `select a.id from attempts a where a.state = 'handed-in' and a.handed_in_at < now() - interval '${LOST_MS} milliseconds'
      and not exists (select 1 from jobs.job j where j.name = any($1) and j.data->>'attemptId' = a.id::text
        and (j.state in ('created', 'retry') or j.state = 'active' and j.started_on > now()
          - interval '1 second' * case when j.name = $2 then ${EXPIRES} else ${HEAVY_EXPIRES} end))`,
    [[QUEUE, HEAVY], QUEUE],
  );
  await queueAgain(
    boss,
    rows.map(({ id }) => id),
  );
  return rows.length;
}

/** Hands in, as they stand, the attempts whose time is up; several processes may look at once. */
async function closeAttempts(pool: pg.Pool, desk: Desk): Promise<void> {
  const { rows } = await pool.query<{ id: string; studentId: string }>(
    `select a.id, a.student_id as "studentId" from attempts a
      join assignment_students v on v.assignment_id = a.assignment_id and v.student_id = a.student_id
      where a.state = 'open' and v.closes_at <= now() limit 200`,
  );
  await Promise.all(rows.map(({ id, studentId }) => desk.handIn(id, studentId)));
}

/** Searches for repairs, one after the other in the order of asking; nobody has two in the queue. */
class Searches {
  private readonly lane: Lane<SearchTask, Repair>;
  private busy = false;
  private ended = false;

  constructor(private readonly options: BackgroundOptions) {
    // A search stops by itself; only one that hangs is ended.
    this.lane = new Lane({ worker: options.worker, seconds: 2 * options.searchSeconds + 30 });
  }

  look(): void {
    if (this.busy || this.ended) return;
    this.busy = true;
    this.run()
      .catch((error: unknown) => this.options.log.warn({ err: error }, 'searching for repairs'))
      .finally(() => (this.busy = false));
  }

  async stop(): Promise<void> {
    this.ended = true;
    await this.lane.destroy();
  }

  private async run(): Promise<void> {
    const { pool } = this.options;
    while (!this.ended) {
      const { rows } = await pool.query<{ id: string; attempt_id: string }>(
        `update repairs set state = 'running' where id = (select id from repairs where state = 'waiting' order by asked_at limit 1 for update skip locked) returning id, attempt_id`,
      );
      const [next] = rows;
      if (!next) return;
      await this.search(next.id, next.attempt_id);
    }
  }

  private async search(id: string, attemptId: string): Promise<void> {
    const { pool, journal, searchSeconds, log } = this.options;
    const progress = new Int32Array(new SharedArrayBuffer(12));
    const begun = performance.now();
    const limit = { passed: false };
    const watch = setInterval(() => {
      limit.passed ||= performance.now() - begun > searchSeconds * 1000;
      if (limit.passed) Atomics.store(progress, STOP, 1);
      pool
        .query(
          `update repairs set edits = $2, tried = $3 where id = $1 and seen_at > now() - interval '${UNSEEN_SECONDS} seconds'`,
          [id, progress[EDITS], progress[TRIED]],
        )
        // Nobody waits for it any more, or it was taken back.
        .then(({ rowCount }) => rowCount === 0 && Atomics.store(progress, STOP, 1))
        .catch(toldTo(log, 'how far a search for repairs is'));
    }, 500);
    try {
      const exercise = await journal.exerciseOf(attemptId);
      const { bench } = await journal.boardOf(attemptId);
      const result = await this.lane.run({ exercise, bench, progress }, 'search');
      // What nobody waited for is no answer; it is looked for anew when it is asked for again.
      if (result.stopped && !limit.passed) await pool.query('delete from repairs where id = $1', [id]);
      else
        await pool.query('update repairs set state = $2, result = $3, edits = $4, tried = $5 where id = $1', [
          id,
          result.stopped ? 'stopped' : 'done',
          JSON.stringify(result),
          result.searched,
          result.tried,
        ]);
    } catch (error) {
      if (this.ended || isAway(error)) throw error;
      log.error({ err: error, attemptId }, 'a search for repairs failed');
      await pool.query("update repairs set state = 'failed' where id = $1", [id]);
    } finally {
      clearInterval(watch);
    }
  }
}
