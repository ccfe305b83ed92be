import {
  blocksOf,
  isOpening,
  unbondedEarths,
  type Circuit,
  type Hands,
  type MechanicalState,
  type Network,
} from '../circuit/index.js';
import { credibleFaults, describeFault, withFault, type Fault } from '../faults/index.js';
import { Solver, describeShort } from '../electrics/index.js';
import { perObject } from '../per-object.js';
import { Decisions, networkOf } from './decisions.js';
import type { PropertyId } from './properties/index.js';
import { proveCircuit } from './prove.js';
import type { Proof, Property } from './proof.js';

/** Nobody works the switchgear of a board that has failed. */
const HANDS: Hands = 'controls';

/** Properties that a single fault must not take away. */
export const SAFETY_IDS = [
  'no-short',
  'stop-drops',
  'estop-holds',
  'overload-drops',
  'no-self-start',
  'earth-bonded',
] as const satisfies readonly PropertyId[];

export interface FaultVerdict {
  readonly fault: Fault;
  readonly title: string;
  /**
   * Safety properties that hold on the sound board and no longer with this fault, each with the shortest
   * sequence that shows it.
   */
  readonly lost: readonly Property[];
  /** A short circuit that this fault makes is cleared by a fuse or breaker in its way. */
  readonly cleared: boolean;
}

export interface Tolerance {
  readonly complete: boolean;
  /** Properties that hold on the sound board: what a fault could take away. */
  readonly properties: readonly PropertyId[];
  readonly faults: readonly FaultVerdict[];
  readonly survived: number;
}

/**
 * Tries every credible single fault of a board: each wired pole welded, each wired contact that does not
 * open or does not close, each wire broken, each potential of the control circuit to earth, each mechanical
 * interlock broken; and proves the safety properties anew with it.
 */
export function singleFaultTolerance(
  circuit: Circuit,
  sound: Proof = proveCircuit(new Solver(circuit)),
): Tolerance {
  const properties = SAFETY_IDS.filter((id) =>
    sound.properties.some((property) => property.id === id && property.holds),
  );
  const known = new Map<string, Pick<FaultVerdict, 'lost' | 'cleared'> & { readonly complete: boolean }>();
  const faults = credibleFaults(circuit).map((fault): FaultVerdict & { complete: boolean } => {
    const outcome = withFault(circuit, fault);
    if ('problem' in outcome) throw new Error(outcome.problem);
    const network = networkOf(outcome.circuit, HANDS);
    // Faults that leave the same to prove (two wires in one chain, say) are proved once. Which fuse an earth
    // fault blows rests on its place: a fuse joins what lies before and behind it.
    const key =
      fault.kind === 'earth-fault' ? describeFault(fault) : signature(outcome.circuit, network, circuit);
    let verdict = known.get(key);
    if (!verdict) {
      verdict = judge(outcome.circuit, network, fault, properties);
      known.set(key, verdict);
    }
    return { fault, title: describeFault(fault), ...verdict };
  });
  return {
    complete: sound.complete && faults.every(({ complete }) => complete),
    properties,
    faults: faults.map(({ fault, title, lost, cleared }) => ({ fault, title, lost, cleared })),
    survived: faults.filter(({ lost }) => lost.length === 0).length,
  };
}

function judge(
  circuit: Circuit,
  network: Network,
  fault: Fault,
  properties: readonly PropertyId[],
): Pick<FaultVerdict, 'lost' | 'cleared'> & { complete: boolean } {
  const solver = new Solver(circuit);
  let cleared = false;
  const isCleared = (state: MechanicalState): boolean => {
    const { through } = describeShort(solver, state, solver.at(state));
    const clears = through.some(({ tag }) =>
      circuit.protections.some((protection) => protection.tag === tag && isOpening(protection)),
    );
    cleared ||= clears;
    return clears;
  };
  // An earth fault is there to be cleared: only one that no protection sees is a short circuit that stays.
  const how = { properties, hands: HANDS, ...(fault.kind === 'earth-fault' ? { isCleared } : {}) };
  const proof = proveCircuit(solver, how, new Decisions(solver, HANDS, network));
  return { lost: proof.properties.filter(({ holds }) => !holds), cleared, complete: proof.complete };
}

/**
 * What a proof with the controls alone asks of a faulty circuit, as text: the contacts and loads through
 * which current can ever flow, between which nets, and what the circuit lists beside them. What hangs loose,
 * or is fed at one end alone, decides nothing: a chain is the same wherever it is broken.
 */
function signature(circuit: Circuit, network: Network, sound: Circuit): string {
  const root = network.nets;
  // Coupled windings pass current on to circuits that no conductor is joined to.
  const cores = new Set(network.loads.flatMap(({ a, element }) => (isCoupled(circuit, element) ? [a] : [])));
  const node = (net: number): number => (network.supplyNodeAt[net] || cores.has(net) ? root : net);
  const ways = [...network.contacts, ...network.loads];
  const block = blocksOf(
    root + 1,
    ways.map(({ a, b }) => ({ a: node(a), b: node(b) })),
  );
  const alive = new Set(
    ways.flatMap(({ a, b }, k) => (node(a) === root || node(b) === root ? [block[k]] : [])),
  );
  const names = new Map<number, number>();
  const name = (net: number): string | number => {
    const held = network.supplyNodeAt[net];
    if (held) return `${held.tag}:${held.name}`;
    if (!names.has(net)) names.set(net, names.size);
    return names.get(net)!;
  };
  const said = ways.flatMap((way, k) =>
    alive.has(block[k])
      ? [
          `${name(way.a)} ${name(way.b)} ${way.mechanism} ${'closedIn' in way ? bitsOf(way.closedIn) : way.element}`,
        ]
      : [],
  );
  return JSON.stringify([said, network.shortedAtRest, unbondedEarths(circuit), changesOf(circuit, sound)]);
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
