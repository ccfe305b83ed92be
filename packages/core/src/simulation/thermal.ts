import type { Bench } from '../bench/index.js';
import { OPERATED, REST, type ProtectionSpec } from '../catalogue/index.js';
import {
  resetOf,
  isBlocked,
  type MechanicalState,
  type MechanismIndex,
  type TerminalIndex,
} from '../circuit/index.js';
import { NodeWays, type Draw, type Solver } from '../electrics/index.js';
import {
  coolingConstant,
  heatLater,
  isRenewed,
  leastFelt,
  secondsToRelease,
  secondsToReset,
} from '../machines/index.js';
import { OVERLOAD_LEAST_RESET } from '../tolerances.js';

const NEVER = Number.POSITIVE_INFINITY;

interface Heated {
  readonly tag: string;
  readonly mechanism: MechanismIndex;
  readonly poles: readonly (readonly [TerminalIndex, TerminalIndex])[];
  /** As it is set now. */
  spec: ProtectionSpec;
  /** Per pole, per unit of release. */
  readonly heat: number[];
  amps: number[];
  reset: 'manual' | 'auto';
  /** Moment at which it was found released; NEVER while it is not. */
  releasedAt: number;
  /** Moment at which it will release (or, tripped and automatic, reset) at the present currents. */
  at: number;
}

interface Shares {
  readonly terminals: readonly number[];
  readonly weights: readonly number[];
}

/**
 * How current divides: by contact state, as lasting as the solver's own solutions; and by what lies inside
 * a pole's node, which faults elsewhere leave as it is.
 */
interface KeptShares {
  readonly byState: Map<string, Shares[]>;
  readonly shares: Map<string, Shares>;
}

const keptBySolver = new WeakMap<Solver, KeptShares>();
const sharesByBench = new WeakMap<Bench, Map<string, Shares>>();

function keptOf(solver: Solver): KeptShares {
  const { bench } = solver.circuit;
  const shares = sharesByBench.get(bench) ?? new Map<string, Shares>();
  sharesByBench.set(bench, shares);
  const known = keptBySolver.get(solver) ?? { byState: new Map(), shares };
  keptBySolver.set(solver, known);
  return known;
}

/**
 * Everything that currents heat: overload relays, breakers, fuses. Currents are those of the present
 * contact state.
 */
export class Thermal {
  private readonly items: Heated[];
  /** Of the contact state looked at last. */
  private ways: { readonly key: number | string; readonly ways: NodeWays } | null = null;
  /** Seconds for which the present currents have flowed since heat was worked out. */
  private pending = 0;
  private kept: KeptShares;

  constructor(private solver: Solver) {
    const { circuit } = solver;
    this.kept = keptOf(solver);
    this.items = circuit.protections.map(({ tag, spec, mechanism, poles }): Heated => {
      const moving = circuit.mechanisms[mechanism];
      return {
        tag,
        mechanism,
        poles,
        spec,
        heat: poles.map(() => 0),
        amps: poles.map(() => 0),
        reset: (moving && resetOf(moving)) ?? 'manual',
        releasedAt: NEVER,
        at: NEVER,
      };
    });
  }

  /** The circuit is another from now on; relays that it sets otherwise are set so. */
  refit(solver: Solver): void {
    this.flow();
    const before = this.solver.circuit;
    this.solver = solver;
    this.kept = keptOf(solver);
    this.ways = null;
    solver.circuit.protections.forEach(({ spec }, k) => {
      if (before.protections[k]!.spec !== spec) this.items[k]!.spec = spec;
    });
  }

  /** The earliest moment at which anything releases or resets by itself. */
  get next(): number {
    let next = NEVER;
    for (const { at } of this.items) if (at < next) next = at;
    return next;
  }

  /** Protections whose moment has come. */
  due(t: number): Pick<Heated, 'tag' | 'mechanism' | 'spec'>[] {
    return this.items.filter(({ at }) => at <= t);
  }

  heatOf(mechanism: number): number {
    this.flow();
    return Math.max(0, ...(this.items.find((item) => item.mechanism === mechanism)?.heat ?? []));
  }

  dialOf(mechanism: number): number | undefined {
    const spec = this.items.find((one) => one.mechanism === mechanism)?.spec;
    return spec?.curve === 'overload' ? spec.dial : undefined;
  }

  set(mechanism: number, setting: string, to: number | string | boolean): void {
    this.flow();
    const item = this.items.find((one) => one.mechanism === mechanism);
    if (item?.spec.curve === 'overload' && setting === 'dial' && typeof to === 'number')
      item.spec = { ...item.spec, dial: to };
    if (item && setting === 'reset') item.reset = to === 'auto' ? 'auto' : 'manual';
  }

  /** A replaced fuse link is a new one; so is anything that is exchanged as a whole. */
  renew(mechanism: number, whole = false): void {
    this.flow();
    this.items.find((one) => one.mechanism === mechanism && (whole || isRenewed(one.spec)))?.heat.fill(0);
  }

  /** Takes the currents of a moment and foresees from them what will release, and when. */
  refresh(state: MechanicalState, draw: Draw | null, t: number): void {
    this.flow();
    const most = draw ? largest(draw) : 0;
    for (const item of this.items) {
      item.amps =
        draw && most > leastToFeel(item)
          ? this.poleWeights(item, state).map((pole) => weighted(draw, pole.terminals, pole.weights))
          : item.amps.map(() => 0);
      const now = state[item.mechanism] ?? REST;
      if (now !== OPERATED) item.releasedAt = NEVER;
      else if (item.releasedAt === NEVER) item.releasedAt = t;
      const cannot = isBlocked(this.solver.circuit, item.mechanism, now === OPERATED ? 'reset' : 'trip');
      item.at = cannot ? NEVER : t + secondsLeft(item, now);
      // Whoever presses the test button lets go of it; no bimetal returns within an armature's lag.
      if (now === OPERATED && item.spec.curve === 'overload')
        item.at = Math.max(item.at, item.releasedAt + OVERLOAD_LEAST_RESET);
    }
  }

  /**
   * Lets the present currents flow for some seconds: worked out in one step when the currents change or are
   * asked for.
   */
  advance(seconds: number): void {
    this.pending += seconds;
  }

  /** Heat of every pole now. */
  get heats(): readonly (readonly number[])[] {
    this.flow();
    return this.items.map(({ heat }) => [...heat]);
  }

  /**
   * How often a cycle of currents of some seconds may be repeated before anything releases or resets by
   * itself, from the heats one cycle ago. Heat goes to a fixed point by the same factor in every cycle.
   */
  repeatable(
    before: readonly (readonly number[])[],
    period: number,
    state: MechanicalState,
    t: number,
  ): number {
    this.flow();
    let most = NEVER;
    this.items.forEach((item, k) => {
      if (state[item.mechanism] === OPERATED) most = Math.min(most, Math.floor((item.at - t) / period) - 1);
      const a = Math.exp(-period / coolingConstant(item.spec));
      item.heat.forEach((now, pole) => {
        const goal = fixedPoint(before[k]?.[pole] ?? now, now, a);
        if (goal > 1 && now < 1)
          most = Math.min(most, Math.floor(Math.log((goal - 1) / (goal - now)) / Math.log(a)) - 1);
      });
    });
    return most;
  }

  /** Repeats a cycle of currents some times at once. */
  repeat(before: readonly (readonly number[])[], period: number, times: number): void {
    this.flow();
    this.items.forEach((item, k) => {
      const a = Math.exp(-period / coolingConstant(item.spec));
      item.heat.forEach((now, pole) => {
        const goal = fixedPoint(before[k]?.[pole] ?? now, now, a);
        item.heat[pole] = goal + (now - goal) * a ** times;
      });
      item.at += period * times;
    });
  }

  private flow(): void {
    const seconds = this.pending;
    this.pending = 0;
    if (seconds === 0) return;
    for (const item of this.items) {
      item.heat.forEach((heat, pole) => {
        item.heat[pole] = heatLater(item.spec, heat, pole, item.amps, seconds);
      });
    }
  }

  /** How the draws at terminals make the current of each pole, in the present contact state. */
  private poleWeights({ mechanism, poles }: Heated, state: MechanicalState): Shares[] {
    const key = `${mechanism} ${this.solver.contactKey(state)}`;
    const kept = this.kept.byState.get(key);
    if (kept) return kept;
    const ways = this.waysIn(state);
    // Contacts elsewhere change nothing inside a pole's own node.
    const found = poles.map(([a, b], k) => {
      const inside = `${mechanism}.${k} ${ways.signature(a)}`;
      const known = this.kept.shares.get(inside) ?? ways.weights(a, b);
      this.kept.shares.set(inside, known);
      return known;
    });
    this.kept.byState.set(key, found);
    return found;
  }

  private waysIn(state: MechanicalState): NodeWays {
    const key = this.solver.contactKey(state);
    if (this.ways?.key !== key) this.ways = { key, ways: new NodeWays(this.solver.circuit, state) };
    return this.ways.ways;
  }
}

/**
 * Amperes below which the present current changes nothing about a device: its currents need not be worked
 * out.
 */
function leastToFeel({ spec, heat }: Heated): number {
  return heat.some((one) => one > 0.01) ? 0 : leastFelt(spec);
}

function largest({ re, im }: Draw): number {
  let most = 0;
  for (let k = 0; k < re.length; k += 1) {
    const square = re[k]! ** 2 + im[k]! ** 2;
    if (square > most) most = square;
  }
  return Math.sqrt(most);
}

function weighted({ re, im }: Draw, terminals: readonly number[], weights: readonly number[]): number {
  let sumRe = 0;
  let sumIm = 0;
  terminals.forEach((terminal, k) => {
    sumRe += re[terminal]! * weights[k]!;
    sumIm += im[terminal]! * weights[k]!;
  });
  return Math.hypot(sumRe, sumIm);
}

/** Where heat ends that goes from one value to another in a cycle, and on by the same factor. */
const fixedPoint = (before: number, now: number, factor: number): number =>
  (now - factor * before) / (1 - factor);

/** Seconds until a protection releases, or a tripped one that is set to automatic resets. */
function secondsLeft({ spec, heat, amps, reset }: Heated, state: number): number {
  if (state === REST) return secondsToRelease(spec, heat, amps);
  return state === OPERATED && spec.curve === 'overload' && reset === 'auto'
    ? secondsToReset(spec, heat)
    : NEVER;
}
