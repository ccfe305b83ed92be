import { FAMILIES, askedExercise, referenceBench, type Exercise } from '../marking/index.js';
import { makeQuestions, type Question } from '../questions/index.js';
import { CONTROLLERS } from './families/controllers.js';
import { SEARCHES, type SearchRecipe } from './families/fault-finding.js';
import { QUESTIONS, type AskedRecipe } from './families/questions.js';
import { EXTENSIONS } from './families/extensions.js';
import { FIRST_CIRCUITS } from './families/first-circuits.js';
import { JOGGING } from './families/jogging.js';
import { REVERSING } from './families/reversing.js';
import { SEAL_IN } from './families/seal-in.js';
import { STAR_DELTA } from './families/star-delta.js';
import { readExercise } from '../documents.js';
import type { FormName } from './form.js';
import { formsOf, resolveExercise, type Recipe } from './recipe.js';

export { changed, type Board, type Change, type DeviceEntry } from './board.js';
export { FORM, FORMS, type Form, type FormName } from './form.js';
export { readLeads } from './leads.js';
export { formsOf, resolveExercise, type BehaviourRecipe, type Recipe, type SharedBoard } from './recipe.js';
export { readSteps } from './steps.js';
export { deadTestsFor, exerciseFromTemplate, templateProblems } from './template.js';
export {
  LAMP_DUTIES,
  TEMPLATE_DEFAULTS,
  TEMPLATE_FAMILIES,
  TEMPLATE_FIELDS,
  type LampDuty,
  type TemplateChoices,
  type TemplateFamily,
  type TemplateField,
} from './template-fields.js';

/** Every recipe that ships, each in the first of its forms. */
export const RECIPES: readonly Recipe[] = [
  ...FIRST_CIRCUITS,
  ...SEAL_IN,
  ...JOGGING,
  ...REVERSING,
  ...STAR_DELTA,
  ...EXTENSIONS,
  ...CONTROLLERS,
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

/** Points of a search for faults, and what passes (common practice, no source). */
const SEARCH_MARKS = { behaviour: 50, safety: 20, rules: 20, workmanship: 10, pass: 60 } as const;

/**
 * A search on the board of another exercise: its reference is fitted. Throws, with the place, where a fault
 * has none on the board.
 */
export function searchOn(board: Exercise, { id, title, brief, sets }: Omit<SearchRecipe, 'of'>): Exercise {
  const read = readExercise({
    ...board,
    practice: undefined,
    deadTest: undefined,
    laid: undefined,
    survive: undefined,
    essentialRules: undefined,
    id,
    title,
    brief,
    task: 'find',
    bench: referenceBench(board),
    reference: [],
    faults: [],
    sets,
    marks: SEARCH_MARKS,
    shows: ['reference', 'tests', 'causes'],
  });
  if (read.ok) return read.value;
  throw new Error(`${id}: ${read.problems.map(({ path, message }) => `${path}: ${message}`).join('; ')}`);
}

function shippedSearch({ of, ...recipe }: SearchRecipe): Exercise {
  const known = made.get(recipe.id);
  if (known) return known;
  const board = shippedExercise(of);
  if (!board) throw new Error(`${recipe.id}: there is no exercise ${of}`);
  const exercise = searchOn(board, recipe);
  made.set(recipe.id, exercise);
  return exercise;
}

/** The searches for faults that ship, in order of their families. */
export const shippedSearches = (): Exercise[] => SEARCHES.map(shippedSearch);

/** Questions of several degrees about one board; what was asked before is not asked again. */
function questionsOf({ parts }: AskedRecipe, board: Exercise): Question[] {
  const bench = referenceBench(board);
  const asked = new Map<string, Question>();
  for (const { degree, count, seed } of parts) {
    const most = asked.size + count;
    for (const question of makeQuestions(bench, { degree, seed, count: most }))
      if (asked.size < most) asked.set(JSON.stringify({ ...question, id: '' }), question);
  }
  return [...asked.values()].map((question, k) => ({ ...question, id: `q${k + 1}` }));
}

function shippedAsked(recipe: AskedRecipe): Exercise {
  const known = made.get(recipe.id);
  if (known) return known;
  const board = shippedExercise(recipe.of);
  if (!board) throw new Error(`${recipe.id}: there is no exercise ${recipe.of}`);
  const head = { ...recipe, family: board.family };
  const exercise = askedExercise(referenceBench(board), head, questionsOf(recipe, board));
  made.set(recipe.id, exercise);
  return exercise;
}

/** The sets of questions that ship, in order of their families. */
export const shippedQuestions = (): Exercise[] => QUESTIONS.map(shippedAsked);

/** One shipped exercise by its id, to wire, to find or to answer; undefined where none has it. */
export function shippedExercise(id: string): Exercise | undefined {
  for (const recipe of RECIPES)
    for (const [k, form] of shippedForms(recipe).entries())
      if (id === (k === 0 ? recipe.id : `${recipe.id}-${form}`)) return shipped(recipe, form);
  const search = SEARCHES.find((recipe) => recipe.id === id);
  if (search) return shippedSearch(search);
  const asked = QUESTIONS.find((recipe) => recipe.id === id);
  return asked && shippedAsked(asked);
}
