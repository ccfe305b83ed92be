import { strToU8, zipSync } from 'fflate';
import type { Knex } from 'knex';
import { versionChanges, type Exercise } from '@contactum/core';
import type { ImportAnswer, ImportLine, Person } from '@contactum/contract';
import { ExerciseModel } from '../../database/models.js';
import type { LibraryTask, ReadFile, ReadLibrary } from '../../threads/library.js';
import type { Judge } from '../../runtime/lane.js';
import { note } from '../people/audit.js';
import { freshId, storeExercise } from './exercises.js';
import { Refusal } from '../../runtime/refusal.js';

/** Libraries: exercises as documents, one or many in a zip, out and in. */

/** Reads what was sent as a library, in a thread. */
export type ReadLibraryIn = (task: LibraryTask) => Promise<ReadLibrary>;

/** Exercises as a zip of documents; all that are not retired where none are named. */
export async function exportLibrary(database: Knex, ids: readonly string[]): Promise<Buffer> {
  const query = ExerciseModel.query(database).orderBy('position');
  const rows = await (ids.length > 0 ? query.whereIn('id', [...ids]) : query.whereNull('retiredAt'));
  const files = Object.fromEntries(
    rows.map(({ id, document }) => [
      `${id}.exercise.json`,
      strToU8(`${JSON.stringify(document, null, 2)}\n`),
    ]),
  );
  return Buffer.from(zipSync(files, { level: 6 }));
}

interface Understood extends ImportLine {
  readonly exercise: Exercise | null;
}

/**
 * What a document would be: new, the next version of the college's own, one that is there already, a copy
 * of a shipped one.
 */
async function understood(
  database: Knex,
  read: ReadFile,
  {
    taken,
    person,
    judge,
  }: {
    readonly taken: Set<string>;
    readonly person: Person;
    readonly judge: Judge;
  },
): Promise<Understood> {
  const bad = (problem: string, title = '', id = ''): Understood => ({
    file: read.name,
    title,
    id,
    does: 'bad',
    problem,
    exercise: null,
  });
  if ('problem' in read) return bad(read.problem);
  const { name, exercise } = read;
  const { id, title } = exercise;
  if (taken.has(id)) return bad('another document of this library has the same id', title, id);
  taken.add(id);
  const { ready, objections } = await judge(exercise);
  if (!ready) {
    const first = objections.find(({ refuses }) => refuses);
    return bad(
      `its reference does not stand up to it: ${first?.title ?? ''}: ${first?.found ?? ''}`,
      title,
      id,
    );
  }
  const line = { file: name, title, id, problem: null, exercise };
  const known = await ExerciseModel.query(database).findById(id);
  if (!known) return { ...line, does: 'new' };
  if (versionChanges(known.document, exercise).length === 0) return { ...line, does: 'same' };
  // Another instructor’s exercise is not changed by an import; a copy stands beside it.
  const isOwn = known.origin === 'own' && (known.authorId === null || known.authorId === person.id);
  return { ...line, does: isOwn ? 'version' : 'copy' };
}

/** Looks at a library, and takes it where that is asked for: all of its good documents. */
export async function importLibrary(
  database: Knex,
  { body, name, commit }: { readonly body: Buffer; readonly name: string; readonly commit: boolean },
  person: Person,
  { judge, readIn }: { readonly judge: Judge; readonly readIn: ReadLibraryIn },
): Promise<ImportAnswer> {
  const read = await readIn({ body, name });
  if ('refused' in read) throw new Refusal('invalid', read.refused);
  const { files } = read;
  const taken = new Set<string>();
  const lines: Understood[] = [];
  for (const file of files) lines.push(await understood(database, file, { taken, person, judge }));
  const told = lines.map(({ file, title, id, does, problem }): ImportLine => ({
    file,
    title,
    id,
    does,
    problem,
  }));
  if (!commit) return { lines: told, committed: false };
  await database.transaction(async (trx) => {
    for (const { exercise, does } of lines) {
      if (!exercise || does === 'same' || does === 'bad') continue;
      const document = does === 'copy' ? { ...exercise, id: await freshId(trx, exercise.title) } : exercise;
      const isNew = does === 'copy' || does === 'new';
      await storeExercise(trx, document, { authorId: person.id, text: `from ${name}`, isNew });
    }
    await note(trx, {
      actor: person,
      kind: 'imported exercises',
      about: name,
      detail: told.map(({ id, does }) => ({ id, does })),
    });
  });
  return { lines: told, committed: true };
}
