import { Router, type Request } from 'express';
import type { Knex } from 'knex';
import {
  assignRequest,
  type AssignmentForInstructor,
  type AssignmentForStudent,
  type ExerciseForInstructor,
  type ExerciseSummary,
  type Person,
} from '@contactum/contract';
import { forStudent, summaryOf } from '../attempts.js';
import { AssignmentModel, ClassModel, ExerciseModel } from '../database/models.js';
import { Refusal, notFound } from './errors.js';
import { bodyOf, idOf, instructorOf, personOf } from './request.js';

/** Exercises, whole for instructors and without their answers for students; and setting them to a class. */
export function exerciseRoutes(database: Knex): Router {
  const router = Router();

  router.get('/exercises', async (request, response) => {
    const person = personOf(request);
    const exercises = await ExerciseModel.query(database).orderBy('position');
    const assigned =
      person.role === 'student'
        ? await assignedTo(database, person)
        : new Map<string, AssignmentForStudent[]>();
    const set =
      person.role === 'instructor'
        ? await setBy(database, person)
        : new Map<string, AssignmentForInstructor[]>();
    const summaries = exercises.map(({ id, document }): ExerciseSummary => ({
      id,
      title: document.title,
      family: document.family,
      brief: document.brief,
      devices: document.bench.devices.length,
      bench: document.bench,
      assigned: assigned.get(id) ?? [],
      set: set.get(id) ?? [],
    }));
    response.json(summaries);
  });

  router.get('/exercises/:id', async (request, response) => {
    const person = personOf(request);
    const exercise = await exerciseOf(database, request);
    if (person.role === 'student') {
      response.json(forStudent(exercise.document));
      return;
    }
    const whole: ExerciseForInstructor = {
      exercise: exercise.document,
      set: (await setBy(database, person)).get(exercise.id) ?? [],
    };
    response.json(whole);
  });

  router.get('/exercises/:id/reference', async (request, response) => {
    instructorOf(request);
    response.json((await exerciseOf(database, request)).document.reference);
  });

  router.post('/classes/:id/assignments', async (request, response) => {
    const instructor = instructorOf(request);
    const group = await ClassModel.query(database)
      .findById(idOf(request, 'class'))
      .where({ instructorId: instructor.id });
    if (!group) throw notFound('class');
    const { exerciseId, dueAt } = bodyOf(request, assignRequest);
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
    const [row] =
      (await setBy(database, instructor)).get(exerciseId)?.filter(({ id }) => id === inserted.id) ?? [];
    response.status(201).json(row);
  });

  return router;
}

async function exerciseOf(database: Knex, request: Request): Promise<ExerciseModel> {
  const { id } = request.params;
  const exercise = typeof id === 'string' ? await ExerciseModel.query(database).findById(id) : undefined;
  if (!exercise) throw notFound('exercise');
  return exercise;
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
