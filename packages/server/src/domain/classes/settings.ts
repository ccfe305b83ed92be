import type { Knex } from 'knex';
import type { Exercise } from '@contactum/core';
import type {
  AssignRequest,
  AssignmentForInstructor,
  Person,
  Setting,
  SettingRequest,
} from '@contactum/contract';
import {
  AttemptModel,
  AssignmentModel,
  ExerciseModel,
  ExerciseVersionModel,
  type ClassModel,
} from '../../database/models.js';
import { note } from '../people/audit.js';
import { classesOf, requireOwnClass, requireOwnSetting } from '../people/permissions.js';
import { Refusal, invalidAt } from '../../runtime/refusal.js';

/** Exercises set to classes, groups and single people: when, how often, how they count. */

/** Until when a student may do what is set, with the time that the student has more. */
export interface StudentTimes {
  readonly opensAt: Date | null;
  readonly dueAt: Date | null;
  readonly closesAt: Date | null;
  readonly extraMinutes: number;
  /** An invigilator has stopped the clock. */
  readonly paused: boolean;
}

/** What is set to a student, by assignment. */
export async function studentTimes(
  database: Knex,
  studentId: string,
  assignmentId?: string,
): Promise<Map<string, StudentTimes>> {
  const query = database('assignment_students')
    .where({ student_id: studentId })
    .select<(StudentTimes & { assignmentId: string })[]>(
      'assignment_id',
      'opens_at',
      'due_at',
      'closes_at',
      'extra_minutes',
      'paused',
    );
  if (assignmentId !== undefined) void query.where({ assignment_id: assignmentId });
  return new Map((await query).map(({ assignmentId: id, ...times }) => [id, times]));
}

const day = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short', timeZone: 'UTC' });

/** Why a student cannot begin another attempt; null where one can be begun. */
export function shutFor(
  { attemptsAllowed }: Pick<AssignmentModel, 'attemptsAllowed'>,
  { opensAt, closesAt, paused }: StudentTimes,
  handedIn: number,
  now = new Date(),
): string | null {
  if (paused) return 'The assessment is paused.';
  if (opensAt && opensAt > now) return `Opens ${day.format(opensAt)} UTC.`;
  if (closesAt && closesAt <= now) return `Closed ${day.format(closesAt)} UTC.`;
  if (attemptsAllowed !== null && handedIn >= attemptsAllowed)
    return attemptsAllowed === 1 ? 'The one attempt is used.' : `All ${attemptsAllowed} attempts are used.`;
  return null;
}

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;

export const settingView = ({
  opensAt,
  dueAt,
  closesAt,
  attemptsAllowed,
  counts,
  mode,
  variants,
}: AssignmentModel): Setting => ({
  opensAt: iso(opensAt),
  dueAt: iso(dueAt),
  closesAt: iso(closesAt),
  attemptsAllowed,
  counts,
  mode,
  variants,
});

/** To whom a setting goes, and who has more time. */
const namedIn = ({ audience, groupId, people = [] }: AssignmentModel) => ({
  audience,
  groupId,
  people: people.filter(({ included }) => included).map(({ studentId }) => studentId),
  extra: people
    .filter(({ extraMinutes }) => extraMinutes > 0)
    .map(({ studentId, extraMinutes }) => ({ studentId, minutes: extraMinutes })),
});

type SetRow = AssignmentModel & {
  title: string;
  newest: number;
  students: number;
  handedIn: number;
  class: ClassModel;
};

const viewOf = (row: SetRow): AssignmentForInstructor => ({
  id: row.id,
  exerciseId: row.exerciseId,
  title: row.title,
  classId: row.classId,
  className: row.class.name,
  setAt: row.setAt.toISOString(),
  ...settingView(row),
  version: row.version,
  newest: row.newest,
  ...namedIn(row),
  withdrawnAt: iso(row.withdrawnAt),
  students: row.students,
  handedIn: row.handedIn,
});

/**
 * Everything that is set to the classes of an instructor; to one class, of one exercise, or one setting,
 * where that is named.
 */
export async function setToClasses(
  database: Knex,
  instructor: Person,
  only: {
    readonly id?: string;
    readonly classId?: string;
    readonly exerciseId?: string;
    readonly withdrawn?: boolean;
  } = {},
): Promise<AssignmentForInstructor[]> {
  const query = AssignmentModel.query(database)
    .whereIn('classId', classesOf(database, instructor))
    .withGraphFetched('[class, people]')
    // Tasks of an assessment are set with it.
    .whereNull('assessmentId')
    .orderBy('setAt')
    // Documents are long; of the one that was set only its title is told.
    .select(
      'assignments.id',
      'classId',
      'exerciseId',
      'setBy',
      'setAt',
      'dueAt',
      'version',
      'opensAt',
      'closesAt',
      'attemptsAllowed',
      'counts',
      'mode',
      'variants',
      'audience',
      'groupId',
      'withdrawnAt',
      database.raw("assignments.document->>'title' as title"),
      database.raw('(select version from exercises e where e.id = assignments.exercise_id) as newest'),
      database.raw(
        '(select count(*)::int from assignment_students v where v.assignment_id = assignments.id) as students',
      ),
      database.raw(
        "(select count(distinct student_id)::int from attempts t where t.assignment_id = assignments.id and t.state <> 'open') as handed_in",
      ),
    );
  if (only.id !== undefined) void query.where('assignments.id', only.id);
  if (only.classId !== undefined) void query.where({ classId: only.classId });
  if (only.exerciseId !== undefined) void query.where({ exerciseId: only.exerciseId });
  if (!only.withdrawn) void query.whereNull('withdrawnAt');
  const rows = (await query) as SetRow[];
  return rows.map(viewOf);
}

type Wanted = Omit<AssignRequest, 'exerciseId'>;

/**
 * An exercise as it is set: an assessment shows neither reference, progress nor tests, and no repair. Marks
 * do not rest on it.
 */
export const asSet = (document: Exercise, mode: Wanted['mode'], shows: Exercise['shows'] = []): Exercise =>
  mode === 'assessment' ? { ...document, shows, repair: 'never', hints: undefined } : document;

/** What of a setting cannot stand together, or names what is not of this class. */
async function refuseMisfits(database: Knex, classId: string, wanted: Wanted): Promise<void> {
  const { opensAt, dueAt, closesAt, audience, groupId, people, extra } = wanted;
  const at = (text: string | null) => (text === null ? null : new Date(text).getTime());
  const [opens, due, closes] = [at(opensAt), at(dueAt), at(closesAt)];
  if (opens !== null && closes !== null && closes <= opens)
    throw invalidAt('closesAt', 'must be after the opening');
  if (opens !== null && due !== null && due <= opens) throw invalidAt('dueAt', 'must be after the opening');
  if (due !== null && closes !== null && closes < due)
    throw invalidAt('closesAt', 'must not be before it is due');
  if (audience === 'group') {
    const known = await database('class_groups')
      .where({ id: groupId, class_id: classId })
      .select<{ id: string }[]>('id');
    if (known.length === 0) throw invalidAt('groupId', 'names no group of this class');
  }
  if (audience === 'people' && people.length === 0) throw invalidAt('people', 'names nobody');
  const named = [
    ...new Set([...(audience === 'people' ? people : []), ...extra.map(({ studentId }) => studentId)]),
  ];
  const members = await database('class_members').where({ class_id: classId }).whereIn('student_id', named);
  if (members.length < named.length) throw invalidAt('people', 'name somebody who is not in the class');
}

/** Writes down to whom a setting goes, and who has more time. */
async function putPeople(
  trx: Knex,
  assignmentId: string,
  { audience, people, extra }: Wanted,
): Promise<void> {
  const included = new Set(audience === 'people' ? people : []);
  const more = new Map(extra.map(({ studentId, minutes }) => [studentId, minutes]));
  const ids = [...new Set([...included, ...more.keys()])];
  await trx('assignment_people').where({ assignment_id: assignmentId }).delete();
  if (ids.length > 0)
    await trx('assignment_people').insert(
      ids.map((studentId) => ({
        assignment_id: assignmentId,
        student_id: studentId,
        included: included.has(studentId),
        extra_minutes: more.get(studentId) ?? 0,
      })),
    );
}

const date = (text: string | null): Date | null => (text === null ? null : new Date(text));

const columnsOf = ({
  opensAt,
  dueAt,
  closesAt,
  attemptsAllowed,
  counts,
  mode,
  variants,
  audience,
  groupId,
}: Wanted) => ({
  opensAt: date(opensAt),
  dueAt: date(dueAt),
  closesAt: date(closesAt),
  attemptsAllowed,
  counts,
  mode,
  variants,
  audience,
  groupId: audience === 'group' ? groupId : null,
});

/**
 * Refuses to set an exercise to a class or a group to which it is set already; to single people it may be.
 */
async function refuseTwice(
  trx: Knex,
  {
    id,
    classId,
    exerciseId,
    audience,
    groupId,
  }: Pick<Wanted, 'audience' | 'groupId'> & {
    readonly id: string | null;
    readonly classId: string;
    readonly exerciseId: string;
  },
): Promise<void> {
  if (audience === 'people') return;
  const same = await AssignmentModel.query(trx)
    .where({ classId, exerciseId, audience })
    .where((query) => (audience === 'group' ? query.where({ groupId }) : query))
    .whereNull('assessmentId')
    .whereNull('withdrawnAt')
    .where((query) => (id === null ? query : query.whereNot({ id })))
    .withGraphFetched('class')
    .first();
  if (same)
    throw new Refusal('conflict', `“${same.document.title}” is already set to ${same.class?.name ?? ''}.`);
}

/**
 * Sets an exercise, as it is now, to a class of the instructor's own, to a group of it, or to single
 * people.
 */
export async function setExercise(
  database: Knex,
  classId: string,
  instructor: Person,
  { exerciseId, ...wanted }: AssignRequest,
): Promise<AssignmentForInstructor | undefined> {
  const group = await requireOwnClass(database, classId, instructor);
  const exercise = await ExerciseModel.query(database).findById(exerciseId);
  if (!exercise)
    throw new Refusal('not-found', 'There is no such exercise.', {
      problems: [{ path: 'exerciseId', message: 'names no exercise' }],
    });
  if (exercise.retiredAt) throw new Refusal('conflict', 'This exercise is off the list.');
  await refuseMisfits(database, group.id, wanted);
  const id = await database.transaction(async (trx) => {
    // Two who set the same at once do not set it twice.
    await trx('classes').where({ id: group.id }).forUpdate().first('id');
    await refuseTwice(trx, { id: null, classId: group.id, exerciseId, ...wanted });
    const row = await AssignmentModel.query(trx)
      .insert({
        classId: group.id,
        exerciseId,
        document: asSet(exercise.document, wanted.mode),
        version: exercise.version,
        setBy: instructor.id,
        ...columnsOf(wanted),
      })
      .returning('*');
    await putPeople(trx, row.id, wanted);
    await note(trx, {
      actor: instructor,
      kind: 'set an exercise',
      about: `${exercise.document.title} to ${group.name}`,
      classId: group.id,
      detail: wanted,
    });
    return row.id;
  });
  return (await setToClasses(database, instructor, { id }))[0];
}

/** Boards that are worked at already are not exchanged for others. */
async function refuseBegun(database: Knex, assignmentId: string): Promise<void> {
  if (await AttemptModel.query(database).findOne({ assignmentId }).select('id'))
    throw new Refusal('conflict', 'A student has begun: variants can no longer be switched on or off.');
}

/** Changes a setting, withdraws it, or sets it again; what was done meanwhile stays. */
export async function changeSetting(
  database: Knex,
  id: string,
  instructor: Person,
  { withdrawn, ...change }: SettingRequest,
): Promise<AssignmentForInstructor | undefined> {
  const assignment = await requireOwnSetting(database, id, instructor);
  const wanted: Wanted = {
    ...settingView(assignment),
    ...namedIn(assignment),
    ...(Object.fromEntries(
      Object.entries(change).filter(([, value]) => value !== undefined),
    ) as Partial<Wanted>),
  };
  if (Object.keys(change).length > 0) await refuseMisfits(database, assignment.classId, wanted);
  if (wanted.variants !== assignment.variants) await refuseBegun(database, id);
  await database.transaction(async (trx) => {
    await trx('classes').where({ id: assignment.classId }).forUpdate().first('id');
    const { classId, exerciseId, withdrawnAt } = assignment;
    if (!(withdrawn ?? withdrawnAt !== null)) await refuseTwice(trx, { id, classId, exerciseId, ...wanted });
    const whole = await ExerciseVersionModel.query(trx).findById([assignment.exerciseId, assignment.version]);
    await AssignmentModel.query(trx)
      .findById(id)
      .patch({
        ...columnsOf(wanted),
        ...(whole && wanted.mode !== assignment.mode ? { document: asSet(whole.document, wanted.mode) } : {}),
        ...(withdrawn === undefined ? {} : { withdrawnAt: withdrawn ? new Date() : null }),
      });
    await putPeople(trx, id, wanted);
    await note(trx, {
      actor: instructor,
      kind: withdrawn ? 'withdrew a setting' : 'changed a setting',
      about: `${assignment.document.title} in ${assignment.class?.name ?? ''}`,
      classId: assignment.classId,
      detail: { ...change, ...(withdrawn === undefined ? {} : { withdrawn }) },
    });
  });
  return (await setToClasses(database, instructor, { id, withdrawn: true }))[0];
}
