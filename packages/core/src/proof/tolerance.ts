import { splitRef } from '../bench/index.js';
import {
  describeFault,
  withFault,
  wiredTerminals,
  wiredTogether,
  type Circuit,
  type Fault,
  type MechanicalState,
} from '../circuit/index.js';
import { Solver, describeShort } from '../electrics/index.js';
import { proveCircuit, type Proof, type Property, type PropertyId } from './prove.js';

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
  /** Safety properties that hold on the sound board and no longer with this fault, each with the shortest sequence that shows it. */
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
 * Tries every credible single fault of a board: each wired pole welded, each wired contact that does not open or does not
 * close, each wire broken, each potential of the control circuit to earth, each mechanical interlock broken; and
 * proves the safety properties anew with it.
 */
export function tolerance(circuit: Circuit, sound: Proof = proveCircuit(new Solver(circuit))): Tolerance {
  const properties = SAFETY_IDS.filter((id) =>
    sound.properties.some((property) => property.id === id && property.holds),
  );
  const known = new Map<string, Pick<FaultVerdict, 'lost' | 'cleared'> & { readonly complete: boolean }>();
  const faults = credibleFaults(circuit).map((fault): FaultVerdict & { complete: boolean } => {
    const outcome = withFault(circuit, fault);
    if ('problem' in outcome) throw new Error(outcome.problem);
    // Faults that leave the same circuit (two wires in one chain, say) are proved once.
    const key = signature(outcome.circuit);
    let verdict = known.get(key);
    if (!verdict) {
      verdict = judge(outcome.circuit, fault, properties);
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
  fault: Fault,
  properties: readonly PropertyId[],
): Pick<FaultVerdict, 'lost' | 'cleared'> & { complete: boolean } {
  const solver = new Solver(circuit);
  let cleared = false;
  const isCleared = (state: MechanicalState): boolean => {
    const { through } = describeShort(solver, state, solver.at(state));
    const clears = through.some(({ tag }) =>
      circuit.bench.devices.some(
        (device) => device.tag === tag && (device.type === 'fuse' || device.type === 'breaker'),
      ),
    );
    cleared ||= clears;
    return clears;
  };
  // An earth fault is there to be cleared: only one that no protection sees is a short circuit that stays.
  const proof = proveCircuit(solver, { properties, ...(fault.kind === 'earth-fault' ? { isCleared } : {}) });
  return { lost: proof.properties.filter(({ holds }) => !holds), cleared, complete: proof.complete };
}

/** Every single fault that is worth trying on a board; what no wire reaches cannot fail. */
export function credibleFaults(circuit: Circuit): Fault[] {
  const wired = wiredTerminals(circuit);
  const contacts = circuit.switches.filter(
    ({ a, b, mechanism }) =>
      wired.has(a) && wired.has(b) && circuit.mechanisms[mechanism]?.kind !== 'switchgear',
  );
  const place = ({ tag, spec }: (typeof contacts)[number]) => `${tag}:${spec.name}`;
  const pole = contacts.filter(({ spec }) => spec.role === 'pole');
  const others = contacts.filter(({ spec }) => spec.role !== 'pole');
  return [
    ...pole.map((contact): Fault => ({ kind: 'contact-stuck-closed', place: place(contact) })),
    ...others.map((contact): Fault => ({ kind: 'contact-stuck-closed', place: place(contact) })),
    ...contacts.map((contact): Fault => ({ kind: 'contact-stuck-open', place: place(contact) })),
    ...circuit.bench.wires.map(({ from, to }): Fault => ({ kind: 'open-wire', place: `${from} ${to}` })),
    ...controlPotentials(circuit).map((ref): Fault => ({ kind: 'earth-fault', place: ref })),
    ...circuit.bench.interlocks.map(({ between }): Fault => ({
      kind: 'interlock-missing',
      place: between.slice(0, 2).join(' '),
    })),
  ];
}

/** One terminal of each potential of the control circuit that is not earth or a supply conductor itself. */
function controlPotentials(circuit: Circuit): string[] {
  if (circuit.earthed.length === 0) return [];
  const sets = wiredTogether(circuit);
  const held = new Set(
    [...circuit.earthed, ...circuit.sources.map(({ terminal }) => terminal)].map((k) => sets.find(k)),
  );
  const ends = [
    ...circuit.coils.flatMap(({ a, b }) => [a, b]),
    ...circuit.switches.filter(({ spec }) => spec.role !== 'pole').flatMap(({ a, b }) => [a, b]),
  ];
  const wired = wiredTerminals(circuit);
  const seen = new Set<number>();
  return ends.flatMap((end) => {
    const root = sets.find(end);
    if (!wired.has(end) || held.has(root) || seen.has(root)) return [];
    seen.add(root);
    const ref = circuit.terminals[end] as string;
    return splitRef(ref).terminal === 'PE' ? [] : [ref];
  });
}

/** What a circuit is to the proof: its potentials, what its contacts do, and what keeps its armatures. */
function signature(circuit: Circuit): string {
  const sets = wiredTogether(circuit);
  const roots = circuit.terminals.map((_, k) => sets.find(k)).join();
  const contacts = circuit.switches.map(({ closedIn }) => closedIn.map(Number).join('')).join();
  return `${roots}|${contacts}|${circuit.jammed.join()}|${circuit.interlocks.map((group) => group.join('-')).join()}`;
}
