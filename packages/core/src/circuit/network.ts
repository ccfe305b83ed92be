/**
 * A circuit reduced to what matters once what is always joined is one. The solver, the proof's decisions
 * and the repair's trials all stand on it, and speak of it in these words:
 *
 * - **net**: terminals that wires, inner links and contacts that never move join; star points and cores of
 * coupled
 *   windings are nets too, though no terminal lies on them.
 * - **moving contact**: a contact between two nets that a mechanism closes and opens.
 * - **supply node**: a supply conductor on its net. Its **potential** is a class: between conductors of one there
 * is never a voltage.
 * - **load**: a way for current through an element between two nets; potential does not pass.
 * - **core**: what coupled windings hang on: what reaches one end of a motor or a transformer reaches all.
 * - **held**: joined to a supply node, by closed contacts.
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
import { beyondEarth } from './beyond-earth.js';
import { UnionFind } from './union-find.js';

/** A contact that a mechanism moves, between two nets. */
export interface MovingContact {
  readonly a: number;
  readonly b: number;
  readonly mechanism: MechanismIndex;
  readonly closedIn: readonly boolean[];
}

/** What joins two nets by an element: current passes, potential does not. */
export interface Load {
  readonly a: number;
  readonly b: number;
  /** Index in `Circuit.elements`. */
  readonly element: number;
  /** Mechanism whose state changes its impedance, or −1. */
  readonly mechanism: number;
}

/** A supply conductor on its net. */
export interface SupplyNode {
  readonly net: number;
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
  /** Return and earth of AC supplies are one net, as they are at the source. */
  readonly earthed?: boolean;
  /**
   * The circuit of a DC supply that meets the rest at earth alone has a net of its own there: no current
   * flows over to the rest, so neither is changed by it.
   */
  readonly divided?: boolean;
}

/** A circuit as nets, moving contacts, supply nodes and loads. */
export class Network {
  /** All nets; those with terminals come first. */
  readonly nets: number;
  readonly terminalNets: number;
  readonly netOf: Int32Array;
  readonly contacts: readonly MovingContact[];
  /** Nets of the ends of each element's windings, star points included. */
  readonly windings: readonly (readonly (readonly [number, number])[])[];
  readonly loads: readonly Load[];
  readonly supplyNodes: readonly SupplyNode[];
  /** Supply node of each net, or null. */
  readonly supplyNodeAt: readonly (SupplyNode | null)[];
  /** Volts of each class of potentials. */
  readonly potentials: readonly { readonly group: string; readonly re: number; readonly im: number }[];
  /** Potential of earth, or of the reference of a supply that is not earthed; −1 without a supply. */
  readonly earthPotential: number;
  /** Supplies' mechanisms. */
  readonly supplies: readonly MechanismIndex[];
  /** Two potentials meet without any contact that moves. */
  readonly shortedAtRest: boolean;

  constructor(circuit: Circuit, { isFixed = () => false, earthed = true, divided = false }: Reduction = {}) {
    const sets = new UnionFind(circuit.terminals.length);
    for (const { a, b } of circuit.conductors) sets.union(a, b);
    if (earthed) for (const terminal of circuit.earthed) sets.union(circuit.earthed[0]!, terminal);
    const moving = joinFixed(circuit, sets, isFixed);
    this.netOf = numbered(
      sets,
      circuit.terminals.length,
      divided ? beyondEarth(circuit, sets, moving) : null,
    );
    const { netOf } = this;
    this.terminalNets = Math.max(-1, ...netOf) + 1;
    let nets = this.terminalNets;
    this.contacts = moving
      .map(({ a, b, mechanism, closedIn }) => ({ a: netOf[a]!, b: netOf[b]!, mechanism, closedIn }))
      .filter(({ a, b }) => a !== b);
    this.windings = circuit.elements.map(({ windings }) => {
      const inside = new Map<number, number>();
      for (const end of windings.flat()) if (end < 0 && !inside.has(end)) inside.set(end, nets++);
      const net = (end: number) => (end < 0 ? inside.get(end)! : netOf[end]!);
      return windings.map(([a, b]) => [net(a), net(b)] as const);
    });
    this.loads = circuit.elements.flatMap((_, element) => {
      const ways =
        this.windings[element]!.length > 1 ? this.coupled(element, nets++) : this.single(circuit, element);
      return ways.filter(({ a, b }) => a !== b);
    });
    this.nets = nets;
    this.potentials = [];
    this.supplyNodes = supplyNodesOf(circuit).map((supplyNode) => ({
      ...supplyNode,
      net: netOf[supplyNode.terminal]!,
      potential: potentialOf(this.potentials as (typeof this.potentials)[number][], supplyNode),
    }));
    const earth =
      this.supplyNodes.find(({ supply }) => supply < 0) ??
      this.supplyNodes.find(({ re, im }) => re === 0 && im === 0);
    this.earthPotential = earth?.potential ?? -1;
    const supplyNodeAt: (SupplyNode | null)[] = Array.from({ length: nets }, () => null);
    for (const supplyNode of this.supplyNodes) supplyNodeAt[supplyNode.net] ??= supplyNode;
    this.supplyNodeAt = supplyNodeAt;
    this.shortedAtRest = this.supplyNodes.some(
      ({ net, potential }) => supplyNodeAt[net]?.potential !== potential,
    );
    this.supplies = [...new Set(circuit.sources.map(({ mechanism }) => mechanism))];
  }

  net(terminal: number): number {
    return this.netOf[terminal]!;
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

/**
 * Numbers of the sets of the first n members, in order of appearance; members that stand apart from their
 * set, by which circuit they belong to, are sets of their own.
 */
function numbered(sets: UnionFind, n: number, apart: Int32Array | null): Int32Array {
  const number = new Map<number, number>();
  return Int32Array.from({ length: n }, (_, k) => {
    const own = apart?.[k] ?? -1;
    const root = own < 0 ? sets.find(k) : n + own;
    const known = number.get(root) ?? number.size;
    number.set(root, known);
    return known;
  });
}

/** Supply conductors: those with an EMF, those that are earthed, and the reference of each DC supply. */
function supplyNodesOf(circuit: Circuit): Omit<SupplyNode, 'net' | 'potential'>[] {
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

/** True while the supply of a supply node is wholly on, or earth holds it. */
export const isLiveSupplyNode = ({ supply }: Pick<SupplyNode, 'supply'>, state: MechanicalState): boolean =>
  supply < 0 || state[supply] === 0;
