import type { Circuit } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { readFault, withFault, type WrittenFault } from '../faults/index.js';
import { PROPERTY_IDS, isOfWiring, propertyTitle, proveCircuit, type Property } from '../proof/index.js';
import type { Exercise, Survival } from './exercise.js';
import type { Evidence } from './report.js';
import type { Judged } from './share.js';

/** Properties that a fault may take away: not what the wiring alone shows; and a welded pole may well leave a motor on fewer lines. */
const ASKED = PROPERTY_IDS.filter((id) => id !== 'full-phases' && !isOfWiring(id));

/** By exercise: of each fault, what its reference keeps. */
const known = new WeakMap<Exercise, readonly (readonly Property[])[]>();

function keptByReference(exercise: Exercise, reference: Circuit): readonly (readonly Property[])[] {
  const before = known.get(exercise);
  if (before) return before;
  const kept = (exercise.survive ?? []).map(({ fault }) =>
    (proofWith(reference, fault, ASKED) ?? []).filter(
      ({ id, holds }) => holds && !exercise.lesson?.includes(id),
    ),
  );
  known.set(exercise, kept);
  return kept;
}

/** The properties of a circuit with a fault in it; null where the fault finds no place. */
function proofWith(
  circuit: Circuit,
  written: WrittenFault,
  properties: readonly Property['id'][],
): readonly Property[] | null {
  const outcome = withFault(circuit, readFault(written));
  return 'problem' in outcome ? null : proveCircuit(new Solver(outcome.circuit), { properties }).properties;
}

/**
 * The single faults that an exercise names, each tried on a wiring: with it there from the beginning the wiring keeps what the
 * reference keeps with it.
 */
export function judgeSurvival(exercise: Exercise, circuit: Circuit, reference: Circuit): Judged[] {
  const kept = keptByReference(exercise, reference);
  return (exercise.survive ?? []).map((one, k): Judged => {
    const { title, points, essential = true } = one;
    return {
      id: `survive-${k + 1}`,
      title,
      weight: points,
      essential,
      broken: evidenceAgainst(one, kept[k]!, circuit),
    };
  });
}

function evidenceAgainst({ fault }: Survival, asked: readonly Property[], circuit: Circuit): Evidence | null {
  const found = proofWith(
    circuit,
    fault,
    asked.map(({ id }) => id),
  );
  if (!found) return { found: 'this fault has no place on this board' };
  const lost = found.find(({ holds }) => !holds);
  if (lost)
    return {
      found: `“${propertyTitle(lost.id)}” no longer holds: ${lost.found}`,
      steps: [{ inject: fault }, ...lost.trace],
    };
  const isTested = (id: Property['id']) => found.some((one) => one.id === id && one.tested);
  return asked.every(({ id, tested }) => !tested || isTested(id))
    ? null
    : { found: 'was never put to the test: nothing ran on this wiring' };
}
