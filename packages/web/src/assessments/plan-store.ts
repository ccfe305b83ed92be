import { without } from '@contactum/core';
import type { AssessmentRequest, AssessmentTaskRequest } from '@contactum/contract';

/** An assessment while it is being set, as the form holds it: each task and row has a key of its own. */
export type PlannedTask = AssessmentTaskRequest & { readonly key: string };

export interface Planned extends Omit<AssessmentRequest, 'tasks'> {
  readonly tasks: readonly PlannedTask[];
}

export const FRESH: Planned = {
  title: '',
  tasks: [],
  order: 'free',
  minutes: 60,
  aids: ['meter', 'drawing'],
  pass: { sum: 60, each: false },
  start: 'together',
  opensAt: null,
  closesAt: null,
  code: null,
  addresses: [],
  extra: [],
};

const OF_ANY = { weight: 50, minutes: null, mustPass: false } as const;

export const exerciseTask = (exerciseId: string): PlannedTask => ({
  kind: 'exercise',
  key: crypto.randomUUID(),
  exerciseId,
  variants: true,
  physical: false,
  ...OF_ANY,
});

type Criterion = Extract<AssessmentTaskRequest, { kind: 'observed' }>['criteria'][number];

const criterion = (title: string, critical: boolean, levels: readonly [string, number][]): Criterion => ({
  title,
  critical,
  levels: levels.map(([name, points]) => ({ title: name, points })),
});

/** What is watched at most benches; each may be changed (common practice, no source). */
const USUAL: readonly Criterion[] = [
  criterion('Isolates, locks off and proves dead before a hand is put in', true, [
    ['not done', 0],
    ['done when reminded', 3],
    ['done unasked', 6],
  ]),
  criterion('Chooses and handles tools and meter as they should be', false, [
    ['poorly', 0],
    ['mostly', 2],
    ['always', 4],
  ]),
  criterion('Leads are cut, stripped, ferruled and laid cleanly', false, [
    ['poorly', 0],
    ['fairly', 2],
    ['cleanly', 4],
  ]),
];

export const observedTask = (): PlannedTask => ({
  kind: 'observed',
  key: crypto.randomUUID(),
  title: 'Work at the bench',
  criteria: [...USUAL],
  ...OF_ANY,
  weight: 20,
});

export const freshCriterion = (): Criterion =>
  criterion('', false, [
    ['not met', 0],
    ['met', 2],
  ]);

/** What is sent of it. */
export const requestOf = ({ tasks, ...rest }: Planned): AssessmentRequest => ({
  ...rest,
  title: rest.title.trim(),
  tasks: tasks.map((task): AssessmentTaskRequest =>
    task.kind === 'exercise' ? without(task, 'key') : without(task, 'key'),
  ),
});

/** A task on the screen, or at the physical board, which is the same for all and timed by the examiner. */
export const placed = (task: PlannedTask & { kind: 'exercise' }, physical: boolean): PlannedTask =>
  physical ? { ...task, physical, variants: false, minutes: null } : { ...task, physical };

/** What stands against setting it, in words; null where nothing does. */
export function objectionTo({ title, tasks, pass }: Planned): string | null {
  if (title.trim() === '') return 'Name the assessment.';
  if (tasks.length === 0) return 'Add a task.';
  const unnamed = tasks.some(
    (task) => task.kind === 'observed' && task.criteria.some((one) => one.title.trim() === ''),
  );
  if (unnamed) return 'Every criterion needs a name.';
  if (pass.sum === null && !pass.each && !tasks.some(({ mustPass }) => mustPass))
    return 'Say what passes: a sum, each task, or single tasks.';
  return null;
}
