import {
  exerciseVariant,
  finished,
  faultEffects,
  grade,
  groundOf,
  prove,
  readinessOf,
  referenceBench,
  referenceCircuitOf,
  spellWire,
  terminalsOf,
  wrongWirings,
  writeFault,
  type Bench,
  type Exercise,
  type Report,
} from '@contactum/core';
import { readExercise } from '@contactum/core/documents';
import { must, seeded } from '../help.js';

/** The variant of an exercise as a document that was written and read. */
export const variantRead = (exercise: Exercise, seed: number): Exercise =>
  must(readExercise(JSON.parse(JSON.stringify(exerciseVariant(exercise, seed).exercise))));

const lostOf = ({ criteria, passed }: Report): string =>
  `${passed ? 'passed' : 'not passed'}, lost: ${criteria
    .filter(({ points, max }) => points < max)
    // Of a cable, the criterion is named after the box at its end.
    .map(({ part, id }) => `${part} ${id.replace(/^cable-.*/, 'cable')}`)
    .sort()
    .join(', ')}`;

/** What is said of an exercise's reference, once an exercise. */
const judged = (one: Exercise) => {
  const { ready, score, max, objections } = readinessOf(one);
  return {
    said: { ready, score, max, objections: objections.map(({ part, id }) => `${part} ${id}`) },
    states: prove(referenceBench(one)).states,
  };
};
const originals = new Map<Exercise, ReturnType<typeof judged>>();
const judgedOnce = (one: Exercise): ReturnType<typeof judged> => {
  const known = originals.get(one) ?? judged(one);
  originals.set(one, known);
  return known;
};

/** In what a variant is not as its exercise is: readable, clean, equally large. */
export function unlikeOriginal(exercise: Exercise, seed: number): string[] {
  const variant = variantRead(exercise, seed);
  const told: string[] = [];
  const same = (what: string, ours: unknown, theirs: unknown) => {
    if (JSON.stringify(ours) !== JSON.stringify(theirs))
      told.push(`${variant.id}: ${what} ${JSON.stringify(ours)}, not ${JSON.stringify(theirs)}`);
  };
  const [ours, theirs] = [judged(variant), judgedOnce(exercise)];
  same('is judged', ours.said, theirs.said);
  same('states', ours.states, theirs.states);
  same('leads', variant.reference.length, exercise.reference.length);
  same(
    'devices',
    variant.bench.devices.map(({ type }) => type),
    exercise.bench.devices.map(({ type }) => type),
  );
  return told;
}

/** Usual mistakes of one board: kinds in turn. */
const MISTAKES = 30;

/**
 * Of the usual mistakes that `taken` takes, those of which the verdict differs on the variant: what is lost,
 * passed or not.
 */
export function mistakesUnlike(
  exercise: Exercise,
  seed: number,
  taken: (k: number) => boolean = () => true,
): string[] {
  if (exercise.task === 'find' || exercise.reference.length === 0) return [];
  const { exercise: variant, translated } = exerciseVariant(exercise, seed);
  const wrong = wrongWirings(groundOf(exercise), MISTAKES, seeded(1)).filter((_, k) => taken(k));
  return wrong.flatMap(({ title, wires, devices }) => {
    const board: Bench = { ...exercise.bench, devices, wires: [...exercise.bench.wires, ...wires] };
    const before = lostOf(grade(exercise, board, { faults: false }));
    const after = lostOf(grade(variant, translated(board), { faults: false }));
    return before === after ? [] : [`${variant.id}: ${title}: ${after}; on the original ${before}`];
  });
}

/** A neighbour's leads and programs on one's own board, as far as they can be laid there; marked. */
export function copiedFrom(exercise: Exercise, neighbour: Exercise): Report {
  const own = new Set<string>(terminalsOf(exercise.bench));
  const isFitted = new Set(exercise.bench.wires.map(spellWire));
  const laid = referenceBench(neighbour).wires.filter(
    (wire) => own.has(wire.from) && own.has(wire.to) && !isFitted.has(spellWire(wire)),
  );
  const board = referenceBench({
    ...exercise,
    reference: laid,
    ...(neighbour.program ? { program: neighbour.program } : {}),
  });
  return grade(exercise, board, { faults: false });
}

/** Readings of an expert that differ by more than a tenth between the sets of an exercise and its variant. */
export function readingsUnlike(exercise: Exercise, seed: number): string[] {
  const variant = variantRead(exercise, seed);
  const readings = (one: Exercise) => {
    const effects = finished(faultEffects(referenceCircuitOf(one)));
    return (one.sets ?? []).map(({ faults }) =>
      faults
        .map((fault) => JSON.stringify({ ...fault, when: undefined }))
        .map(
          (text) => effects.find(({ fault }) => JSON.stringify(writeFault(fault)) === text)?.readings ?? null,
        ),
    );
  };
  const [before, after] = [readings(exercise), readings(variant)];
  return (variant.sets ?? []).flatMap(({ id }, k) => {
    const isLike = after[k]!.every((count, n) => {
      const own = before[k]![n] ?? null;
      return count === null || own === null ? count === own : Math.abs(count - own) <= own / 10;
    });
    return isLike ? [] : [`${variant.id} ${id}: ${after[k]!.join(' + ')}, not ${before[k]!.join(' + ')}`];
  });
}
