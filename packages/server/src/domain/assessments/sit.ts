import type { Knex } from 'knex';
import type {
  AppealRequest,
  Person,
  SetTask,
  SittingPulse,
  SittingTask,
  SittingView,
} from '@contactum/contract';
import { AssessmentModel, AttemptModel, AssignmentModel, SittingModel } from '../../database/models.js';
import { Refusal, notFound } from '../../runtime/refusal.js';
import { openAttempt, type VariantIn } from '../attempts/attempts.js';
import type { HandIn } from '../attempts/desk.js';
import { note } from '../people/audit.js';
import { appealsOf } from './appeals.js';
import { event } from './events.js';
import { outcomesOf } from './outcomes.js';
import { placeOf, requirePlace } from './place.js';
import { isOver, isSitting, seat } from './set.js';

/** An assessment as its student sits it: everything of it is told by the server, and nothing before its time. */

/** A window that was not seen for so long was away. */
const AWAY_SECONDS = 20;

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;

interface Own {
  readonly assessment: AssessmentModel;
  readonly sitting: SittingModel;
}

const classesOf = (database: Knex, { id }: Person): Knex.QueryBuilder =>
  database('class_members').where('student_id', id).select('class_id');

async function requireOwnSitting(database: Knex, id: string, student: Person): Promise<Own> {
  const assessment = await AssessmentModel.query(database)
    .findById(id)
    .whereNull('withdrawnAt')
    .whereIn('classId', classesOf(database, student))
    .withGraphFetched('class');
  if (!assessment) throw notFound('assessment');
  const find = () => SittingModel.query(database).findById([id, student.id]);
  let sitting = await find();
  if (!sitting) {
    // Who has joined the class since it was set sits it too.
    await seat(database, id);
    sitting = await find();
  }
  if (!sitting) throw notFound('assessment');
  return { assessment, sitting };
}

/** Assessments of a student's classes, the newest first. */
export async function sittingsOf(database: Knex, student: Person): Promise<SittingView[]> {
  const rows = await AssessmentModel.query(database)
    .whereNull('withdrawnAt')
    .whereIn('classId', classesOf(database, student))
    .orderBy('setAt', 'desc')
    .select('id');
  const views: SittingView[] = [];
  for (const { id } of rows) views.push(await sittingView(database, id, student));
  return views;
}

export async function sittingView(database: Knex, id: string, student: Person): Promise<SittingView> {
  const { assessment, sitting } = await requireOwnSitting(database, id, student);
  const { plan } = assessment;
  const hasBegun = sitting.startedAt !== null;
  const outcome = assessment.releasedAt
    ? ((await outcomesOf(database, assessment, [student.id])).get(student.id)?.outcome ?? null)
    : null;
  return {
    id,
    title: assessment.title,
    className: assessment.class?.name ?? '',
    minutes: plan.minutes,
    extraMinutes: sitting.extraMinutes,
    order: plan.order,
    start: plan.start,
    aids: plan.aids,
    needsCode: assessment.code !== null,
    opensAt: iso(assessment.opensAt),
    closesAt: iso(assessment.closesAt),
    now: new Date().toISOString(),
    startedAt: iso(sitting.startedAt),
    endsAt: iso(sitting.endsAt),
    pausedAt: iso(sitting.pausedAt),
    handedInAt: iso(endedAt(sitting)),
    voided: sitting.voidedAt ? sitting.voidReason : null,
    taskCount: plan.tasks.length,
    tasks: hasBegun ? await tasksOf(database, assessment, sitting) : [],
    outcome,
    appeals: await appealsOf(database, id, student.id),
  };
}

/** When a sitting was over; null where it is not. */
function endedAt(sitting: SittingModel): Date | null {
  if (sitting.handedInAt) return sitting.handedInAt;
  return isOver(sitting, new Date()) ? sitting.endsAt : null;
}

async function tasksOf(
  database: Knex,
  { id, plan }: AssessmentModel,
  sitting: SittingModel,
): Promise<SittingTask[]> {
  const attempts = await ownAttempts(database, id, sitting.studentId);
  const begun = await database('assessment_begun')
    .where({ assessment_id: id, student_id: sitting.studentId })
    .select<{ task: string; endsAt: Date | null }[]>('task', 'ends_at');
  const briefs = await briefsOf(database, id, plan.tasks);
  const weights = plan.tasks.reduce((sum, { weight }) => sum + weight, 0);
  let waits = false;
  return plan.tasks.map((task): SittingTask => {
    const attempt = attempts.get(task.id);
    const state = taskState(task, attempt, waits);
    // In a fixed order a task waits for the one before it.
    if (plan.order === 'fixed' && (state === 'to do' || state === 'under way')) waits = true;
    return {
      id: task.id,
      title: task.title,
      kind: task.kind,
      physical: task.physical ?? false,
      brief: briefs.get(task.id) ?? null,
      task: task.task ?? null,
      minutes: task.minutes,
      endsAt: iso(begun.find((one) => one.task === task.id)?.endsAt ?? null),
      weight: Math.round((1000 * task.weight) / weights) / 10,
      state,
      attemptId: attempt?.id ?? null,
      criteria: task.kind === 'observed' ? task.criteria.map(({ id: c, title }) => ({ id: c, title })) : [],
    };
  });
}

/** What tasks on the physical board ask, by task. */
async function briefsOf(
  database: Knex,
  assessmentId: string,
  tasks: readonly SetTask[],
): Promise<Map<string, string>> {
  const names = tasks.filter(({ physical }) => physical).map(({ id }) => id);
  if (names.length === 0) return new Map();
  const rows = await database('assignments')
    .where({ assessment_id: assessmentId })
    .whereIn('task', names)
    .select<{ task: string; brief: string }[]>('task', database.raw("document->>'brief' as brief"));
  return new Map(rows.map(({ task, brief }) => [task, brief]));
}

function taskState(
  { kind, physical }: SetTask,
  attempt: AttemptModel | undefined,
  waits: boolean,
): SittingTask['state'] {
  if (kind === 'observed') return 'watched';
  if (attempt) return attempt.state === 'open' ? 'under way' : 'handed in';
  // At the board itself; its sheet is the attempt.
  if (physical) return 'at the bench';
  return waits ? 'locked' : 'to do';
}

/** A student's attempts in an assessment, by task. */
async function ownAttempts(
  database: Knex,
  assessmentId: string,
  studentId: string,
): Promise<Map<string, AttemptModel>> {
  const rows = (await AttemptModel.query(database)
    .join('assignments as s', 's.id', 'attempts.assignmentId')
    .where('s.assessmentId', assessmentId)
    .where({ studentId })
    // A bench sheet that was entered again stands in place of the one before.
    .orderBy('attempts.number')
    .select('attempts.*', 's.task as task')) as (AttemptModel & { task: string })[];
  return new Map(rows.map((row) => [row.task, row]));
}

/** Begins a sitting by oneself, where the assessment lets everybody begin when they are ready. */
export async function startOwn(
  database: Knex,
  id: string,
  { code, address }: { readonly code: string; readonly address: string },
  student: Person,
): Promise<SittingView> {
  const { assessment, sitting } = await requireOwnSitting(database, id, student);
  const now = new Date();
  requirePlace(placeOf(assessment.plan.addresses), address);
  if (sitting.voidedAt) throw new Refusal('conflict', `This sitting is void: ${sitting.voidReason}.`);
  if (assessment.code !== null && code !== assessment.code)
    throw new Refusal('forbidden', 'That is not the room code.', {
      problems: [{ path: 'code', message: 'is not the room code' }],
    });
  if (sitting.startedAt === null) {
    if (assessment.plan.start === 'together')
      throw new Refusal('conflict', 'The invigilator starts everybody at once. Wait here.');
    if (assessment.opensAt && assessment.opensAt > now)
      throw new Refusal('conflict', 'The assessment has not opened yet.');
    if (assessment.closesAt && assessment.closesAt <= now)
      throw new Refusal('conflict', 'The assessment has closed.');
    await database.transaction(async (trx) => {
      if (await begin(trx, assessment, [student.id]))
        await event(trx, id, { studentId: student.id, kind: 'started', actor: 'the student' });
    });
  }
  return sittingView(database, id, student);
}

/** Starts the clock of some students who have not begun; how many they were. */
export async function begin(
  trx: Knex,
  { id, plan }: AssessmentModel,
  students: readonly string[],
): Promise<number> {
  const { rowCount } = await trx.raw<{ rowCount: number }>(
    `update assessment_sittings set started_at = now(), ends_at = now() + make_interval(mins => ? + extra_minutes)
      where assessment_id = ? and student_id = any(?) and started_at is null and voided_at is null`,
    [plan.minutes, id, [...students]],
  );
  return rowCount;
}

/** Begins a task, or goes on with it. */
export async function openTask(
  database: Knex,
  {
    id,
    task: name,
    student,
    address,
    variantIn,
  }: {
    readonly id: string;
    readonly task: string;
    readonly student: Person;
    readonly address: string;
    readonly variantIn: VariantIn;
  },
): Promise<{ readonly attemptId: string }> {
  const { assessment, sitting } = await requireOwnSitting(database, id, student);
  const tasks = sitting.startedAt ? await tasksOf(database, assessment, sitting) : [];
  const task = tasks.find((one) => one.id === name);
  if (!task || task.kind !== 'exercise') throw notFound('task');
  requirePlace(placeOf(assessment.plan.addresses), address);
  if (task.physical) throw new Refusal('conflict', 'This task is wired on the physical board.');
  if (task.attemptId !== null) return { attemptId: task.attemptId };
  if (!isSitting(sitting, new Date())) throw new Refusal('conflict', 'The time of this assessment is over.');
  if (sitting.pausedAt) throw new Refusal('conflict', 'The assessment is paused.');
  if (task.state === 'locked')
    throw new Refusal('conflict', 'Hand in the task before this one first: the order is fixed.');
  const assignment = await AssignmentModel.query(database).findOne({ assessmentId: id, task: name });
  if (!assignment) throw notFound('task');
  const { minutes } = task;
  await database.raw(
    `insert into assessment_begun (assessment_id, student_id, task, ends_at)
      values (?, ?, ?, ${minutes === null ? 'null' : 'now() + make_interval(mins => ?)'}) on conflict do nothing`,
    [id, student.id, name, ...(minutes === null ? [] : [minutes + extraOf(assessment, sitting, minutes)])],
  );
  const { attempt } = await openAttempt(database, assignment.id, student, variantIn);
  return { attemptId: attempt.id };
}

/** A person's extra minutes for a task, in the proportion in which they have more for the whole. */
const extraOf = ({ plan }: AssessmentModel, { extraMinutes }: SittingModel, minutes: number): number =>
  Math.ceil((extraMinutes * minutes) / plan.minutes);

/** A window tells that it is there, and is told how the clock stands. */
export async function pulse(
  database: Knex,
  {
    id,
    window,
    takes,
    student,
    address,
  }: {
    readonly id: string;
    readonly window: string;
    /** It was opened just now: from here on it is the one that works. */
    readonly takes: boolean;
    readonly student: Person;
    readonly address: string;
  },
): Promise<SittingPulse> {
  // Every window asks every few seconds: one query, and nothing of the plan.
  const sitting = await database('assessment_sittings as t')
    .join('assessments as x', 'x.id', 't.assessment_id')
    .whereNull('x.withdrawn_at')
    .whereIn('x.class_id', classesOf(database, student))
    .where({ 't.assessment_id': id, 't.student_id': student.id })
    .first<(SittingModel & { addresses: string[] | null }) | undefined>(
      't.*',
      database.raw("x.plan->'addresses' as addresses"),
    );
  if (!sitting) throw notFound('assessment');
  const now = new Date();
  const isOther = !takes && sitting.window !== null && sitting.window !== window;
  const isElsewhere = !placeOf(sitting.addresses ?? [])(address);
  if (isElsewhere) await noteElsewhere(database, sitting, address);
  else if (!isOther && isSitting(sitting, now)) await noteSeen(database, sitting, { window, address, now });
  return {
    now: now.toISOString(),
    endsAt: iso(sitting.endsAt),
    pausedAt: iso(sitting.pausedAt),
    ended: isOver(sitting, now),
    isOther,
    isElsewhere,
  };
}

/** Somebody is at a machine on which this is not sat: told to the invigilator once for each. */
async function noteElsewhere(
  database: Knex,
  { assessmentId, studentId }: SittingModel,
  address: string,
): Promise<void> {
  const kind = 'address not allowed';
  const told = await database('assessment_events')
    .where({ assessment_id: assessmentId, student_id: studentId, kind, text: address })
    .first<{ id: string } | undefined>('id');
  if (!told) await event(database, assessmentId, { studentId, kind, text: address, actor: 'the server' });
}

async function noteSeen(
  database: Knex,
  sitting: SittingModel,
  { window, address, now }: { readonly window: string; readonly address: string; readonly now: Date },
): Promise<void> {
  const { assessmentId, studentId, seenAt } = sitting;
  const gap = seenAt ? Math.round((now.getTime() - seenAt.getTime()) / 1000) : 0;
  const wasAway = gap > AWAY_SECONDS && !sitting.pausedAt;
  await SittingModel.query(database)
    .findById([assessmentId, studentId])
    .patch({
      window,
      seenAt: now,
      address,
      ...(wasAway ? { awaySeconds: sitting.awaySeconds + gap } : {}),
    });
  const moved = sitting.address !== '' && sitting.address !== address;
  if (wasAway || moved)
    await event(database, assessmentId, {
      studentId,
      kind: wasAway ? 'was away' : 'another address',
      text: [wasAway ? `${gap} s` : '', moved ? `${sitting.address} → ${address}` : '']
        .filter(Boolean)
        .join(', '),
      actor: 'the server',
    });
}

/** Ends one's own sitting: everything that was begun is handed in as it stands. */
export async function handInSitting(
  database: Knex,
  handIn: HandIn,
  id: string,
  student: Person,
): Promise<SittingView> {
  const { sitting } = await requireOwnSitting(database, id, student);
  if (!isSitting(sitting, new Date())) return sittingView(database, id, student);
  if (sitting.pausedAt) throw new Refusal('conflict', 'The assessment is paused.');
  await endSitting(database, handIn, id, student.id);
  await event(database, id, { studentId: student.id, kind: 'handed in', actor: 'the student' });
  return sittingView(database, id, student);
}

/** Hands in what somebody has begun, and ends their time. */
export async function endSitting(
  database: Knex,
  handIn: HandIn,
  id: string,
  studentId: string,
): Promise<void> {
  for (const attempt of (await ownAttempts(database, id, studentId)).values())
    if (attempt.state === 'open') await handIn(attempt.id, studentId);
  await SittingModel.query(database)
    .findById([id, studentId])
    .whereNull('handedInAt')
    .patch({ handedInAt: new Date() });
}

/** Asks that a criterion be looked at again, once the marks are out. */
export async function appeal(
  database: Knex,
  id: string,
  { task, criterion, text }: AppealRequest,
  student: Person,
): Promise<SittingView> {
  const { assessment } = await requireOwnSitting(database, id, student);
  if (!assessment.releasedAt) throw new Refusal('conflict', 'The marks are not released yet.');
  if (!assessment.plan.tasks.some((one) => one.id === task)) throw notFound('task');
  const open = (await appealsOf(database, id, student.id)).some(
    (one) => one.task === task && one.criterion === criterion && one.answer === null,
  );
  if (open) throw new Refusal('conflict', 'You have asked this already; it is not answered yet.');
  await database.transaction(async (trx) => {
    await trx('assessment_appeals').insert({
      assessment_id: id,
      student_id: student.id,
      task,
      criterion,
      text,
    });
    await note(trx, {
      actor: student,
      kind: 'appealed',
      about: `${assessment.title}: ${criterion}`,
      classId: assessment.classId,
    });
  });
  return sittingView(database, id, student);
}
