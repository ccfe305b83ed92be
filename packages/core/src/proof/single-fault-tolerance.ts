import { isOpening, wiredTogether, type Circuit, type MechanicalState } from '../circuit/index.js';
import { credibleFaults, describeFault, withFault, type Fault } from '../faults/index.js';
import { Solver, describeShort } from '../electrics/index.js';
import type { PropertyId } from './properties/index.js';
import { proveCircuit } from './prove.js';
import type { Proof, Property } from './proof.js';

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
      circuit.protections.some((protection) => protection.tag === tag && isOpening(protection)),
    );
    cleared ||= clears;
    return clears;
  };
  // An earth fault is there to be cleared: only one that no protection sees is a short circuit that stays.
  const proof = proveCircuit(solver, {
    properties,
    hands: 'controls',
    ...(fault.kind === 'earth-fault' ? { isCleared } : {}),
  });
  return { lost: proof.properties.filter(({ holds }) => !holds), cleared, complete: proof.complete };
}

/** The whole of a circuit but the bench that it was compiled from: what the proof asks of two alike is alike. */
function signature(circuit: Circuit): string {
  const sets = wiredTogether(circuit);
  const joined = circuit.terminals.map((_, k) => sets.find(k));
  // Conductors join without resistance, but for those that an element stands for; maps only name what is listed.
  const said = (key: string, value: unknown): unknown =>
    key === 'bench' || key === 'device' || key === 'conductors' || value instanceof Map ? undefined : value;
  return JSON.stringify([joined, { ...circuit, initial: [...circuit.initial] }], said);
}
