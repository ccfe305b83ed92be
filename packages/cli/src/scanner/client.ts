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
  type Doubt,
  type JointClass,
  type ScannerHead,
  type SettlingOptions,
  type Stretch,
  type TerminalRef,
} from '@contactum/core';
import { Watch, type Change } from './watch.js';

/** How long a request may take, milliseconds. */
const ANSWER_MS = 2_000;
/** A pass that is not new yet is asked for again after this, milliseconds. */
const AGAIN_MS = 10;
/** Passes after which what is still open stays doubtful. */
const MOST_PASSES = 40;
/** The port of Modbus TCP (MODBUS Messaging on TCP/IP V1.0b). */
const PORT = 502;

const { default: Modbus } = modbus;

/** What a scan of a board found. */
export interface Scan {
  readonly head: ScannerHead;
  readonly names: readonly TerminalRef[];
  readonly passes: number;
  readonly joined: readonly (readonly TerminalRef[])[];
  readonly doubtful: readonly (Omit<Doubt, 'between'> & { readonly between: readonly TerminalRef[] })[];
  /** Joined through 1 to 10 Ω, as under a screw that is not tight. */
  readonly poor: readonly (readonly [TerminalRef, TerminalRef])[];
}

/** Doubts by the names of their terminals. */
export const namedDoubts = (doubtful: readonly Doubt[], names: readonly TerminalRef[]): Scan['doubtful'] =>
  doubtful.map((one) => ({ ...one, between: one.between.map((terminal) => names[terminal] ?? ':') }));

/** A board scanner over Modbus TCP. */
export class Scanner {
  private names: readonly TerminalRef[] = [];
  private last = -1;

  private constructor(private readonly modbus: InstanceType<typeof Modbus>) {}

  /** @param address `HOST` or `HOST:PORT`. */
  static async open(address: string): Promise<Scanner> {
    const [, host = '', port = String(PORT)] = /^\[?([^\]]*?)\]?(?::(\d+))?$/.exec(address) ?? [];
    const line = new Modbus();
    line.setTimeout(ANSWER_MS);
    await line.connectTCP(host, { port: Number(port) });
    line.setID(1);
    return new Scanner(line);
  }

  async close(): Promise<void> {
    await new Promise<void>((resolve) => this.modbus.close(() => resolve()));
  }

  private async read(stretch: Stretch): Promise<number[]> {
    const words: number[] = [];
    for (const { from, words: count } of readsOf(stretch))
      words.push(...(await this.modbus.readInputRegisters(from, count)).data);
    return words;
  }

  async head(): Promise<ScannerHead> {
    return readHead(await this.read(STRETCHES.head));
  }

  /** The terminals of the box, in its order; asked once. */
  async terminals(): Promise<readonly TerminalRef[]> {
    if (this.names.length === 0) {
      const { terminals } = await this.head();
      this.names = readNames(terminals, await this.read(STRETCHES.names(terminals)));
    }
    return this.names;
  }

  /** Waits for a pass that was not read yet, and reads it; its classes too, where they are wanted. */
  async nextPass(withClasses = true): Promise<{
    rows: readonly (readonly boolean[])[];
    classes: JointClass[][];
    faults: readonly string[];
  }> {
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
  async scan(options: SettlingOptions = {}): Promise<Scan> {
    const names = await this.terminals();
    const settling = new Settling(names.length, options);
    const poor = new Map<string, number>();
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
    const nameOf = (terminal: number): TerminalRef => names[terminal] ?? ':';
    return {
      head: await this.head(),
      names,
      passes: settling.passes,
      joined: joined.map((net) => net.map(nameOf)),
      doubtful: namedDoubts(doubtful, names),
      poor: [...poor]
        .filter(([, times]) => times > settling.passes)
        .map(([key]) => key.split(' ').map((k) => nameOf(Number(k))) as [TerminalRef, TerminalRef]),
    };
  }

  /** Tells what changes on a board that was scanned, until the signal says to stop. */
  async follow(
    { names, joined }: Pick<Scan, 'names' | 'joined'>,
    on: (change: Change) => void,
    until: AbortSignal,
  ): Promise<void> {
    const watch = new Watch(names, joined);
    while (!until.aborted) {
      const { rows } = await this.nextPass(false);
      for (const change of watch.take(rows)) on(change);
    }
  }

  /** Asks for the permit relay; it closes only while the heartbeat goes on. */
  async permit(on: boolean): Promise<void> {
    await this.modbus.writeCoil(SCANNER.permit, on);
  }

  async beat(count: number): Promise<void> {
    await this.modbus.writeRegister(SCANNER.heartbeat, count & 0xffff);
  }

  async isPermitted(): Promise<boolean> {
    const { data } = await this.modbus.readDiscreteInputs(SCANNER.permitClosed, 2);
    return data[SCANNER.permitClosed] ?? false;
  }
}
