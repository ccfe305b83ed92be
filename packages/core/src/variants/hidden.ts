import { perObject } from '../per-object.js';
import { complaintOf, faultEffects, finished, type FaultEffect } from '../diagnosis/index.js';
import { readFault, writeFault, type Fault } from '../faults/index.js';
import { referenceCircuitOf, type Exercise, type FaultSet } from '../marking/index.js';
import { shuffled } from '../random/index.js';
import type { Random } from './names.js';

/** What each single fault of an exercise's board does; worked out once. */
const effectsOf = perObject((exercise: Exercise) => finished(faultEffects(referenceCircuitOf(exercise))));

/** By how much the readings of an expert may differ between variants. */
const SPREAD = 0.1;

const placeOf = (fault: Fault): string => JSON.stringify(writeFault({ ...fault, when: undefined }));

/**
 * Another fault of the same kind that is found by as many readings and shows something; the fault itself
 * where there is none.
 */
function otherFault(effects: readonly FaultEffect[], fault: Fault, random: Random): FaultEffect | null {
  const own = effects.find((one) => placeOf(one.fault) === placeOf(fault));
  if (!own) return null;
  const alike = effects.filter(
    ({ fault: other, readings, symptoms, reportedSymptoms }) =>
      other.kind === fault.kind &&
      symptoms.length > 0 &&
      reportedSymptoms.length > 0 === own.reportedSymptoms.length > 0 &&
      Math.abs(readings - own.readings) <= SPREAD * own.readings,
  );
  return shuffled(alike, random).find((other) => other !== own) ?? own;
}

/** A set of hidden faults that is as hard, with what an operator says of it. */
function otherSet(effects: readonly FaultEffect[], set: FaultSet, random: Random): FaultSet {
  const faults = set.faults.map(readFault);
  const others = faults.map((fault) => otherFault(effects, fault, random));
  // One place carries one fault.
  const next = faults.map((fault, k) => ({ ...(others[k]?.fault ?? fault), when: fault.when }));
  const places = new Set(next.map(placeOf));
  const isSame = next.every((fault, k) => placeOf(fault) === placeOf(faults[k]!));
  if (isSame || places.size < next.length || others.some((one) => one === null)) return set;
  return {
    ...set,
    complaint: complaintOf(
      others.flatMap((one) => one ?? []),
      faults.some(({ when }) => when !== undefined),
    ),
    faults: next.map((fault) => writeFault(fault)),
  };
}

/** The sets of an exercise to find faults, each as hard and not the same. */
export const otherSets = (exercise: Exercise, random: Random): readonly FaultSet[] =>
  (exercise.sets ?? []).map((set) => otherSet(effectsOf(exercise), set, random));
