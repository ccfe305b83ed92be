import type { Knex } from 'knex';
import { moderationSample, without, type Sampled } from '@contactum/core';
import type {
  AgreedRequest,
  AppealAnswer,
  AssessmentForInstructor,
  AssessmentState,
  JudgedCriterion,
  LevelRequest,
  Person,
  ReviewRequest,
  SittingRow,
} from '@contactum/contract';
import { AssessmentModel, AssignmentModel, type SittingModel } from '../../database/models.js';
import { Refusal, invalidAt, notFound } from '../../runtime/refusal.js';
import { note } from '../people/audit.js';
import { classesOf } from '../people/permissions.js';
import { eventsOf } from './events.js';
import {
  NO_WORK,
  agreedAt,
  judgedAt,
  judgementsOf,
  outcomesOf,
  standing,
  type Judgements,
  type WorkAndOutcome,
} from './outcomes.js';
import { hasSat, requireOwnAssessment, summaryOfAssessment } from './set.js';
import { appealsOf } from './appeals.js';

/** Examiners' marks: levels, a second marker, moderation, sign-off, release and appeals. */

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;

type Whole = AssessmentModel & { readonly sittings: SittingModel[] };

/** An assessment with everybody's sitting, as one instructor of its class may see it. */
export async function assessmentView(
  database: Knex,
  id: string,
  instructor: Person,
): Promise<AssessmentForInstructor> {
  const assessment = await requireOwnAssessment(database, id, instructor);
  const { sittings, plan } = assessment;
  const judgements = await judgementsOf(database, id);
  const outcomes = await outcomesOf(
    database,
    assessment,
    sittings.map(({ studentId }) => studentId),
    judgements,
  );
  const reviews = await reviewsOf(database, id);
  const now = new Date();
  const summary = without(summaryOfAssessment(assessment, sittings, now), 'tasks', 'minutes');
  const sample = sampleOf(assessment, outcomes, judgements);
  return {
    ...summary,
    ...plan,
    code: assessment.code,
    signedOff: assessment.signedOffAt
      ? { at: assessment.signedOffAt.toISOString(), by: assessment.signer?.name ?? '' }
      : null,
    releasedAt: iso(assessment.releasedAt),
    now: now.toISOString(),
    sittings: sittings.map((sitting) =>
      rowOf(assessment, sitting, {
        ...(outcomes.get(sitting.studentId) ?? NO_WORK),
        judgements,
        instructor,
        review: reviews.get(sitting.studentId) ?? null,
      }),
    ),
    sheets: await sheetsOf(database, assessment),
    events: await eventsOf(database, id),
    appeals: await appealsOf(database, id),
    sample,
    missing: missingOf(assessment, { outcomes, sample, reviews, state: summary.state }),
  };
}

/** Settings of an assessment's tasks on a physical board. */
async function sheetsOf(
  database: Knex,
  { id, plan }: AssessmentModel,
): Promise<AssessmentForInstructor['sheets']> {
  const tasks = plan.tasks.filter(({ physical }) => physical).map((task) => task.id);
  if (tasks.length === 0) return [];
  return database('assignments')
    .where({ assessment_id: id })
    .whereIn('task', tasks)
    .select<AssessmentForInstructor['sheets']>('task', 'id as setting_id');
}

type Review = NonNullable<SittingRow['review']>;

async function reviewsOf(database: Knex, id: string): Promise<Map<string, Review>> {
  const rows = await database('assessment_reviews')
    .where({ assessment_id: id })
    .select<(Review & { studentId: string })[]>('student_id', 'verdict', 'note', 'by');
  return new Map(rows.map(({ studentId, ...review }) => [studentId, review]));
}

function rowOf(
  { plan }: AssessmentModel,
  sitting: SittingModel,
  more: WorkAndOutcome & {
    readonly judgements: Judgements;
    readonly instructor: Person;
    readonly review: Review | null;
  },
): SittingRow {
  const { studentId, student } = sitting;
  return {
    student: { id: studentId, name: student?.name ?? '', login: student?.login ?? '' },
    extraMinutes: sitting.extraMinutes,
    startedAt: iso(sitting.startedAt),
    endsAt: iso(sitting.endsAt),
    pausedAt: iso(sitting.pausedAt),
    handedInAt: iso(sitting.handedInAt),
    voided: sitting.voidedAt ? { at: sitting.voidedAt.toISOString(), reason: sitting.voidReason } : null,
    seenAt: iso(sitting.seenAt),
    awaySeconds: sitting.awaySeconds,
    address: sitting.address,
    attempts: more.attempts,
    judged: plan.tasks.flatMap((task) =>
      task.kind === 'observed'
        ? task.criteria.map(({ id }) =>
            judgedBy(more.judgements, { studentId, task: task.id, criterion: id }, more.instructor),
          )
        : [],
    ),
    outcome: more.outcome,
    review: more.review,
  };
}

/** What one examiner sees of a criterion: of others only that they judged it, before judging it too. */
function judgedBy(
  judgements: Judgements,
  where: { readonly studentId: string; readonly task: string; readonly criterion: string },
  { id }: Person,
): JudgedCriterion {
  const all = judgedAt(judgements.levels, where);
  const mine = all.find(({ examinerId }) => examinerId === id);
  const others = all.filter((one) => one !== mine);
  const agreed = agreedAt(judgements, where);
  return {
    task: where.task,
    criterion: where.criterion,
    mine: mine?.level ?? null,
    note: mine?.note ?? '',
    others: others.length,
    theirs: mine
      ? others.map(({ examiner, level, note: text }) => ({ by: examiner, level, note: text }))
      : [],
    agreed: agreed ? { level: agreed.level, by: agreed.by, reason: agreed.reason } : null,
    stands: standing(judgements, where),
  };
}

/** The sample hangs on the assessment alone: it is the same for everybody who looks, whenever they look. */
const seedOf = (id: string): number => Number.parseInt(id.slice(0, 8), 16);

function sampleOf(
  { id, plan, sittings }: Whole,
  outcomes: ReadonlyMap<string, WorkAndOutcome>,
  { levels }: Judgements,
): Sampled[] {
  return moderationSample(
    sittings.filter(hasSat).map(({ studentId }) => {
      const { percent, passed } = (outcomes.get(studentId) ?? NO_WORK).outcome;
      const own = levels.filter((one) => one.studentId === studentId);
      const differs = own.some((one) => judgedAt(own, one).some(({ level }) => level !== one.level));
      return { id: studentId, percent, passed, differs };
    }),
    { passMark: plan.pass.sum, seed: seedOf(id) },
  );
}

/** Why an assessment cannot be signed off yet. */
function missingOf(
  { sittings }: Whole,
  {
    outcomes,
    sample,
    reviews,
    state,
  }: {
    readonly outcomes: ReadonlyMap<string, WorkAndOutcome>;
    readonly sample: readonly Sampled[];
    readonly reviews: ReadonlyMap<string, Review>;
    readonly state: AssessmentState;
  },
): string[] {
  const sat = sittings.filter(hasSat);
  const of = (list: readonly SittingModel[]): string =>
    list.map(({ student }) => student?.name ?? '').join(', ');
  const open = sat.filter(({ studentId }) => !outcomes.get(studentId)?.outcome.complete);
  const unseen = sample.filter(({ id }) => !reviews.has(id));
  const toChange = sat.filter(({ studentId }) => reviews.get(studentId)?.verdict === 'to be changed');
  return [
    ...(sat.length === 0 ? ['nobody has sat it'] : []),
    ...(state === 'running' || state === 'paused' ? ['somebody is still sitting'] : []),
    ...(open.length > 0 ? [`not fully marked, or examiners differ: ${of(open)}`] : []),
    ...(unseen.length > 0
      ? [`not moderated yet: ${of(sat.filter(({ studentId }) => unseen.some(({ id }) => id === studentId)))}`]
      : []),
    ...(toChange.length > 0 ? [`the moderator wants a change: ${of(toChange)}`] : []),
  ];
}

/** The criterion of an observed task that a judgement names, of somebody who sits it. */
function requireCriterion(
  { plan, sittings }: Whole,
  { student, task, criterion, level }: Pick<LevelRequest, 'student' | 'task' | 'criterion' | 'level'>,
): string {
  const found = plan.tasks.find(({ id }) => id === task);
  const one = found?.kind === 'observed' ? found.criteria.find(({ id }) => id === criterion) : undefined;
  if (!one || !sittings.some(({ studentId }) => studentId === student)) throw notFound('criterion');
  if (level >= one.levels.length) throw invalidAt('level', `must be below ${one.levels.length}`);
  return one.title;
}

const refuseSigned = ({ releasedAt, signedOffAt }: AssessmentModel): void => {
  if (releasedAt) throw new Refusal('conflict', 'The marks are released: they change by an appeal only.');
  if (signedOffAt) throw new Refusal('conflict', 'This assessment is signed off.');
};

/** An examiner names the level of a criterion; of a second one nobody tells the first before both have. */
export async function judge(
  database: Knex,
  id: string,
  wanted: LevelRequest,
  instructor: Person,
): Promise<void> {
  const assessment = await requireOwnAssessment(database, id, instructor);
  refuseSigned(assessment);
  const title = requireCriterion(assessment, wanted);
  const { student, task, criterion, level, note: text } = wanted;
  await database.transaction(async (trx) => {
    await trx('assessment_levels')
      .insert({
        assessment_id: id,
        student_id: student,
        task,
        criterion,
        level,
        note: text,
        examiner_id: instructor.id,
      })
      .onConflict(['assessment_id', 'student_id', 'task', 'criterion', 'examiner_id'])
      .merge({ level, note: text, at: new Date() });
    await note(trx, {
      actor: instructor,
      kind: 'judged a criterion',
      about: `${assessment.title}: ${title}`,
      classId: assessment.classId,
      subjectId: student,
      detail: { level, note: text },
    });
  });
}

/** The level that stands where examiners differed; with the reason. */
export async function agree(
  database: Knex,
  id: string,
  wanted: AgreedRequest,
  instructor: Person,
): Promise<void> {
  const assessment = await requireOwnAssessment(database, id, instructor);
  refuseSigned(assessment);
  await putAgreed(database, assessment, wanted, instructor);
}

async function putAgreed(
  database: Knex,
  assessment: Whole,
  wanted: AgreedRequest,
  instructor: Person,
): Promise<void> {
  const title = requireCriterion(assessment, wanted);
  const { student, task, criterion, level, reason } = wanted;
  await database.transaction(async (trx) => {
    await trx('assessment_agreed')
      .insert({
        assessment_id: assessment.id,
        student_id: student,
        task,
        criterion,
        level,
        reason,
        by: instructor.name,
      })
      .onConflict(['assessment_id', 'student_id', 'task', 'criterion'])
      .merge({ level, reason, by: instructor.name, at: new Date() });
    await note(trx, {
      actor: instructor,
      kind: 'agreed on a criterion',
      about: `${assessment.title}: ${title}`,
      classId: assessment.classId,
      subjectId: student,
      detail: { level, reason },
    });
  });
}

/** A moderator has looked at somebody's work and marks. */
export async function review(
  database: Knex,
  id: string,
  { student, verdict, note: text }: ReviewRequest,
  instructor: Person,
): Promise<void> {
  const assessment = await requireOwnAssessment(database, id, instructor);
  refuseSigned(assessment);
  const sitting = assessment.sittings.find(({ studentId }) => studentId === student);
  if (!sitting) throw notFound('student');
  if (verdict === 'to be changed' && text === '') throw invalidAt('note', 'must say what is to be changed');
  await database.transaction(async (trx) => {
    await trx('assessment_reviews')
      .insert({ assessment_id: id, student_id: student, verdict, note: text, by: instructor.name })
      .onConflict(['assessment_id', 'student_id'])
      .merge({ verdict, note: text, by: instructor.name, at: new Date() });
    await note(trx, {
      actor: instructor,
      kind: 'moderated',
      about: `${assessment.title}: ${sitting.student?.name ?? ''}`,
      classId: assessment.classId,
      subjectId: student,
      detail: { verdict, note: text },
    });
  });
}

/** Closes the marking: from here on marks change by an appeal only. */
export async function signOff(database: Knex, id: string, instructor: Person): Promise<void> {
  const { missing, title, classId } = await assessmentView(database, id, instructor);
  if (missing.length > 0) throw new Refusal('conflict', `Not ready to be signed off: ${missing.join('; ')}.`);
  await database.transaction(async (trx) => {
    const signed = await AssessmentModel.query(trx)
      .findById(id)
      .whereNull('signedOffAt')
      .patch({ signedOffAt: new Date(), signedOffBy: instructor.id });
    if (signed === 0) throw new Refusal('conflict', 'This assessment is signed off already.');
    await note(trx, { actor: instructor, kind: 'signed off an assessment', about: title, classId });
  });
}

/** Shows everybody their marks at one moment. */
export async function release(database: Knex, id: string, instructor: Person): Promise<void> {
  const assessment = await requireOwnAssessment(database, id, instructor);
  if (!assessment.signedOffAt) throw new Refusal('conflict', 'It must be signed off first.');
  if (assessment.releasedAt) return;
  const at = new Date();
  await database.transaction(async (trx) => {
    await AssessmentModel.query(trx).findById(id).whereNull('releasedAt').patch({ releasedAt: at });
    // What is set is closed from here on: its slips are no longer held back.
    await AssignmentModel.query(trx).where({ assessmentId: id }).patch({ closesAt: at });
    await note(trx, {
      actor: instructor,
      kind: 'released an assessment',
      about: assessment.title,
      classId: assessment.classId,
    });
  });
}

/**
 * Answers an appeal. Where it is upheld the points are changed on the slip, or the level here, by whoever
 * answers; both are in the record.
 */
export async function answerAppeal(
  database: Knex,
  appealId: string,
  { upheld, answer }: AppealAnswer,
  instructor: Person,
): Promise<string> {
  const row = await database('assessment_appeals as a')
    .join('assessments as s', 's.id', 'a.assessment_id')
    .where('a.id', appealId)
    .whereIn('s.class_id', classesOf(database, instructor))
    .first<
      | {
          assessmentId: string;
          studentId: string;
          criterion: string;
          answer: string | null;
          title: string;
          classId: string;
        }
      | undefined
    >('a.assessment_id', 'a.student_id', 'a.criterion', 'a.answer', 's.title', 's.class_id');
  if (!row) throw notFound('appeal');
  if (row.answer !== null) throw new Refusal('conflict', 'This appeal is answered already.');
  await database.transaction(async (trx) => {
    await trx('assessment_appeals')
      .where({ id: appealId })
      .update({ upheld, answer, answered_by: instructor.name, answered_at: new Date() });
    await note(trx, {
      actor: instructor,
      kind: 'answered an appeal',
      about: `${row.title}: ${row.criterion}`,
      classId: row.classId,
      subjectId: row.studentId,
      detail: { upheld, answer },
    });
  });
  return row.assessmentId;
}

/** Another level after an appeal that was upheld. */
export async function correct(
  database: Knex,
  id: string,
  wanted: AgreedRequest,
  instructor: Person,
): Promise<void> {
  const assessment = await requireOwnAssessment(database, id, instructor);
  const upheld = (await appealsOf(database, id, wanted.student)).some(
    (one) => one.task === wanted.task && one.upheld === true,
  );
  if (!upheld)
    throw new Refusal('conflict', 'A level changes after release only by an appeal that was upheld.');
  await putAgreed(database, assessment, wanted, instructor);
}
