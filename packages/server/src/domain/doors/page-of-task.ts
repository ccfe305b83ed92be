import type { Knex } from 'knex';
import type { Person } from '@contactum/contract';
import { isAsked, isSearch } from '@contactum/core';
import { openAttempt, type VariantIn } from '../attempts/attempts.js';
import { requireOwnAttempt } from '../people/permissions.js';
import type { Searches } from '../searches/searches.js';

/** What opens attempts, and the searches of those in which a fault is to be found. */
export interface OpensTasks {
  readonly database: Knex;
  readonly searches: Searches;
  readonly variantIn: VariantIn;
}

/**
 * Opens a student's attempt at an assignment, or goes on with the one that is open, and returns the path of
 * the page on which it is worked at.
 */
export async function pageOfTask(
  { database, searches, variantIn }: OpensTasks,
  assignmentId: string,
  student: Person,
): Promise<string> {
  const { attempt: opened } = await openAttempt(database, assignmentId, student, variantIn);
  const attempt = await requireOwnAttempt(database, opened.id, student);
  const { exercise } = attempt;
  if (exercise && isSearch(exercise)) return `/search/${(await searches.ofAttempt(attempt, exercise)).id}`;
  return `/${exercise && isAsked(exercise) ? 'answer' : 'bench'}/${attempt.id}`;
}
