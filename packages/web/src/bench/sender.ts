import type { AttemptEntry } from '@contactum/core';
import type { LogEntryRequest } from '@contactum/contract';
import { ApiError, ask } from '../api/client.js';

const RETRY_MS = [500, 1000, 2000, 4000, 8000];

/** How sending stands. */
export interface Sending {
  /** Entries not yet acknowledged by the server. */
  readonly unsaved: number;
  readonly saveError: string | null;
  /** The session is over: nothing can be sent until somebody signs in. */
  readonly signedOut: boolean;
  /** The log on the server is another one than ours: this page must be opened again. */
  readonly stale: boolean;
}

export interface SenderOptions {
  readonly attemptId: string;
  /** Entries that wait since the page was last open. */
  readonly waiting: readonly LogEntryRequest[];
  /** Where entries are kept that the server has not acknowledged; survives the page. */
  readonly keep: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> | undefined;
  readonly tell: (sending: Partial<Sending>) => void;
}

/** Name under which the entries of an attempt are kept. */
export const unsentKey = (attemptId: string): string => `contactum.unsent.${attemptId}`;

/** Sends the entries of a log in order; nothing is dropped while the server is away, or the page closed. */
export class Sender {
  private readonly queue: LogEntryRequest[];
  private sending: Promise<void> | null = null;
  private closed = false;
  /** Ends the pause before the next trial. */
  private wake: () => void = () => undefined;
  private signedOut = false;

  constructor(
    private readonly options: SenderOptions,
    /** Number of the last entry. */
    public seq: number,
  ) {
    this.queue = [...options.waiting];
    if (this.queue.length > 0) this.begin();
  }

  /** Puts an entry at the end of the log. */
  add(entry: AttemptEntry): LogEntryRequest {
    this.seq += 1;
    const request = { seq: this.seq, entry };
    this.queue.push(request);
    this.keepUnsent();
    this.options.tell({ unsaved: this.queue.length });
    // Without a session nothing goes out; it waits for the sign-in.
    if (!this.signedOut) this.begin();
    return request;
  }

  /** Sends what waits again, after signing in. */
  resume(): void {
    this.signedOut = false;
    this.options.tell({ signedOut: false, saveError: null });
    if (this.queue.length > 0) this.begin();
  }

  /** Resolves when nothing is under way. */
  async settled(): Promise<void> {
    if (this.sending) await this.sending;
  }

  close(): void {
    this.closed = true;
    this.wake();
  }

  private pause(milliseconds: number): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, milliseconds);
      this.wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }

  private begin(): void {
    this.sending ??= this.send().finally(() => {
      this.sending = null;
    });
    this.sending.catch(() => undefined);
  }

  private async send(): Promise<void> {
    const { attemptId, tell } = this.options;
    let attempt = 0;
    for (let entry = this.queue[0]; entry && !this.closed; entry = this.queue[0]) {
      try {
        await ask('POST', `/attempts/${attemptId}/log`, entry);
        this.queue.shift();
        this.keepUnsent();
        attempt = 0;
        tell({ unsaved: this.queue.length, saveError: null, signedOut: false });
      } catch (error) {
        this.noteFailure(error);
        const wait = RETRY_MS[Math.min(attempt, RETRY_MS.length - 1)];
        await this.pause(wait ?? 0);
        attempt += 1;
      }
    }
  }

  /** Says what went wrong; throws where sending the same again would not help. */
  private noteFailure(error: unknown): void {
    const { tell } = this.options;
    const status = error instanceof ApiError ? error.status : 0;
    tell({ saveError: (error as Error).message });
    if (status === 401) {
      this.signedOut = true;
      tell({ signedOut: true });
      throw error;
    }
    if (status >= 400 && status < 500 && status !== 429) {
      tell({ stale: true });
      throw error;
    }
  }

  private keepUnsent(): void {
    const { keep, attemptId } = this.options;
    if (!keep) return;
    try {
      if (this.queue.length === 0) keep.removeItem(unsentKey(attemptId));
      else keep.setItem(unsentKey(attemptId), JSON.stringify(this.queue));
    } catch {
      // A full or forbidden store: the page warns before it is closed.
    }
  }
}
