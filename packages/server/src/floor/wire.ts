import { randomUUID } from 'node:crypto';
import { deflateRawSync, inflateRawSync } from 'node:zlib';
import type pg from 'pg';
import type { Logger } from 'pino';
import { listenTo, type Listening } from '../runtime/listen.js';

/** Channel over which processes tell each other what happens on the floor. */
const CHANNEL = 'contactum_floor';
/** Longest payload of a notification is 8000 bytes. */
const LONGEST = 7_800;

interface Envelope {
  readonly from: string;
  readonly body: unknown;
}

/** Live messages between web processes, through the database: nothing else is needed, and none is kept. */
export class Wire<Message> {
  private readonly own = randomUUID();
  private readonly listener: Listening;

  constructor(
    private readonly pool: pg.Pool,
    databaseUrl: string,
    private readonly log: Logger,
    /**
     * Told what another process has said; `again` after a connection was lost, when something may have been
     * missed.
     */
    private readonly hear: (message: Message) => void,
    again: () => void,
  ) {
    this.listener = listenTo(databaseUrl, CHANNEL, log, (payload) =>
      payload === null ? again() : this.take(payload),
    );
  }

  /**
   * Says something to every other process. Larger messages are packed; what is too large even so is left
   * out.
   */
  async say(message: Message): Promise<void> {
    const plain = JSON.stringify({ from: this.own, body: message } satisfies Envelope);
    const text =
      Buffer.byteLength(plain) <= LONGEST
        ? plain
        : `z${deflateRawSync(plain, { level: 4 }).toString('base64')}`;
    if (text.length > LONGEST) {
      this.log.warn({ bytes: text.length }, 'a message for the floor is too large');
      return;
    }
    try {
      await this.pool.query({ name: 'floor-say', text: 'select pg_notify($1, $2)', values: [CHANNEL, text] });
    } catch (error) {
      // The next one tells how things are then.
      this.log.warn({ err: error }, 'a message for the floor was lost');
    }
  }

  /** Resolves when what other processes say is heard. */
  get ready(): Promise<void> {
    return this.listener.ready;
  }

  stop(): Promise<void> {
    return this.listener.stop();
  }

  private take(payload: string): void {
    try {
      const text = payload.startsWith('z')
        ? inflateRawSync(Buffer.from(payload.slice(1), 'base64')).toString('utf8')
        : payload;
      const { from, body } = JSON.parse(text) as Envelope;
      if (from !== this.own) this.hear(body as Message);
    } catch (error) {
      this.log.warn({ err: error }, 'a message for the floor cannot be read');
    }
  }
}
