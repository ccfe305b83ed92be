import modbus from 'modbus-serial';
import {
  SCANNER,
  STRETCHES,
  Settling,
  readClasses,
  readHead,
  readNames,
  readRows,
  readsOf,
} from '@contactum/core';
import { Watch } from './watch.js';
/** How long a request may take, milliseconds. */
const ANSWER_MS = 2_000;
/** A pass that is not new yet is asked for again after this, milliseconds. */
const AGAIN_MS = 10;
/** Passes after which what is still open stays doubtful. */
const MOST_PASSES = 40;
/** The port of Modbus TCP (MODBUS Messaging on TCP/IP V1.0b). */
const PORT = 502;
const { default: Modbus } = modbus;
/** A board scanner over Modbus TCP. */
export class Scanner {
  modbus;
  names = [];
  last = -1;
  constructor(modbus) {
    this.modbus = modbus;
  }
  /** @param address `HOST` or `HOST:PORT`. */
  static async open(address) {
    const [, host = '', port = String(PORT)] = /^\[?([^\]]*?)\]?(?::(\d+))?$/.exec(address) ?? [];
    const line = new Modbus();
    line.setTimeout(ANSWER_MS);
    await line.connectTCP(host, { port: Number(port) });
    line.setID(1);
    return new Scanner(line);
  }
  async close() {
    await new Promise((resolve) => this.modbus.close(() => resolve()));
  }
  async read(stretch) {
    const words = [];
    for (const { from, words: count } of readsOf(stretch))
      words.push(...(await this.modbus.readInputRegisters(from, count)).data);
    return words;
  }
  async head() {
    return readHead(await this.read(STRETCHES.head));
  }
  /** The terminals of the box, in its order; asked once. */
  async terminals() {
    if (this.names.length === 0) {
      const { terminals } = await this.head();
      this.names = readNames(terminals, await this.read(STRETCHES.names(terminals)));
    }
    return this.names;
  }
  /** Waits for a pass that was not read yet, and reads it; its classes too, where they are wanted. */
  async nextPass(withClasses = true) {
    for (;;) {
      const { pass, terminals, faults } = await this.head();
      if (pass !== this.last) {
        this.last = pass;
        return {
          faults,
          rows: readRows(terminals, await this.read(STRETCHES.rows(terminals))),
          classes: withClasses ? readClasses(terminals, await this.read(STRETCHES.classes(terminals))) : [],
        };
      }
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
    }
  }
  /** Reads passes until each pair is decided, or stays in doubt. */
  async scan(options = {}) {
    const names = await this.terminals();
    const settling = new Settling(names.length, options);
    const poor = new Map();
    while (!settling.isSettled && settling.passes < MOST_PASSES) {
      const { rows, classes } = await this.nextPass();
      settling.take(rows);
      classes.forEach((row, a) =>
        row.forEach((one, b) => {
          const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
          if (one === 'poor') poor.set(key, (poor.get(key) ?? 0) + 1);
        }),
      );
    }
    const { joined, doubtful } = settling.result;
    const nameOf = (terminal) => names[terminal] ?? ':';
    return {
      head: await this.head(),
      names,
      passes: settling.passes,
      joined: joined.map((net) => net.map(nameOf)),
      doubtful: doubtful.map((one) => ({ ...one, between: one.between.map(nameOf) })),
      poor: [...poor]
        .filter(([, times]) => times > settling.passes)
        .map(([key]) => key.split(' ').map((k) => nameOf(Number(k)))),
    };
  }
  /** Tells what changes on a board that was scanned, until the signal says to stop. */
  async follow({ names, joined }, on, until) {
    const watch = new Watch(names, joined);
    while (!until.aborted) {
      const { rows } = await this.nextPass(false);
      for (const change of watch.take(rows)) on(change);
    }
  }
  /** Asks for the permit relay; it closes only while the heartbeat goes on. */
  async permit(on) {
    await this.modbus.writeCoil(SCANNER.permit, on);
  }
  async beat(count) {
    await this.modbus.writeRegister(SCANNER.heartbeat, count & 0xffff);
  }
  async isPermitted() {
    const { data } = await this.modbus.readDiscreteInputs(SCANNER.permitClosed, 2);
    return data[SCANNER.permitClosed] ?? false;
  }
}
//# sourceMappingURL=client.js.map
