import type { Knex } from 'knex';
import { answersIn, benchOf, isAsked, isSearch, type Exercise, type PackWork } from '@contactum/core';
import type { AttemptState } from '@contactum/contract';
import { AttemptModel, SearchModel } from '../../database/models.js';
import { logOf, workEvents } from '../attempts/attempts.js';
import { hintsOf } from '../attempts/hints.js';
import type { Journal } from '../attempts/journal.js';
import { searchLog } from '../searches/searches.js';

/** What an attempt is marked from. */
export interface MarkedWork {
  readonly attempt: AttemptModel;
  /** As it was set, with the time that this person has. */
  readonly exercise: Exercise;
  readonly work: PackWork;
}

/** Minutes of a search where nothing says it. */
const SEARCH_MINUTES = 30;

/**
 * What an attempt in one of some states is marked from, by its own exercise or another; null where it is in
 * none of them.
 */
export async function markedWork(
  database: Knex,
  journal: Journal,
  attemptId: string,
  states: readonly AttemptState[],
  by?: Exercise,
): Promise<MarkedWork | null> {
  const attempt = await AttemptModel.query(database)
    .findById(attemptId)
    .whereIn('state', states)
    .withGraphFetched('[assignment.people, permissions, sheet(entered)]')
    .modifiers({ entered: (query) => void query.select('id', 'attemptId', 'entries') });
  if (!attempt?.assignment) return null;
  const own = attempt.assignment.people?.find(({ studentId }) => studentId === attempt.studentId);
  const extra = own?.extraMinutes ?? 0;
  const exercise = withTime(by ?? attempt.exercise ?? attempt.assignment.document, extra);
  const work = await workIn(database, journal, attempt, exercise, extra);
  return { attempt, exercise, work };
}

async function workIn(
  database: Knex,
  journal: Journal,
  attempt: AttemptModel,
  exercise: Exercise,
  extra: number,
): Promise<PackWork> {
  const { id } = attempt;
  if (isSearch(exercise)) {
    const search = await SearchModel.query(database).findOne({ attemptId: id });
    const set = exercise.sets?.[0];
    return {
      kind: 'search',
      work: {
        faults: search?.hidden ?? set?.faults ?? [],
        log: search ? await searchLog(database, search.id) : [],
        minutes: (search?.minutes ?? set?.minutes ?? SEARCH_MINUTES) + extra,
      },
    };
  }
  if (isAsked(exercise))
    return { kind: 'answers', answers: answersIn((await logOf(database, id)).map(({ body }) => body)) };
  if (attempt.sheet) return { kind: 'sheet', entries: attempt.sheet.entries };
  const { bench } = await journal.boardOf(id);
  return {
    kind: 'wiring',
    bench: benchOf(bench),
    log: exercise.practice ? workEvents(attempt, await logOf(database, id)) : [],
    hints: (await hintsOf(database, id)).map(({ degree }) => degree),
  };
}

/** An exercise with the time that a person has more; what else it asks, and so its version, stays. */
const withTime = (exercise: Exercise, extra: number): Exercise =>
  exercise.practice?.minutes === undefined || extra === 0
    ? exercise
    : { ...exercise, practice: { ...exercise.practice, minutes: exercise.practice.minutes + extra } };
