import { wiredTogether, type Circuit, type MechanicalState, type UnionFind } from '../../circuit/index.js';
import { blocksOf, type GraphEdge } from '../blocks.js';
import { ByContacts, closedIn } from './by-contacts.js';
import { DANGER, perSearch, type PropertyRule } from './property.js';

/** How current may go: through an element, an EMF, an open contact that may close, or a supply's own bond of earth and neutral. */
interface Way extends GraphEdge {
  readonly kind: 'load' | 'emf' | 'contact' | 'bond';
  /** Device of a load; earth terminal of a bond. */
  readonly name: string;
}

/** An earth terminal that carries current, and a device whose current it is. */
interface Carrying {
  readonly earth: string;
  readonly load: string;
}

/** The circuit as ways for current between what some contacts join, earth and neutral of each supply kept apart. */
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
    windings.forEach(([a, b], k) => {
      const kind = law.kind === 'transformer' && k === 1 ? 'emf' : 'load';
      ways.push({ a: end(a), b: end(b), kind, name: tag });
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

/** What carries current through an earth terminal by these ways: a cycle through its bond and an EMF. */
function carrying(nodes: number, ways: readonly Way[]): Carrying | null {
  const block = blocksOf(nodes, ways);
  const fed = new Set(ways.flatMap(({ kind }, k) => (kind === 'emf' ? [block[k]!] : [])));
  const isLoad = ({ kind, a, b }: Way) => kind === 'load' && a !== b;
  for (const [k, bond] of ways.entries()) {
    if (bond.kind !== 'bond' || bond.name === '') continue;
    const meetsBond = ({ a, b }: Way) => a === bond.a || b === bond.a;
    // Where earth and neutral are joined on the board, what returns to neutral returns by both.
    const loads = isNeutralToo(ways, bond)
      ? ways.filter((way, n) => isLoad(way) && meetsBond(way) && fed.has(block[n]!))
      : ways.filter((way, n) => isLoad(way) && block[n] === block[k] && fed.has(block[k]!));
    const load = loads.find(meetsBond) ?? loads[0];
    if (load) return { earth: bond.name, load: load.name };
  }
  return null;
}

const isNeutralToo = (ways: readonly Way[], bond: Way): boolean =>
  ways.some(({ kind, name, a }) => kind === 'bond' && name === '' && a === bond.a);

function carriesIn(circuit: Circuit, state: MechanicalState): Carrying | null {
  const { nodes, ways } = waysOf(
    circuit,
    wiredTogether(circuit, closedIn(state)),
    ({ liveIn, mechanism }) => liveIn[state[mechanism]!]!,
  );
  return carrying(nodes, ways);
}

/** True where some contacts could make a cycle through earth; each counts as a way that may be open or closed. */
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
  tested: ({ hasRun, exploration, circuit }) =>
    hasRun || exploration.hasEnergised || circuit.coils.length === 0,
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
