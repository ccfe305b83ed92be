import {
  closedIn,
  meets,
  wiredTogether,
  type Circuit,
  type MechanicalState,
  type UnionFind,
} from '../../circuit/index.js';
import { blocksOf, type GraphEdge } from '../../circuit/index.js';
import { ByContacts } from './by-contacts.js';
import { DANGER, perSearch, type PropertyRule } from './property.js';

/**
 * How current may go: through an element, an EMF, a transformer's secondary (an EMF while its primary is
 * fed), an open contact that may close, or a supply's own bond of earth and neutral.
 */
interface Way extends GraphEdge {
  readonly kind: 'load' | 'emf' | 'secondary' | 'contact' | 'bond';
  /** Device of a load; earth terminal of a bond. */
  readonly name: string;
}

/** An earth terminal that carries current, and a device whose current it is. */
interface Carrying {
  readonly earth: string;
  readonly load: string;
}

/**
 * The circuit as ways for current between what some contacts join, earth and neutral of each supply kept
 * apart.
 */
function waysOf(
  circuit: Circuit,
  sets: UnionFind,
  isLive: (source: Circuit['sources'][number]) => boolean,
): { readonly nodes: number; readonly ways: Way[] } {
  const { terminals, elements, sources, earthed } = circuit;
  let nodes = terminals.length;
  const ground = nodes++;
  const node = (terminal: number): number => sets.find(terminal);
  const ways: Way[] = [];
  for (const { tag, windings, law } of elements) {
    const inside = new Map<number, number>();
    const end = (terminal: number): number => {
      if (terminal >= 0) return node(terminal);
      if (!inside.has(terminal)) inside.set(terminal, nodes++);
      return inside.get(terminal)!;
    };
    const isTransformer = law.kind === 'transformer';
    windings.forEach(([a, b], k) => {
      ways.push({ a: end(a), b: end(b), kind: isTransformer && k === 1 ? 'secondary' : 'load', name: tag });
    });
  }
  for (const source of sources)
    if (isLive(source))
      ways.push({ a: node(source.terminal), b: node(source.reference), kind: 'emf', name: source.tag });
  for (const terminal of earthed) {
    const isReturn = sources.some(({ reference }) => reference === terminal);
    ways.push({
      a: node(terminal),
      b: ground,
      kind: 'bond',
      name: isReturn ? '' : circuit.terminals[terminal]!,
    });
  }
  return { nodes, ways };
}

/**
 * Blocks in which something drives a current: those of an EMF, and of secondaries whose primaries are fed.
 */
function fedBlocks(ways: readonly Way[], block: Int32Array): ReadonlySet<number> {
  const fed = new Set(ways.flatMap(({ kind }, k) => (kind === 'emf' ? [block[k]!] : [])));
  for (const [k, { kind, name }] of ways.entries()) {
    if (kind !== 'secondary') continue;
    const primary = ways.findIndex((way) => way.kind === 'load' && way.name === name);
    if (fed.has(block[primary]!)) fed.add(block[k]!);
  }
  return fed;
}

/** What carries current through an earth terminal by these ways: a cycle through its bond and an EMF. */
function carrying(
  nodes: number,
  ways: readonly Way[],
  isByEarth: (load: string) => boolean,
): Carrying | null {
  const block = blocksOf(nodes, ways);
  const fed = fedBlocks(ways, block);
  const driven = new Set(ways.flatMap(({ kind }, k) => (kind === 'emf' ? [block[k]!] : [])));
  const isLoad = ({ kind, a, b }: Way, k: number) =>
    a !== b && (kind === 'load' ? fed.has(block[k]!) : kind === 'secondary' && driven.has(block[k]!));
  for (const [k, bond] of ways.entries()) {
    if (bond.kind !== 'bond' || bond.name === '') continue;
    const meetsBond = ({ a, b }: Way) => a === bond.a || b === bond.a;
    // Where earth and neutral are joined on the board, a current takes the way that its leads take.
    const loads = isNeutralToo(ways, bond)
      ? ways.filter(
          (way, n) => isLoad(way, n) && meetsBond(way) && driven.has(block[n]!) && isByEarth(way.name),
        )
      : ways.filter((way, n) => isLoad(way, n) && block[n] === block[k]);
    const load = loads.find(meetsBond) ?? loads[0];
    if (load) return { earth: bond.name, load: load.name };
  }
  return null;
}

const isNeutralToo = (ways: readonly Way[], bond: Way): boolean =>
  ways.some(({ kind, name, a }) => kind === 'bond' && name === '' && a === bond.a);

/**
 * Whether what a device returns comes to an earth terminal of a supply on leads and closed contacts without
 * passing a neutral.
 */
function returnsByEarth(circuit: Circuit, state: MechanicalState, tag: string): boolean {
  const neutrals = new Set<number>(circuit.sources.map(({ reference }) => reference));
  const isPassed = ({ a, b }: { readonly a: number; readonly b: number }) =>
    !neutrals.has(a) && !neutrals.has(b);
  const sets = wiredTogether(
    { ...circuit, conductors: circuit.conductors.filter(isPassed) },
    (contact) => isPassed(contact) && closedIn(state)(contact),
  );
  const ends = circuit.elements.flatMap((one) => (one.tag === tag ? one.windings.flat() : []));
  const earths = circuit.earthed.filter((terminal) => !neutrals.has(terminal));
  return ends.some((end) => end >= 0 && meets(sets, earths, end));
}

function carriesIn(circuit: Circuit, state: MechanicalState): Carrying | null {
  const { nodes, ways } = waysOf(
    circuit,
    wiredTogether(circuit, closedIn(state)),
    ({ liveIn, mechanism }) => liveIn[state[mechanism]!]!,
  );
  return carrying(nodes, ways, (tag) => returnsByEarth(circuit, state, tag));
}

/**
 * True where some contacts could make a cycle through earth; each counts as a way that may be open or
 * closed.
 */
function mayCarry(circuit: Circuit): boolean {
  const sets = wiredTogether(circuit);
  const { nodes, ways } = waysOf(circuit, sets, () => true);
  const contacts = circuit.switches.map(({ a, b }): Way => ({
    a: sets.find(a),
    b: sets.find(b),
    kind: 'contact',
    name: '',
  }));
  const all = [...ways, ...contacts];
  const block = blocksOf(nodes, all);
  return all.some(
    (way, k) =>
      way.kind === 'bond' &&
      way.name !== '' &&
      (isNeutralToo(ways, way) || all.some((_, n) => n !== k && block[n] === block[k])),
  );
}

const kept = perSearch(({ circuit }) => {
  if (!mayCarry(circuit)) return null;
  const moving = [...circuit.switches, ...circuit.sources].map(({ mechanism }) => mechanism);
  return new ByContacts(circuit, moving, (state) => carriesIn(circuit, state));
});

/** No current of a load returns through a protective conductor. */
export const earthCarriesNothing: PropertyRule = {
  title: 'The protective conductor carries no current',
  weight: DANGER,
  applies: ({ earthed, elements }) => earthed.length > 0 && elements.length > 0,
  tested: ({ hasRun, hasEnergised, circuit }) => hasRun || hasEnergised || circuit.coils.length === 0,
  needsWhole: mayCarry,
  settled(search, settled) {
    const { circuit } = search;
    const found = kept(search)?.at(settled.state);
    if (!found) return;
    search.violateSettled(
      'earth-carries-nothing',
      settled,
      `the current of ${found.load} returns through ${found.earth}`,
      (simulation) => carriesIn(circuit, simulation.state) !== null,
    );
  },
};
