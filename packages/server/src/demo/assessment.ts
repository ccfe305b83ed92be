import type { Knex } from 'knex';
import {
  benchOf,
  editsTo,
  grade,
  openingBoard,
  rewired,
  shuffled,
  wiredBoard,
  type Exercise,
  type Wire,
} from '@contactum/core';
import type { AssessmentRequest, Person } from '@contactum/contract';
import { AttemptModel, LogModel, MarkingModel, markingOf, type PersonModel } from '../database/models.js';
import { setAssessment } from '../domain/assessments/set.js';
import { SLIPS, seeded } from './wirings.js';

const MINUTE = 60_000;
const BOARD = 'salt-harrow-electrical-interlock';
const MINUTES = 50;
const SEED = 1902;

const levels = (...named: readonly [string, number][]) => named.map(([title, points]) => ({ title, points }));

const PLAN: AssessmentRequest = {
  title: 'Practical test: reversing starter',
  tasks: [
    {
      kind: 'exercise',
      exerciseId: BOARD,
      variants: false,
      physical: false,
      weight: 70,
      minutes: null,
      mustPass: true,
    },
    {
      kind: 'observed',
      title: 'Work at the bench',
      weight: 30,
      minutes: null,
      mustPass: false,
      criteria: [
        {
          title: 'Isolates, locks off and proves dead before a hand is put in',
          critical: true,
          levels: levels(['not done', 0], ['done when reminded', 3], ['done unasked', 6]),
        },
        {
          title: 'Leads are cut, stripped, ferruled and laid cleanly',
          critical: false,
          levels: levels(['poorly', 0], ['fairly', 2], ['cleanly', 4]),
        },
      ],
    },
  ],
  order: 'free',
  addresses: [],
  minutes: MINUTES,
  aids: ['meter', 'drawing'],
  pass: { sum: 60, each: false },
  start: 'together',
  opensAt: null,
  closesAt: null,
  code: null,
  extra: [],
};

interface Sat {
  readonly trx: Knex;
  readonly assessmentId: string;
  readonly assignmentId: string;
  readonly exercise: Exercise;
  readonly startedAt: Date;
  readonly random: () => number;
}

/** An assessment that a class has sat and its instructor has examined; moderation and sign-off are left to do. */
export async function seedAssessment(
  trx: Knex,
  {
    classId,
    instructor,
    students,
    exercises,
    at,
  }: {
    readonly classId: string;
    readonly instructor: PersonModel;
    readonly students: readonly PersonModel[];
    readonly exercises: readonly Exercise[];
    readonly at: Date;
  },
): Promise<void> {
  const exercise = exercises.find(({ id }) => id === BOARD);
  if (!exercise) return;
  const actor: Person = {
    id: instructor.id,
    login: instructor.login,
    name: instructor.name,
    role: instructor.role,
  };
  const assessmentId = await setAssessment(trx, classId, PLAN, actor);
  const row = await trx('assignments').where({ assessment_id: assessmentId }).first<{ id: string }>('id');
  const sat: Sat = { trx, assessmentId, assignmentId: row.id, exercise, startedAt: at, random: seeded(SEED) };
  // Two of the class were away; two sat at one bench.
  const present = students.slice(0, -2);
  let copied: readonly Wire[] | null = null;
  for (const [k, student] of present.entries()) {
    const own = wiringOf(sat);
    const wires = k === 9 && copied ? copied : own;
    if (k === 4) copied = own;
    await sit(sat, student.id, wires);
    await judge(sat, student.id, instructor.id);
  }
  await trx('assessment_events').insert({
    assessment_id: assessmentId,
    kind: 'started for all',
    actor: instructor.name,
    at,
  });
}

/** Leads in the order in which they were laid: mostly right, some with a slip of the usual kind. */
function wiringOf({ exercise, random }: Sat): Wire[] {
  const right = rewired(exercise, random);
  const slips = SLIPS[exercise.id] ?? [];
  const slip = random() < 0.4 ? slips[Math.floor(random() * slips.length)] : undefined;
  return shuffled(slip ? slip(right, random) : right, random);
}

async function sit(
  { trx, assessmentId, assignmentId, exercise, startedAt, random }: Sat,
  studentId: string,
  wires: readonly Wire[],
): Promise<void> {
  let time = startedAt.getTime() + MINUTE;
  const attempt = await AttemptModel.query(trx)
    .insert({ assignmentId, studentId, number: 1, state: 'open', startedAt: new Date(time) })
    .returning('*');
  const log = editsTo(openingBoard(exercise), wires).map((edit, k) => {
    time += 1000 * (20 + 50 * random());
    return LogModel.fromJson({
      attemptId: attempt.id,
      seq: k + 1,
      body: { kind: 'edit', edit },
      at: new Date(time),
    });
  });
  await LogModel.query(trx).insert(log);
  const handedInAt = new Date(Math.min(time + MINUTE, startedAt.getTime() + MINUTES * MINUTE));
  const bench = benchOf(wiredBoard(exercise.bench, wires));
  await MarkingModel.query(trx).insert({
    attemptId: attempt.id,
    ...markingOf(grade(exercise, bench), { exercise, bench }),
    markedAt: handedInAt,
  });
  await AttemptModel.query(trx)
    .findById(attempt.id)
    .patch({ state: 'marked', handedInAt, lastSeq: log.length });
  await trx('assessment_sittings')
    .where({ assessment_id: assessmentId, student_id: studentId })
    .update({
      started_at: startedAt,
      ends_at: new Date(startedAt.getTime() + MINUTES * MINUTE),
      handed_in_at: handedInAt,
      seen_at: handedInAt,
      address: `192.0.2.${20 + Math.floor(200 * random())}`,
      away_seconds: random() < 0.2 ? Math.floor(30 + 150 * random()) : 0,
    });
}

/** What the instructor has seen at the benches. */
async function judge(
  { trx, assessmentId, random }: Sat,
  studentId: string,
  examinerId: string,
): Promise<void> {
  const named = { 'criterion-1': random() < 0.75 ? 2 : 1, 'criterion-2': Math.floor(3 * random()) };
  await trx('assessment_levels').insert(
    Object.entries(named).map(([criterion, level]) => ({
      assessment_id: assessmentId,
      student_id: studentId,
      task: 'task-2',
      criterion,
      level,
      examiner_id: examinerId,
    })),
  );
}
