import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { FAMILIES, type Exercise } from '@contactum/core';
import { readExercise } from '@contactum/core/documents';
import { ExerciseModel } from '../database/models.js';

/** Reads the shipped exercises of a folder; one that cannot be read stops the start with its file and JSON path. */
export async function readExercises(folder: string): Promise<Exercise[]> {
  const files = (await readdir(folder)).filter((file) => file.endsWith('.exercise.json')).sort();
  const exercises = await Promise.all(
    files.map(async (file) => {
      const read = readExercise(JSON.parse(await readFile(join(folder, file), 'utf8')));
      if (!read.ok)
        throw new Error(`${file}: ${read.problems[0]?.path ?? ''}: ${read.problems[0]?.message ?? ''}`);
      return read.value;
    }),
  );
  return exercises.sort(
    (a, b) => FAMILIES.indexOf(a.family) - FAMILIES.indexOf(b.family) || a.title.localeCompare(b.title),
  );
}

/** Puts the shipped exercises into the database, or brings them up to date; what was set before stays as it was. */
export async function loadExercises(database: Knex, folder: string): Promise<Exercise[]> {
  const exercises = await readExercises(folder);
  for (const [position, document] of exercises.entries()) {
    await ExerciseModel.query(database)
      .insert({ id: document.id, document, position })
      .onConflict('id')
      .merge();
  }
  return exercises;
}
