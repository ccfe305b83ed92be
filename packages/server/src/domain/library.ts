import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { Knex } from 'knex';
import { versionChanges, type Exercise, type Readiness } from '@contactum/core';
import { readExercise } from '@contactum/core/documents';
import type { ImportAnswer, ImportLine, Person } from '@contactum/contract';
import { ExerciseModel } from '../database/models.js';
import { note } from './audit.js';
import { freshId, storeExercise } from './exercises.js';
import { Refusal } from './refusal.js';

/** Libraries: exercises as documents, one or many in a zip, out and in. */

const MOST_FILES = 500;
/** Largest document when it is unpacked, bytes. */
const MOST_BYTES = 2_000_000;
const MOST_WHOLE = 60_000_000;

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

interface File {
  readonly name: string;
  readonly text: string;
}

/** The documents in what was sent: a zip, or one document. */
function filesIn(body: Buffer, name: string): File[] {
  const isZip = body.subarray(0, 2).toString('latin1') === 'PK';
  if (!isZip) return [{ name, text: body.toString('utf8') }];
  let whole = 0;
  let count = 0;
  try {
    const files = unzipSync(body, {
      // Nothing is unpacked that is too large, however small it is packed.
      filter: ({ name: file, originalSize }) => {
        if (!file.endsWith('.json') || file.includes('__MACOSX')) return false;
        count += 1;
        whole += originalSize;
        if (originalSize > MOST_BYTES || whole > MOST_WHOLE || count > MOST_FILES)
          throw new Refusal('too-large', `${file}: the library is too large`);
        return true;
      },
    });
    return Object.entries(files).map(([file, bytes]) => ({ name: file, text: strFromU8(bytes) }));
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new Refusal('invalid', `${name}: is no zip that can be read`);
  }
}

interface Understood extends ImportLine {
  readonly exercise: Exercise | null;
}

/** What a document would be: new, the next version of the college's own, one that is there already, a copy of a shipped one. */
async function understood(
  database: Knex,
  { name, text }: File,
  {
    taken,
    person,
    judge,
  }: {
    readonly taken: Set<string>;
    readonly person: Person;
    readonly judge: (exercise: Exercise) => Promise<Readiness>;
  },
): Promise<Understood> {
  const bad = (problem: string, title = '', id = ''): Understood => ({
    file: name,
    title,
    id,
    does: 'bad',
    problem,
    exercise: null,
  });
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return bad(`is not JSON: ${(error as Error).message}`);
  }
  const outcome = readExercise(value);
  if (!outcome.ok) {
    const [first] = outcome.problems;
    return bad(`${first?.path ?? ''}: ${first?.message ?? 'cannot be read'}`);
  }
  const exercise = outcome.value;
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
  judge: (exercise: Exercise) => Promise<Readiness>,
): Promise<ImportAnswer> {
  const files = filesIn(body, name);
  if (files.length === 0) throw new Refusal('invalid', `${name}: holds no document`);
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
