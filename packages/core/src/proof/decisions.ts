import {
  isLiveSupplyNode,
  type Circuit,
  type Coil,
  type Hands,
  type MechanicalState,
  type MechanismIndex,
  type Network,
  type SupplyNode,
} from '../circuit/index.js';
import {
  coilVolts,
  isShorted,
  lampAt,
  pulls,
  voltageFault,
  type CoilVolts,
  type Driven,
  type Solver,
} from '../electrics/index.js';
import { DRIVEN, ENERGISED, SINGLE_PHASE } from '../tolerances.js';
import { Look, SOLVE, SearchMap, type Judgement } from './look.js';
import { DropBounds, transformerElement } from './drop-bounds.js';
import { fixedOf, networkOf } from './reduced.js';
import type { Part } from './part.js';
import { shortRegions, type ShortRegion } from './short-regions.js';
import { Trunk } from './trunk.js';

/**
 * What a coil's solution says, as bits: its armature would pull in, stay in, and the voltage is outside its
 * limits.
 */
export const PULLS_IN = 1;
export const STAYS_IN = 2;
export const BAD_VOLTAGE = 4;

const FIELDS: readonly Driven[] = ['none', 'forward', 'reverse', 'single-phase'];
export { SOLVE } from './look.js';

const LAMP_SHOWS = ['dark', 'dim', 'lit'] as const;
type LampShows = (typeof LAMP_SHOWS)[number];

type Question =
  | { readonly kind: 'winding'; readonly winding: Winding }
  | { readonly kind: 'motor'; readonly k: number }
  | { readonly kind: 'short'; readonly region: ShortRegion };

/** What is asked of a coil or a lamp. */
interface Winding {
  readonly a: number;
  readonly b: number;
  /** Index in `Circuit.elements`. */
  readonly element: number;
  /** Rated volts. */
  readonly voltage: number;
  /** What its volts tell, as a number. */
  readonly read: (volts: CoilVolts) => number;
  /** Its volts by the whole solution. */
  readonly volts: (state: MechanicalState) => CoilVolts;
}

/**
 * Answers of the electrical solution, kept by what they rest on. A coil that is joined to two conductors by
 * closed contacts, or cut off by open ones, does not care for the rest of the board; so each question keeps
 * a decision diagram that looks at the mechanisms which explain its answers and at no others, grown as
 * states are met. What the rest of the board can do is bounded (`DropBounds`); where an answer lies nearer
 * to a limit than that, or where nothing simpler explains it, the whole solution of the contact state
 * decides.
 */
export class Decisions {
  /** What all branches of the board hang on. */
  readonly trunk: Trunk;
  readonly map: SearchMap;
  /** Most volts by which loads can pull down a supply conductor. */
  private readonly dropBounds: DropBounds;
  readonly coils: number;
  readonly regions: number;
  private readonly circuit: Circuit;
  private readonly questions: Question[];
  private readonly coilWindings: readonly Winding[];
  private readonly lampWindings: readonly Winding[];
  private readonly motorAt: number;
  private readonly lampAt: number;
  /** Questions of coils come first, those of short circuits from here on. */
  readonly shortAt: number;
  /** By mechanism: the questions that look at it. */
  readonly dependents: number[][];
  /** By question: some answer to it rests on the whole solution. */
  readonly rests: Uint8Array;
  /**
   * Slot of each question, then nodes: the mechanism looked at, then one slot a state. Slots: 0 unknown, >
   * 0 node, < 0 answer.
   */
  private slots = new Int32Array(4096);
  private used: number;

  /** By mechanism: 1 where it stays as the bench has it. */
  readonly fixed: Uint8Array;

  constructor(
    private readonly solver: Solver,
    hands: Hands = 'controls',
    readonly network: Network = networkOf(solver.circuit, hands),
  ) {
    this.circuit = solver.circuit;
    this.fixed = fixedOf(this.circuit.mechanisms)[hands];
    this.map = new SearchMap(this.network);
    const { coils, motors, lamps } = this.circuit;
    this.trunk = new Trunk(solver.circuit, this.map);
    this.dropBounds = new DropBounds(solver, this.map, this.trunk);
    const regions = shortRegions(solver.circuit, this.map, this.trunk);
    this.coilWindings = coils.map((coil, k) => ({
      ...coil,
      read: (volts) => coilBits(coil, volts),
      volts: (state) => coilVolts(solver.at(state), k),
    }));
    this.lampWindings = lamps.map((lamp, k) => ({
      ...lamp,
      read: ({ ac, dc }) => LAMP_SHOWS.indexOf(lampAt(Math.hypot(ac, dc) / lamp.voltage)),
      volts: (state) => ({ ac: solver.at(state).lampVolts[k]!, dc: 0 }),
    }));
    this.questions = [
      ...this.coilWindings.map((winding): Question => ({ kind: 'winding', winding })),
      ...motors.map((_, k): Question => ({ kind: 'motor', k })),
      ...this.lampWindings.map((winding): Question => ({ kind: 'winding', winding })),
      ...regions.map((region): Question => ({ kind: 'short', region })),
    ];
    this.coils = coils.length;
    this.regions = regions.length;
    this.motorAt = coils.length;
    this.lampAt = this.motorAt + motors.length;
    this.shortAt = this.lampAt + lamps.length;
    this.dependents = this.circuit.mechanisms.map(() => []);
    this.rests = new Uint8Array(this.questions.length);
    // Slot 0 stays empty, so that a node's place is never 0.
    this.used = this.questions.length + 1;
  }

  /** PULLS_IN, STAYS_IN and BAD_VOLTAGE of coil k. */
  coil(k: number, state: MechanicalState): number {
    return this.coilBits(k, this.ask(k, state), state);
  }

  /** The same from an answer that was kept. */
  coilBits(k: number, answer: number, state: MechanicalState): number {
    return answer === SOLVE ? solved(this.coilWindings[k]!, state) : answer;
  }

  /** The field of motor k with its rotor at rest. */
  driven(k: number, state: MechanicalState): Driven {
    const answer = this.ask(this.motorAt + k, state);
    return answer === SOLVE ? (this.solver.at(state).motors[k]?.driven ?? 'none') : FIELDS[answer]!;
  }

  isDriven(k: number, state: MechanicalState): boolean {
    const answer = this.ask(this.motorAt + k, state);
    return answer === SOLVE ? this.solver.at(state).motors[k]?.driven !== 'none' : answer !== 0;
  }

  /** What lamp k shows, burnt or not. */
  lamp(k: number, state: MechanicalState): LampShows {
    const answer = this.ask(this.lampAt + k, state);
    return LAMP_SHOWS[answer === SOLVE ? solved(this.lampWindings[k]!, state) : answer]!;
  }

  /** True where the contact state joins two potentials, at the supplies or on a transformer's secondary. */
  shorted(state: MechanicalState): boolean {
    for (let k = 0; k < this.regions; k += 1)
      if (this.isShort(this.ask(this.shortAt + k, state), state)) return true;
    return false;
  }

  /** True where the answer to whether region k is shorted, which was kept, says so. */
  isShort(answer: number, state: MechanicalState): boolean {
    return answer === 1 || (answer === SOLVE && isShorted(this.solver.at(state)));
  }

  /** Contacts through which potentials could meet in region k, as places in `Network.contacts`. */
  regionContacts(k: number): readonly number[] {
    const question = this.questions[this.shortAt + k];
    return question?.kind === 'short' ? question.region.contacts : [];
  }

  /** Number of the question of how motor k is driven. */
  motorQuestion(k: number): number {
    return this.motorAt + k;
  }

  lampQuestion(k: number): number {
    return this.lampAt + k;
  }

  /**
   * Mechanisms outside a part that the answers within it have looked at; null where some answer rests on the
   * whole solution. A part of which nothing is missing after it was worked does not depend on anything
   * outside.
   */
  missing({ inside, regions, motors }: Part, lamps: readonly number[] = []): number[] | null {
    const asked = new Uint8Array(this.questions.length);
    for (const [k, { mechanism }] of this.circuit.coils.entries()) asked[k] = inside[mechanism]!;
    for (const k of motors) asked[this.motorAt + k] = 1;
    for (const k of lamps) asked[this.lampAt + k] = 1;
    for (const [k, own] of regions.entries()) asked[this.shortAt + k] = own;
    if (this.rests.some((whole, q) => whole === 1 && asked[q] === 1)) return null;
    return this.dependents.flatMap((questions, m) =>
      inside[m] === 0 && questions.some((q) => asked[q] === 1) ? [m] : [],
    );
  }

  /** No answer about a coil rests on the whole solution. */
  get areCoilsSure(): boolean {
    return !this.rests.some((whole, q) => whole === 1 && q < this.coils);
  }

  /**
   * True where the loads of this board move no coil's voltage further than the bounds within which another
   * board's answers were found; the two have the same coils.
   */
  coilsWithin(other: Decisions): boolean {
    return this.coilWindings.every(({ a }, k) =>
      this.dropBounds.isWithin(
        other.dropBounds,
        this.network.net(a),
        other.network.net(other.coilWindings[k]!.a),
      ),
    );
  }

  /** Designations of coils, motors and lamps about which some answer rests on the whole solution. */
  get resting(): string[] {
    const { coils, motors, lamps } = this.circuit;
    const tags = [...coils, ...motors, ...lamps].map(({ tag }) => tag);
    return [...new Set(tags.filter((_, q) => this.rests[q] === 1))];
  }

  /** Mechanisms that the answers to a question have looked at so far. */
  looks(question: number): number[] {
    return this.dependents.flatMap((questions, m) => (questions.includes(question) ? [m] : []));
  }

  /**
   * The answer to a question; the same for all states that agree in the mechanisms it has ever looked at
   * (`dependents`).
   */
  ask(question: number, state: MechanicalState): number {
    const { slots } = this;
    let slot = slots[question + 1]!;
    while (slot > 0) slot = slots[slot + 1 + state[slots[slot]!]!]!;
    return slot < 0 ? -1 - slot : this.grow(question, state);
  }

  /** Grows a question's diagram along one state down to its answer. */
  private grow(question: number, state: MechanicalState): number {
    const known = this.fixed.slice();
    // All slots that lead on: one state of a mechanism stands for all states of its electrical class.
    let open = [question + 1];
    for (;;) {
      const here = this.slots[open[0]!]!;
      if (here < 0) return -1 - here;
      if (here > 0) {
        open = this.follow(here, state, known);
        continue;
      }
      const judged = this.judge(this.questions[question]!, state, known);
      if ('verdict' in judged) {
        if (judged.verdict === SOLVE) this.rests[question] = 1;
        for (const slot of open) this.slots[slot] = -1 - judged.verdict;
        return judged.verdict;
      }
      for (const mechanism of judged.look) {
        const node = this.addNode(mechanism);
        const dependents = this.dependents[mechanism]!;
        if (!dependents.includes(question)) dependents.push(question);
        for (const slot of open) this.slots[slot] = node;
        open = this.follow(node, state, known);
      }
    }
  }

  /** The slots behind a node that one state leads to; what the node looks at is known from there on. */
  private follow(node: number, state: MechanicalState, known: Uint8Array): number[] {
    const index = this.slots[node]!;
    const { classOf, states } = this.circuit.mechanisms[index]!;
    known[index] = 1;
    const own = classOf[state[index]!];
    const open: number[] = [];
    for (let s = 0; s < states; s += 1) if (classOf[s] === own) open.push(node + 1 + s);
    return open;
  }

  private addNode(mechanism: MechanismIndex): number {
    const size = 1 + (this.circuit.mechanisms[mechanism]?.states ?? 0);
    if (this.used + size > this.slots.length) {
      const grown = new Int32Array(2 * this.slots.length + size);
      grown.set(this.slots);
      this.slots = grown;
    }
    const node = this.used;
    this.used += size;
    this.slots[node] = mechanism;
    return node;
  }

  private judge(question: Question, state: MechanicalState, known: Uint8Array): Judgement {
    if (question.kind === 'short') return this.judgeShort(question.region, state, known);
    const { network } = this;
    const dropBound = this.dropBounds.at(this.netOf(question));
    if (dropBound === Number.POSITIVE_INFINITY) return { verdict: SOLVE };
    const unknownSupply = network.supplies.find((supply) => known[supply] === 0);
    const live = network.supplies.some((supply) => state[supply] === 0);
    // Several supplies are looked at first; one only where an answer rests on its being on or off.
    if (unknownSupply !== undefined && (!live || network.supplies.length > 1))
      return { look: [unknownSupply] };
    if (!live) return { verdict: 0 };
    const look = new Look(this.map, state, known);
    return question.kind === 'motor'
      ? this.judgeMotor(question.k, dropBound, state, look, unknownSupply)
      : this.judgeWinding(question.winding, dropBound, state, look, unknownSupply);
  }

  /** One end of what is asked about. */
  private netOf(question: Exclude<Question, { readonly kind: 'short' }>): number {
    const { network, circuit } = this;
    return network.net(
      question.kind === 'motor' ? (circuit.motors[question.k]!.terminals[0] ?? 0) : question.winding.a,
    );
  }

  private judgeWinding(
    winding: Winding,
    most: number,
    state: MechanicalState,
    look: Look,
    unknownSupply: MechanismIndex | undefined,
  ): Judgement {
    const { read, element } = winding;
    const a = this.network.net(winding.a);
    const b = this.network.net(winding.b);
    if (a === b) return { verdict: 0 };
    const supplied = [look.supplyNode(a), look.supplyNode(b)] as const;
    const [one, other] = supplied;
    if (one && other && one.supplyNode.group === other.supplyNode.group) {
      const next = look.unknown([...one.through, ...other.through]);
      if (next) return { look: next };
      if (one.supplyNode.potential === other.supplyNode.potential) return { verdict: 0 };
      if (unknownSupply !== undefined) return { look: [unknownSupply] };
      if (isLiveSupplyNode(one.supplyNode, state) && isLiveSupplyNode(other.supplyNode, state)) {
        const volts = Math.hypot(
          one.supplyNode.re - other.supplyNode.re,
          one.supplyNode.im - other.supplyNode.im,
        );
        const at = (v: number) =>
          read(this.isDc(one.supplyNode, other.supplyNode) ? { ac: 0, dc: v } : { ac: v, dc: 0 });
        // Earth has no voltage drop.
        const lines = [one, other].filter(({ supplyNode }) => supplyNode.supply >= 0).length;
        const [low, high] = [at(volts - most * lines), at(volts + most * lines)];
        if (low === high || lines !== 1) return { verdict: agreed(low, high) };
        // Nearer to the limit the closer bound is worth its making.
        return { verdict: agreed(low, at(volts + this.dropBounds.riseAt(a))) };
      }
    }
    const fed = this.judgeSecondary(read, [a, b], most, state, look, unknownSupply);
    if (fed) return fed;
    const dead = look.dead([a], [b], element) ?? look.dead([b], [a], element);
    if (dead) return dead;
    const next = look.unknown(look.region([a, b]));
    if (next) return { look: next };
    if (unknownSupply !== undefined) return { look: [unknownSupply] };
    const volts = winding.volts(state);
    const at = (change: number) => read({ ac: volts.ac * (1 + change), dc: volts.dc * (1 + change) });
    const share = (2 * most) / Math.max(winding.voltage * ENERGISED, volts.ac + volts.dc);
    return { verdict: agreed(at(-share), at(share)) };
  }

  /**
   * A coil that closed contacts join to both ends of a secondary whose primary is held by two conductors;
   * null where it is not.
   */
  private judgeSecondary(
    read: Winding['read'],
    [a, b]: readonly [number, number],
    most: number,
    state: MechanicalState,
    look: Look,
    unknownSupply: MechanismIndex | undefined,
  ): Judgement | null {
    const { network, circuit } = this;
    for (const [k, { primary, secondary, ratio }] of circuit.transformers.entries()) {
      const ends = secondary.map((end) => network.net(end));
      const [one, other] = [look.joined(a, ends), look.joined(b, ends)];
      if (!one || !other || one.net === other.net) continue;
      const [h1, h2] = primary.map((end) => look.supplyNode(network.net(end)));
      if (!h1 || !h2 || h1.supplyNode.group !== h2.supplyNode.group) continue;
      const next = look.unknown([one, other, h1, h2].flatMap(({ through }) => through));
      if (next) return { look: next };
      if (unknownSupply !== undefined) return { look: [unknownSupply] };
      if (!isLiveSupplyNode(h1.supplyNode, state) || !isLiveSupplyNode(h2.supplyNode, state)) continue;
      // A side of the secondary that no supply holds must not be held in any other state that answers alike.
      const open = ends.filter((net) => !network.supplyNodeAt[net]);
      if (open.some((net) => look.supplyNode(net))) continue;
      const loose = open.map((net) => look.loose(net)).find((one) => one !== undefined);
      if (loose !== undefined) return { look: [loose] };
      // Nor may another conductor drive a current through it, over loads.
      const alone = look.dead(ends, [], transformerElement(circuit, k));
      if (!alone) continue;
      if (!('verdict' in alone) || alone.verdict === SOLVE) return alone;
      const volts =
        Math.hypot(h1.supplyNode.re - h2.supplyNode.re, h1.supplyNode.im - h2.supplyNode.im) / ratio;
      const drop = this.dropBounds.secondary(k) * volts;
      const at = (v: number) => read({ ac: Math.max(0, v), dc: 0 });
      const dropBound = (2 * most) / ratio;
      return { verdict: agreed(at(volts - drop - dropBound), at(volts + dropBound)) };
    }
    return null;
  }

  private judgeMotor(
    k: number,
    dropBound: number,
    state: MechanicalState,
    look: Look,
    unknownSupply: MechanismIndex | undefined,
  ): Judgement {
    const ends = (this.circuit.motors[k]?.terminals ?? []).map((terminal) => this.network.net(terminal));
    const dead = look.dead(ends, [], -1);
    if (dead) return dead;
    const next = look.unknown(look.region(ends));
    if (next) return { look: next };
    if (unknownSupply !== undefined) return { look: [unknownSupply] };
    const field = this.solver.at(state).motors[k];
    if (!field) return { verdict: 0 };
    const strong = Math.max(field.positive, field.negative);
    const rated = this.solver.motors[k]?.windingVolts ?? 1;
    const ratio = (change: number) =>
      (Math.min(field.positive, field.negative) + change * dropBound) /
      Math.max(strong - change * dropBound, 1e-9);
    const sure =
      strong - dropBound > DRIVEN * rated
        ? ratio(1) <= SINGLE_PHASE || ratio(-1) > SINGLE_PHASE
        : strong + dropBound < DRIVEN * rated;
    return { verdict: sure ? FIELDS.indexOf(field.driven) : SOLVE };
  }

  private judgeShort(
    { contacts, within }: ShortRegion,
    state: MechanicalState,
    known: Uint8Array,
  ): Judgement {
    const { network } = this;
    if (network.shortedAtRest || contacts.length === 0) return { verdict: SOLVE };
    // One of several supplies that is off holds nothing: where a way ends rests on which are on.
    const supplies = network.supplies.filter((supply) => known[supply] === 0);
    if (network.supplies.length > 1 && supplies.length > 0) return { look: supplies };
    const look = new Look(this.map, state, known);
    const ends = new Set(contacts.flatMap((c) => [network.contacts[c]?.a ?? 0, network.contacts[c]?.b ?? 0]));
    for (const net of ends) {
      const supplyNode = network.supplyNodeAt[net];
      if (!supplyNode) continue;
      const { group } = supplyNode;
      const clash = (goal: SupplyNode) => goal.potential !== supplyNode.potential && goal.group === group;
      // A clash that is closed now: everything on its way and the supplies that feed it explain it.
      const closed = look.way([net], { contacts: 'closed', loads: 'none', within, group, goal: clash });
      if (closed) {
        const end = network.supplyNodeAt[closed.end]!;
        const next = look.unknown([
          ...closed.through,
          ...[supplyNode.supply, end.supply].filter((s) => s >= 0),
        ]);
        if (next) return { look: next };
        if (isLiveSupplyNode(supplyNode, state) && isLiveSupplyNode(end, state)) return { verdict: 1 };
        continue;
      }
      const may = look.way([net], { contacts: 'possible', loads: 'none', within, group, goal: clash });
      if (may) {
        const next = look.blocker(may.contacts);
        if (next !== undefined) return { look: [next] };
      }
    }
    return { verdict: 0 };
  }

  private isDc(a: SupplyNode, b: SupplyNode): boolean {
    return a.group === b.group && a.group !== 'ac';
  }
}

/** What the whole solution says about a coil or lamp. */
const solved = ({ read, volts }: Winding, state: MechanicalState): number => read(volts(state));

const agreed = (one: number, other: number): number => (one === other ? one : SOLVE);

function coilBits(coil: Coil, volts: CoilVolts): number {
  return (
    (pulls(coil, false, volts) ? PULLS_IN : 0) +
    (pulls(coil, true, volts) ? STAYS_IN : 0) +
    (voltageFault(coil, volts) ? BAD_VOLTAGE : 0)
  );
}
