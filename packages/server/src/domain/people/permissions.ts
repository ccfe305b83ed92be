import type { Knex } from 'knex';
import { isAsked, type Exercise } from '@contactum/core';
import type { Person } from '@contactum/contract';
import {
  AssignmentModel,
  AttemptModel,
  ClassModel,
  DraftModel,
  ExerciseModel,
  PersonModel,
  SearchModel,
} from '../../database/models.js';
import { Refusal, notFound } from '../../runtime/refusal.js';
import { heldFor, requireShown, type Held } from './sight.js';

/**
 * Who may see and do what. Every check that can refuse is here and begins with `require`; what a person may
 * not see does not exist for them.
 */

export const signInFirst = (): Refusal => new Refusal('unauthenticated', 'Sign in first.');

/** Somebody who is signed in, and has a password of their own. */
export function requirePerson(person: Person | null | undefined): Person {
  const known = requireKnown(person);
  if (known.mustSetPassword) throw new Refusal('forbidden', 'Set a password of your own first.');
  return known;
}

/** Somebody who is signed in, with a first password too. */
export function requireKnown(person: Person | null | undefined): Person {
  if (!person) throw signInFirst();
  return person;
}

/** Administrators teach too, in the classes that they are instructors of. */
export function requireInstructor(person: Person | null | undefined): Person {
  const known = requirePerson(person);
  if (known.role === 'student') throw new Refusal('forbidden', 'Only instructors may do this.');
  return known;
}

export function requireStudent(person: Person | null | undefined): Person {
  const known = requirePerson(person);
  if (known.role !== 'student') throw new Refusal('forbidden', 'Only students may do this.');
  return known;
}

export function requireAdministrator(person: Person | null | undefined): Person {
  const known = requirePerson(person);
  if (known.role !== 'administrator') throw new Refusal('forbidden', 'Only administrators may do this.');
  return known;
}

/** Ids of the classes of an instructor, as a query. */
export const classesOf = (database: Knex, { id }: Person) =>
  database('class_instructors').where('instructor_id', id).select('class_id');

/** An attempt that somebody may read, and what belongs to it. */
export interface ReadableAttempt {
  readonly attempt: AttemptModel;
  readonly student: PersonModel;
  readonly group: ClassModel;
  readonly exercise: Exercise;
  /** Whether its marks are held back from whoever reads it. */
  readonly held: Held;
}

/** What tells whose an attempt is. */
const WHOSE = 'assignment.[class, people], student';

/** An attempt, for its student or for the instructor of its class; more of it where a graph names that. */
export async function requireReadableAttempt(
  database: Knex,
  id: string,
  person: Person,
  graph = '',
): Promise<ReadableAttempt> {
  const attempt = await AttemptModel.query(database)
    .findById(id)
    .withGraphFetched(`[${[WHOSE, graph].filter(Boolean).join(', ')}]`);
  const assignment = attempt?.assignment;
  const group = assignment?.class;
  const student = attempt?.student;
  if (!attempt || !assignment || !group || !student) throw notFound('attempt');
  const own =
    person.role === 'student'
      ? attempt.studentId === person.id
      : (await classesOf(database, person).where('class_id', group.id)).length > 0;
  if (!own) throw notFound('attempt');
  return {
    attempt,
    student,
    group,
    exercise: attempt.exercise ?? assignment.document,
    held: heldFor(assignment, person),
  };
}

/** A student's own attempt in a class that the student belongs to, with its marking. */
export async function requireOwnAttempt(database: Knex, id: string, student: Person): Promise<AttemptModel> {
  const attempt = await AttemptModel.query(database)
    .findById(id)
    .where({ studentId: student.id })
    .whereExists(
      database('assignments')
        .join('class_members', 'class_members.class_id', 'assignments.class_id')
        .where('assignments.id', database.ref('attempts.assignment_id'))
        .where('class_members.student_id', student.id),
    )
    .withGraphFetched('[assignment.[class, people, assessment], marking, changes, permissions]');
  if (!attempt) throw notFound('attempt');
  return attempt;
}

/** A class of an instructor's own. */
export async function requireOwnClass(database: Knex, id: string, instructor: Person): Promise<ClassModel> {
  const group = await ClassModel.query(database).findById(id).whereIn('id', classesOf(database, instructor));
  if (!group) throw notFound('class');
  return group;
}

/** A class that somebody keeps: an own one, or any for an administrator. */
export async function requireKeptClass(database: Knex, id: string, person: Person): Promise<ClassModel> {
  if (person.role !== 'administrator') return requireOwnClass(database, id, person);
  const group = await ClassModel.query(database).findById(id);
  if (!group) throw notFound('class');
  return group;
}

/** Somebody whose sessions a person keeps: a student of an own class, or anybody for an administrator. */
export async function requireKeptPerson(database: Knex, id: string, keeper: Person): Promise<PersonModel> {
  const query = PersonModel.query(database).findById(id).whereNull('erasedAt');
  const found = await (keeper.role === 'administrator'
    ? query
    : query
        .where({ role: 'student' })
        .whereIn(
          'id',
          database('class_members').whereIn('class_id', classesOf(database, keeper)).select('student_id'),
        ));
  if (!found) throw notFound('person');
  return found;
}

/**
 * Somebody whose password a person may set anew: whose account they made, or anybody for an administrator.
 */
export async function requireMadePerson(database: Knex, id: string, keeper: Person): Promise<PersonModel> {
  const row = await requireKeptPerson(database, id, keeper);
  if (keeper.role !== 'administrator' && row.madeBy !== keeper.id)
    throw new Refusal(
      'forbidden',
      'An administrator, or whoever made this account, gives it a first password.',
    );
  return row;
}

/** A setting to a class of an instructor's own. */
export async function requireOwnSetting(
  database: Knex,
  id: string,
  instructor: Person,
): Promise<AssignmentModel> {
  const assignment = await AssignmentModel.query(database)
    .findById(id)
    .whereIn('classId', classesOf(database, instructor))
    .withGraphFetched('[class, people]');
  if (!assignment) throw notFound('setting');
  return assignment;
}

/** An exercise of the college's own, which its author, or an administrator, makes new versions of. */
export async function requireOwnExercise(database: Knex, id: string, person: Person): Promise<ExerciseModel> {
  const exercise = await ExerciseModel.query(database).findById(id);
  if (!exercise) throw notFound('exercise');
  if (exercise.origin === 'shipped')
    throw new Refusal('forbidden', 'A shipped exercise stays as it is. Copy it, and change the copy.');
  if (exercise.authorId !== null && exercise.authorId !== person.id && person.role !== 'administrator')
    throw new Refusal(
      'forbidden',
      'Another instructor has made this exercise. Copy it, and change the copy.',
    );
  return exercise;
}

/** A draft of a person's own. */
export async function requireOwnDraft(database: Knex, id: string, person: Person): Promise<DraftModel> {
  const draft = await DraftModel.query(database).findById(id).where({ authorId: person.id });
  if (!draft) throw notFound('draft');
  return draft;
}

/** A search under way, for the person whose it is. */
export async function requireWorkableSearch(
  database: Knex,
  id: string,
  person: Person,
): Promise<SearchModel> {
  const search = await requireOwnSearch(database, id, person);
  if (search.state !== 'open') throw new Refusal('conflict', 'This search has been handed in.');
  if (search.attemptId !== null) await refusePaused(database, search.attemptId);
  return search;
}

/** Nothing is done at a bench while an invigilator has stopped the clock. */
async function refusePaused(database: Knex, attemptId: string): Promise<void> {
  const paused = await database('attempts as a')
    .join('assignment_students as v', (join) =>
      join.on('v.assignment_id', 'a.assignment_id').andOn('v.student_id', 'a.student_id'),
    )
    .where('a.id', attemptId)
    .where('v.paused', true)
    .first<{ id: string } | undefined>('a.id');
  if (paused) throw new Refusal('conflict', 'The assessment is paused.');
}

/** A search of a person's own; of an attempt only while the person is a member of its class. */
export async function requireOwnSearch(database: Knex, id: string, person: Person): Promise<SearchModel> {
  const search = await SearchModel.query(database).findById(id).where({ personId: person.id });
  if (!search) throw notFound('search');
  if (search.attemptId !== null) await requireOwnAttempt(database, search.attemptId, person);
  // A practice that was begun before tells nothing more once its board is assessed.
  else await requireShown(database, search.document, person, 'answers');
  return search;
}

/** Searches of attempts in an instructor's own classes. */
export async function requireOwnStudentsSearches(
  database: Knex,
  ids: readonly string[],
  instructor: Person,
): Promise<SearchModel[]> {
  const found = await SearchModel.query(database)
    .whereIn('searches.id', [...new Set(ids)])
    .whereExists(
      database('attempts')
        .join('assignments', 'assignments.id', 'attempts.assignment_id')
        .where('attempts.id', database.ref('searches.attempt_id'))
        .whereIn('assignments.class_id', classesOf(database, instructor)),
    )
    .orderBy('searches.startedAt');
  if (found.length < new Set(ids).size) throw notFound('search');
  return found;
}

/**
 * The repair of a marked attempt is shown to instructors, and to its student where the exercise says so and
 * the marks are out.
 */
export const mayRepair = (
  { attempt, exercise, held }: Pick<ReadableAttempt, 'attempt' | 'exercise' | 'held'>,
  person: Person,
): boolean =>
  attempt.state === 'marked' &&
  !held &&
  !isAsked(exercise) &&
  (person.role !== 'student' || exercise.repair === 'marked');
