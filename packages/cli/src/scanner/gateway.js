import { WebSocket } from 'ws';
import { Settling } from '@contactum/core';
import { Scanner } from './client.js';
import { Watch } from './watch.js';
/** Passes after which what flickers is told anew. */
const WINDOW = 40;
/** How often a gateway says that it is there, and counts the heartbeat of the relay up, milliseconds. */
const PULSE_MS = 500;
/** Pauses before what was lost is tried again, milliseconds: first, and at most. */
const PAUSES = [500, 10_000];
/**
 * Stands between a scanner and the server: reads the board without end and tells what it finds over one
 * outgoing line, so that the server needs no door into the lab. The permit relay is closed only while the
 * server permits the reading that the board still has; a change, a fault, a lost line or a silent gateway
 * opens it.
 */
export class Gateway {
  options;
  socket = null;
  scanner = null;
  names = [];
  serial = '';
  joined = [];
  doubtful = [];
  poor = [];
  faults = ['the board was not read yet'];
  /** Counts what changes; later gateways of the same scanner begin higher. */
  number = Date.now();
  permitted = null;
  isClosed = false;
  beat = 0;
  turn = Promise.resolve();
  constructor(options) {
    this.options = options;
  }
  /** Works until it is told to stop. */
  async run() {
    const { until } = this.options;
    const pulse = setInterval(() => void this.pulse(), PULSE_MS);
    const line = this.keepLine();
    try {
      await this.keepReading();
    } finally {
      clearInterval(pulse);
      this.socket?.close();
      if (until.aborted) await this.release();
      await line;
    }
  }
  say(words) {
    this.options.say?.(words);
  }
  // ── the board ─────────────────────────────────────────────────────────────────────────────────
  async keepReading() {
    const { until, address } = this.options;
    let [pause] = PAUSES;
    while (!until.aborted) {
      try {
        await this.readBoard(() => ([pause] = PAUSES));
      } catch (error) {
        this.failed([`the box does not answer: ${error.message}`]);
        this.say(`${address}: ${error.message}`);
      }
      await this.scanner?.close().catch(() => undefined);
      this.scanner = null;
      if (until.aborted) return;
      await sleep(pause, until);
      pause = Math.min(PAUSES[1], pause * 1.6);
    }
  }
  /** Reads a board until the box fails, or something is wrong with it. */
  async readBoard(answered) {
    const { until } = this.options;
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
    while (!until.aborted) {
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
  found(joined, doubtful, poor) {
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
  get known() {
    const { joined, doubtful, poor, faults } = this;
    return JSON.stringify([joined, doubtful.map(({ between }) => between), poor, faults]);
  }
  failed(faults) {
    if (JSON.stringify(faults) === JSON.stringify(this.faults)) return;
    this.faults = faults;
    this.changed();
  }
  changed() {
    this.number += 1;
    this.permitted = null;
    void this.relay().then(() => this.tell());
  }
  // ── the permit relay ──────────────────────────────────────────────────────────────────────────
  /** Closes or opens the relay as it should be now; one after the other. */
  relay() {
    this.turn = this.turn.then(() => this.setRelay());
    return this.turn;
  }
  async setRelay() {
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
  async release() {
    this.permitted = null;
    await this.relay();
  }
  async pulse() {
    await this.relay();
    this.tell();
  }
  // ── the server ────────────────────────────────────────────────────────────────────────────────
  get isConnected() {
    return this.socket?.readyState === WebSocket.OPEN;
  }
  tell() {
    if (!this.isConnected) return;
    const reading = {
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
  async keepLine() {
    const { until } = this.options;
    let [pause] = PAUSES;
    while (!until.aborted) {
      await this.openLine(() => ([pause] = PAUSES));
      this.permitted = null;
      await this.relay();
      if (!until.aborted) await sleep(pause, until);
      pause = Math.min(PAUSES[1], pause * 1.6);
    }
  }
  openLine(opened) {
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
    socket.on('message', (data) => {
      const told = JSON.parse(data.toString('utf8'));
      if (told.kind !== 'permit') return;
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
function sleep(ms, until) {
  return new Promise((resolve) => {
    const timer = setTimeout(done, ms);
    function done() {
      clearTimeout(timer);
      until.removeEventListener('abort', done);
      resolve();
    }
    until.addEventListener('abort', done, { once: true });
  });
}
//# sourceMappingURL=gateway.js.map
