import { ARRIVING, LETTING_GO, REST, RETURNING, type Duty } from '../catalogue/index.js';
import {
  arrive,
  choicesOf,
  isMoving,
  isSealed,
  react,
  standsIn,
  type Circuit,
  type MechanismChoice,
  type MechanicalState,
  type MechanismIndex,
  type Stimulus,
} from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { BAD_VOLTAGE, Decisions, PULLS_IN, SOLVE, STAYS_IN } from './decisions.js';
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

/** The search met its bound: what it has found so far is not all there is. */
export class SearchBound extends Error {}

/** One move on a way between situations: what arrived, or what fell back instead of arriving. */
export interface Arrival {
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

/** Marks of situations under this are not results: not looked at, or (from PENDING up) on the way, with their order. */
const UNSEEN = -0x7fffffff;
const PENDING = -0x7ffffffe;
const NOTHING = -0x3fffffff;
const FRAME = 6;
const SETTLED = 1;
const SHORTED = 2;
const BAD = 4;

/**
 * The moves of a circuit between situations. From every situation the coils' decisions act first; then whatever moves
 * may arrive in any order. What a situation leads to is found once, by Tarjan's depth-first search for strongly
 * connected components (1972), and kept: a code that is the number of its only end, or stands for an `Outcome`.
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
  /** Depth-first stack: situation, next and first successor, what was found so far, order, and lowest order reached. */
  private frames = new Int32Array(1024);

  constructor(
    readonly solver: Solver,
    /** Most momentary buttons held at once. */
    readonly heldLimit = 2,
    private readonly most = MOST,
  ) {
    this.circuit = solver.circuit;
    this.decisions = new Decisions(solver);
    this.situations = new Situations(this.circuit, UNSEEN);
    this.moves = new Moves(this.circuit, this.decisions, this.situations);
    this.controls = this.circuit.mechanisms.flatMap((mechanism): Control[] => {
      const { kind, device, index } = mechanism;
      if (kind !== 'plunger' && kind !== 'selector') return [];
      const momentary = kind === 'plunger' && mechanism.returns === 'by spring';
      return [{ tag: device.tag, mechanism: index, duty: device.duty, momentary }];
    });
    this.buttons = this.controls.filter(({ momentary }) => momentary);
    this.choices = this.circuit.mechanisms.flatMap((mechanism) =>
      choicesOf(mechanism, mechanism.device.tag).map((choice) => ({ ...choice, mechanism: mechanism.index })),
    );
    this.pairs = this.buttons.flatMap((one, k) =>
      this.buttons.slice(k + 1).map((other) => ({
        stimulus: { together: [{ press: one.tag }, { press: other.tag }] },
        mechanisms: [one.mechanism, other.mechanism] as const,
      })),
    );
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

  /** True where some coil was energised in any situation that was met. */
  get hasEnergised(): boolean {
    return this.moves.hasEnergised;
  }

  /** The first situation that a state can pass through and that a test finds, and what arrives on the way there; breadth first. */
  wayTo(state: MechanicalState, test: (state: MechanicalState) => boolean): Way | null {
    const queue = [this.situations.numberOf(state)];
    const cameFrom = new Map<number, number>([[queue[0]!, -1]]);
    for (const number of queue) {
      const here = this.state(number);
      if (test(here)) return { state: here, ...this.movesOn(number, cameFrom) };
      this.moves.from(number, 0);
      for (const to of this.moves.successors.slice(0, this.moves.end)) {
        if (cameFrom.has(to)) continue;
        cameFrom.set(to, number);
        queue.push(to);
      }
    }
    return null;
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
    let { frames } = this;
    const open: number[] = [];
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
        open.push(next);
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
        if (open[open.length - 1] === number && (result >= 0 || this.canRest(result))) {
          open.pop();
          situations.setMark(number, result);
        } else {
          const members = open.splice(open.lastIndexOf(number));
          if (!this.canRest(result)) result = this.merge(result, this.endless(members));
          for (const one of members) situations.setMark(one, result);
        }
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

  private endless(members: readonly number[]): number {
    const states = members.map((number) => this.state(number));
    const tags = this.circuit.mechanisms
      .filter(
        (mechanism) =>
          standsIn(mechanism).length > 0 && new Set(states.map((state) => state[mechanism.index])).size > 1,
      )
      .map(({ device }) => device.tag);
    return this.intern({ ends: [], short: false, badVoltage: false, chatter: tags.sort() });
  }
}

function doubled(array: Int32Array<ArrayBuffer>): Int32Array<ArrayBuffer> {
  const grown = new Int32Array(2 * array.length);
  grown.set(array);
  return grown;
}

/** One move at a time: coil decisions, then arrivals. Everything that depends on a mechanism's state alone is tabulated. */
class Moves {
  hasEnergised = false;
  /** Numbers of following situations; the last call wrote from its `begin` up to `end`. */
  successors = new Int32Array(1024);
  end = 0;
  private readonly coilOf: Int32Array;
  private readonly armatureOf: Int32Array;
  /** By coil and state of its mechanism: the bit that tells whether it wants. */
  private readonly wantsBit: readonly Uint8Array[];
  /** By coil: next state of its mechanism where it does not want, and where it does. */
  private readonly released: readonly Uint8Array[];
  private readonly energised: readonly Uint8Array[];
  private readonly movers: Int32Array;
  /** About the situation at hand, kept up to date as mechanisms change: the round in which each question was asked, what
   *  needs the whole solution, what is shorted; by coil whether it wants, where its armature must go, and a bad voltage. */
  private round = 0;
  private readonly coils: number;
  private readonly asked: Int32Array;
  private readonly whole: Uint8Array;
  private wholes = 0;
  private readonly short: Uint8Array;
  private shorts = 0;
  private readonly wants: Uint8Array;
  private readonly target: Uint8Array;
  private readonly due: Uint8Array;
  private dues = 0;
  private readonly bad: Uint8Array;
  private bads = 0;
  /** By mechanism: where a moving state arrives, or −1. */
  private readonly arrival: readonly Int8Array[];
  private readonly isArmature: Uint8Array;
  private readonly classOf: readonly Uint8Array[];
  private readonly interlocked: Uint8Array;

  constructor(
    private readonly circuit: Circuit,
    private readonly decisions: Decisions,
    private readonly situations: Situations,
  ) {
    const { mechanisms, coils, interlocks } = circuit;
    this.coilOf = new Int32Array(mechanisms.length).fill(-1);
    coils.forEach(({ mechanism }, k) => (this.coilOf[mechanism] = k));
    this.armatureOf = Int32Array.from(coils, ({ mechanism }) => mechanism);
    const each = (mechanism: MechanismIndex) =>
      Array.from({ length: mechanisms[mechanism]?.states ?? 0 }, (_, s) => s);
    this.wantsBit = coils.map((coil) =>
      Uint8Array.from(each(coil.mechanism), (s) => {
        const state = circuit.initial.slice();
        state[coil.mechanism] = s;
        return isSealed(circuit, coil, state) ? STAYS_IN : PULLS_IN;
      }),
    );
    const reactions = (wants: boolean) =>
      coils.map(({ mechanism }) =>
        Uint8Array.from(each(mechanism), (s) => react(mechanisms[mechanism]!, s, wants)),
      );
    this.released = reactions(false);
    this.energised = reactions(true);
    this.movers = new Int32Array(mechanisms.length);
    this.arrival = mechanisms.map((mechanism) =>
      Int8Array.from(each(mechanism.index), (s) => (isMoving(mechanism, s) ? arrive(mechanism, s) : -1)),
    );
    this.classOf = mechanisms.map(({ classOf }) => Uint8Array.from(classOf));
    this.isArmature = Uint8Array.from(mechanisms, ({ kind }) => (kind === 'armature' ? 1 : 0));
    const questions = decisions.shortAt + decisions.regions;
    this.coils = coils.length;
    this.asked = new Int32Array(questions);
    this.whole = new Uint8Array(questions);
    this.short = new Uint8Array(questions);
    this.wants = new Uint8Array(coils.length);
    this.target = new Uint8Array(coils.length);
    this.due = new Uint8Array(coils.length);
    this.bad = new Uint8Array(coils.length);
    this.interlocked = Uint8Array.from(mechanisms, ({ index }) =>
      circuit.jammed.includes(index) || interlocks.some((group) => group.includes(index)) ? 1 : 0,
    );
  }

  /** Writes the numbers of all situations that can follow; says what the situation itself is. */
  from(number: number, begin: number): number {
    this.end = begin;
    this.situations.visit(number);
    this.refresh();
    if (this.shorts > 0) return SHORTED;
    const flags = this.bads > 0 ? BAD : 0;
    if (this.dues > 0 && this.react()) return flags;
    return this.arrivals() ? flags : flags | SETTLED;
  }

  /** Asks again what looks at a mechanism that has changed since the last situation, and what only a whole solution tells. */
  private refresh(): void {
    const { decisions, asked, coilOf, classOf } = this;
    const { changed, changes, was, state } = this.situations;
    this.round += 1;
    const { round } = this;
    for (let c = 0; c < changes; c += 1) {
      const mechanism = changed[c]!;
      const classes = classOf[mechanism]!;
      // States of one electrical class conduct alike.
      if (classes[was[c]!] !== classes[state[mechanism]!]) {
        const dependents = decisions.dependents[mechanism]!;
        for (let d = 0; d < dependents.length; d += 1) {
          const q = dependents[d]!;
          if (asked[q] !== round) this.ask(q);
        }
      }
      const coil = coilOf[mechanism]!;
      if (coil >= 0 && asked[coil] !== round) this.ask(coil);
    }
    if (this.round === 1 || this.wholes > 0)
      for (let q = 0; q < asked.length; q += 1)
        if (asked[q] !== round && (this.round === 1 || this.whole[q] === 1)) this.ask(q);
  }

  private ask(q: number): void {
    const { decisions, whole } = this;
    this.asked[q] = this.round;
    if (q >= this.coils && q < decisions.shortAt) return;
    const { state } = this.situations;
    const answer = decisions.ask(q, state);
    const solve = answer === SOLVE ? 1 : 0;
    this.wholes += solve - whole[q]!;
    whole[q] = solve;
    if (q < this.coils) this.takeCoil(q, decisions.coilBits(q, answer, state));
    else {
      const short = decisions.isShort(answer, state) ? 1 : 0;
      this.shorts += short - this.short[q]!;
      this.short[q] = short;
    }
  }

  private takeCoil(k: number, bits: number): void {
    const now = this.situations.state[this.armatureOf[k]!]!;
    if (bits !== 0) this.hasEnergised = true;
    const wants = (bits & this.wantsBit[k]![now]!) !== 0 ? 1 : 0;
    const to = ((wants === 1 ? this.energised[k] : this.released[k]) as Uint8Array)[now]!;
    // An armature that loses its coil on the way in may fall back or still be carried in: see arrivals.
    const due = to === now || (now === ARRIVING && to === RETURNING) ? 0 : 1;
    const bad = (bits & BAD_VOLTAGE) === 0 ? 0 : 1;
    this.wants[k] = wants;
    this.target[k] = to;
    this.dues += due - this.due[k]!;
    this.due[k] = due;
    this.bads += bad - this.bad[k]!;
    this.bad[k] = bad;
  }

  /** Coil decisions act at once; of mechanically interlocked armatures whichever starts first keeps the others out. */
  private react(): boolean {
    const { situations, armatureOf, due, target } = this;
    let changed = false;
    let rivals: number[] | null = null;
    for (let k = 0; k < armatureOf.length; k += 1) {
      if (due[k] === 0) continue;
      const mechanism = armatureOf[k]!;
      const to = target[k]!;
      if (to === ARRIVING && this.interlocked[mechanism] === 1) {
        (rivals ??= []).push(mechanism);
        continue;
      }
      if (!changed) situations.stage();
      changed = true;
      situations.put(mechanism, to);
    }
    if (changed) {
      this.push(situations.find());
      return true;
    }
    return rivals !== null && this.start(rivals);
  }

  private push(number: number): void {
    if (this.end === this.successors.length) this.successors = doubled(this.successors);
    this.successors[this.end] = number;
    this.end += 1;
  }

  /** The situation at hand with one mechanism in another state. */
  private go(mechanism: number, to: number): void {
    const { situations } = this;
    situations.stage();
    situations.put(mechanism, to);
    this.push(situations.find());
  }

  /** Mechanically interlocked armatures: whichever starts first keeps the others out. */
  private start(rivals: readonly number[]): boolean {
    const { state } = this.situations;
    const { interlocks, jammed } = this.circuit;
    const free = rivals.filter(
      (one) =>
        !jammed.includes(one as MechanismIndex) &&
        interlocks.every(
          (group) =>
            !group.includes(one as MechanismIndex) ||
            group.every((other) => other === one || state[other] === REST),
        ),
    );
    for (const one of free) this.go(one, ARRIVING);
    return free.length > 0;
  }

  /** One successor for each mechanism that may be the next to arrive; false where nothing moves. */
  private arrivals(): boolean {
    const { movers, arrival, isArmature, situations } = this;
    const { state } = situations;
    const count = situations.movers(movers);
    let lettingGo = false;
    let moving = 0;
    for (let k = 0; k < count; k += 1) {
      const index = movers[k]!;
      const now = state[index]!;
      if (arrival[index]![now]! < 0) continue;
      movers[moving] = index;
      moving += 1;
      if (now === LETTING_GO && isArmature[index] === 1) lettingGo = true;
    }
    for (let k = 0; k < moving; k += 1) {
      const index = movers[k]!;
      const now = state[index]!;
      const arriving = now === ARRIVING && isArmature[index] === 1;
      // The lag of an armature that lets go is shorter than the travel of one that pulls in.
      if (lettingGo && arriving) continue;
      this.go(index, arrival[index]![now]!);
      if (!arriving) continue;
      if (this.wants[this.coilOf[index]!] === 0) this.go(index, RETURNING);
    }
    return moving > 0;
  }
}
