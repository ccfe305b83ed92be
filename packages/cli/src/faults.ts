import {
  compile,
  describeFaults,
  diagnosing,
  faultEffects,
  finished,
  observationProblems,
  referenceBench,
  writeFault,
  type Candidate,
  type Exercise,
  type ReferenceCircuit,
} from '@contactum/core';
import { readObservations } from '@contactum/core/documents';
import type { Answer } from './answer.js';
import { fitting, readFile } from './input.js';

/** Every single fault of the reference board with what it does. */
export function faultsAnswer(exercise: Exercise): Answer {
  const { behaviours } = exercise;
  const effects = finished(faultEffects({ bench: referenceBench(exercise), behaviours }));
  const json = effects.map(({ fault, title, symptoms, incidents, readings }) => ({
    fault: writeFault(fault),
    title,
    symptoms,
    incidents,
    readings,
  }));
  const words = json.map(
    ({ title, symptoms, readings }) =>
      `${title}: ${symptoms.length > 0 ? `changes ${symptoms.join(', ')}` : 'changes no behaviour'}; ${readings} readings`,
  );
  return { holds: true, json, words: words.join('\n') };
}

/** What explains some observations of a board, and what to look at next. */
export function diagnoseAnswer(referenceCircuit: ReferenceCircuit, file: string, pairs: boolean): Answer {
  const { observations } = readFile(file, readObservations);
  fitting(file, observationProblems(compile(referenceCircuit.bench), observations));
  const { sound, candidates, of, next } = finished(diagnosing(referenceCircuit, observations, { pairs }));
  const json = {
    sound,
    candidates: candidates.map(({ faults, title, places, comesAndGoes }) => ({
      ...writtenCandidate(faults),
      title,
      places: places.map((place) => {
        const [one, ...more] = place.map(writeFault);
        return more.length === 0 ? one : [one, ...more];
      }),
      ...(comesAndGoes ? { comesAndGoes } : {}),
    })),
    of,
    next: next && {
      ...(next.test.dead ? { dead: true } : {}),
      steps: next.test.steps,
      ...(next.test.meter ? { meter: next.test.meter } : {}),
      title: next.title,
      splits: next.splits,
    },
  };
  const words = [
    ...(sound ? ['the board without a fault explains all'] : []),
    ...candidates.map(
      ({ title, places }) =>
        `${title}${places.length > 0 ? ` (or, not to be told from it, ${places.map(describeFaults).join('; ')})` : ''}`,
    ),
    ...advice({ explained: sound || candidates.length > 0, pairs, next: next?.title ?? null }),
    `${candidates.length} of ${of} candidates explain everything`,
  ];
  return { holds: sound || candidates.length > 0, json, words: words.join('\n') };
}

/** What to do next; where nothing explains what was seen there is nothing to be told apart. */
function advice({
  explained,
  pairs,
  next,
}: {
  explained: boolean;
  pairs: boolean;
  next: string | null;
}): string[] {
  if (next) return [`next: ${next}`];
  if (explained) return ['nothing further would tell them apart'];
  return [
    pairs
      ? 'no fault and no pair of faults explains all of it: look again at what was entered'
      : 'no single fault explains all of it: look again at what was entered, or ask for two at once with --pairs',
  ];
}

/** One fault; of a pair the list of both beside the first. */
function writtenCandidate(faults: Candidate) {
  const written = faults.map(writeFault);
  return { fault: written[0], ...(written.length > 1 ? { faults: written } : {}) };
}
