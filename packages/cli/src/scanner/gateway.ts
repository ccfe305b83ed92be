import { WebSocket } from 'ws';
import { Settling, type Doubt, type TerminalRef } from '@contactum/core';
import type { GatewaySays, ToGateway } from '@contactum/contract';
import { Scanner } from './client.js';
import { Watch } from './watch.js';

/** Passes after which what flickers is told anew. */
const WINDOW = 40;
/** How often a gateway says that it is there, and counts the heartbeat of the relay up, milliseconds. */
const PULSE_MS = 500;
/** Pauses before what was lost is tried again, milliseconds: first, and at most. */
const PAUSES = [500, 10_000] as const;

type Nets = readonly (readonly string[])[];

/** A pair of terminals of which passes do not agree. */
interface DoubtNamed extends Omit<Doubt, 'between'> {
  readonly between: readonly string[];
}

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
  private isClosed = false;
  private beat = 0;
  private turn: Promise<void> = Promise.resolve();

  constructor(private readonly options: GatewayOptions) {}

  /** Works until it is told to stop. */
  async run(): Promise<void> {
    const pulse = setInterval(() => void this.pulse(), PULSE_MS);
    const line = this.keepLine();
    try {
      await this.keepReading();
    } finally {
      clearInterval(pulse);
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

  private async keepReading(): Promise<void> {
    const { until, address } = this.options;
    let [pause] = PAUSES as readonly [number, number];
    while (!this.isOver()) {
      try {
        await this.readBoard(() => ([pause] = PAUSES));
      } catch (error) {
        this.failed([`the box does not answer: ${(error as Error).message}`]);
        this.say(`${address}: ${(error as Error).message}`);
      }
      await this.scanner?.close().catch(() => undefined);
      this.scanner = null;
      if (this.isOver()) return;
      await sleep(pause, until);
      pause = Math.min(PAUSES[1], pause * 1.6);
    }
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
    this.found(scan.joined, scan.doubtful, scan.poor);
    const watch = new Watch(this.names, scan.joined);
    let settling = new Settling(this.names.length);
    while (!this.isOver()) {
      const { rows, faults } = await scanner.nextPass(false);
      if (faults.length > 0) {
        this.failed(faults);
        return;
      }
      if (watch.take(rows).length > 0) {
        settling = new Settling(this.names.length);
        this.found(watch.joined, this.doubtful, this.poor);
      } else settling.take(rows);
      if (settling.passes < WINDOW) continue;
      const { doubtful } = settling.result;
      this.found(
        watch.joined,
        doubtful.map((one) => ({ ...one, between: one.between.map((k) => this.names[k] ?? ':') })),
        this.poor,
      );
      settling = new Settling(this.names.length);
    }
  }

  /** Keeps what was found, and tells it where it is new. */
  private found(joined: Nets, doubtful: readonly DoubtNamed[], poor: Nets): void {
    const before = this.known;
    this.joined = joined.map((net) => [...net]);
    this.doubtful = doubtful.slice(0, 100).map(({ between, share, kind }) => ({
      between: [between[0] ?? ':', between[1] ?? ':'],
      share: Math.round(100 * share) / 100,
      kind,
    }));
    this.poor = poor.slice(0, 100).map(([a = ':', b = ':']) => [a, b]);
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

  private async pulse(): Promise<void> {
    await this.relay();
    this.tell();
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
    };
    this.socket?.send(JSON.stringify(reading));
  }

  /** One outgoing line to the server, opened again whenever it is lost. */
  private async keepLine(): Promise<void> {
    const { until } = this.options;
    let [pause] = PAUSES as readonly [number, number];
    while (!this.isOver()) {
      await this.openLine(() => ([pause] = PAUSES));
      this.permitted = null;
      await this.relay();
      if (!this.isOver()) await sleep(pause, until);
      pause = Math.min(PAUSES[1], pause * 1.6);
    }
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
      this.permitted = told.reading;
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

function sleep(ms: number, until: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const timer = setTimeout(done, ms);
    function done(): void {
      clearTimeout(timer);
      until.removeEventListener('abort', done);
      resolve();
    }
    until.addEventListener('abort', done, { once: true });
  });
}
