import type { Knex } from 'knex';
import { exerciseVersion, versionChanges, type Exercise } from '@contactum/core';
import { shippedExercises, shippedQuestions, shippedSearches } from '@contactum/core/exercises';
import type { ExerciseVersion, Person } from '@contactum/contract';
import { ExerciseModel, ExerciseVersionModel } from '../../database/models.js';
import { note } from '../people/audit.js';
import { classesOf, requireOwnExercise } from '../people/permissions.js';
import { Refusal } from '../../runtime/refusal.js';

/** Whether the library has any exercise that came with a release. */
export const hasExercises = async (database: Knex): Promise<boolean> =>
  (await ExerciseModel.query(database).findOne({ origin: 'shipped' }).select('id')) !== undefined;

/**
 * Puts the shipped exercises into the database, or brings them up to date, each change as a version of its
 * own. What was set before stays as it was, and what the college has made is never touched.
 */
export async function loadExercises(database: Knex): Promise<Exercise[]> {
  const exercises = [...shippedExercises(), ...shippedSearches(), ...shippedQuestions()];
  await database.transaction(async (trx) => {
    await trx.raw("select pg_advisory_xact_lock(hashtextextended('exercises', 0))");
    const rows = await ExerciseModel.query(trx).where({ origin: 'shipped' });
    const known = new Map(rows.map((row) => [row.id, row]));
    for (const [position, document] of exercises.entries()) {
      const before = known.get(document.id);
      const isOther = before !== undefined && versionChanges(before.document, document).length > 0;
      if (before && !isOther && before.position === position) continue;
      const version = (before?.version ?? 1) + (isOther ? 1 : 0);
      const taken = await ExerciseModel.query(trx)
        .insert({ id: document.id, document, position, version, origin: 'shipped' })
        .onConflict('id')
        .merge(['document', 'position', 'version'])
        .where('exercises.origin', 'shipped')
        .returning('id');
      if ((taken as ExerciseModel | undefined) && (!before || isOther))
        await addVersion(trx, document, version, null, before ? 'came with an upgrade' : '');
    }
  });
  return exercises;
}

async function addVersion(
  trx: Knex,
  document: Exercise,
  version: number,
  authorId: string | null,
  text: string,
): Promise<void> {
  await ExerciseVersionModel.query(trx)
    .insert({ exerciseId: document.id, version, document, authorId, note: text })
    .onConflict(['exerciseId', 'version'])
    .ignore();
}

/** Every version of an exercise, the newest first, with what changed in each. */
export async function versionsOf(database: Knex, id: string, instructor: Person): Promise<ExerciseVersion[]> {
  const rows = await ExerciseVersionModel.query(database)
    .where({ exerciseId: id })
    .orderBy('version')
    .withGraphFetched('author');
  const set = await database('assignments')
    .join('classes', 'classes.id', 'assignments.class_id')
    .where('assignments.exercise_id', id)
    .whereIn('assignments.class_id', classesOf(database, instructor))
    .whereNull('assignments.withdrawn_at')
    .select<{ version: number; name: string }[]>('assignments.version', 'classes.name');
  return rows
    .map(({ version, document, author, note: text, at }, k) => ({
      version,
      fingerprint: exerciseVersion(document),
      by: author?.name ?? '',
      note: text,
      at: at.toISOString(),
      changes: k === 0 ? [] : versionChanges(rows[k - 1]?.document ?? document, document),
      setTo: [...new Set(set.filter((one) => one.version === version).map(({ name }) => name))],
    }))
    .reverse();
}

/** Takes an exercise of the college's own off the list, or puts it back; what is set stays set. */
export async function retireExercise(
  database: Knex,
  id: string,
  retired: boolean,
  person: Person,
): Promise<void> {
  const exercise = await requireOwnExercise(database, id, person);
  await ExerciseModel.query(database)
    .findById(id)
    .patch({ retiredAt: retired ? new Date() : null });
  await note(database, {
    actor: person,
    kind: 'retired an exercise',
    about: exercise.document.title,
    detail: { retired },
  });
}

/** An id for a new exercise from its title, which no other has. */
export async function freshId(trx: Knex, title: string): Promise<string> {
  // Of several who publish one title at once each gets an id of their own.
  await trx.raw("select pg_advisory_xact_lock(hashtextextended('contactum exercise ids', 0))");
  const slug = title
    .normalize('NFKD')
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replaceAll(/^-+|-+$/g, '')
    .slice(0, 48);
  const base = slug === '' ? 'exercise' : slug;
  const rows = await ExerciseModel.query(trx).where('id', 'like', `${base}%`).select('id');
  const taken = new Set(rows.map(({ id }) => id));
  for (let n = 1; n <= taken.size + 1; n += 1) {
    const id = n === 1 ? base : `${base}-${n}`;
    if (!taken.has(id)) return id;
  }
  throw new Refusal('conflict', 'There are too many exercises of this title.');
}

interface Storing {
  readonly authorId: string;
  readonly text: string;
  /** A new exercise is never the next version of somebody else's. */
  readonly isNew?: boolean;
}

/** Puts a document into the college's library: a new exercise, or the next version of one. */
export async function storeExercise(
  trx: Knex,
  document: Exercise,
  { authorId, text, isNew = false }: Storing,
): Promise<number> {
  const before = await ExerciseModel.query(trx).findById(document.id).forUpdate();
  if (before && isNew) throw new Refusal('conflict', `Somebody else has made “${document.id}” meanwhile.`);
  if (before) {
    const version = before.version + 1;
    await ExerciseModel.query(trx).findById(document.id).patch({ document, version, retiredAt: null });
    await addVersion(trx, document, version, authorId, text);
    return version;
  }
  const last = (await ExerciseModel.query(trx).max('position as position').first()) as
    { position?: number } | undefined;
  await ExerciseModel.query(trx).insert({
    id: document.id,
    document,
    position: (last?.position ?? 0) + 1,
    origin: 'own',
    authorId,
    version: 1,
  });
  await addVersion(trx, document, 1, authorId, text);
  return 1;
}
