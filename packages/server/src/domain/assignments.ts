import type { Knex } from 'knex';
import {
  drawingOf,
  isSearch,
  referenceBench,
  type Drawing,
  type DrawingForm,
  type Exercise,
} from '@contactum/core';
import type {
  AssignRequest,
  AssignmentForInstructor,
  AssignmentForStudent,
  ExerciseSummary,
  Person,
} from '@contactum/contract';
import { AssignmentModel, ExerciseModel } from '../database/models.js';
import { summaryOf } from './attempts.js';
import { requireOwnClass } from './permissions.js';
import { Refusal } from './refusal.js';

/** Every exercise with what it is to a person: the student's attempts, or the classes that the instructor set it to. */
export async function exerciseSummaries(database: Knex, person: Person): Promise<ExerciseSummary[]> {
  const exercises = await ExerciseModel.query(database).orderBy('position');
  const isStudent = person.role === 'student';
  const assigned = isStudent ? await assignedTo(database, person) : new Map<string, AssignmentForStudent[]>();
  const set = isStudent ? new Map<string, AssignmentForInstructor[]>() : await setBy(database, person);
  return exercises.map(({ id, document }): ExerciseSummary => ({
    id,
    title: document.title,
    family: document.family,
    brief: document.brief,
    devices: document.bench.devices.length,
    task: document.task ?? 'wire',
    bench: isSearch(document) && isStudent ? { ...document.bench, wires: [] } : document.bench,
    drawn: !isStudent || (document.shows?.includes('reference') ?? false),
    assigned: assigned.get(id) ?? [],
    set: set.get(id) ?? [],
  }));
}

/** The reference of an exercise, drawn; for a student only where the exercise shows it. */
export function referenceDrawing(exercise: Exercise, form: DrawingForm, person: Person): Drawing {
  if (person.role === 'student' && !exercise.shows?.includes('reference'))
    throw new Refusal('forbidden', 'This exercise does not show its drawing.');
  return drawingOf(referenceBench(exercise), form);
}

/** The classes to which an instructor has set an exercise. */
export const settingsOf = async (
  database: Knex,
  instructor: Person,
  exerciseId: string,
): Promise<AssignmentForInstructor[]> => (await setBy(database, instructor)).get(exerciseId) ?? [];

/** Sets an exercise, as it is now, to a class of the instructor's own. */
export async function setExercise(
  database: Knex,
  classId: string,
  instructor: Person,
  { exerciseId, dueAt }: AssignRequest,
): Promise<AssignmentForInstructor | undefined> {
  const group = await requireOwnClass(database, classId, instructor);
  const exercise = await ExerciseModel.query(database).findById(exerciseId);
  if (!exercise)
    throw new Refusal('not-found', 'There is no such exercise.', {
      problems: [{ path: 'exerciseId', message: 'names no exercise' }],
    });
  const inserted = await AssignmentModel.query(database)
    .insert({
      classId: group.id,
      exerciseId,
      document: exercise.document,
      setBy: instructor.id,
      dueAt: dueAt === null ? null : new Date(dueAt),
    })
    .onConflict(['classId', 'exerciseId'])
    .ignore()
    .returning('*');
  if (!(inserted as AssignmentModel | undefined)?.id)
    throw new Refusal('conflict', `“${exercise.document.title}” is already set to ${group.name}.`);
  return (await settingsOf(database, instructor, exerciseId)).find(({ id }) => id === inserted.id);
}

function grouped<T>(rows: readonly { readonly exerciseId: string; readonly value: T }[]): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const { exerciseId, value } of rows)
    groups.set(exerciseId, [...(groups.get(exerciseId) ?? []), value]);
  return groups;
}

async function assignedTo(database: Knex, student: Person): Promise<Map<string, AssignmentForStudent[]>> {
  const assignments = await AssignmentModel.query(database)
    .whereIn('classId', database('class_members').select('class_id').where('student_id', student.id))
    .withGraphFetched('[class, attempts(own).[marking, changes]]')
    .modifiers({ own: (query) => void query.where({ studentId: student.id }).orderBy('number') })
    .orderBy('setAt');
  return grouped(
    assignments.map(({ id, exerciseId, class: group, setAt, dueAt, attempts }) => ({
      exerciseId,
      value: {
        id,
        className: group?.name ?? '',
        setAt: setAt.toISOString(),
        dueAt: dueAt?.toISOString() ?? null,
        attempts: (attempts ?? []).map(summaryOf),
      },
    })),
  );
}

async function setBy(database: Knex, instructor: Person): Promise<Map<string, AssignmentForInstructor[]>> {
  const rows = await database('assignments')
    .join('classes', 'classes.id', 'assignments.class_id')
    .where('classes.instructor_id', instructor.id)
    .orderBy('assignments.set_at')
    .select<
      {
        id: string;
        exerciseId: string;
        classId: string;
        className: string;
        setAt: Date;
        dueAt: Date | null;
        students: number;
        handedIn: number;
      }[]
    >(
      'assignments.id as id',
      'assignments.exercise_id as exerciseId',
      'classes.id as classId',
      'classes.name as className',
      'assignments.set_at as setAt',
      'assignments.due_at as dueAt',
      database.raw('(select count(*)::int from class_members m where m.class_id = classes.id) as students'),
      database.raw(
        "(select count(distinct student_id)::int from attempts t where t.assignment_id = assignments.id and t.state <> 'open') as handed_in",
      ),
    );
  return grouped(
    rows.map(({ exerciseId, setAt, dueAt, students, handedIn, id, classId, className }) => ({
      exerciseId,
      value: {
        id,
        classId,
        className,
        setAt: setAt.toISOString(),
        dueAt: dueAt?.toISOString() ?? null,
        students,
        handedIn,
      },
    })),
  );
}
