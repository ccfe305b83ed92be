import { expose } from 'comlink';
import {
  TrialMarker,
  proposeBehaviours,
  proposeObserve,
  readinessOf,
  trialWirings,
  type Exercise,
  type Trial,
  type TrialWiring,
} from '@contactum/core';
import {
  TEMPLATE_DEFAULTS,
  TEMPLATE_FIELDS,
  deadTestsFor,
  exerciseFromTemplate,
} from '@contactum/core/exercises';
import type { TemplateChoices } from '@contactum/contract';

let marker: TrialMarker | null = null;

/** Makes exercises from templates, proposes behaviours, and marks the wirings of a dry run. */
const setter = {
  fields: () => ({ fields: TEMPLATE_FIELDS, defaults: TEMPLATE_DEFAULTS }),
  template: (choices: TemplateChoices) => exerciseFromTemplate('draft', choices),
  propose(exercise: Exercise) {
    const observe = exercise.observe.length > 0 ? exercise.observe : proposeObserve(exercise);
    const behaviours = proposeBehaviours({ ...exercise, observe });
    return { behaviours, observe, deadTest: deadTestsFor(exercise) };
  },
  ready: readinessOf,
  /** The wirings of a dry run, in the order in which they are marked. */
  wirings: trialWirings,
  /** Makes this thread ready to mark wirings of an exercise. */
  takeTrials(exercise: Exercise): void {
    marker = new TrialMarker(exercise);
  },
  mark(wiring: TrialWiring): Trial {
    if (!marker) throw new Error('This thread has no exercise to mark by.');
    return marker.mark(wiring);
  },
};

export type SetterThread = typeof setter;

expose(setter);
