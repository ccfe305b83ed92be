import type { Knex } from 'knex';
import { isAsked, isSearch, type Exercise } from '@contactum/core';
import type {
  AssignmentForInstructor,
  AssignmentForStudent,
  ExerciseSummary,
  Person,
} from '@contactum/contract';
import { AssignmentModel, ExerciseModel } from '../../database/models.js';
import { summaryOf } from '../attempts/attempts.js';
import { settingView, setToClasses, shutFor, studentTimes, type StudentTimes } from './settings.js';
import {
  assessedBoards,
  boardKey,
  heldFor,
  isShown,
  isTold,
  setToStudent,
  type Held,
} from '../people/sight.js';

/**
 * Every exercise with what it is to a person: the student's attempts, or the classes that the instructor
 * set it to.
 */
export async function exerciseSummaries(database: Knex, person: Person): Promise<ExerciseSummary[]> {
  const isStudent = person.role === 'student';
  const every = await ExerciseModel.query(database).orderBy('position');
  const assigned = isStudent ? await assignedTo(database, person) : new Map<string, AssignmentForStudent[]>();
  const assessed = assessedBoards(isStudent ? await setToStudent(database, person.id) : []);
  const set = isStudent
    ? new Map<string, AssignmentForInstructor[]>()
    : grouped(await setToClasses(database, person));
  // What is off the list is seen by whom it is set to; what the college makes is no student’s before it is
  // set.
  const exercises = every.filter(
    ({ id, origin, retiredAt }) =>
      assigned.has(id) || set.has(id) || (retiredAt === null && (!isStudent || origin === 'shipped')),
  );
  return exercises.map(({ id, document, origin, version }): ExerciseSummary => ({
    id,
    title: document.title,
    family: document.family,
    brief: document.brief,
    devices: document.bench.devices.length,
    task: document.task ?? 'wire',
    bench:
      (isSearch(document) || isAsked(document)) && isStudent
        ? { ...document.bench, wires: [] }
        : document.bench,
    drawn: !isStudent || mayDraw(document, assessed),
    origin,
    version,
    assigned: assigned.get(id) ?? [],
    set: set.get(id) ?? [],
  }));
}

/** True where a student may see the reference’s drawing: not while its board is assessed. */
function mayDraw(document: Exercise, assessed: ReadonlySet<string>): boolean {
  return isShown(document, 'drawing') && !(assessed.size > 0 && assessed.has(boardKey(document)));
}

function grouped<T extends { readonly exerciseId: string }>(rows: readonly T[]): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const row of rows) groups.set(row.exerciseId, [...(groups.get(row.exerciseId) ?? []), row]);
  return groups;
}

async function assignedTo(database: Knex, student: Person): Promise<Map<string, AssignmentForStudent[]>> {
  const times = await studentTimes(database, student.id);
  const assignments = await AssignmentModel.query(database)
    .whereIn('id', [...times.keys()])
    // Tasks of an assessment are worked at from its own page.
    .whereNull('assessmentId')
    .withGraphFetched('[class, people, attempts(own).[marking, changes]]')
    .modifiers({ own: (query) => void query.where({ studentId: student.id }).orderBy('number') })
    .orderBy('setAt');
  const rows = assignments.flatMap((assignment) => {
    const own = times.get(assignment.id) as StudentTimes;
    const held = heldFor(assignment, student);
    const isTheirs = isTold({ mode: assignment.mode, opensAt: own.opensAt });
    return isTheirs ? [{ exerciseId: assignment.exerciseId, value: forOne(assignment, own, held) }] : [];
  });
  return new Map(
    [...grouped(rows)].map(([exerciseId, list]) => [exerciseId, list.map(({ value }) => value)] as const),
  );
}

function forOne(assignment: AssignmentModel, times: StudentTimes, held: Held): AssignmentForStudent {
  const attempts = (assignment.attempts ?? []).map((attempt) => summaryOf(attempt, held));
  return {
    id: assignment.id,
    className: assignment.class?.name ?? '',
    setAt: assignment.setAt.toISOString(),
    ...settingView(assignment),
    dueAt: times.dueAt?.toISOString() ?? null,
    closesAt: times.closesAt?.toISOString() ?? null,
    shut: shutFor(assignment, times, attempts.filter(({ state }) => state !== 'open').length),
    attempts,
  };
}
