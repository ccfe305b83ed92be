import type { Knex } from 'knex';
import { isAsked, isSearch, plural, type Aid, type Exercise } from '@contactum/core';
import type {
  AssessmentRequest,
  AssessmentState,
  AssessmentSummary,
  AssessmentTaskRequest,
  Person,
  SetPlan,
  SetTask,
} from '@contactum/contract';
import { AssessmentModel, AssignmentModel, ExerciseModel, type SittingModel } from '../../database/models.js';
import { Refusal, invalidAt, notFound } from '../../runtime/refusal.js';
import { asSet } from '../classes/settings.js';
import { note } from '../people/audit.js';
import { classesOf, requireOwnClass } from '../people/permissions.js';

/** Assessments that are set to classes. */

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;

/** Who has sat an assessment, and not in vain. */
export const hasSat = ({ startedAt, voidedAt }: SittingModel): boolean =>
  startedAt !== null && voidedAt === null;

/** True while somebody's time runs. */
export const isSitting = (sitting: SittingModel, now: Date): boolean =>
  sitting.startedAt !== null && !isOver(sitting, now);

/** True once somebody's time is over, whichever way. */
export const isOver = (
  { startedAt, endsAt, pausedAt, handedInAt, voidedAt }: SittingModel,
  now: Date,
): boolean =>
  voidedAt !== null ||
  handedInAt !== null ||
  (startedAt !== null && pausedAt === null && endsAt !== null && endsAt <= now);

function stateOf(assessment: AssessmentModel, sittings: readonly SittingModel[], now: Date): AssessmentState {
  if (assessment.withdrawnAt) return 'withdrawn';
  if (assessment.releasedAt) return 'released';
  if (assessment.signedOffAt) return 'signed off';
  const under = sittings.filter((one) => isSitting(one, now));
  if (under.length > 0) return under.every(({ pausedAt }) => pausedAt !== null) ? 'paused' : 'running';
  const started = sittings.some(({ startedAt }) => startedAt !== null);
  const isShut = assessment.closesAt !== null && assessment.closesAt <= now;
  // Who has not come can still be started, until it closes.
  const allOver = sittings.every((one) => one.startedAt === null || isOver(one, now));
  return started && (allOver || isShut) ? 'ended' : 'set';
}

export function summaryOfAssessment(
  assessment: AssessmentModel,
  sittings: readonly SittingModel[],
  now: Date,
): AssessmentSummary {
  const { id, title, classId, plan } = assessment;
  return {
    id,
    title,
    classId,
    className: assessment.class?.name ?? '',
    state: stateOf(assessment, sittings, now),
    minutes: plan.minutes,
    tasks: plan.tasks.length,
    opensAt: iso(assessment.opensAt),
    closesAt: iso(assessment.closesAt),
    students: sittings.length,
    started: sittings.filter(({ startedAt }) => startedAt !== null).length,
    handedIn: sittings.filter((one) => isOver(one, now)).length,
  };
}

/** An assessment of a class of an instructor's own, with what a graph names. */
export async function requireOwnAssessment(
  database: Knex,
  id: string,
  instructor: Person,
): Promise<AssessmentModel & { readonly sittings: SittingModel[] }> {
  const found = await AssessmentModel.query(database)
    .findById(id)
    .whereIn('classId', classesOf(database, instructor))
    .withGraphFetched('[class, signer, sittings.student]');
  if (!found) throw notFound('assessment');
  const sittings = (found.sittings ?? []).toSorted((a, b) =>
    (a.student?.name ?? '').localeCompare(b.student?.name ?? ''),
  );
  return Object.assign(found, { sittings });
}

/** The assessments of a class of an instructor's own, the newest first. */
export async function assessmentsOf(
  database: Knex,
  classId: string,
  instructor: Person,
): Promise<AssessmentSummary[]> {
  const group = await requireOwnClass(database, classId, instructor);
  const all = await AssessmentModel.query(database)
    .where({ classId: group.id })
    .withGraphFetched('[class, sittings]')
    .orderBy('setAt', 'desc');
  const now = new Date();
  return all.map((one) => summaryOfAssessment(one, one.sittings ?? [], now));
}

/** Aids that an exercise shows by itself; the others are the bench's. */
const SHOWN: Partial<Record<Aid, NonNullable<Exercise['shows']>[number]>> = {
  reference: 'reference',
  proof: 'proof',
  tests: 'tests',
};

/** Sets an assessment to a class of the instructor's own. */
export async function setAssessment(
  database: Knex,
  classId: string,
  wanted: AssessmentRequest,
  instructor: Person,
): Promise<string> {
  const group = await requireOwnClass(database, classId, instructor);
  refuseMisfits(wanted);
  const exercises = await exercisesOf(database, wanted.tasks);
  const plan: SetPlan = {
    order: wanted.order,
    minutes: wanted.minutes,
    aids: wanted.aids,
    pass: wanted.pass,
    start: wanted.start,
    addresses: wanted.addresses,
    tasks: wanted.tasks.map((task, k) => setTask(task, k, exercises)),
  };
  const shows = wanted.aids.flatMap((aid) => SHOWN[aid] ?? []);
  return database.transaction(async (trx) => {
    const assessment = await AssessmentModel.query(trx)
      .insert({
        classId: group.id,
        title: wanted.title,
        plan,
        code: wanted.code,
        opensAt: wanted.opensAt === null ? null : new Date(wanted.opensAt),
        closesAt: wanted.closesAt === null ? null : new Date(wanted.closesAt),
        setBy: instructor.id,
      })
      .returning('*');
    for (const task of plan.tasks) {
      const exercise = task.exerciseId === undefined ? undefined : exercises.get(task.exerciseId);
      if (!exercise) continue;
      await AssignmentModel.query(trx).insert({
        classId: group.id,
        exerciseId: exercise.id,
        document: asSet(exercise.document, 'assessment', shows),
        version: exercise.version,
        setBy: instructor.id,
        attemptsAllowed: 1,
        mode: 'assessment',
        variants: task.variants ?? false,
        assessmentId: assessment.id,
        task: task.id,
      });
    }
    await seat(trx, assessment.id, wanted.extra);
    await note(trx, {
      actor: instructor,
      kind: 'set an assessment',
      about: `${wanted.title} (${plural(plan.tasks.length, 'task')}) to ${group.name}`,
      classId: group.id,
      detail: wanted,
    });
    return assessment.id;
  });
}

/** Gives everybody of the class a sitting who has none yet. */
export async function seat(
  trx: Knex,
  assessmentId: string,
  extra: AssessmentRequest['extra'] = [],
): Promise<void> {
  await trx.raw(
    `insert into assessment_sittings (assessment_id, student_id)
      select s.id, m.student_id from assessments s join class_members m on m.class_id = s.class_id
        where s.id = ? on conflict do nothing`,
    [assessmentId],
  );
  for (const { studentId, minutes } of extra) {
    const seated = await trx('assessment_sittings')
      .where({ assessment_id: assessmentId, student_id: studentId })
      .update({ extra_minutes: minutes });
    if (seated === 0) throw invalidAt('extra', 'names somebody who is not in the class');
  }
}

function refuseMisfits({ opensAt, closesAt, tasks, minutes, pass }: AssessmentRequest): void {
  if (opensAt !== null && closesAt !== null && new Date(closesAt) <= new Date(opensAt))
    throw invalidAt('closesAt', 'must be after the opening');
  tasks.forEach((task, k) => {
    if (task.minutes !== null && task.minutes > minutes)
      throw invalidAt(`tasks[${k}].minutes`, `is more than the ${minutes} minutes of the whole`);
  });
  if (pass.sum === null && !pass.each && !tasks.some(({ mustPass }) => mustPass))
    throw invalidAt('pass', 'says nothing that must be reached: everybody would pass');
}

async function exercisesOf(
  database: Knex,
  tasks: readonly AssessmentTaskRequest[],
): Promise<Map<string, ExerciseModel>> {
  const ids = tasks.flatMap((task) => (task.kind === 'exercise' ? [task.exerciseId] : []));
  const found = await ExerciseModel.query(database).whereIn('id', ids);
  const byId = new Map(found.map((one) => [one.id, one]));
  tasks.forEach((task, k) => {
    if (task.kind !== 'exercise') return;
    const exercise = byId.get(task.exerciseId);
    if (!exercise) throw invalidAt(`tasks[${k}].exerciseId`, 'names no exercise');
    if (exercise.retiredAt) throw new Refusal('conflict', `“${exercise.document.title}” is off the list.`);
    if (ids.indexOf(task.exerciseId) !== ids.lastIndexOf(task.exerciseId))
      throw invalidAt(`tasks[${k}].exerciseId`, 'is set twice');
  });
  return byId;
}

function setTask(
  task: AssessmentTaskRequest,
  k: number,
  exercises: ReadonlyMap<string, ExerciseModel>,
): SetTask {
  const id = `task-${k + 1}`;
  const { weight, minutes, mustPass } = task;
  if (task.kind === 'observed')
    return {
      kind: 'observed',
      id,
      title: task.title,
      weight,
      minutes,
      mustPass,
      criteria: task.criteria.map((one, c) => ({ id: `criterion-${c + 1}`, ...one })),
    };
  const exercise = exercises.get(task.exerciseId);
  if (!exercise) throw notFound('exercise');
  const { document, version } = exercise;
  if (task.physical) refuseOnBench(document, task, `tasks[${k}]`);
  return {
    kind: 'exercise',
    id,
    title: document.title,
    weight,
    minutes,
    mustPass,
    exerciseId: task.exerciseId,
    version,
    task: document.task ?? 'wire',
    variants: task.variants && !task.physical,
    physical: task.physical,
  };
}

/** A bench sheet is of one board, which is wired. */
function refuseOnBench(
  exercise: Exercise,
  { minutes }: Pick<AssessmentTaskRequest, 'minutes'>,
  path: string,
): void {
  if (isSearch(exercise) || isAsked(exercise))
    throw invalidAt(`${path}.physical`, 'is for exercises that are wired');
  if (minutes !== null)
    throw invalidAt(`${path}.minutes`, 'is kept by the examiner at the bench, not by the server');
}

/** Withdraws an assessment that nobody has begun, or sets it again. */
export async function withdraw(
  database: Knex,
  id: string,
  withdrawn: boolean,
  instructor: Person,
): Promise<void> {
  const assessment = await requireOwnAssessment(database, id, instructor);
  if (withdrawn && assessment.sittings.some(({ startedAt }) => startedAt !== null))
    throw new Refusal('conflict', 'Somebody has begun: void their sittings instead, with a reason.');
  await database.transaction(async (trx) => {
    const at = withdrawn ? new Date() : null;
    await AssessmentModel.query(trx).findById(id).patch({ withdrawnAt: at });
    await AssignmentModel.query(trx).where({ assessmentId: id }).patch({ withdrawnAt: at });
    await note(trx, {
      actor: instructor,
      kind: 'withdrew an assessment',
      about: assessment.title,
      classId: assessment.classId,
      detail: { withdrawn },
    });
  });
}
