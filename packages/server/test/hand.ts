import { exercise } from '../../core/test/help.js';
import { Client, connect, until } from './help.js';

const pump = exercise('brine-pump-three-wire');

/** Somebody who wires on and on, and notes what was acknowledged. */
export class Hand {
  readonly acknowledged: number[] = [];
  /** What was not acknowledged when it was first sent. */
  readonly failed: unknown[] = [];
  private seq = 0;
  private ended = false;
  private readonly done: Promise<void>;

  constructor(
    private client: Client,
    readonly attempt: string,
  ) {
    this.done = this.work();
  }

  private async work(): Promise<void> {
    const [wire] = pump.reference;
    while (!this.ended) {
      const seq = this.seq + 1;
      // Laid and taken away again.
      const lead = `w${Math.ceil(seq / 2)}`;
      const entry =
        seq % 2 === 1
          ? connect(seq, wire!, lead)
          : { seq, entry: { kind: 'edit', edit: { do: 'cut', lead, wire } } };
      const answer = await this.client
        .ask('POST', `/attempts/${this.attempt}/log`, entry)
        .catch((error: unknown) => ({ status: 0, error }));
      if (answer.status === 201) {
        this.acknowledged.push(seq);
        this.seq = seq;
      } else {
        this.failed.push(answer);
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
    }
  }

  /** Goes on at another server, with the session that it has. */
  moveTo(base: string): void {
    const next = new Client(base);
    next.cookie = this.client.cookie;
    this.client = next;
  }

  async stop(): Promise<void> {
    this.ended = true;
    await this.done;
  }

  /** Waits for some more that are acknowledged. */
  async goesOn(more = 5): Promise<void> {
    const wanted = this.acknowledged.length + more;
    await until(() => Promise.resolve(this.acknowledged.length >= wanted));
  }
}
