import type { Knex } from 'knex';
import type { Exercise } from '@contactum/core';
import { shippedExercises, shippedSearches } from '@contactum/core/exercises';
import { ExerciseModel } from '../database/models.js';

/** Puts the shipped exercises into the database, or brings them up to date; what was set before stays as it was. */
export async function loadExercises(database: Knex): Promise<Exercise[]> {
  const exercises = [...shippedExercises(), ...shippedSearches()];
  for (const [position, document] of exercises.entries()) {
    await ExerciseModel.query(database)
      .insert({ id: document.id, document, position })
      .onConflict('id')
      .merge();
  }
  return exercises;
}
