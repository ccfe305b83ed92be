import type { Knex } from 'knex';
import { isSearch, type Exercise } from '@contactum/core';
import type { Person } from '@contactum/contract';
import { AttemptModel, ClassModel, SearchModel, type PersonModel } from '../database/models.js';
import { Refusal, notFound } from './refusal.js';

/**
 * Who may see and do what. Every check that can refuse is here and begins with `require`; what a person may not see does
 * not exist for them.
 */

export const signInFirst = (): Refusal => new Refusal('unauthenticated', 'Sign in first.');

/** Somebody who is signed in. */
export function requirePerson(person: Person | null | undefined): Person {
  if (!person) throw signInFirst();
  return person;
}

export function requireInstructor(person: Person | null | undefined): Person {
  const known = requirePerson(person);
  if (known.role !== 'instructor') throw new Refusal('forbidden', 'Only instructors may do this.');
  return known;
}

export function requireStudent(person: Person | null | undefined): Person {
  const known = requirePerson(person);
  if (known.role !== 'student') throw new Refusal('forbidden', 'Only students may do this.');
  return known;
}

/** An attempt that somebody may read, and what belongs to it. */
export interface ReadableAttempt {
  readonly attempt: AttemptModel;
  readonly student: PersonModel;
  readonly group: ClassModel;
  readonly exercise: Exercise;
}

/** What tells whose an attempt is. */
const WHOSE = 'assignment.class, student';

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
  const own = person.role === 'student' ? attempt.studentId === person.id : group.instructorId === person.id;
  if (!own) throw notFound('attempt');
  return { attempt, student, group, exercise: assignment.document };
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
    .withGraphFetched('[assignment.class, marking, changes, permissions]');
  if (!attempt) throw notFound('attempt');
  return attempt;
}

/** A class of an instructor's own. */
export async function requireOwnClass(database: Knex, id: string, instructor: Person): Promise<ClassModel> {
  const group = await ClassModel.query(database).findById(id).where({ instructorId: instructor.id });
  if (!group) throw notFound('class');
  return group;
}

/** A search under way, for the person whose it is. */
export async function requireWorkableSearch(
  database: Knex,
  id: string,
  person: Person,
): Promise<SearchModel> {
  const search = await requireOwnSearch(database, id, person);
  if (search.state !== 'open') throw new Refusal('conflict', 'This search has been handed in.');
  return search;
}

/** A search of a person's own; of an attempt only while the person is a member of its class. */
export async function requireOwnSearch(database: Knex, id: string, person: Person): Promise<SearchModel> {
  const search = await SearchModel.query(database).findById(id).where({ personId: person.id });
  if (!search) throw notFound('search');
  if (search.attemptId !== null) await requireOwnAttempt(database, search.attemptId, person);
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
        .join('classes', 'classes.id', 'assignments.class_id')
        .where('attempts.id', database.ref('searches.attempt_id'))
        .where('classes.instructor_id', instructor.id),
    )
    .orderBy('searches.startedAt');
  if (found.length < new Set(ids).size) throw notFound('search');
  return found;
}

/** Refuses a student to whom an exercise does not show how its board is wired; the board of a search is wired before their eyes. */
export function requireSeenBoard(exercise: Exercise, person: Person): void {
  if (person.role === 'student' && !isSearch(exercise) && !exercise.shows?.includes('reference'))
    throw new Refusal('forbidden', 'This exercise does not show how its board is wired.');
}

/** The repair of a marked attempt is shown to instructors, and to its student where the exercise says so. */
export const mayRepair = (attempt: AttemptModel, exercise: Exercise, person: Person): boolean =>
  attempt.state === 'marked' && (person.role === 'instructor' || exercise.repair === 'marked');
