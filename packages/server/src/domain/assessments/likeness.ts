import type { Knex } from 'knex';
import {
  applyEdit,
  benchOf,
  exerciseVariant,
  jointsOfBench,
  openingBoard,
  referenceBench,
  terminalsOf,
  workOf,
  type Bench,
  type Exercise,
  type Lead,
  type Likenesses,
  type Work,
} from '@contactum/core';
import type { AssessmentLikeness, Person } from '@contactum/contract';
import { AttemptModel } from '../../database/models.js';
import { logOf, seedOf } from '../attempts/attempts.js';
import type { Journal } from '../attempts/journal.js';
import { requireOwnAssessment } from './set.js';

/** Compares works, in a thread. */
export type AlikeIn = (works: readonly Work[]) => Promise<Likenesses>;

/**
 * Whose wiring, or order of wiring, is more alike than chance lets one expect, task by task. It is told to
 * instructors of the class alone.
 */
export async function likenessOf(
  database: Knex,
  {
    id,
    journal,
    alikeIn,
    instructor,
  }: {
    readonly id: string;
    readonly journal: Journal;
    readonly alikeIn: AlikeIn;
    readonly instructor: Person;
  },
): Promise<AssessmentLikeness[]> {
  const assessment = await requireOwnAssessment(database, id, instructor);
  const found: AssessmentLikeness[] = [];
  for (const task of assessment.plan.tasks) {
    // A bench sheet tells neither which leads were chosen nor in which order.
    if (task.kind !== 'exercise' || task.physical || (task.task !== 'wire' && task.task !== 'both')) continue;
    const attempts = await AttemptModel.query(database)
      .whereIn(
        'assignmentId',
        database('assignments').where({ assessment_id: id, task: task.id }).select('id'),
      )
      .whereNot('state', 'open')
      .withGraphFetched('[assignment, student]');
    const set = attempts[0]?.assignment?.document;
    const nets = set ? netsOf(set) : same;
    const works: Work[] = [];
    for (const attempt of attempts)
      if (attempt.assignment)
        works.push(await workIn(database, { journal, attempt, set: attempt.assignment.document, nets }));
    const names = attempts.map(
      (one) => [one.studentId, { name: one.student?.name ?? '', attemptId: one.id }] as const,
    );
    found.push({
      task: task.id,
      title: task.title,
      names: Object.fromEntries(names),
      ...(await alikeIn(works)),
    });
  }
  return found;
}

/** An attempt's work in the words of the exercise that all were set. */
async function workIn(
  database: Knex,
  {
    journal,
    attempt,
    set,
    nets,
  }: {
    readonly journal: Journal;
    readonly attempt: AttemptModel;
    readonly set: Exercise;
    readonly nets: (terminal: string) => string;
  },
): Promise<Work> {
  const plain = attempt.document
    ? plainWords(set, seedOf(attempt.assignmentId, attempt.studentId, attempt.number))
    : same;
  const { bench } = await journal.boardOf(attempt.id);
  const laid: Lead[] = [];
  let board = openingBoard(attempt.exercise ?? set);
  for (const { body } of await logOf(database, attempt.id)) {
    if (body.kind !== 'edit') continue;
    const applied = applyEdit(board, body.edit);
    if (!applied.ok) continue;
    const before = new Set(board.wires.map(leadKey));
    laid.push(...applied.bench.wires.filter((wire) => !before.has(leadKey(wire))));
    board = applied.bench;
  }
  const inPlain = ({ from, to }: Pick<Lead, 'from' | 'to'>) => ({ from: plain(from), to: plain(to) });
  return workOf(attempt.studentId, benchOf(bench).wires.map(inPlain), laid.map(inPlain), nets);
}

const same = (terminal: string): string => terminal;
const leadKey = ({ from, to }: Lead): string => [from, to].sort().join(' ');

/** The exercise's own name of each terminal of a variant. */
function plainWords(exercise: Exercise, seed: number): (terminal: string) => string {
  const terminals = terminalsOf(exercise.bench);
  // A lead from each terminal to itself is read back with the variant's name, in the same order.
  const marked: Bench = { ...exercise.bench, wires: terminals.map((ref) => ({ from: ref, to: ref })) };
  const { wires } = exerciseVariant(exercise, seed).translated(marked);
  const names = new Map<string, string>(wires.map(({ from }, k) => [from, terminals[k] ?? from]));
  return (terminal) => names.get(terminal) ?? terminal;
}

/** The potential on which a terminal lies by the reference, named after its first terminal. */
function netsOf(exercise: Exercise): (terminal: string) => string {
  const { joined } = jointsOfBench(referenceBench(exercise));
  const firstOf = new Map<string, string>(joined.flatMap((net) => net.map((ref) => [ref, net[0] ?? ref])));
  return (terminal) => firstOf.get(terminal) ?? terminal;
}
