/**
 * A circuit reduced to what matters once what is always joined is one. The solver, the proof's decisions
 * and the repair's trials all stand on it, and speak of it in these words:
 *
 * - **spot**: terminals that wires, inner links and contacts that never move join; star points and cores of
 * coupled
 *   windings are spots too, though no terminal lies on them.
 * - **moving contact**: a contact between two spots that a mechanism closes and opens.
 * - **tie**: a supply conductor on its spot. Its **potential** is a class: between conductors of one there
 * is never a voltage.
 * - **load**: a way for current through an element between two spots; potential does not pass.
 * - **core**: what coupled windings hang on: what reaches one end of a motor or a transformer reaches all.
 * - **held**: joined to a tie, by closed contacts.
 */
import { splitRef } from '../bench/index.js';
import { SAME_POTENTIAL } from '../tolerances.js';
import type {
  Circuit,
  Mechanism,
  MechanicalState,
  MechanismIndex,
  Switch,
  TerminalIndex,
} from './circuit.js';
import { UnionFind } from './union-find.js';

/** A contact that a mechanism moves, between two spots. */
export interface MovingContact {
  readonly a: number;
  readonly b: number;
  readonly mechanism: MechanismIndex;
  readonly closedIn: readonly boolean[];
}

/** What joins two spots by an element: current passes, potential does not. */
export interface Load {
  readonly a: number;
  readonly b: number;
  /** Index in `Circuit.elements`. */
  readonly element: number;
  /** Mechanism whose state changes its impedance, or −1. */
  readonly mechanism: number;
}

/** A supply conductor on its spot. */
export interface Tie {
  readonly spot: number;
  readonly terminal: TerminalIndex;
  readonly tag: string;
  readonly name: string;
  /** Conductors of one group have comparable potentials. */
  readonly group: string;
  /** RMS volts to earth, or to the reference of an unearthed supply. */
  readonly re: number;
  readonly im: number;
  /** Class of its potential. */
  readonly potential: number;
  /** Index of its source, or −1 for an earthed or reference conductor. */
  readonly source: number;
  /** Mechanism of the supply without which it holds nothing, or −1 where earth holds it. */
  readonly supply: number;
}

export interface Reduction {
  /** Contacts of these mechanisms stay as the bench has them. */
  readonly isFixed?: (mechanism: Mechanism) => boolean;
  /** Return and earth of AC supplies are one spot, as they are at the source. */
  readonly earthed?: boolean;
}

/** A circuit as spots, moving contacts, ties and loads. */
export class Network {
  /** All spots; those with terminals come first. */
  readonly spots: number;
  readonly terminalSpots: number;
  readonly spotOf: Int32Array;
  readonly contacts: readonly MovingContact[];
  /** Spots of the ends of each element's windings, star points included. */
  readonly windings: readonly (readonly (readonly [number, number])[])[];
  readonly loads: readonly Load[];
  readonly ties: readonly Tie[];
  /** Tie of each spot, or null. */
  readonly tieAt: readonly (Tie | null)[];
  /** Volts of each class of potentials. */
  readonly potentials: readonly { readonly group: string; readonly re: number; readonly im: number }[];
  /** Potential of earth, or of the reference of a supply that is not earthed; −1 without a supply. */
  readonly earthPotential: number;
  /** Supplies' mechanisms. */
  readonly supplies: readonly MechanismIndex[];
  /** Two potentials meet without any contact that moves. */
  readonly shortedAtRest: boolean;

  constructor(circuit: Circuit, { isFixed = () => false, earthed = true }: Reduction = {}) {
    const sets = new UnionFind(circuit.terminals.length);
    for (const { a, b } of circuit.conductors) sets.union(a, b);
    if (earthed) for (const terminal of circuit.earthed) sets.union(circuit.earthed[0]!, terminal);
    const moving = joinFixed(circuit, sets, isFixed);
    this.spotOf = numbered(sets, circuit.terminals.length);
    const { spotOf } = this;
    this.terminalSpots = Math.max(-1, ...spotOf) + 1;
    let spots = this.terminalSpots;
    this.contacts = moving
      .map(({ a, b, mechanism, closedIn }) => ({ a: spotOf[a]!, b: spotOf[b]!, mechanism, closedIn }))
      .filter(({ a, b }) => a !== b);
    this.windings = circuit.elements.map(({ windings }) => {
      const inside = new Map<number, number>();
      for (const end of windings.flat()) if (end < 0 && !inside.has(end)) inside.set(end, spots++);
      const spot = (end: number) => (end < 0 ? inside.get(end)! : spotOf[end]!);
      return windings.map(([a, b]) => [spot(a), spot(b)] as const);
    });
    this.loads = circuit.elements.flatMap((_, element) => {
      const ways =
        this.windings[element]!.length > 1 ? this.coupled(element, spots++) : this.single(circuit, element);
      return ways.filter(({ a, b }) => a !== b);
    });
    this.spots = spots;
    this.potentials = [];
    this.ties = tiesOf(circuit).map((tie) => ({
      ...tie,
      spot: spotOf[tie.terminal]!,
      potential: potentialOf(this.potentials as (typeof this.potentials)[number][], tie),
    }));
    const earth =
      this.ties.find(({ supply }) => supply < 0) ?? this.ties.find(({ re, im }) => re === 0 && im === 0);
    this.earthPotential = earth?.potential ?? -1;
    const tieAt: (Tie | null)[] = Array.from({ length: spots }, () => null);
    for (const tie of this.ties) tieAt[tie.spot] ??= tie;
    this.tieAt = tieAt;
    this.shortedAtRest = this.ties.some(({ spot, potential }) => tieAt[spot]?.potential !== potential);
    this.supplies = [...new Set(circuit.sources.map(({ mechanism }) => mechanism))];
  }

  spot(terminal: number): number {
    return this.spotOf[terminal]!;
  }

  /** Coupled windings hang on a core, which no conductor ever holds. */
  private coupled(element: number, core: number): Load[] {
    const ends = new Set(this.windings[element]!.flat());
    return [...ends].map((end) => ({ a: core, b: end, element, mechanism: -1 }));
  }

  private single({ elements }: Circuit, element: number): Load[] {
    const { law } = elements[element]!;
    const mechanism = law.kind === 'impedance' ? (law.sealed?.by ?? -1) : -1;
    return this.windings[element]!.map(([a, b]) => ({ a, b, element, mechanism }));
  }
}

/** Joins what contacts that stay as they are join; returns those that move. */
function joinFixed(circuit: Circuit, sets: UnionFind, isFixed: (mechanism: Mechanism) => boolean): Switch[] {
  return circuit.switches.filter(({ a, b, mechanism, closedIn }) => {
    const always = closedIn.every((closed) => closed === closedIn[0]);
    if (!always && !isFixed(circuit.mechanisms[mechanism]!)) return true;
    if (closedIn[always ? 0 : circuit.initial[mechanism]!]) sets.union(a, b);
    return false;
  });
}

/** Numbers of the sets of the first n members, in order of appearance. */
function numbered(sets: UnionFind, n: number): Int32Array {
  const number = new Map<number, number>();
  return Int32Array.from({ length: n }, (_, k) => {
    const root = sets.find(k);
    const known = number.get(root) ?? number.size;
    number.set(root, known);
    return known;
  });
}

/** Supply conductors: those with an EMF, those that are earthed, and the reference of each DC supply. */
function tiesOf(circuit: Circuit): Omit<Tie, 'spot' | 'potential'>[] {
  const reference = (terminal: TerminalIndex, group: string, supply: number) => {
    const { tag, terminal: name } = splitRef(circuit.terminals[terminal]!);
    return { terminal, tag, name, group, re: 0, im: 0, source: -1, supply };
  };
  return [
    ...circuit.sources.map(({ terminal, re, im, conductor, tag, frequency, mechanism }, source) => ({
      terminal,
      tag,
      name: conductor,
      group: frequency === 0 ? tag : 'ac',
      re,
      im,
      source,
      supply: mechanism,
    })),
    ...circuit.earthed.map((terminal) => reference(terminal, 'ac', -1)),
    // The minus of a DC supply is held only while its supply is on.
    ...circuit.sources
      .filter(({ frequency }) => frequency === 0)
      .map((source) => reference(source.reference, source.tag, source.mechanism)),
  ];
}

/** The class of a conductor's potential; a new one where no conductor before it has the same. */
function potentialOf(
  known: { group: string; re: number; im: number }[],
  { group, re, im }: { group: string; re: number; im: number },
): number {
  const near = SAME_POTENTIAL * Math.max(1, Math.hypot(re, im));
  const found = known.findIndex((p) => p.group === group && Math.hypot(p.re - re, p.im - im) <= near);
  return found >= 0 ? found : known.push({ group, re, im }) - 1;
}

/** True while a tie's supply is wholly on, or earth holds it. */
export const isLiveTie = ({ supply }: Pick<Tie, 'supply'>, state: MechanicalState): boolean =>
  supply < 0 || state[supply] === 0;
