import PgBoss from 'pg-boss';
import type { Logger } from 'pino';

export const QUEUE = 'marking';
/** Attempts that took longer than a turn: they are marked beside the others, one after another. */
export const HEAVY = 'marking-heavy';
/** How many turns a heavy marking may take. */
export const LONGER = 9;
/** What wakes the background process: it looks for work at once instead of at its next poll. */
export const CHANNEL = 'contactum_work';

/** Longer than any marking may take, seconds: what has not ended by then lost its process. */
export const EXPIRES = 120;
export const HEAVY_EXPIRES = 3600;

/** Opens the queue of markings. Only one kind of process keeps it in order (`keeper`). */
export async function openQueue(databaseUrl: string, log: Logger, keeper: boolean): Promise<PgBoss> {
  const boss = new PgBoss({
    connectionString: databaseUrl,
    schema: 'jobs',
    max: keeper ? 3 : 1,
    supervise: keeper,
    schedule: false,
    migrate: true,
  });
  boss.on('error', (error) => log.warn({ err: error }, 'queue'));
  await boss.start();
  for (const name of [QUEUE, HEAVY])
    await boss.createQueue(name, {
      name,
      policy: 'short',
      retryLimit: 3,
      retryDelay: 2,
      expireInSeconds: name === QUEUE ? EXPIRES : HEAVY_EXPIRES,
    });
  return boss;
}

/** Puts attempts into the queue that wait for their marks; one that stands there already stays once. */
export async function queueAgain(boss: Pick<PgBoss, 'send'>, attemptIds: readonly string[]): Promise<void> {
  for (const attemptId of attemptIds) await boss.send(QUEUE, { attemptId }, { singletonKey: attemptId });
}

/** How somebody asks the database, in a transaction or not. */
type Ask = (text: string, values: unknown[]) => Promise<{ rows: unknown[] }>;

/** Puts attempts into the queue in somebody's transaction; one that stands there already stays once. */
export async function queueMarking(boss: PgBoss, attemptIds: readonly string[], ask: Ask): Promise<void> {
  const jobs = attemptIds.map((attemptId) => ({ name: QUEUE, data: { attemptId }, singletonKey: attemptId }));
  await boss.insert(jobs, { db: { executeSql: ask } });
}

/** Tells the background process that there is work. A transaction that tells it holds up all that do. */
export const wakeBackground = (ask: Ask): Promise<unknown> => ask('select pg_notify($1, $2)', [CHANNEL, '']);
