import type { Knex } from 'knex';
import type { Exercise } from '@contactum/core';
import { readExercise } from '@contactum/core/documents';
import type { Draft, DraftSummary, MarkingCost, Person, Published } from '@contactum/contract';
import { DraftModel, ExerciseModel, ExerciseVersionModel } from '../../database/models.js';
import type { CostIn, Judge } from '../../runtime/lane.js';
import { note } from '../people/audit.js';
import { freshId, storeExercise } from './exercises.js';
import { requireOwnDraft, requireOwnExercise } from '../people/permissions.js';
import { Refusal, notFound } from '../../runtime/refusal.js';

/** Exercises in the making: kept as they are, published only when nothing stands against it. */

/** Most drafts of one instructor. */
const MOST_DRAFTS = 200;

const summaryOf = ({ id, exerciseId, document, updatedAt }: DraftModel): DraftSummary => ({
  id,
  exerciseId,
  title: document.title,
  updatedAt: updatedAt.toISOString(),
});

export async function draftsOf(database: Knex, person: Person): Promise<DraftSummary[]> {
  const rows = await DraftModel.query(database).where({ authorId: person.id }).orderBy('updatedAt', 'desc');
  return rows.map(summaryOf);
}

async function viewOf(database: Knex, draft: DraftModel): Promise<Draft> {
  const before =
    draft.exerciseId === null
      ? undefined
      : await ExerciseVersionModel.query(database)
          .where({ exerciseId: draft.exerciseId })
          .orderBy('version', 'desc')
          .first();
  return {
    ...summaryOf(draft),
    document: draft.document,
    seq: draft.seq,
    before: before ? { version: before.version, document: before.document } : null,
  };
}

export const draftView = async (database: Knex, id: string, person: Person): Promise<Draft> =>
  viewOf(database, await requireOwnDraft(database, id, person));

/** Reads a document that is being made; refuses what is no exercise, with every place. */
function read(document: unknown): Exercise {
  const outcome = readExercise(document);
  if (outcome.ok) return outcome.value;
  const [first] = outcome.problems;
  throw new Refusal('invalid', `document.${first?.path ?? ''}: ${first?.message ?? 'cannot be read'}`, {
    problems: outcome.problems.map(({ path, message }) => ({ path: `document.${path}`, message })),
  });
}

/**
 * Begins a draft: of a document, as a copy of an exercise, or as the next version of one of the college's
 * own.
 */
export async function beginDraft(
  database: Knex,
  { from, next, document }: { from?: string | undefined; next: boolean; document?: unknown },
  person: Person,
): Promise<Draft> {
  const count = await DraftModel.query(database).where({ authorId: person.id }).resultSize();
  if (count >= MOST_DRAFTS) throw new Refusal('conflict', 'You have too many drafts. Discard some first.');
  if (from === undefined) {
    const made = read(document);
    return viewOf(database, await insert(database, null, made, person));
  }
  const exercise = next
    ? await requireOwnExercise(database, from, person)
    : await ExerciseModel.query(database).findById(from);
  if (!exercise) throw notFound('exercise');
  const open = next
    ? await DraftModel.query(database).findOne({ exerciseId: from, authorId: person.id })
    : undefined;
  if (open) return viewOf(database, open);
  const made = next
    ? exercise.document
    : { ...exercise.document, title: `${exercise.document.title} (copy)`.slice(0, 200) };
  return viewOf(database, await insert(database, next ? from : null, made, person));
}

const insert = (database: Knex, exerciseId: string | null, document: Exercise, person: Person) =>
  DraftModel.query(database).insert({ exerciseId, document, authorId: person.id }).returning('*');

/** Keeps a draft as it is now; what another window has kept meanwhile is not written over. */
export async function keepDraft(
  database: Knex,
  id: string,
  { document, seq }: { document: unknown; seq: number },
  person: Person,
): Promise<{ seq: number; updatedAt: string }> {
  const draft = await requireOwnDraft(database, id, person);
  const made = read(document);
  const [row] = await DraftModel.query(database)
    .where({ id: draft.id, seq })
    .patch({ document: made, seq: seq + 1, updatedAt: new Date() })
    .returning('*');
  if (!row)
    throw new Refusal('conflict', 'Another window has changed this draft. Open it again.', {
      lastSeq: draft.seq,
    });
  return { seq: row.seq, updatedAt: row.updatedAt.toISOString() };
}

export async function discardDraft(database: Knex, id: string, person: Person): Promise<void> {
  await requireOwnDraft(database, id, person);
  await DraftModel.query(database).deleteById(id);
}

/** Publishes a draft where its reference stands up to what it asks. `judge` looks at that, in a thread. */
export async function publishDraft(
  database: Knex,
  id: string,
  text: string,
  person: Person,
  judge: Judge,
): Promise<Published> {
  const draft = await requireOwnDraft(database, id, person);
  const own = draft.exerciseId === null ? null : await requireOwnExercise(database, draft.exerciseId, person);
  const { ready, objections } = await judge({ ...draft.document, id: own?.id ?? 'draft' });
  if (!ready) return { ok: false, objections };
  return database.transaction(async (trx): Promise<Published> => {
    // What was judged is what is published.
    const gone = await DraftModel.query(trx).where({ id, seq: draft.seq }).delete();
    if (gone === 0) throw new Refusal('conflict', 'This draft has been changed meanwhile. Look at it again.');
    const exerciseId = own?.id ?? (await freshId(trx, draft.document.title));
    const document: Exercise = { ...draft.document, id: exerciseId };
    const version = await storeExercise(trx, document, { authorId: person.id, text, isNew: own === null });
    await note(trx, {
      actor: person,
      kind: 'published an exercise',
      about: document.title,
      detail: { exerciseId, version },
    });
    return { ok: true, exerciseId, version };
  });
}

/** What marking one attempt at a draft's board takes. */
export async function draftCost(
  database: Knex,
  id: string,
  person: Person,
  costIn: CostIn,
): Promise<MarkingCost> {
  const { document } = await requireOwnDraft(database, id, person);
  return costIn({ ...document, id: 'draft' });
}
