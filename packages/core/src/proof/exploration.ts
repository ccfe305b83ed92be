import { ARRIVING, REST, RETURNING, type Duty } from '../catalogue/index.js';
import {
  controlOf,
  arrive,
  choicesOf,
  isMoving,
  isOfController,
  standsIn,
  type Circuit,
  type Hands,
  type MechanismChoice,
  type MechanicalState,
  type MechanismIndex,
  type Stimulus,
} from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { perObject } from '../per-object.js';
import { Decisions } from './decisions.js';
import type { Part } from './part.js';
import { BAD, Moves, SETTLED, SHORTED, doubled } from './moves.js';
import { Situations } from './situations.js';

/** Where a stimulus can end when every order of arrival is followed. */
export interface Outcome {
  /** Numbers of settled situations, ascending. */
  readonly ends: readonly number[];
  /** Some contact state on the way joins two potentials. */
  readonly short: boolean;
  /** Some coil on the way is energised outside its limits. */
  readonly badVoltage: boolean;
  /** Tags of armatures that move for ever, from a situation out of which no order leads to rest. */
  readonly chatter: readonly string[] | null;
}

/** A control that a person works, as the proof needs it. */
export interface Control {
  readonly tag: string;
  readonly mechanism: MechanismIndex;
  readonly duty: Duty | undefined;
  readonly momentary: boolean;
}

/** One thing that can be done in a settled state to one mechanism. */
export interface Choice extends MechanismChoice {
  readonly mechanism: MechanismIndex;
}

/** Two buttons pressed at one instant. */
export interface PairChoice {
  readonly stimulus: Stimulus;
  readonly mechanisms: readonly [MechanismIndex, MechanismIndex];
}

/** What a person can do on a board, whatever its wiring. */
interface Workable {
  readonly controls: readonly Control[];
  readonly choices: readonly Choice[];
  readonly pairs: readonly PairChoice[];
}

/** Kept for the mechanisms themselves: a board with a fault has those of the sound one. */
const workableOf = perObject((mechanisms: Circuit['mechanisms']): Record<Hands, Workable> => {
  const controls = mechanisms.flatMap((mechanism): Control[] => {
    const { device, index } = mechanism;
    const control = controlOf(mechanism);
    if (control === null) return [];
    return [{ tag: device.tag, mechanism: index, duty: device.duty, momentary: control === 'momentary' }];
  });
  const buttons = controls.filter(({ momentary }) => momentary);
  const pairs = buttons.flatMap((one, k) =>
    buttons.slice(k + 1).map((other) => ({
      stimulus: { together: [{ press: one.tag }, { press: other.tag }] },
      mechanisms: [one.mechanism, other.mechanism] as const,
    })),
  );
  const by = (hands: Hands): Workable => ({
    controls,
    choices: mechanisms.flatMap((mechanism) =>
      choicesOf(mechanism, mechanism.device.tag, hands).map((choice) => ({
        ...choice,
        mechanism: mechanism.index,
      })),
    ),
    pairs,
  });
  return { controls: by('controls'), 'switchgear too': by('switchgear too') };
});

/** What an exploration stands on. */
export interface Explored {
  /** Answers that were kept by another exploration of the same circuit. */
  readonly decisions?: Decisions;
  /** The search of a board whose situations are the same: they are not worked again. */
  readonly exploration?: Exploration;
  /** The part of the board that is worked; the whole board where none is said. */
  readonly part?: Part | null;
  /**
   * By mechanism: 1 where one order is enough in which it arrives before those of which every order is
   * followed. What comes about so is one of the ways in which the board can go, not all.
   */
  readonly inOneOrder?: Uint8Array | null;
}

/** The search met its bound: what it has found so far is not all there is. */
export class SearchBound extends Error {}

/** One move on a way between situations: what arrived, or what fell back instead of arriving. */
interface Arrival {
  readonly mechanism: MechanismIndex;
  readonly fellBack: boolean;
}

/** A way from a state to another: what arrived on it in order, and all that was under way. */
export interface Way {
  readonly state: MechanicalState;
  readonly arrivals: readonly Arrival[];
  readonly moving: readonly MechanismIndex[];
}

/** Situations that one stimulus may lead through, and all together. */
const MOST_IN_ONE = 300_000;
const MOST = 4_000_000;

/**
 * Marks of situations under this are not results: not looked at, or (from PENDING up) on the way, with
 * their order.
 */
const UNSEEN = -0x7fffffff;
const PENDING = -0x7ffffffe;
const NOTHING = -0x3fffffff;
const FRAME = 6;

/**
 * The moves of a circuit between situations. From every situation the coils' decisions act first; then
 * whatever moves may arrive in any order. What a situation leads to is found once, by Tarjan's depth-first
 * search for strongly connected components (1972), and kept: a code that is the number of its only end, or
 * stands for an `Outcome`.
 */
export class Exploration {
  readonly circuit: Circuit;
  readonly decisions: Decisions;
  readonly situations: Situations;
  readonly controls: readonly Control[];
  readonly buttons: readonly Control[];
  readonly choices: readonly Choice[];
  readonly pairs: readonly PairChoice[];
  private readonly moves: Moves;
  private readonly outcomes: Outcome[] = [];
  private readonly known = new Map<string, number>();
  /**
   * Depth-first stack: situation, next and first successor, what was found so far, order, and lowest order
   * reached.
   */
  private frames = new Int32Array(1024);
  /** Situations on the way of which it is not known yet where they lead. */
  private open = new Int32Array(256);

  constructor(
    readonly solver: Solver,
    /** Most momentary buttons held at once. */
    readonly heldLimit = 2,
    private readonly most = MOST,
    hands: Hands = 'controls',
    { decisions = new Decisions(solver, hands), part = null, inOneOrder = null }: Explored = {},
  ) {
    this.circuit = solver.circuit;
    this.decisions = decisions;
    this.situations = new Situations(this.circuit, UNSEEN, hands, part?.inside);
    this.moves = new Moves(this.circuit, this.decisions, this.situations, { part, inOneOrder });
    const { controls, choices, pairs } = workableOf(this.circuit.mechanisms)[hands];
    const isHere = (mechanism: number) => part?.inside[mechanism] !== 0;
    this.controls = part ? controls.filter(({ mechanism }) => isHere(mechanism)) : controls;
    this.buttons = this.controls.filter(({ momentary }) => momentary);
    this.choices = part ? choices.filter(({ mechanism }) => isHere(mechanism)) : choices;
    this.pairs = part ? pairs.filter(({ mechanisms }) => mechanisms.every(isHere)) : pairs;
  }

  /** The state of a situation. */
  state(situation: number): MechanicalState {
    const state = this.circuit.initial.slice();
    this.situations.read(situation, state);
    return state;
  }

  /** Momentary buttons that are held. */
  held(state: MechanicalState): number {
    let held = 0;
    for (const { mechanism } of this.buttons) if (state[mechanism] !== REST) held += 1;
    return held;
  }

  /** Where a fresh bench settles. */
  begin(): number {
    return this.lead(this.circuit.initial);
  }

  /** Code of where a state leads. */
  lead(state: MechanicalState): number {
    return this.resolve(this.situations.numberOf(state));
  }

  outcome(code: number): Outcome {
    return code >= 0
      ? { ends: [code], short: false, badVoltage: false, chatter: null }
      : this.outcomes[-1 - code]!;
  }

  /** True where no order leads from a state to rest. */
  isEndless(state: MechanicalState): boolean {
    const { ends, short, chatter } = this.outcome(this.lead(state));
    return ends.length === 0 && !short && chatter !== null;
  }

  /** True where some way that was followed ends in a short circuit. */
  get hasShorted(): boolean {
    return this.outcomes.some(({ short }) => short);
  }

  /** True where some coil was energised in any situation that was met. */
  get hasEnergised(): boolean {
    return this.moves.hasEnergised;
  }

  /**
   * The first situation that a state can pass through and that a test finds, and what arrives on the way
   * there; breadth first. Without fall-backs whatever has begun to pull in is carried in.
   */
  wayTo(state: MechanicalState, test: (state: MechanicalState) => boolean, fallBacks = true): Way | null {
    const queue = [this.situations.numberOf(state)];
    const cameFrom = new Map<number, number>([[queue[0]!, -1]]);
    for (const number of queue) {
      const here = this.state(number);
      if (test(here)) return { state: here, ...this.movesOn(number, cameFrom) };
      this.moves.from(number, 0);
      for (const to of this.moves.successors.slice(0, this.moves.end)) {
        if (cameFrom.has(to) || (!fallBacks && this.fellBack(number, to))) continue;
        cameFrom.set(to, number);
        queue.push(to);
      }
    }
    return null;
  }

  /** True where an armature turned back on its way in between two situations. */
  private fellBack(from: number, to: number): boolean {
    const [before, after] = [this.state(from), this.state(to)];
    return this.circuit.coils.some(
      ({ mechanism }) => before[mechanism] === ARRIVING && after[mechanism] === RETURNING,
    );
  }

  private movesOn(end: number, cameFrom: ReadonlyMap<number, number>): Pick<Way, 'arrivals' | 'moving'> {
    const arrivals: Arrival[] = [];
    const moving = new Set<MechanismIndex>();
    for (let at = end; at >= 0; at = cameFrom.get(at) ?? -1) {
      const state = this.state(at);
      for (const mechanism of this.circuit.mechanisms)
        if (isMoving(mechanism, state[mechanism.index]!)) moving.add(mechanism.index);
    }
    for (let to = end, from = cameFrom.get(end) ?? -1; from >= 0; to = from, from = cameFrom.get(to) ?? -1) {
      const [before, after] = [this.state(from), this.state(to)];
      const changed = this.circuit.mechanisms.filter(({ index }) => before[index] !== after[index]);
      const [only] = changed;
      if (!only || changed.length > 1 || !isMoving(only, before[only.index]!)) continue;
      const now = after[only.index]!;
      if (now === arrive(only, before[only.index]!))
        arrivals.unshift({ mechanism: only.index, fellBack: false });
      else if (now === RETURNING && before[only.index] === ARRIVING)
        arrivals.unshift({ mechanism: only.index, fellBack: true });
    }
    return { arrivals, moving: [...moving] };
  }

  private resolve(start: number): number {
    const kept = this.situations.mark(start);
    return kept === UNSEEN ? this.search(start) : kept;
  }

  private search(start: number): number {
    const { moves, situations } = this;
    let { frames, open } = this;
    let opened = 0;
    let depth = 0;
    let end = 0;
    let order = 0;
    let next = start;
    const bound = Math.min(this.most, situations.count + MOST_IN_ONE);
    for (;;) {
      if (next >= 0) {
        if (situations.count > bound) throw new SearchBound();
        const flags = moves.from(next, end);
        order += 1;
        situations.setMark(next, PENDING + order);
        if (opened === open.length) {
          open = doubled(open);
          this.open = open;
        }
        open[opened] = next;
        opened += 1;
        if (FRAME * (depth + 1) > frames.length) {
          frames = doubled(frames);
          this.frames = frames;
        }
        const top = FRAME * depth;
        frames[top] = next;
        frames[top + 1] = end;
        frames[top + 2] = end;
        frames[top + 3] = flags === 0 ? NOTHING : this.own(next, flags);
        frames[top + 4] = order;
        frames[top + 5] = order;
        end = moves.end;
        depth += 1;
        next = -1;
      }
      const top = FRAME * (depth - 1);
      const place = frames[top + 1]!;
      if (place < end) {
        frames[top + 1] = place + 1;
        const to = moves.successors[place]!;
        const mark = situations.mark(to);
        if (mark === UNSEEN) next = to;
        else if (mark < NOTHING) {
          const found = mark - PENDING;
          if (found < frames[top + 5]!) frames[top + 5] = found;
        } else if (mark !== frames[top + 3]) frames[top + 3] = this.merge(frames[top + 3]!, mark);
        continue;
      }
      const number = frames[top]!;
      const low = frames[top + 5]!;
      let result = frames[top + 3]!;
      end = frames[top + 2]!;
      depth -= 1;
      if (low === frames[top + 4]) {
        let first = opened - 1;
        while (open[first] !== number) first -= 1;
        if (!this.canRest(result)) result = this.merge(result, this.endless(open.subarray(first, opened)));
        for (; opened > first; opened -= 1) situations.setMark(open[opened - 1]!, result);
      } else if (low < frames[top - 1]!) frames[top - 1] = low;
      if (depth === 0) return result;
      const above = top - FRAME + 3;
      if (frames[above] === NOTHING) frames[above] = result;
      else if (result !== frames[above]) frames[above] = this.merge(frames[above]!, result);
    }
  }

  /** True where some order leads to rest, or to a short circuit that ends it. */
  private canRest(code: number): boolean {
    if (code >= 0) return true;
    if (code === NOTHING) return false;
    const { ends, short, chatter } = this.outcomes[-1 - code]!;
    return ends.length > 0 || short || chatter !== null;
  }

  /** What a situation itself adds to where it leads. */
  private own(number: number, flags: number): number {
    const settled = (flags & SETTLED) !== 0;
    if (flags === SETTLED) return number;
    return this.intern({
      ends: settled ? [number] : [],
      short: (flags & SHORTED) !== 0,
      badVoltage: (flags & BAD) !== 0,
      chatter: null,
    });
  }

  private merge(a: number, b: number): number {
    if (a === b || b === NOTHING) return a;
    if (a === NOTHING) return b;
    const one = this.outcome(a);
    const other = this.outcome(b);
    const chatter =
      one.chatter && other.chatter
        ? [...new Set([...one.chatter, ...other.chatter])].sort()
        : (one.chatter ?? other.chatter);
    const ends = [...new Set([...one.ends, ...other.ends])].sort((x, y) => x - y);
    return this.intern({
      ends,
      short: one.short || other.short,
      badVoltage: one.badVoltage || other.badVoltage,
      chatter,
    });
  }

  private intern(outcome: Outcome): number {
    const { ends, short, badVoltage, chatter } = outcome;
    const key = `${ends.join()}|${short ? 1 : 0}${badVoltage ? 1 : 0}|${chatter?.join() ?? '-'}`;
    const found = this.known.get(key);
    if (found !== undefined) return found;
    const code = -this.outcomes.push(outcome);
    this.known.set(key, code);
    return code;
  }

  private endless(members: Int32Array): number {
    const states = Array.from(members, (number) => this.state(number));
    const tags = this.circuit.mechanisms
      .filter(
        (mechanism) =>
          (standsIn(mechanism).length > 0 || isOfController(mechanism)) &&
          new Set(states.map((state) => state[mechanism.index])).size > 1,
      )
      .map(({ device }) => device.tag);
    return this.intern({ ends: [], short: false, badVoltage: false, chatter: [...new Set(tags)].sort() });
  }
}
