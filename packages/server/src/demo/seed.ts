import type { Knex } from 'knex';
import {
  benchOf,
  editsTo,
  grade,
  isSearch,
  openingBoard,
  rewired,
  shuffled,
  wiredBoard,
  type Exercise,
  type Wire,
} from '@contactum/core';
import {
  AssignmentModel,
  AttemptModel,
  ClassModel,
  LogModel,
  MarkingModel,
  PersonModel,
  RemarkModel,
  markingOf,
} from '../database/models.js';
import { hashPassword } from '../security/passwords.js';
import { seedAssessment } from './assessment.js';
import { CLASSES, INSTRUCTOR, PASSWORD } from './people.js';
import { SEARCHERS, storeSearch } from './searches.js';
import { SLIPS, seeded } from './wirings.js';

const DAY = 24 * 3600 * 1000;
const MINUTE = 60 * 1000;
const SEED = 1848;

/**
 * When each exercise was set, days ago; the interlock to class 1B only today, and that class is at work.
 * What was set today to the others is not begun.
 */
const PLAN = [
  { exercise: 'button-lamp-no', daysAgo: 20 },
  { exercise: 'brine-pump-three-wire', daysAgo: 13 },
  { exercise: 'salt-harrow-electrical-interlock', daysAgo: 6 },
  { exercise: 'find-seal-in', daysAgo: 3 },
  { exercise: 'brine-pump-emergency-stop', daysAgo: 0 },
] as const;

/** Fills an empty database with the college; does nothing where anybody is already there. */
export async function seedDemo(database: Knex, exercises: readonly Exercise[], now: Date): Promise<boolean> {
  return database.transaction(async (trx) => {
    await trx.raw("select pg_advisory_xact_lock(hashtextextended('demo', 0))");
    if (await PersonModel.query(trx).first()) return false;
    const random = seeded(SEED);
    // One derivation for all demo accounts: they share one published password.
    const password = await hashPassword(PASSWORD);
    const instructor = await PersonModel.query(trx)
      .insert({ ...INSTRUCTOR, role: 'instructor', password })
      .returning('*');
    for (const c of CLASSES.keys()) await seedClass(trx, c, { exercises, now, password, instructor, random });
    return true;
  });
}

/** What all classes of the college share. */
interface College {
  readonly exercises: readonly Exercise[];
  readonly now: Date;
  readonly password: string;
  readonly instructor: PersonModel;
  readonly random: () => number;
}

/** One class with its students, what was set to it, and what they did. */
async function seedClass(
  trx: Knex,
  c: number,
  { exercises, now, password, instructor, random }: College,
): Promise<void> {
  const group = CLASSES[c];
  if (!group) return;
  const row = await ClassModel.query(trx)
    .insert({ name: group.name, instructorId: instructor.id })
    .returning('*');
  const students = [];
  for (const [login, name] of group.students)
    students.push(
      await PersonModel.query(trx)
        .insert({ login, name, role: 'student', password, madeBy: instructor.id })
        .returning('*'),
    );
  await trx('class_members').insert(students.map(({ id }) => ({ class_id: row.id, student_id: id })));
  for (const { exercise: id, daysAgo } of PLAN) {
    const exercise = exercises.find((one) => one.id === id);
    if (!exercise) continue;
    const inSession = c === 1 && id === 'salt-harrow-electrical-interlock';
    const setAt = new Date(now.getTime() - (inSession ? 90 * MINUTE : daysAgo * DAY));
    const assignment = await AssignmentModel.query(trx)
      .insert({
        classId: row.id,
        exerciseId: id,
        document: exercise,
        setBy: instructor.id,
        setAt,
        dueAt: new Date(setAt.getTime() + 7 * DAY),
      })
      .returning('*');
    if (isSearch(exercise)) {
      await classSearches(trx, exercise, {
        assignmentId: assignment.id,
        setAt,
        students: students.slice(c),
      });
      continue;
    }
    for (const student of students) {
      await studentWork({
        trx,
        exercise,
        assignmentId: assignment.id,
        studentId: student.id,
        instructorId: instructor.id,
        setAt,
        inSession,
        now,
        random,
      });
    }
  }
  const at = new Date(now.getTime() - 2 * DAY);
  if (c === 0) await seedAssessment(trx, { classId: row.id, instructor, students, exercises, at });
}

/** The first students of a class have searched; the others have not begun. */
async function classSearches(
  trx: Knex,
  exercise: Exercise,
  {
    assignmentId,
    setAt,
    students,
  }: { readonly assignmentId: string; readonly setAt: Date; readonly students: readonly PersonModel[] },
): Promise<void> {
  for (const [k, searcher] of SEARCHERS.entries()) {
    const student = students[k + 1];
    const start = new Date(setAt.getTime() + DAY + k * 5 * MINUTE);
    if (student)
      await storeSearch(trx, exercise, { assignmentId, studentId: student.id, start }, searcher(exercise));
  }
}

interface Work {
  readonly trx: Knex;
  readonly exercise: Exercise;
  readonly assignmentId: string;
  readonly studentId: string;
  readonly instructorId: string;
  readonly setAt: Date;
  readonly inSession: boolean;
  readonly now: Date;
  readonly random: () => number;
}

/** One student's attempts at one exercise: mostly right at last, some wrong first, some not begun. */
async function studentWork(work: Work): Promise<void> {
  const { exercise, inSession, random, setAt, now } = work;
  if (setAt.getTime() >= now.getTime() || random() < (inSession ? 0.25 : 0.08)) return;
  const slips = SLIPS[exercise.id] ?? [];
  let start = new Date(setAt.getTime() + (inSession ? 10 * MINUTE : DAY * (1 + 3 * random())));
  for (let number = 1; number <= 3; number += 1) {
    const right = rewired(exercise, random);
    const wrong = random() < (number === 1 ? 0.5 : 0.25);
    const slip = slips[Math.floor(random() * slips.length)];
    const wires = wrong && slip ? slip(right, random) : right;
    const unfinished = inSession && random() < 0.6;
    const wired = unfinished ? wires.slice(0, Math.floor(wires.length * (0.2 + 0.6 * random()))) : wires;
    const end = await storeAttempt(work, number, start, shuffled(wired, random), unfinished);
    if (unfinished || !wrong || random() < 0.4) return;
    start = new Date(end.getTime() + (inSession ? 5 * MINUTE : DAY * (0.5 + random())));
    if (start > now) return;
  }
}

async function storeAttempt(
  { trx, exercise, assignmentId, studentId, instructorId, random, now }: Work,
  number: number,
  start: Date,
  wires: readonly Wire[],
  unfinished: boolean,
): Promise<Date> {
  const attempt = await AttemptModel.query(trx)
    .insert({ assignmentId, studentId, number, state: 'open', startedAt: start })
    .returning('*');
  let at = start.getTime();
  const edits = editsTo(openingBoard(exercise), wires);
  const log = edits.map((edit, k) => {
    at = Math.min(at + 1000 * (12 + 45 * random()), now.getTime() - MINUTE);
    return LogModel.fromJson({
      attemptId: attempt.id,
      seq: k + 1,
      body: { kind: 'edit', edit },
      at: new Date(at),
    });
  });
  if (log.length > 0) await LogModel.query(trx).insert(log);
  await AttemptModel.query(trx).findById(attempt.id).patch({ lastSeq: log.length });
  if (unfinished) return new Date(at);
  const handedInAt = new Date(Math.min(at + 2 * MINUTE, now.getTime() - 1000));
  const bench = benchOf(wiredBoard(exercise.bench, wires));
  const report = grade(exercise, bench);
  await MarkingModel.query(trx).insert({
    attemptId: attempt.id,
    ...markingOf(report, { exercise, bench }),
    markedAt: handedInAt,
  });
  await AttemptModel.query(trx).findById(attempt.id).patch({ state: 'marked', handedInAt });
  if (!report.passed && random() < 0.25) {
    await RemarkModel.query(trx).insert({
      attemptId: attempt.id,
      authorId: instructorId,
      text: 'Play the proof on the board, then show me where the current goes.',
      at: handedInAt,
    });
  }
  return handedInAt;
}
