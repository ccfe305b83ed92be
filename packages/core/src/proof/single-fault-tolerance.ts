import type { Circuit } from '../circuit/index.js';
import { credibleFaults, describeFault, type Fault } from '../faults/index.js';
import { Solver } from '../electrics/index.js';
import { FaultProofs } from './fault-proofs.js';
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
  // Of a board that is shorted as its supply comes on nothing else is judged: there is nothing to take away.
  const properties = SAFETY_IDS.filter(
    (id) => sound.states > 0 && sound.properties.some((property) => property.id === id && property.holds),
  );
  const tried = credibleFaults(circuit);
  const verdicts = new FaultProofs(circuit, sound, properties).verdictsOn(tried);
  const faults = tried.map((fault, k): FaultVerdict => {
    const { lost, cleared } = verdicts[k]!;
    return { fault, title: describeFault(fault), lost, cleared };
  });
  return {
    complete: sound.complete && verdicts.every(({ complete }) => complete),
    properties,
    faults,
    survived: faults.filter(({ lost }) => lost.length === 0).length,
  };
}
