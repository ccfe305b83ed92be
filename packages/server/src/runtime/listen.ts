import pg from 'pg';
import type { Logger } from 'pino';

export interface Listening {
  /** Resolves once it is heard for the first time, or was stopped. */
  readonly ready: Promise<void>;
  stop(): Promise<void>;
}

/**
 * Hears what is told on a channel of the database, by whichever process. A lost connection is made anew;
 * `null` is heard whenever one was made, since something may have been missed.
 */
export function listenTo(
  databaseUrl: string,
  channel: string,
  log: Logger,
  heard: (payload: string | null) => void,
): Listening {
  let client: pg.Client | null = null;
  let ended = false;
  let begun: () => void = () => undefined;
  const ready = new Promise<void>((resolve) => (begun = resolve));
  const connect = async (): Promise<void> => {
    if (ended) return;
    const own = new pg.Client({ connectionString: databaseUrl });
    const again = () => {
      if (client !== own) return;
      client = null;
      setTimeout(() => void connect(), 500);
    };
    client = own;
    own.on('error', again);
    own.on('end', again);
    own.on('notification', ({ payload }) => heard(payload ?? ''));
    try {
      await own.connect();
      await own.query(`listen ${channel}`);
      // What was told while nobody listened is looked for now.
      begun();
      heard(null);
    } catch (error) {
      log.warn({ err: error }, `listening on ${channel}`);
      again();
    }
  };
  void connect();
  return {
    ready,
    async stop() {
      ended = true;
      begun();
      const own = client;
      client = null;
      await own?.end().catch(() => undefined);
    },
  };
}
