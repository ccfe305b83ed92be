import { expose } from 'comlink';
import {
  dryRun,
  proposeBehaviours,
  proposeObserve,
  readinessOf,
  type Exercise,
  type Trial,
} from '@contactum/core';
import {
  TEMPLATE_DEFAULTS,
  TEMPLATE_FIELDS,
  deadTestsFor,
  exerciseFromTemplate,
} from '@contactum/core/exercises';
import type { TemplateChoices } from '@contactum/contract';

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
  /** Marks each wiring of a dry run and tells it, with how many there are. */
  async dryRun(
    exercise: Exercise,
    seed: number,
    hear: (trial: Trial, of: number) => Promise<void>,
  ): Promise<void> {
    for (const { of, ...trial } of dryRun(exercise, seed)) await hear(trial, of);
  },
};

export type SetterThread = typeof setter;

expose(setter);
