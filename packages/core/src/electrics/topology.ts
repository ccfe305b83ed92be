import {
  UnionFind,
  isClosed,
  variantOf,
  BURNT_THROUGH,
  type Circuit,
  type MechanicalState,
  type Network,
} from '../circuit/index.js';

/** A live source between two nodes. */
export interface LiveSource {
  /** Index in `Circuit.sources`. */
  readonly source: number;
  readonly a: number;
  readonly b: number;
}

/** An element that takes current in a state, and the nodes of its windings. */
interface LiveElement {
  /** Index in `Circuit.elements`. */
  readonly element: number;
  readonly variant: number;
  readonly windings: readonly (readonly [number, number])[];
}

/** A voltmeter between two nodes. */
export interface Probe {
  readonly a: number;
  readonly b: number;
  readonly ohms: number;
}

/** The nodes of one contact state, what lies between them, and which of their potentials are unknown. */
export interface Topology {
  /** Node of each net. */
  readonly node: Int32Array;
  readonly nodes: number;
  readonly elements: readonly LiveElement[];
  readonly sources: readonly LiveSource[];
  /** Island of each node: what is joined by windings and sources. */
  readonly island: Int32Array;
  /** By island: joined to earth or to a live source. */
  readonly defined: readonly boolean[];
  /** Place of each node among the unknowns; −1 where it is a reference or nothing drives it. */
  readonly unknown: Int32Array;
  readonly unknowns: number;
}

/** Nets joined into nodes by the contacts that are closed; star points and cores keep nodes of their own. */
export function joinNodes(network: Network, state: MechanicalState): { node: Int32Array; nodes: number } {
  const sets = new UnionFind(network.nets);
  for (const contact of network.contacts) if (isClosed(contact, state)) sets.union(contact.a, contact.b);
  const node = new Int32Array(network.nets).fill(-1);
  let nodes = 0;
  for (let k = 0; k < network.nets; k += 1) {
    const root = sets.find(k);
    if (node[root]! < 0) {
      node[root] = nodes;
      nodes += 1;
    }
    node[k] = node[root]!;
  }
  return { node, nodes };
}

/** Lays out what must be solved in one contact state. */
export function topologyOf(
  circuit: Circuit,
  network: Network,
  state: MechanicalState,
  { node, nodes }: { readonly node: Int32Array; readonly nodes: number },
  probe: Probe | null,
): Topology {
  const islands = new UnionFind(nodes);
  const elements = liveElements(circuit, network, state, node);
  for (const { windings } of elements) for (const [a, b] of windings) islands.union(a, b);
  if (probe) islands.union(probe.a, probe.b);
  const sources = liveSources(circuit, network, state, node);
  for (const { a, b } of sources) islands.union(a, b);
  const earth = circuit.earthed[0];
  const references = referencesOf(
    islands,
    nodes,
    elements,
    sources,
    earth === undefined ? -1 : node[network.net(earth)]!,
  );
  const driven = drivenNodes(islands, nodes, elements, sources);
  const unknown = new Int32Array(nodes).fill(-1);
  const island = new Int32Array(nodes);
  const islandOf = new Int32Array(nodes).fill(-1);
  const defined: boolean[] = [];
  let unknowns = 0;
  for (let k = 0; k < nodes; k += 1) {
    const root = islands.find(k);
    if (islandOf[root]! < 0) islandOf[root] = defined.push(references.defined[root] === 1) - 1;
    island[k] = islandOf[root]!;
    if (references.of[root]! < 0) references.of[root] = k;
    if (driven(k) && references.of[root] !== k) unknown[k] = unknowns++;
  }
  return { node, nodes, elements, sources, island, defined, unknown, unknowns };
}

function liveElements(
  circuit: Circuit,
  network: Network,
  state: MechanicalState,
  node: Int32Array,
): LiveElement[] {
  const live: LiveElement[] = [];
  circuit.elements.forEach((one, element) => {
    const variant = variantOf(circuit, one, state);
    if (variant === BURNT_THROUGH) return;
    const windings = network.windings[element]!.map(([a, b]) => [node[a]!, node[b]!] as const);
    live.push({ element, variant, windings });
  });
  return live;
}

function liveSources(
  circuit: Circuit,
  network: Network,
  state: MechanicalState,
  node: Int32Array,
): LiveSource[] {
  return circuit.sources.flatMap(({ terminal, reference, mechanism, liveIn }, source) => {
    if (!liveIn[state[mechanism]!]) return [];
    const a = node[network.net(terminal)]!;
    const b = node[network.net(reference)]!;
    return a === b ? [] : [{ source, a, b }];
  });
}

/**
 * Reference node of each island, by its root: earth, else a live source's reference, else the second end of
 * a coupled winding (an unearthed secondary).
 */
function referencesOf(
  islands: UnionFind,
  nodes: number,
  elements: readonly LiveElement[],
  sources: readonly LiveSource[],
  earth: number,
): { of: Int32Array; defined: Uint8Array } {
  const of = new Int32Array(nodes).fill(-1);
  const defined = new Uint8Array(nodes);
  if (earth >= 0) {
    const root = islands.find(earth);
    of[root] = earth;
    defined[root] = 1;
  }
  for (const { b } of sources) {
    const root = islands.find(b);
    if (of[root]! < 0) of[root] = b;
    defined[root] = 1;
  }
  for (const { windings } of elements) {
    const second = windings.length === 2 ? windings[1]![1] : -1;
    if (second < 0) continue;
    const root = islands.find(second);
    if (of[root]! < 0) of[root] = second;
  }
  return { of, defined };
}

/**
 * Nodes that a source drives, through windings that are coupled without being joined as well: an open
 * winding is induced on by the others.
 */
function drivenNodes(
  islands: UnionFind,
  nodes: number,
  elements: readonly LiveElement[],
  sources: readonly LiveSource[],
): (node: number) => boolean {
  const coupled = elements.some(({ windings }) => windings.length > 1)
    ? new UnionFind(islands.parent)
    : islands;
  for (const { windings } of elements) for (const [a] of windings) coupled.union(windings[0]![0], a);
  const driven = new Uint8Array(nodes);
  for (const { b } of sources) driven[coupled.find(b)] = 1;
  return (node) => driven[coupled.find(node)] === 1;
}
