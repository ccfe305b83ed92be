import { LRUCache } from 'lru-cache';
import { isContactor } from '../catalogue/index.js';
import { isIn, type Circuit, type MechanicalState } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { readFault, withFault, type WrittenFault } from '../faults/index.js';
import { PROPERTY_IDS, isOfWiring, proveCircuit, type ProofOptions, type Property } from '../proof/index.js';
import { exerciseKey, type Exercise } from './exercise.js';

/** What an exercise's reference does, against which wirings are held. */
export interface OfReference {
  /** Of each fault that is to be borne: what the reference keeps with it. */
  readonly kept: readonly (readonly Property[])[];
  /** Contactors that are in while a motor is driven, in one way or another. */
  readonly driving: ReadonlySet<string>;
}

/**
 * Properties that a fault may take away: not what the wiring alone shows; and a welded pole may well leave a
 * motor on fewer lines.
 */
const ASKED = PROPERTY_IDS.filter((id) => id !== 'full-phases' && !isOfWiring(id));

/** Of the exercises that were marked last, by id and version: a class hands in boards of one exercise. */
const known = new LRUCache<string, OfReference>({ max: 30 });

/** What a reference does; it is worked out once for a version of an exercise. */
export function ofReference(exercise: Exercise, circuit: Circuit): OfReference {
  const key = exerciseKey(exercise);
  const before = known.get(key);
  if (before) return before;
  const { running } = proveCircuit(new Solver(circuit), { properties: ['full-phases'] });
  const made: OfReference = {
    kept: (exercise.survive ?? []).map(({ fault }) =>
      (proofWith(circuit, fault, { properties: ASKED }) ?? []).filter(
        ({ id, holds }) => holds && !exercise.lesson?.includes(id),
      ),
    ),
    driving: drivingOf(circuit, running),
  };
  known.set(key, made);
  return made;
}

/** Contactors that are in in some of the states in which a motor is driven. */
export const drivingOf = ({ coils, bench }: Circuit, running: readonly MechanicalState[]): Set<string> => {
  const contactors = new Set(bench.devices.filter(isContactor).map(({ tag }) => tag));
  return new Set(
    coils
      .filter(({ tag, mechanism }) => contactors.has(tag) && running.some((state) => isIn(state[mechanism]!)))
      .map(({ tag }) => tag),
  );
};

/** The properties of a circuit with a fault in it; null where the fault finds no place. */
export function proofWith(
  circuit: Circuit,
  written: WrittenFault,
  options: Pick<ProofOptions, 'properties' | 'untilLost'>,
): readonly Property[] | null {
  const outcome = withFault(circuit, readFault(written));
  return 'problem' in outcome ? null : proveCircuit(new Solver(outcome.circuit), options).properties;
}
