import { splitRef, type TerminalRef, type Wire } from '../bench/index.js';
import { anatomy, delaySetOn, isController, isThreePhaseMotor } from '../catalogue/index.js';
import { UnionFind, compile } from '../circuit/index.js';
import { referenceBench, type Exercise } from '../marking/index.js';
import { shuffled } from '../random/index.js';
import { exchanged, inOrder, moved, type Change, type Ground } from './wiring.js';

/** Right wirings that are not the reference's: marks must be the same for all of them. */

const styleOf = ({ colour, area }: Wire): Pick<Wire, 'colour' | 'area'> => ({
  ...(colour === undefined ? {} : { colour }),
  ...(area === undefined ? {} : { area }),
});

/**
 * Leads joined in another way: each of their nodes, colour by colour, as a chain through its terminals in
 * another order.
 */
export function rewired(
  exercise: Exercise,
  random: () => number,
  wires: readonly Wire[] = exercise.reference,
): Wire[] {
  const circuit = compile(referenceBench(exercise));
  const boxOf = (ref: TerminalRef): number =>
    exercise.rules.cables?.findIndex(({ devices }) => devices.includes(splitRef(ref).tag)) ?? -1;
  // A core of a cable stays where it is: what it joins in the box and in the panel is joined in another
  // order.
  const nameOf = (wire: Wire): string =>
    JSON.stringify(boxOf(wire.from) === boxOf(wire.to) ? styleOf(wire) : wire);
  const styles = [...new Set(wires.map(nameOf))];
  const index = (ref: TerminalRef, style: number) =>
    circuit.indexOf.get(ref)! + style * circuit.terminals.length;
  const sets = new UnionFind(circuit.terminals.length * Math.max(1, styles.length));
  const styleAt = (wire: Wire) => styles.indexOf(nameOf(wire));
  for (const wire of wires) sets.union(index(wire.from, styleAt(wire)), index(wire.to, styleAt(wire)));
  const nodes = new Map<number, { terminals: Set<TerminalRef>; sample: Wire }>();
  for (const wire of wires) {
    const root = sets.find(index(wire.from, styleAt(wire)));
    const node = nodes.get(root) ?? { terminals: new Set<TerminalRef>(), sample: wire };
    node.terminals.add(wire.from);
    node.terminals.add(wire.to);
    nodes.set(root, node);
  }
  const groups = [...nodes.values()];
  // A terminal at which two colours meet has one lead of each: it stands at the end of both chains.
  const isShared = (ref: TerminalRef) => groups.filter(({ terminals }) => terminals.has(ref)).length > 1;
  return groups.flatMap(({ terminals, sample }) => {
    const order = shuffled([...terminals], random);
    const [first, ...others] = order.filter(isShared);
    const chain = [...(first ? [first] : []), ...order.filter((ref) => !isShared(ref)), ...others];
    return chain.slice(1).map((to, k): Wire => ({ from: chain[k]!, to, ...styleOf(sample) }));
  });
}

export interface RightWiring {
  readonly title: string;
  readonly wires: readonly Wire[];
}

/** Contacts by their other ends, but for those of outputs, which have an end in common. */
const turned = ({ contacts }: Ground): Change =>
  inOrder(
    ...contacts
      .filter(
        ({ device, role }) => role !== 'overload-nc' && delaySetOn(device) === null && !isController(device),
      )
      .map(({ a, b }) => exchanged([a], [b])),
  );

/** Free contacts in place of those of the same kind. */
function onFreeContacts({ contacts, free }: Ground): Change {
  const taken = new Set<string>();
  return inOrder(
    ...contacts.flatMap((one) => {
      const other = free.find(
        (spare) =>
          spare.tag === one.tag &&
          spare.normally === one.normally &&
          spare.role === one.role &&
          !taken.has(`${spare.tag} ${spare.name}`),
      );
      // One output in another's place does something else.
      if (!other || one.normally === 'none' || isController(one.device)) return [];
      taken.add(`${other.tag} ${other.name}`);
      return [
        moved(
          new Map([
            [one.a, other.a],
            [one.b, other.b],
          ]),
        ),
      ];
    }),
  );
}

const TURNS: Readonly<Record<string, string>> = {
  U: 'V',
  V: 'W',
  W: 'U',
  U1: 'V1',
  V1: 'W1',
  W1: 'U1',
  U2: 'V2',
  V2: 'W2',
  W2: 'U2',
};

/** All lines of every motor moved on by one: it turns as before. */
function movedOn({ board }: Ground): Change {
  const place = new Map<TerminalRef, TerminalRef>();
  for (const { tag } of board.devices.filter(isThreePhaseMotor))
    for (const [from, to] of Object.entries(TURNS)) place.set(`${tag}:${from}`, `${tag}:${to}`);
  return moved(place);
}

/** Five right wirings; of a board that has no other way for one of them, joined in another order only. */
export function rightWirings(ground: Ground, random: () => number): RightWiring[] {
  const { exercise, board } = ground;
  const ways: readonly [string, Change][] = [
    ['The same joints in another order', (wires) => [...wires]],
    ['Contacts by their other ends', turned(ground)],
    ['Free contacts of the same kind', onFreeContacts(ground)],
    ['All motor leads moved on by one line', movedOn(ground)],
    ['Other ends, and other terminals for every branch', turned(ground)],
  ];
  const hasMotor = board.devices.some((device) => anatomy(device).motor !== undefined);
  return ways.map(([title, change], k) => {
    const same = k === 3 && !hasMotor;
    return {
      title: same ? 'The same joints in one more order' : title,
      wires: rewired(exercise, random, change(exercise.reference)),
    };
  });
}
