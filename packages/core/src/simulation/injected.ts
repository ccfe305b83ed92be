import { REST } from '../catalogue/index.js';
import type { MechanicalState } from '../circuit/index.js';
import { Solver, anySupplyOn } from '../electrics/index.js';
import { devicesOf, faultKey, withFaults, type Fault, type When } from '../faults/index.js';
import { NEVER } from './present.js';

/** Seconds between two looks at the heat that a fault waits for. */
const HEAT_LOOK = 0.5;

/** Solvers of a sound circuit with faults in it, by the faults; as lasting as the sound one. */
const kept = new WeakMap<Solver, Map<string, Solver>>();

/** The solver of a circuit with some faults in it; made once. */
export function solverWith(sound: Solver, faults: readonly Fault[]): Solver {
  if (faults.length === 0) return sound;
  let known = kept.get(sound);
  if (!known) kept.set(sound, (known = new Map<string, Solver>()));
  const key = faults.map(faultKey).join();
  let solver = known.get(key);
  if (!solver) known.set(key, (solver = new Solver(withFaults(sound.circuit, faults))));
  return solver;
}

interface Item {
  readonly fault: Fault;
  readonly key: string;
  /** The mechanism whose operations it counts; −1 where it counts none. */
  readonly counts: number;
  operations: number;
  there: boolean;
}

/** The faults of a board, and which of them are there now: some come and go. */
export class Injected {
  private items: readonly Item[] = [];
  /** Armatures that a hand holds in: what a person does, no fault of the board. */
  private hands: readonly Fault[] = [];
  /** Until a fault comes or goes. */
  private present: Solver | null = null;
  /** When the supply last came on; NEVER while it is off. */
  private since = NEVER;

  constructor(
    private readonly sound: Solver,
    faults: readonly Fault[],
    state: MechanicalState,
  ) {
    if (anySupplyOn(sound.circuit, state)) this.since = 0;
    for (const fault of faults) this.inject(fault, 0);
  }

  get all(): readonly Fault[] {
    return this.items.map(({ fault }) => fault);
  }

  /** True where some fault comes and goes. */
  get anyComesAndGoes(): boolean {
    return this.items.some(({ fault }) => fault.when !== undefined);
  }

  /** The solver of the circuit as it is now. */
  get solver(): Solver {
    if (!this.present) {
      const faults = this.items.filter(({ there }) => there).map(({ fault }) => fault);
      const known = new Set(faults.map(faultKey));
      const held = this.hands.filter((fault) => !known.has(faultKey(fault)));
      this.present = solverWith(this.sound, [...faults, ...held]);
    }
    return this.present;
  }

  /** A hand holds an armature in, or lets it go. */
  hold(fault: Fault, holds: boolean): void {
    const key = faultKey(fault);
    const others = this.hands.filter((one) => faultKey(one) !== key);
    this.hands = holds ? [...others, fault] : others;
    this.present = null;
  }

  inject(fault: Fault, t: number): void {
    const key = faultKey(fault);
    if (this.items.some((item) => item.key === key)) return;
    const counts = fault.when && 'every' in fault.when ? this.countedBy(fault) : -1;
    const item: Item = { fault, key, counts, operations: 0, there: fault.when === undefined };
    this.items = [...this.items, item];
    this.present = null;
    this.look(item, t, () => 0);
  }

  clear(fault: Fault): void {
    const key = faultKey(fault);
    this.items = this.items.filter((item) => item.key !== key);
    this.present = null;
  }

  /**
   * The mechanism whose operations make the fault come: of the first device at its place that has one, one
   * that a coil moves first.
   */
  private countedBy(fault: Fault): number {
    const { mechanismOf, coils } = this.sound.circuit;
    const found = devicesOf(fault).flatMap((tag) => mechanismOf.get(tag) ?? []);
    return found.find((index) => coils.some(({ mechanism }) => mechanism === index)) ?? found[0] ?? -1;
  }

  /** Takes what has changed at a moment: operations that begin, and the supply. */
  note(before: MechanicalState, state: MechanicalState, t: number): void {
    if (!this.anyComesAndGoes) return;
    const { circuit } = this.sound;
    if (!anySupplyOn(circuit, state)) this.since = NEVER;
    else if (this.since === NEVER) this.since = t;
    for (const item of this.items) {
      if (
        item.counts >= 0 &&
        begins(circuit.initial[item.counts]!, before[item.counts]!, state[item.counts]!)
      )
        item.operations += 1;
      this.look(item, t);
    }
  }

  /** The next moment at which a fault may come or go by itself. */
  next(t: number): number {
    let next = NEVER;
    for (const { fault } of this.items) {
      const { when } = fault;
      if (when && 'hotter' in when) next = Math.min(next, (Math.floor(t / HEAT_LOOK + 1e-9) + 1) * HEAT_LOOK);
      else if (when && 'from' in when && this.since !== NEVER)
        next = Math.min(next, nextChange(when, t - this.since) + this.since);
    }
    return next;
  }

  /** Takes the moment itself; true where a fault has come or gone. */
  reach(t: number, heatOf: (fault: Fault) => number): boolean {
    let changed = false;
    for (const item of this.items) if (this.look(item, t, heatOf)) changed = true;
    return changed;
  }

  /** True where the fault has come or gone. */
  private look(item: Item, t: number, heatOf?: (fault: Fault) => number): boolean {
    const { when } = item.fault;
    if (!when) return false;
    const before = item.there;
    if ('every' in when) item.there = item.operations > 0 && item.operations % when.every === 0;
    else if ('hotter' in when) item.there = heatOf ? heatOf(item.fault) > when.hotter : item.there;
    else item.there = this.since !== NEVER && isWithin(when, t - this.since);
    if (item.there === before) return false;
    this.present = null;
    return true;
  }
}

/** An operation begins when a mechanism leaves rest. */
const begins = (rest: number, before: number, now: number): boolean =>
  before !== now && before === rest && now !== REST && now !== rest;

type Span = Extract<When, { readonly from: number }>;

/** Rounding of a moment, seconds. */
const AT_ONCE = 1e-9;

const inPeriod = ({ period }: Span, seconds: number): number =>
  period === undefined ? seconds : (seconds + AT_ONCE) % period;

function isWithin(when: Span, seconds: number): boolean {
  const now = inPeriod(when, seconds);
  return now >= when.from - AT_ONCE && now < when.to - AT_ONCE;
}

/** Seconds after the supply came on at which it comes or goes next. */
function nextChange(when: Span, seconds: number): number {
  const now = inPeriod(when, seconds);
  const start = seconds - now;
  const ahead = [when.from, when.to, ...(when.period === undefined ? [] : [when.period + when.from])];
  const next = ahead.find((at) => at > now + 2 * AT_ONCE);
  return next === undefined ? NEVER : start + next;
}
