import { ServerTCP } from 'modbus-serial';
import {
  SCANNER,
  Simulation,
  Solver,
  closedIn,
  compile,
  deadState,
  registersOf,
  seededNumbers,
  stimulusProblem,
  terminalsOf,
  wireProblems,
  wiredTogether,
  type Bench,
  type JointClass,
  type Stimulus,
  type TerminalRef,
  type Wire,
} from '@contactum/core';
import { freePort } from './free-port.js';
import { namedNets } from './nets.js';

/** A permit relay opens when the master has not counted its heartbeat up for so long, milliseconds. */
const HEARTBEAT_MS = 2_000;
const SUPPLY_PRESENT = 0b1;

/** A lead that is plugged on the simulated board. */
export interface Plugged extends Wire {
  /** In one pass it joins, in the next perhaps not. */
  readonly loose?: boolean;
  /** Joined through some ohms. */
  readonly poor?: boolean;
}

export interface BoxSettings {
  /** Part of single readings that are wrong. */
  readonly noise: number;
  /** Milliseconds of one pass. */
  readonly passMs: number;
  /** Milliseconds by which each answer comes late. */
  readonly lag: number;
  /** The box has died: it answers nothing. */
  readonly dead: boolean;
  /** A supply is present on the board: it is not driven. */
  readonly supply: boolean;
}

/**
 * A simulated board behind a simulated scanner: leads are plugged, devices worked by hand, and read by real
 * Modbus TCP. It stands in for a box in tests and where there is none.
 */
export class SimulatedBox {
  private leads: readonly Plugged[] = [];
  private steps: readonly Stimulus[] = [];
  private settings: BoxSettings = { noise: 0, passMs: 20, lag: 0, dead: false, supply: false };
  private pass = 0;
  private passAt = 0;
  private registers: ReadonlyMap<number, number> = new Map();
  private asked = false;
  private beatAt = -Infinity;
  private server: ServerTCP | null = null;
  private readonly names: readonly TerminalRef[];
  private readonly random: () => number;

  constructor(
    readonly bench: Bench,
    seed = 1,
    private readonly now: () => number = Date.now,
  ) {
    this.names = terminalsOf(bench);
    this.random = seededNumbers(seed);
  }

  get state() {
    return {
      terminals: this.names,
      leads: this.leads,
      steps: this.steps,
      settings: this.settings,
      permit: { asked: this.asked, closed: this.isPermitClosed },
    };
  }

  /** What a box without noise finds joined now. */
  joinedNow(): readonly (readonly TerminalRef[])[] {
    return namedNets(this.names, this.sets(this.leads));
  }

  /** Plugs these leads in place of those that are plugged. Throws what is wrong with them. */
  plug(leads: readonly Plugged[]): void {
    const [problem] = wireProblems(leads, this.bench, 'leads');
    if (problem) throw new RangeError(`${problem.path}: ${problem.message}`);
    this.leads = leads;
    // Whatever changes on the board opens the relay.
    this.asked = false;
  }

  /** What a hand has done to the dead board since it lay at rest. */
  work(steps: readonly Stimulus[]): void {
    const circuit = compile(this.bench);
    for (const step of steps) {
      const problem = stimulusProblem(circuit, step);
      if (problem) throw new RangeError(`${problem.key}: ${problem.message}`);
    }
    this.steps = steps;
  }

  set(settings: Partial<BoxSettings>): void {
    this.settings = { ...this.settings, ...settings };
  }

  get isPermitClosed(): boolean {
    return this.asked && this.now() - this.beatAt < HEARTBEAT_MS && !this.settings.dead;
  }

  // ── what the box finds ────────────────────────────────────────────────────────────────────────

  /** A new pass where the last one is over. */
  private look(): ReadonlyMap<number, number> {
    const now = this.now();
    if (now - this.passAt < this.settings.passMs && this.pass > 0) return this.registers;
    this.pass += 1;
    this.passAt = now;
    this.registers = registersOf({
      serial: 'SIMULATED',
      names: this.names,
      pass: this.pass,
      age: 0,
      status: this.settings.supply ? SUPPLY_PRESENT : 0,
      classes: this.settings.supply ? this.nothing() : this.classes(),
    });
    return this.registers;
  }

  private nothing(): JointClass[][] {
    return this.names.map(() => this.names.map(() => 'open' as const));
  }

  private classes(): JointClass[][] {
    const there = this.leads.filter(({ loose }) => !loose || this.random() < 0.5);
    const all = this.sets(there);
    const good = this.sets(there.filter(({ poor }) => !poor));
    const circuit = compile(this.bench);
    const { noise } = this.settings;
    const loads = new Set(
      [...circuit.coils, ...circuit.lamps].flatMap(({ a, b }) => [`${a} ${b}`, `${b} ${a}`]),
    );
    return this.names.map((_, a) =>
      this.names.map((_name, b): JointClass => {
        if (a === b) return 'open';
        const isWrong = this.random() < noise;
        const isJoined = (all.find(a) === all.find(b)) !== isWrong;
        if (!isJoined) return loads.has(`${a} ${b}`) ? 'load' : 'open';
        return good.find(a) === good.find(b) ? 'joined' : 'poor';
      }),
    );
  }

  private sets(leads: readonly Plugged[]): ReturnType<typeof wiredTogether> {
    const circuit = compile({ ...this.bench, wires: leads });
    const simulation = new Simulation(new Solver(circuit), deadState(circuit));
    for (const step of this.steps) simulation.work(step);
    return wiredTogether(circuit, closedIn(simulation.state));
  }

  // ── Modbus ────────────────────────────────────────────────────────────────────────────────────

  private async answer<T>(value: () => T): Promise<T> {
    const { lag, dead } = this.settings;
    if (dead) return new Promise<T>(() => undefined);
    if (lag > 0) await new Promise((resolve) => setTimeout(resolve, lag));
    return value();
  }

  /** Serves on a port of loopback, or on any that is free; resolves with the port. */
  async listen(wanted = 0, host = '127.0.0.1'): Promise<number> {
    // The package takes 0 for its usual port.
    const port = wanted === 0 ? await freePort(host) : wanted;
    const vector = {
      getInputRegister: (address: number) => this.answer(() => this.registers.get(address) ?? 0),
      getMultipleInputRegisters: (
        address: number,
        length: number,
        _unit: number,
        done: (error: Error | null, words: number[]) => void,
      ) => {
        void this.answer(() => {
          // The head is read: from here on rows and classes are those of the newest pass.
          const registers = address === SCANNER.head ? this.look() : this.registers;
          return Array.from({ length }, (_, k) => registers.get(address + k) ?? 0);
        }).then((words) => done(null, words));
      },
      getDiscreteInput: (address: number) =>
        this.answer(() => {
          if (address === SCANNER.permitClosed) return this.isPermitClosed;
          return address === SCANNER.supplyPresent && this.settings.supply;
        }),
      getCoil: () => this.answer(() => this.asked),
      setCoil: (_address: number, on: boolean) => {
        this.asked = on;
      },
      setRegister: () => {
        this.beatAt = this.now();
      },
    };
    const server = new ServerTCP(vector, { host, port, unitID: 1, debug: false });
    this.server = server;
    return new Promise((resolve, reject) => {
      server.on('initialized', () => resolve(port));
      server.on('serverError', reject);
    });
  }

  async stop(): Promise<void> {
    const { server } = this;
    if (server) await new Promise<void>((resolve) => server.close(() => resolve()));
  }
}
