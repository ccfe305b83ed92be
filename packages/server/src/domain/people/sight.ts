import type { Knex } from 'knex';
import { canonical, isSearch, jointsOfBench, referenceBench, type Exercise } from '@contactum/core';
import type { Person } from '@contactum/contract';
import { ExerciseModel, type AssignmentModel } from '../../database/models.js';
import { netsText } from '../attempts/nets.js';
import { Refusal, notFound } from '../../runtime/refusal.js';

/**
 * What of an exercise a person may see, and when: every route, socket and paper that shows something of one
 * asks here. `board` is what it asks and the devices; `drawing` its reference as a drawing; `answers`
 * whatever tells how its board is wired or answers questions about it: practice, diagnosis, a sheet with
 * readings.
 */
export type Sight = 'board' | 'drawing' | 'answers';

const MINUTE = 60_000;

/** Something that is set to a student, with what it asks. */
export interface SetToStudent {
  readonly exerciseId: string;
  readonly mode: 'practice' | 'assessment';
  readonly opensAt: Date | null;
  readonly closesAt: Date | null;
  readonly document: Exercise;
}

/** Everything that is set to a student. */
export const setToStudent = async (database: Knex, studentId: string): Promise<SetToStudent[]> =>
  database('assignment_students')
    .join('assignments', 'assignments.id', 'assignment_students.assignment_id')
    .where('assignment_students.student_id', studentId)
    .select(
      'assignments.exercise_id',
      'assignments.mode',
      'assignment_students.opens_at',
      'assignment_students.closes_at',
      'assignments.document',
    );

/** Nothing of an assessment is told before it opens. */
export const isTold = (
  { mode, opensAt }: Pick<SetToStudent, 'mode' | 'opensAt'>,
  now = new Date(),
): boolean => mode !== 'assessment' || opensAt === null || opensAt <= now;

/** An assessment goes on until it closes; one that never closes goes on. */
const goesOn = ({ mode, closesAt }: SetToStudent, now: Date): boolean =>
  mode === 'assessment' && (closesAt === null || closesAt > now);

/**
 * Marks that are not shown yet: until the last student's time is over, null where there is no such time; null
 * where they are shown.
 */
export type Held = { readonly until: Date | null } | null;

/**
 * Marks of an assessment are shown to students when it has closed for all of them: who hands in first tells
 * nobody what is right, or which faults there are.
 */
export function heldFor(
  { mode, closesAt, people = [] }: Pick<AssignmentModel, 'mode' | 'closesAt' | 'people'>,
  person: Person,
  now = new Date(),
): Held {
  if (person.role !== 'student' || mode !== 'assessment') return null;
  if (closesAt === null) return { until: null };
  const longest = Math.max(0, ...people.map(({ extraMinutes }) => extraMinutes));
  const until = new Date(closesAt.getTime() + longest * MINUTE);
  return until > now ? { until } : null;
}

/** The same of settings `s`, as a condition of a question to the database: true once their marks are out. */
export const MARKS_ARE_OUT = `not (s.mode = 'assessment' and (s.closes_at is null or s.closes_at + make_interval(mins =>
  coalesce((select max(x.extra_minutes) from assignment_people x where x.assignment_id = s.id), 0)) > now()))`;

/**
 * Boards that are the same to whoever wires or searches them: their devices and what the reference joins,
 * whatever they are called.
 */
export function boardKey(exercise: Exercise): string {
  const bench = referenceBench(exercise);
  const devices = bench.devices.map(({ tag, type, options }) => `${tag} ${type} ${canonical(options)}`);
  return [...devices.sort(), netsText(jointsOfBench(bench).joined)].join('\n');
}

/** Boards on which a student is being assessed, or will be. */
export function assessedBoards(set: readonly SetToStudent[], now = new Date()): ReadonlySet<string> {
  return new Set(set.filter((one) => goesOn(one, now)).map(({ document }) => boardKey(document)));
}

/** True where an exercise itself shows so much of its board. */
export const isShown = (exercise: Exercise, sight: Sight): boolean =>
  sight === 'board' ||
  (exercise.shows?.includes('reference') ?? false) ||
  (sight === 'answers' && isSearch(exercise));

const HIDDEN: Readonly<Record<Exclude<Sight, 'board'>, string>> = {
  drawing: 'This exercise does not show its drawing.',
  answers: 'This exercise does not show how its board is wired.',
};

/**
 * Refuses a student what an exercise does not show, and what would answer questions about a board on which
 * they are being assessed.
 */
export async function requireShown(
  database: Knex,
  exercise: Exercise,
  person: Person,
  sight: Exclude<Sight, 'board'>,
): Promise<void> {
  if (person.role !== 'student') return;
  if (!isShown(exercise, sight)) throw new Refusal('forbidden', HIDDEN[sight]);
  const assessed = assessedBoards(await setToStudent(database, person.id));
  if (assessed.size > 0 && assessed.has(boardKey(exercise)))
    throw new Refusal(
      'forbidden',
      'You are being assessed on this board: nothing else tells of it meanwhile.',
    );
}

/** An exercise of which a person may see so much; to a student what is not theirs to see does not exist. */
export async function requireExercise(
  database: Knex,
  id: string,
  person: Person,
  sight: Sight,
): Promise<ExerciseModel> {
  const found = await ExerciseModel.query(database).findById(id);
  if (!found) throw notFound('exercise');
  await requireSight(database, found, person, sight);
  return found;
}

/** The same of an exercise that is there. */
export async function requireSight(
  database: Knex,
  { id, origin, retiredAt, document }: ExerciseModel,
  person: Person,
  sight: Sight,
): Promise<void> {
  if (person.role !== 'student') return;
  if (origin === 'own' || retiredAt !== null) {
    const set = await setToStudent(database, person.id);
    if (!set.some((one) => one.exerciseId === id && isTold(one))) throw notFound('exercise');
  }
  if (sight !== 'board') await requireShown(database, document, person, sight);
}
