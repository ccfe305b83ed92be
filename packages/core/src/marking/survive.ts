import type { Circuit } from '../circuit/index.js';
import { firstLostOf, propertyTitle, type Property } from '../proof/index.js';
import type { Exercise, Survival } from './exercise.js';
import { proofWith, type OfReference } from './reference.js';
import type { Evidence } from './evidence.js';
import type { Judged } from './share.js';

/**
 * The single faults that an exercise names, each tried on a wiring: with it there from the beginning the
 * wiring keeps what the reference keeps with it.
 */
export function judgeSurvival(exercise: Exercise, circuit: Circuit, { kept }: OfReference): Judged[] {
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
  const found = proofWith(circuit, fault, { properties: asked.map(({ id }) => id), untilLost: true });
  if (!found) return { found: 'this fault has no place on this board' };
  const lost = firstLostOf(found);
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
