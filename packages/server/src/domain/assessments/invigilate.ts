import type { Knex } from 'knex';
import { plural } from '@contactum/core';
import type { Invigilation, Person } from '@contactum/contract';
import type { AssessmentModel, SittingModel } from '../../database/models.js';
import { Refusal, notFound } from '../../runtime/refusal.js';
import type { HandIn } from '../attempts/desk.js';
import { note } from '../people/audit.js';
import { event } from './events.js';
import { endSitting, begin } from './sit.js';
import { isSitting, requireOwnAssessment, seat } from './set.js';

/** What an invigilator does in the room: each is written down with who did it and why. */

type Acted = AssessmentModel & { readonly sittings: SittingModel[] };

export async function invigilate(
  database: Knex,
  handIn: HandIn,
  id: string,
  act: Invigilation,
  instructor: Person,
): Promise<void> {
  if (act.do === 'start') await seat(database, id);
  const assessment = await requireOwnAssessment(database, id, instructor);
  if (assessment.withdrawnAt) throw new Refusal('conflict', 'This assessment is withdrawn.');
  if (assessment.signedOffAt) throw new Refusal('conflict', 'This assessment is signed off.');
  if (act.do === 'void') {
    await voidSitting(database, handIn, assessment, act, instructor);
    return;
  }
  await database.transaction(async (trx) => {
    // Two invigilators at once do not stop the clock twice.
    await trx('assessments').where({ id }).forUpdate().first('id');
    const told = await done(trx, assessment, act, instructor);
    if (told === null) return;
    await note(trx, {
      actor: instructor,
      kind: 'invigilated',
      about: `${assessment.title}: ${told}`,
      classId: assessment.classId,
      detail: act,
    });
  });
}

/** Whom an act concerns: those who are named, or everybody; names of others are refused. */
function concerned({ sittings }: Acted, named: readonly string[] | undefined): string[] {
  const all = sittings.map(({ studentId }) => studentId);
  if (named === undefined) return all;
  if (named.some((one) => !all.includes(one))) throw notFound('student');
  return [...named];
}

/** Does an act in a transaction; what it was in words, or null where nothing came of it. */
async function done(
  trx: Knex,
  assessment: Acted,
  act: Exclude<Invigilation, { do: 'void' }>,
  { name: actor }: Person,
): Promise<string | null> {
  const { id } = assessment;
  if (act.do === 'note') {
    if (act.student !== null) concerned(assessment, [act.student]);
    await event(trx, id, { studentId: act.student, kind: 'note', text: act.text, actor });
    return 'a note';
  }
  const students = concerned(assessment, act.students);
  const tell = async (kind: string, text: string, many: number): Promise<string> => {
    if (act.students === undefined) await event(trx, id, { kind: `${kind} for all`, text, actor });
    else for (const studentId of students) await event(trx, id, { studentId, kind, text, actor });
    return `${kind}, ${plural(many, 'student')}`;
  };
  if (act.do === 'start') {
    const count = await begin(trx, assessment, students);
    return count === 0 ? null : tell('started', '', count);
  }
  const whose = [id, [...students]];
  if (act.do === 'pause') {
    const { rowCount } = await trx.raw<{ rowCount: number }>(
      `update assessment_sittings set paused_at = now() where assessment_id = ? and student_id = any(?)
        and started_at is not null and ends_at > now() and paused_at is null
        and handed_in_at is null and voided_at is null`,
      whose,
    );
    return rowCount === 0 ? null : tell('paused', act.why, rowCount);
  }
  if (act.do === 'resume') {
    // What a task has for itself is longer by the pause as well; in one statement, so that both count it alike.
    const { rowCount } = await trx.raw<{ rowCount: number }>(
      `with on_again as (select student_id, now() - paused_at as stood from assessment_sittings
          where assessment_id = ? and student_id = any(?) and paused_at is not null),
        tasks as (update assessment_begun b set ends_at = b.ends_at + g.stood from on_again g
          where b.assessment_id = ? and b.student_id = g.student_id)
        update assessment_sittings t set paused_at = null, ends_at = t.ends_at + g.stood, seen_at = now()
          from on_again g where t.assessment_id = ? and t.student_id = g.student_id`,
      [...whose, id, id],
    );
    return rowCount === 0 ? null : tell('went on', '', rowCount);
  }
  const { rowCount } = await trx.raw<{ rowCount: number }>(
    `with longer as (update assessment_sittings set ends_at = ends_at + make_interval(secs => ?)
        where assessment_id = ? and student_id = any(?) and started_at is not null
          and handed_in_at is null and voided_at is null
          and (paused_at is not null or ends_at > now()) returning student_id),
      tasks as (update assessment_begun b set ends_at = b.ends_at + make_interval(secs => ?) from longer l
          where b.assessment_id = ? and b.student_id = l.student_id)
      select student_id from longer`,
    [60 * act.minutes, ...whose, 60 * act.minutes, id],
  );
  return rowCount === 0 ? null : tell(`${act.minutes} min more`, act.why, rowCount);
}

async function voidSitting(
  database: Knex,
  handIn: HandIn,
  assessment: Acted,
  { student, why }: { readonly student: string; readonly why: string },
  instructor: Person,
): Promise<void> {
  const sitting = assessment.sittings.find(({ studentId }) => studentId === student);
  if (!sitting) throw notFound('student');
  if (sitting.voidedAt) throw new Refusal('conflict', 'This sitting is void already.');
  if (isSitting(sitting, new Date())) await endSitting(database, handIn, assessment.id, student);
  await database.transaction(async (trx) => {
    await trx('assessment_sittings')
      .where({ assessment_id: assessment.id, student_id: student })
      .update({ voided_at: new Date(), void_reason: why });
    await event(trx, assessment.id, {
      studentId: student,
      kind: 'void',
      text: why,
      actor: instructor.name,
    });
    await note(trx, {
      actor: instructor,
      kind: 'invigilated',
      about: `${assessment.title}: void, ${sitting.student?.name ?? ''}`,
      classId: assessment.classId,
      subjectId: student,
      detail: { why },
    });
  });
}
