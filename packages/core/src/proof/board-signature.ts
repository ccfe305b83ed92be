import { blocksOf, unbondedEarths, type Circuit, type Network } from '../circuit/index.js';
import { perObject } from '../per-object.js';

/** What a proof with the controls alone asks of a circuit, as text. */
export interface BoardSignature {
  /** Everything. */
  readonly whole: string;
  /** What decides about the coils, without what leads to motors alone. */
  readonly control: string;
}

/**
 * What a proof asks of a faulty circuit: the contacts and loads through which current can ever flow, between
 * which nets, and what the circuit lists beside them, as far as the sound one does not. What hangs loose, or
 * is fed at one end alone, decides nothing: a chain is the same wherever it is broken.
 */
export function boardSignature(circuit: Circuit, network: Network, sound: Circuit): BoardSignature {
  const { ways, block, alive, leading } = blocks(circuit, network);
  const spoken = (isAsked: (own: number) => boolean): string[] => {
    const names = new Map<number, number>();
    const name = (net: number): string | number => {
      const held = network.supplyNodeAt[net];
      if (held) return `${held.tag}:${held.name}`;
      if (!names.has(net)) names.set(net, names.size);
      return names.get(net)!;
    };
    return ways.flatMap((way, k) => {
      if (!isAsked(block[k]!)) return [];
      const is = 'closedIn' in way ? bitsOf(way.closedIn) : way.element;
      return [`${name(way.a)} ${name(way.b)} ${way.mechanism} ${is}`];
    });
  };
  const lists = [network.shortedAtRest, changesOf(circuit, sound)];
  return {
    whole: JSON.stringify([spoken((own) => alive.has(own)), unbondedEarths(circuit), lists]),
    control: JSON.stringify([spoken((own) => alive.has(own) && !leading.has(own)), lists]),
  };
}

/**
 * Contacts and loads in their biconnected components, the supplies' conductors being one node: components
 * meet in those conductors alone. Those that hang on them, and of these the ones that lead to motors and to
 * nothing else.
 */
function blocks(circuit: Circuit, network: Network) {
  const root = network.nets;
  // Coupled windings pass current on to circuits that no conductor is joined to.
  const cores = new Set(network.loads.flatMap(({ a, element }) => (isCoupled(circuit, element) ? [a] : [])));
  const node = (net: number): number => (network.supplyNodeAt[net] || cores.has(net) ? root : net);
  const ways = [...network.contacts, ...network.loads];
  const block = blocksOf(
    root + 1,
    ways.map(({ a, b }) => ({ a: node(a), b: node(b) })),
  );
  const alive = new Set<number>();
  const leading = new Set<number>();
  const others = new Set<number>();
  ways.forEach((way, k) => {
    const own = block[k]!;
    if (node(way.a) === root || node(way.b) === root) alive.add(own);
    if ('element' in way) (circuit.elements[way.element]!.law.kind === 'motor' ? leading : others).add(own);
  });
  for (const own of others) leading.delete(own);
  return { ways, block, alive, leading };
}

/** States in which a contact is closed, as text. */
const bitsOf = perObject((closedIn: readonly boolean[]): string => `c${closedIn.map(Number).join('')}`);

const isCoupled = ({ elements }: Circuit, element: number): boolean => elements[element]!.windings.length > 1;

/**
 * Lists of a circuit that differ from those of the sound one, without the contacts, which stand in the ways.
 */
function changesOf(circuit: Circuit, sound: Circuit): string[] {
  const left: readonly (keyof Circuit)[] = ['bench', 'conductors', 'switches', 'indexOf', 'mechanismOf'];
  return (Object.keys(circuit) as (keyof Circuit)[]).flatMap((key): string[] => {
    const [now, before] = [circuit[key], sound[key]];
    if (now === before || left.includes(key)) return [];
    const [list, old] = [now, before].map((one) => [...(one as Iterable<unknown>)]) as [unknown[], unknown[]];
    const changed = list.map((one, k) => (one === old[k] ? null : one));
    return [key + JSON.stringify(changed, (name, value: unknown) => (name === 'device' ? undefined : value))];
  });
}
