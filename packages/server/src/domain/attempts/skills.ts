import type { Knex } from 'knex';
import {
  SKILL_IDS,
  nextToPractise,
  skillsOf,
  standingsOf,
  type Exercise,
  type Part,
  type SkillShown,
} from '@contactum/core';
import type { Person, SkillsMap, SkillsView } from '@contactum/contract';
import { ExerciseModel } from '../../database/models.js';
import { requireOwnClass } from '../people/permissions.js';
import { MARKS_ARE_OUT, assessedBoards, boardKey, setToStudent } from '../people/sight.js';

/** What marks show of skills; marks that are held back show nothing yet. */

interface MarkedRow {
  readonly id: string;
  readonly studentId: string;
  readonly handedInAt: Date;
  readonly exerciseId: string;
  readonly assignmentId: string;
  readonly passed: boolean;
  readonly criteria: readonly {
    readonly part: Part;
    readonly id: string;
    readonly points: number;
    readonly max: number;
  }[];
}

/** Criteria of confirmed marks, without their evidence, which is long; in the order of handing in. */
const markedOf = (database: Knex, whose: (query: Knex.QueryBuilder) => unknown): Promise<MarkedRow[]> =>
  database('attempts as t')
    .join('assignments as s', 's.id', 't.assignment_id')
    .join('markings as m', 'm.attempt_id', 't.id')
    .where('t.state', 'marked')
    .where('t.confirmed', true)
    .whereNotNull('t.handed_in_at')
    .whereRaw(MARKS_ARE_OUT)
    .modify((query: Knex.QueryBuilder) => void whose(query))
    .orderBy('t.handed_in_at')
    .select<MarkedRow[]>(
      't.id',
      't.student_id',
      't.handed_in_at',
      's.exercise_id',
      't.assignment_id',
      'm.passed',
      database.raw(`(select coalesce(jsonb_agg(jsonb_build_object(
          'part', c->>'part', 'id', c->>'id', 'points', c->'points', 'max', c->'max')), '[]')
        from jsonb_array_elements(m.report->'criteria') c) as criteria`),
    );

/** Exercises of some settings as they were set, by setting. */
async function exercisesOf(database: Knex, rows: readonly MarkedRow[]): Promise<Map<string, Exercise>> {
  const ids = [...new Set(rows.map(({ assignmentId }) => assignmentId))];
  const found = await database('assignments')
    .whereIn('id', ids)
    .select<{ id: string; document: Exercise }[]>('id', 'document');
  return new Map(found.map(({ id, document }) => [id, document]));
}

/** Criteria that nothing is lost by are right. */
function shownBy(rows: readonly MarkedRow[], exercises: ReadonlyMap<string, Exercise>): SkillShown[] {
  return rows.flatMap(({ id, assignmentId, handedInAt, criteria }) => {
    const exercise = exercises.get(assignmentId);
    if (!exercise) return [];
    // One attempt shows a skill once: right where no criterion of it lost anything.
    const right = new Map<SkillShown['skill'], boolean>();
    for (const criterion of criteria) {
      if (criterion.max === 0) continue;
      for (const skill of skillsOf(exercise, criterion))
        right.set(skill, (right.get(skill) ?? true) && criterion.points >= criterion.max);
    }
    return [...right].map(([skill, isRight]) => ({
      skill,
      isRight,
      at: handedInAt.toISOString(),
      attemptId: id,
      exercise: exercise.title,
    }));
  });
}

/** How a student stands in every skill, and what to practise next. */
export async function skillsOfStudent(database: Knex, student: Person): Promise<SkillsView> {
  const rows = await markedOf(database, (query) => query.where('t.student_id', student.id));
  const standings = standingsOf(shownBy(rows, await exercisesOf(database, rows)));
  const passed = new Set(rows.flatMap(({ passed: did, exerciseId }) => (did ? [exerciseId] : [])));
  const shipped = await ExerciseModel.query(database).where({ origin: 'shipped' }).whereNull('retiredAt');
  // Nothing is suggested that would tell of a board on which the student is being assessed.
  const assessed = assessedBoards(await setToStudent(database, student.id));
  const open = shipped
    .map(({ document }) => document)
    .filter((document) => assessed.size === 0 || !assessed.has(boardKey(document)));
  return {
    standings,
    next: nextToPractise(open, standings, passed).map(({ exerciseId, skills }) => ({
      exerciseId,
      title: open.find(({ id }) => id === exerciseId)?.title ?? '',
      skills,
    })),
  };
}

/** How a class of an instructor's own stands, by student and skill. */
export async function skillsOfClass(database: Knex, classId: string, instructor: Person): Promise<SkillsMap> {
  const group = await requireOwnClass(database, classId, instructor);
  const students = await database('class_members as m')
    .join('people as p', 'p.id', 'm.student_id')
    .where('m.class_id', group.id)
    .orderBy('p.name')
    .select<{ id: string; name: string }[]>('p.id', 'p.name');
  const rows = await markedOf(database, (query) =>
    query.where('s.class_id', group.id).whereIn(
      't.student_id',
      students.map(({ id }) => id),
    ),
  );
  const exercises = await exercisesOf(database, rows);
  return {
    className: group.name,
    skills: SKILL_IDS,
    students: students.map(({ id, name }) => ({
      id,
      name,
      known: standingsOf(
        shownBy(
          rows.filter(({ studentId }) => studentId === id),
          exercises,
        ),
      ).map(({ known }) => known),
    })),
  };
}
