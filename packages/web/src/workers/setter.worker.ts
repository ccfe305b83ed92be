import { dryRun, proposeBehaviours, proposeObserve, readinessOf } from '@contactum/core';
import {
  TEMPLATE_DEFAULTS,
  TEMPLATE_FIELDS,
  deadTestsFor,
  exerciseFromTemplate,
} from '@contactum/core/exercises';
import type { SetterAnswer, SetterMessage, SetterQuestion } from '@contactum/contract';

/**
 * Makes exercises from templates, proposes behaviours, and marks the wirings of a dry run; it is ended by
 * whoever needs it no more.
 */

function* answers(question: SetterQuestion): Generator<SetterAnswer> {
  switch (question.kind) {
    case 'fields':
      yield { kind: 'fields', fields: TEMPLATE_FIELDS, defaults: TEMPLATE_DEFAULTS };
      return;
    case 'template':
      yield { kind: 'exercise', exercise: exerciseFromTemplate('draft', question.choices) };
      return;
    case 'propose': {
      const { exercise } = question;
      const observe = exercise.observe.length > 0 ? exercise.observe : proposeObserve(exercise);
      const behaviours = proposeBehaviours({ ...exercise, observe });
      yield { kind: 'proposed', behaviours, observe, deadTest: deadTestsFor(exercise) };
      return;
    }
    case 'ready':
      yield { kind: 'readiness', readiness: readinessOf(question.exercise) };
      return;
    case 'dry-run':
      for (const { of, ...trial } of dryRun(question.exercise, question.seed))
        yield { kind: 'trial', trial, of };
      yield { kind: 'done' };
  }
}

self.onmessage = ({ data: { n, body } }: MessageEvent<SetterMessage<SetterQuestion>>) => {
  const tell = (answer: SetterAnswer) =>
    self.postMessage({ n, body: answer } satisfies SetterMessage<SetterAnswer>);
  try {
    for (const answer of answers(body)) tell(answer);
  } catch (error) {
    tell({ kind: 'wrong', why: (error as Error).message });
  }
};
