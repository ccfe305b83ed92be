import { FAMILIES, type Exercise } from '../marking/index.js';
import { FIRST_CIRCUITS } from './families/first-circuits.js';
import { JOGGING } from './families/jogging.js';
import { REVERSING } from './families/reversing.js';
import { SEAL_IN } from './families/seal-in.js';
import { STAR_DELTA } from './families/star-delta.js';
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

const shipped = (recipe: Recipe): Exercise[] =>
  (recipe.alsoUs ? formsOf(recipe) : formsOf(recipe).slice(0, 1)).map((form) =>
    resolveExercise(recipe, form),
  );

/** Shipped exercises are made once. */
let made: ReadonlyMap<string, Exercise> | null = null;
const all = (): ReadonlyMap<string, Exercise> =>
  (made ??= new Map(RECIPES.flatMap(shipped).map((one) => [one.id, one])));

/** The exercises that ship, by family and title. */
export function shippedExercises(): Exercise[] {
  return [...all().values()].sort(
    (a, b) => FAMILIES.indexOf(a.family) - FAMILIES.indexOf(b.family) || a.title.localeCompare(b.title),
  );
}

/** One shipped exercise by its id; undefined where none has it. */
export const shippedExercise = (id: string): Exercise | undefined => all().get(id);
