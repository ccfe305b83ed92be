import { FAMILIES, type Exercise } from '../marking/index.js';
import { FIRST_CIRCUITS } from './families/first-circuits.js';
import { JOGGING } from './families/jogging.js';
import { REVERSING } from './families/reversing.js';
import { SEAL_IN } from './families/seal-in.js';
import { STAR_DELTA } from './families/star-delta.js';
import type { FormName } from './form.js';
import { formsOf, resolveExercise, type Recipe } from './recipe.js';

export { changed, type Board, type Change, type DeviceEntry } from './board.js';
export { FORM, FORMS, type Form, type FormName } from './form.js';
export { readLeads } from './leads.js';
export { formsOf, resolveExercise, type BehaviourRecipe, type Recipe, type SharedBoard } from './recipe.js';
export { readSteps } from './steps.js';

/** Every recipe that ships, each in the first of its forms. */
export const RECIPES: readonly Recipe[] = [
  ...FIRST_CIRCUITS,
  ...SEAL_IN,
  ...JOGGING,
  ...REVERSING,
  ...STAR_DELTA,
];

/** What ships of a recipe: its first form, and its US form where that has a title of its own. */
const shippedForms = (recipe: Recipe): readonly FormName[] =>
  recipe.alsoUs === undefined ? formsOf(recipe).slice(0, 1) : formsOf(recipe);

const made = new Map<string, Exercise>();

/** A shipped exercise is made once, when it is first asked for. */
function shipped(recipe: Recipe, form: FormName): Exercise {
  const key = `${recipe.id} ${form}`;
  const exercise = made.get(key) ?? resolveExercise(recipe, form);
  made.set(key, exercise);
  return exercise;
}

/** The exercises that ship, by family and title. */
export function shippedExercises(): Exercise[] {
  return RECIPES.flatMap((recipe) => shippedForms(recipe).map((form) => shipped(recipe, form))).sort(
    (a, b) => FAMILIES.indexOf(a.family) - FAMILIES.indexOf(b.family) || a.title.localeCompare(b.title),
  );
}

/** One shipped exercise by its id; undefined where none has it. */
export function shippedExercise(id: string): Exercise | undefined {
  for (const recipe of RECIPES)
    for (const [k, form] of shippedForms(recipe).entries())
      if (id === (k === 0 ? recipe.id : `${recipe.id}-${form}`)) return shipped(recipe, form);
  return undefined;
}
