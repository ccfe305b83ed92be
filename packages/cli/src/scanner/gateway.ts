import { setTimeout } from 'node:timers/promises';
import { WebSocket } from 'ws';
import { Settling, type TerminalRef } from '@contactum/core';
import type { GatewaySays, ToGateway } from '@contactum/contract';
import { Scanner, namedDoubts, type Scan } from './client.js';
import { IN_A_ROW, Watch } from './watch.js';

/** Passes after which what flickers is told anew. */
const WINDOW = 40;
/** Passes after which the board counts as read anew: what has changed before them is known. */
const ANEW = IN_A_ROW + 1;
/** So many at most, where something goes on changing. */
const ANEW_AT_MOST = 5 * ANEW;
/** How often the heartbeat of the relay is counted up, and how often the server is told that all is as it was. */
const BEAT_MS = 500;
const TELL_MS = 2_000;
/** Pauses before what was lost is tried again, milliseconds: first, and at most. */
const FIRST_PAUSE = 500;
const LONGEST_PAUSE = 10_000;

export interface GatewayOptions {
  /** `HOST[:PORT]` of the scanner. */
  readonly address: string;
  /** The server, `https://board.college.example`. */
  readonly server: string;
  readonly token: string;
  /** Told what happens, in words. */
  readonly say?: (words: string) => void;
  readonly until: AbortSignal;
}

/**
 * Stands between a scanner and the server: reads the board without end and tells what it finds over one
 * outgoing line, so that the server needs no door into the lab. The permit relay is closed only while the
 * server permits the reading that the board still has; a change, a fault, a lost line or a silent gateway
 * opens it.
 */
export class Gateway {
  private socket: WebSocket | null = null;
  private scanner: Scanner | null = null;
  private names: readonly TerminalRef[] = [];
  private serial = '';
  private joined: GatewaySays['joined'] = [];
  private doubtful: GatewaySays['doubtful'] = [];
  private poor: GatewaySays['poor'] = [];
  private faults: readonly string[] = ['the board was not read yet'];
  /** Counts what changes; later gateways of the same scanner begin higher. */
  private number = Date.now();
  private permitted: number | null = null;
  /** How often it was asked to read anew, when it last had, and passes since it was asked. */
  private wanted = 0;
  private fresh = 0;
  private passes = 0;
  private isClosed = false;
  private beat = 0;
  private turn: Promise<void> = Promise.resolve();

  constructor(private readonly options: GatewayOptions) {}

  /** Works until it is told to stop. */
  async run(): Promise<void> {
    const timers = [setInterval(() => void this.relay(), BEAT_MS), setInterval(() => this.tell(), TELL_MS)];
    const line = this.keepLine();
    try {
      await this.keepReading();
    } finally {
      for (const timer of timers) clearInterval(timer);
      this.socket?.close();
      if (this.isOver()) await this.release();
      await line;
    }
  }

  private isOver(): boolean {
    return this.options.until.aborted;
  }

  private say(words: string): void {
    this.options.say?.(words);
  }

  // ── the board ─────────────────────────────────────────────────────────────────────────────────

  /** Does something again and again, after pauses that grow while it goes on failing. */
  private async repeatedly(work: (works: () => void) => Promise<void>): Promise<void> {
    const { until } = this.options;
    let pause: number = FIRST_PAUSE;
    while (!this.isOver()) {
      await work(() => (pause = FIRST_PAUSE));
      // Ends early when it is told to stop.
      await setTimeout(pause, undefined, { signal: until }).catch(() => undefined);
      pause = Math.min(LONGEST_PAUSE, pause * 1.6);
    }
  }

  private async keepReading(): Promise<void> {
    const { address } = this.options;
    await this.repeatedly(async (works) => {
      try {
        await this.readBoard(works);
      } catch (error) {
        this.failed([`the box does not answer: ${(error as Error).message}`]);
        this.say(`${address}: ${(error as Error).message}`);
      }
      await this.scanner?.close().catch(() => undefined);
      this.scanner = null;
    });
  }

  /** Reads a board until the box fails, or something is wrong with it. */
  private async readBoard(answered: () => void): Promise<void> {
    const scanner = await Scanner.open(this.options.address);
    this.scanner = scanner;
    const head = await scanner.head();
    answered();
    this.serial = head.serial;
    this.names = await scanner.terminals();
    const scan = head.faults.length > 0 ? null : await scanner.scan();
    if (!scan || scan.head.faults.length > 0) {
      this.failed((scan?.head ?? head).faults);
      return;
    }
    this.found(scan);
    const watch = new Watch(this.names, scan.joined);
    let settling = new Settling(this.names.length);
    while (!this.isOver()) {
      const asked = this.wanted;
      const { rows, faults } = await scanner.nextPass(false);
      if (faults.length > 0) {
        this.failed(faults);
        return;
      }
      if (watch.take(rows).length > 0) {
        settling = new Settling(this.names.length);
        this.found({ joined: watch.joined });
      } else settling.take(rows);
      this.readAnew(asked, watch);
      if (settling.passes < WINDOW) continue;
      const doubtful = namedDoubts(settling.result.doubtful, this.names);
      this.found({ joined: watch.joined, doubtful });
      settling = new Settling(this.names.length);
    }
  }

  /** Counts a pass that was begun after it was asked to read anew, and says so once that is done. */
  private readAnew(asked: number, watch: Watch): void {
    if (asked === this.fresh) return;
    this.passes += 1;
    if (this.passes < ANEW || (watch.isUnsure && this.passes < ANEW_AT_MOST)) return;
    this.fresh = asked;
    this.passes = 0;
    this.tell();
  }

  /** Keeps what was found, and tells it where it is new; what is not named stays as it was. */
  private found({ joined, doubtful, poor }: Pick<Scan, 'joined'> & Partial<Scan>): void {
    const before = this.known;
    this.joined = joined.map((net) => [...net]);
    if (doubtful)
      this.doubtful = doubtful.slice(0, 100).map(({ between, share, kind }) => ({
        between: [between[0] ?? ':', between[1] ?? ':'],
        share: Math.round(100 * share) / 100,
        kind,
      }));
    if (poor) this.poor = poor.slice(0, 100).map(([a, b]) => [a, b]);
    this.faults = [];
    if (before !== this.known) this.changed();
  }

  /** What is known of the board, as one text. */
  private get known(): string {
    const { joined, doubtful, poor, faults } = this;
    return JSON.stringify([joined, doubtful.map(({ between }) => between), poor, faults]);
  }

  private failed(faults: readonly string[]): void {
    if (JSON.stringify(faults) === JSON.stringify(this.faults)) return;
    this.faults = faults;
    this.changed();
  }

  private changed(): void {
    this.number += 1;
    this.permitted = null;
    void this.relay().then(() => this.tell());
  }

  // ── the permit relay ──────────────────────────────────────────────────────────────────────────

  /** Closes or opens the relay as it should be now; one after the other. */
  private relay(): Promise<void> {
    this.turn = this.turn.then(() => this.setRelay());
    return this.turn;
  }

  private async setRelay(): Promise<void> {
    const wanted = this.permitted === this.number && this.faults.length === 0 && this.isConnected;
    try {
      const { scanner } = this;
      if (!scanner) {
        this.isClosed = false;
        return;
      }
      if (wanted) await scanner.beat((this.beat += 1));
      const wasClosed = this.isClosed;
      if (wanted !== wasClosed) await scanner.permit(wanted);
      this.isClosed = wanted && (await scanner.isPermitted());
      // The box has opened it by itself: something has changed that no pass has shown.
      if (wasClosed && wanted && !this.isClosed) this.changed();
    } catch {
      // A box that cannot be told opens its relay by itself when the heartbeat fails.
      this.isClosed = false;
    }
  }

  private async release(): Promise<void> {
    this.permitted = null;
    await this.relay();
  }

  // ── the server ────────────────────────────────────────────────────────────────────────────────

  private get isConnected(): boolean {
    return this.socket?.readyState === WebSocket.OPEN;
  }

  private tell(): void {
    if (!this.isConnected) return;
    const reading: GatewaySays = {
      kind: 'reading',
      number: this.number,
      serial: this.serial,
      terminals: [...this.names],
      joined: this.joined,
      doubtful: this.doubtful,
      poor: this.poor,
      faults: [...this.faults],
      permitClosed: this.isClosed,
      fresh: this.fresh,
    };
    this.socket?.send(JSON.stringify(reading));
  }

  /** One outgoing line to the server, opened again whenever it is lost. */
  private async keepLine(): Promise<void> {
    await this.repeatedly(async (works) => {
      await this.openLine(works);
      await this.release();
    });
  }

  private openLine(opened: () => void): Promise<void> {
    const { server, token, until } = this.options;
    const socket = new WebSocket(`${server.replace(/^http/, 'ws').replace(/\/$/, '')}/api/scanners/gateway`, {
      headers: { authorization: `Bearer ${token}` },
    });
    this.socket = socket;
    const end = () => socket.terminate();
    until.addEventListener('abort', end, { once: true });
    socket.on('open', () => {
      opened();
      this.say(`connected to ${server}`);
      this.tell();
    });
    socket.on('message', (data: Buffer) => {
      const told = JSON.parse(data.toString('utf8')) as ToGateway;
      if (told.kind === 'refused') {
        this.say(`${server}: ${told.why}`);
        return;
      }
      this.permitted = told.reading;
      if (told.fresh !== this.wanted) this.passes = 0;
      this.wanted = told.fresh;
      void this.relay().then(() => this.tell());
    });
    socket.on('error', (error) => this.say(`${server}: ${error.message}`));
    return new Promise((resolve) => {
      socket.on('close', () => {
        until.removeEventListener('abort', end);
        resolve();
      });
    });
  }
}
