import { ORDERS } from '../domain/searches/searches.js';
import { toldTo } from '../runtime/logging.js';
import { randomUUID } from 'node:crypto';
import { Worker as Thread } from 'node:worker_threads';
import type pg from 'pg';
import type { Logger } from 'pino';
import type { WebSocket } from 'ws';
import {
  readFault,
  type Exercise,
  type SearchAnswer,
  type SearchEntry,
  type SearchEvent,
  type WrittenFault,
} from '@contactum/core';
import type { BenchMessage } from '@contactum/contract';
import { isAway } from '../database/database.js';
import { listenTo, type Listening } from '../runtime/listen.js';
import type { Worker } from '../runtime/lane.js';
import { Allowance } from '../security/pace.js';
import type { FromThread, ToThread } from '../threads/bench-thread.js';

/** How often it is written down how far the benches' clocks have come, milliseconds. */
const KEPT_MS = 250;
/** Messages that a slow browser may be behind with before frames are left out, bytes. */
const BEHIND = 256_000;

/** Entries of one bench that may wait at once: more than any hand makes. */
const MOST_WAITING = 100;
/**
 * Entries of one bench that count as a hand's: so many at once, and so many a second in the long run; and in
 * all of one search.
 */
const ENTRIES = { burst: 60, perSecond: 10 };
const MOST_ENTRIES = 4_000;
const TOO_LONG: SearchAnswer = { kind: 'refused', reason: 'this search is too long: hand it in' };
const TOO_FAST: SearchAnswer = { kind: 'refused', reason: 'too much at once' };

interface Bench {
  readonly id: string;
  readonly epoch: number;
  readonly sockets: Set<WebSocket>;
  seq: number;
  t: number;
  ended: boolean;
  /** Of entries. */
  readonly allowance: Allowance;
  /** Entries that are being written, one after the other. */
  writing: Promise<void>;
  /** Orders that were given to the thread. */
  readonly orders: Set<string>;
  /**
   * By the thread's own number: who asked, and under which number of theirs; an order of the instructor's
   * by its id.
   */
  readonly asked: Map<
    number,
    { readonly socket: WebSocket | null; readonly n: number; readonly order?: string }
  >;
}

/**
 * The benches that run in this process. A bench is run by one process at a time: who claims it raises its
 * epoch, and what is written under a lower one is refused. It is what its log says, so any process goes on
 * with it at the moment to which its clock was written down.
 */
export class SessionManager {
  private readonly owner = randomUUID();
  private readonly benches = new Map<string, Bench>();
  private readonly opening = new Map<string, Promise<Bench | null>>();
  private thread: Thread;
  private numbered = 0;
  private stopped = false;
  private readonly keeping: NodeJS.Timeout;
  private readonly listener: Listening;

  constructor(
    private readonly pool: pg.Pool,
    databaseUrl: string,
    private readonly worker: Worker,
    private readonly log: Logger,
  ) {
    this.thread = this.startThread();
    this.keeping = setInterval(
      () => void this.keep().catch(toldTo(log, 'benches could not be kept')),
      KEPT_MS,
    );
    this.listener = listenTo(databaseUrl, ORDERS, log, (payload) => {
      // What was ordered while nobody listened.
      for (const id of payload === null ? this.benches.keys() : [payload])
        void this.takeOrders(id).catch(toldTo(log, 'orders of a bench'));
    });
  }

  /** Resolves when orders for the benches here are heard. */
  get ready(): Promise<void> {
    return this.listener.ready;
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearInterval(this.keeping);
    await this.keep().catch(toldTo(this.log, 'benches could not be kept'));
    for (const bench of this.benches.values()) for (const socket of bench.sockets) socket.close(1001);
    await this.listener.stop();
    await this.thread.terminate();
  }

  /** Somebody works at a bench from now on, or looks on. */
  async attach(id: string, socket: WebSocket): Promise<void> {
    const isRunning = this.benches.has(id);
    const bench = await this.open(id);
    if (!bench) {
      socket.close(1011);
      return;
    }
    bench.sockets.add(socket);
    // Who comes later is told what there is, as it is now.
    if (isRunning) this.post({ kind: 'tell', id });
    socket.on('close', () => this.detach(bench, socket));
    void this.takeOrders(id).catch(toldTo(this.log, 'orders of a bench'));
  }

  /** Does what a message says; it is answered when it is written down. */
  enter(id: string, socket: WebSocket, { n, entry }: BenchMessage): void {
    const bench = this.benches.get(id);
    if (!bench || bench.ended) return;
    const refuse = (answer: SearchAnswer) =>
      socket.send(JSON.stringify({ kind: 'answer', answer, line: null, n }));
    if (bench.seq >= MOST_ENTRIES) refuse(TOO_LONG);
    else if (bench.asked.size >= MOST_WAITING || !bench.allowance.takes()) refuse(TOO_FAST);
    else this.send(bench, entry, { socket, n });
  }

  /** Ends a bench: nothing more is done at it. */
  end(id: string, why: string): void {
    const bench = this.benches.get(id);
    if (bench) this.drop(bench, why);
  }

  /** Resolves when everything that was done at a bench is written down. */
  async settled(id: string): Promise<void> {
    await this.benches.get(id)?.writing;
  }

  private send(
    bench: Bench,
    entry: SearchEntry,
    who: { readonly socket: WebSocket | null; readonly n: number; readonly order?: string },
  ): void {
    this.numbered += 1;
    bench.asked.set(this.numbered, who);
    this.post({ kind: 'enter', id: bench.id, n: this.numbered, entry });
  }

  private post(message: ToThread): void {
    this.thread.postMessage(message);
  }

  private startThread(): Thread {
    const thread = new Thread(this.worker.url, {
      execArgv: [...process.execArgv, ...(this.worker.arguments ?? [])],
    });
    thread.on('message', (message: FromThread) => this.hear(message));
    thread.on('error', (error) => this.log.error({ err: error }, 'the thread of the live benches'));
    thread.on('exit', () => {
      if (this.stopped) return;
      // Whoever worked comes again, and goes on from the log.
      for (const bench of [...this.benches.values()]) this.drop(bench, 'The bench is started again.');
      this.thread = this.startThread();
    });
    return thread;
  }

  private hear(message: FromThread): void {
    const bench = this.benches.get(message.id);
    // What an earlier opening of the bench still tells, after everybody had left, concerns nobody: what was
    // done there and not written is done again from its order.
    if (!bench || message.epoch !== bench.epoch) return;
    if (message.kind === 'failed') {
      this.log.error({ search: message.id, reason: message.reason }, 'a live bench has failed');
      this.drop(bench, 'The bench has failed; open it again.');
      return;
    }
    if (message.kind === 'done') {
      this.write(bench, message.n, message.event, message.text);
      return;
    }
    bench.t = message.t;
    for (const socket of bench.sockets) if (socket.bufferedAmount < BEHIND) socket.send(message.text);
  }

  /** Writes an entry before its maker is answered; a bench that another process has claimed is let go. */
  private write(bench: Bench, n: number, event: SearchEvent, text: string): void {
    const who = bench.asked.get(n);
    bench.asked.delete(n);
    bench.seq += 1;
    const { seq } = bench;
    bench.writing = bench.writing.then(async () => {
      const { t, ...body } = event;
      for (;;) {
        try {
          const { rowCount } = await this.pool.query({
            name: 'search-write',
            text: WRITE,
            values: [bench.id, this.owner, bench.epoch, seq, t, JSON.stringify(body), who?.order ?? null],
          });
          if (rowCount === 0) this.drop(bench, 'This bench is open elsewhere now.');
          else if (who?.socket) who.socket.send(text.replace(/"n":\d+\}$/, `"n":${who.n}}`));
          return;
        } catch (error) {
          if (!isAway(error) || this.stopped) {
            this.drop(bench, 'What was done could not be written down; open the bench again.');
            return;
          }
          await new Promise((resolve) => setTimeout(resolve, 200));
        }
      }
    });
  }

  /** The bench runs here no longer. */
  private leave(bench: Bench): void {
    bench.ended = true;
    this.benches.delete(bench.id);
    this.post({ kind: 'close', id: bench.id });
  }

  private drop(bench: Bench, why: string): void {
    if (bench.ended) return;
    this.leave(bench);
    for (const socket of bench.sockets) {
      socket.send(JSON.stringify({ kind: 'moved', why }));
      socket.close(1000);
    }
  }

  /** A bench at which nobody works or looks on stands still until somebody comes. */
  private detach(bench: Bench, socket: WebSocket): void {
    bench.sockets.delete(socket);
    if (bench.sockets.size > 0 || bench.ended) return;
    this.leave(bench);
    void bench.writing
      .then(() =>
        this.pool.query(
          // Of this opening alone: whoever has come back meanwhile keeps it.
          'update searches set owner = null, t = greatest(t, $3) where id = $1 and owner = $2 and epoch = $4',
          [bench.id, this.owner, bench.t, bench.epoch],
        ),
      )
      .catch(toldTo(this.log, 'a bench that was left'));
  }

  private async open(id: string): Promise<Bench | null> {
    const known = this.benches.get(id);
    if (known) return known;
    const under = this.opening.get(id);
    if (under) return under;
    const opening = this.claim(id).finally(() => this.opening.delete(id));
    this.opening.set(id, opening);
    return opening;
  }

  /** Takes a bench over, whoever ran it, and builds it from its log. */
  private async claim(id: string): Promise<Bench | null> {
    const { rows } = await this.pool.query<{
      epoch: number;
      t: number;
      last_seq: number;
      document: Exercise;
      hidden: WrittenFault[];
    }>(
      "update searches set owner = $2, epoch = epoch + 1, seen_at = now() where id = $1 and state = 'open' returning epoch, t, last_seq, document, hidden",
      [id, this.owner],
    );
    const [row] = rows;
    if (!row) return null;
    const { rows: log } = await this.pool.query<{ t: number; body: SearchEntry }>(
      'select t, body from search_log where search_id = $1 order by seq',
      [id],
    );
    const bench: Bench = {
      id,
      epoch: row.epoch,
      sockets: new Set(),
      seq: row.last_seq,
      t: row.t,
      ended: false,
      allowance: new Allowance(ENTRIES),
      writing: Promise.resolve(),
      orders: new Set(),
      asked: new Map(),
    };
    this.benches.set(id, bench);
    const events = log.map(({ t, body }): SearchEvent => ({ t, ...body }));
    const faults = row.hidden.map(readFault);
    this.post({ kind: 'open', id, epoch: row.epoch, exercise: row.document, faults, log: events, t: row.t });
    return bench;
  }

  /** Writes down how far the clocks have come. */
  private async keep(): Promise<void> {
    const benches = [...this.benches.values()];
    if (benches.length === 0) return;
    await this.pool.query({
      name: 'search-keep',
      text: `update searches s set t = greatest(s.t, g.t), seen_at = now() from unnest($1::uuid[], $2::float8[]) as g(id, t) where s.id = g.id and s.owner = $3`,
      values: [benches.map(({ id }) => id), benches.map(({ t }) => t), this.owner],
    });
  }

  // ── what an instructor wants done ─────────────────────────────────────────────────────────────

  /** Does what waits for a bench that runs here. */
  private async takeOrders(id: string): Promise<void> {
    const bench = this.benches.get(id);
    if (!bench) return;
    const { rows } = await this.pool.query<{ id: string; body: SearchEntry }>(
      'select id, body from search_orders where search_id = $1 and not taken order by id',
      [id],
    );
    for (const { id: order, body } of rows) {
      // One that is under way is taken with the entry that it becomes.
      if (bench.orders.has(order)) continue;
      bench.orders.add(order);
      this.send(bench, body, { socket: null, n: 0, order });
    }
  }
}

const WRITE = `with mine as (update searches set last_seq = $4, t = greatest(t, $5) where id = $1 and owner = $2 and epoch = $3 and state = 'open' and last_seq = $4 - 1 returning id),
  done as (update search_orders set taken = true where id = $7::bigint and exists (select 1 from mine))
  insert into search_log (search_id, seq, t, body) select id, $4, $5, $6::jsonb from mine`;
