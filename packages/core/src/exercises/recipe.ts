import { anatomy } from '../catalogue/index.js';
import { withUsTags } from './us-tags.js';
import { controlTests, deadTestsOf, referenceBench } from '../marking/index.js';
import type {
  DeadTest,
  Exercise,
  ExerciseFault,
  Family,
  Marks,
  Practice,
  RepairFor,
  RuleKey,
  Rules,
  Survival,
} from '../marking/index.js';
import { readExercise } from '../documents.js';
import { readProgramText, type Program } from '../program/index.js';
import { changed, type Board, type Change, type DeviceEntry } from './board.js';
import { FORM, FORMS, type Form, type FormName } from './form.js';
import { readLeads } from './leads.js';
import { readSteps } from './steps.js';

/** A board that exercises share, with what is other on it in a form. */
export interface SharedBoard extends Board {
  readonly forms: Readonly<Partial<Record<FormName, Change>>>;
}

/** A behaviour with its steps written shortly. */
export interface BehaviourRecipe {
  readonly id: string;
  readonly title: string;
  readonly points: number;
  readonly essential?: boolean;
  readonly steps: string;
}

/** An exercise as a board, a change to it, and texts that a form completes. */
export interface Recipe {
  readonly id: string;
  readonly title: string;
  readonly family: Family;
  readonly brief: string;
  readonly board: SharedBoard;
  readonly change?: Change;
  /** In which it is taught, the shipped one first; every form of its board where none are named. */
  readonly forms?: readonly FormName[];
  /** Title under which it ships in its US form too, its id with `-us` behind it. */
  readonly alsoUs?: string;
  /** Leads, one purpose a line; words in braces are the form's terms. */
  readonly reference: string;
  /** Leads that are on the board from the beginning and may be changed. */
  readonly laid?: string;
  readonly observe: readonly string[];
  readonly behaviours: readonly BehaviourRecipe[];
  readonly rules: Rules;
  readonly essentialRules?: readonly RuleKey[];
  readonly survive?: readonly Survival[];
  readonly practice?: Practice;
  readonly repair?: RepairFor;
  readonly marks?: Marks;
  /**
   * Faults to find, each as its kind, its place and, behind a stroke, its title: `open-wire S2:14 KM1:A1 |
   * Lead to the coil broken`.
   */
  readonly faults?: readonly string[];
  /** What the student may see; the reference drawing and how far it is wired where it says nothing. */
  readonly shows?: Exercise['shows'];
  readonly leads?: Exercise['leads'];
  /** What hints cost; the usual where it says nothing and the reference may be seen. */
  readonly hints?: Exercise['hints'];
  /** Properties whose failure is what is taught. */
  readonly lesson?: Exercise['lesson'];
  /** To wire where it says nothing; the leads of a board whose program is to be written are fitted. */
  readonly task?: Exclude<Exercise['task'], 'find'>;
  /** By controller: its program as structured text. */
  readonly programs?: Readonly<Record<string, string>>;
  /** In this exercise other than what the form says. */
  readonly terms?: Readonly<Partial<Record<FormName, Readonly<Record<string, string>>>>>;
}

/**
 * Points of the four parts, and what passes, where an exercise does not say otherwise (common practice, no
 * source).
 */
export const MARKS: Marks = { behaviour: 40, safety: 45, rules: 10, workmanship: 5, pass: 70 };

/** Points of hints where an exercise does not say otherwise (common practice, no source). */
export const HINTS = { symptom: 1, net: 2, lead: 4 } as const;

/** The forms in which an exercise is taught. */
export const formsOf = ({ board, forms }: Recipe): readonly FormName[] =>
  forms ?? FORMS.filter((name) => board.forms[name] !== undefined);

/**
 * The exercise that a recipe gives in a form. Throws where the board has no such form, or what comes out is
 * no exercise, with the place.
 */
export function resolveExercise(recipe: Recipe, name: FormName = 'iec'): Exercise {
  const { board, change = {}, terms = {}, reference, behaviours, faults = [], marks = MARKS } = recipe;
  const { id, title: heading, family, brief, observe, rules, repair, lesson, leads: hung } = recipe;
  const { essentialRules, survive } = recipe;
  const { shows = ['reference', 'progress', 'tests', 'proof'] } = recipe;
  const isFirst = name === formsOf(recipe)[0];
  const formChange = formsOf(recipe).includes(name) ? board.forms[name] : undefined;
  if (!formChange) throw new Error(`${recipe.id}: there is no form "${name}" of it`);
  const form = FORM[name];
  const said = { ...form.terms, ...terms[name] };
  const { devices, title, interlocks = [] } = changed(changed(board, change), formChange);
  const leads = readLeads(completed(reference, said), form.paint);
  const read = readExercise({
    contactum: 'exercise/1',
    id: isFirst ? id : `${id}-${name}`,
    title: isFirst ? heading : (recipe.alsoUs ?? heading),
    family,
    brief,
    observe,
    // In the US way the secondary's other end is earthed, and asked for wherever there is a transformer.
    rules: name === 'us' ? { secondaryEarthed: true, ...rules } : rules,
    ...(essentialRules ? { essentialRules } : {}),
    ...(survive ? { survive } : {}),
    ...(recipe.practice ? { practice: recipe.practice } : {}),
    ...(repair ? { repair } : {}),
    ...(lesson ? { lesson } : {}),
    ...(hung ? { leads: hung } : {}),
    shows,
    // Hints are for leads.
    ...(shows.includes('reference') && recipe.task !== 'program' ? { hints: recipe.hints ?? HINTS } : {}),
    bench: {
      contactum: 'bench/1',
      title,
      devices: devices.map((device) => withProgram(withCoil(device, form), recipe)),
      wires: recipe.task === 'program' ? leads : [],
      interlocks,
    },
    ...(recipe.task ? { task: recipe.task } : {}),
    ...(recipe.task && recipe.programs ? { program: programsOf(recipe.programs) } : {}),
    reference: recipe.task === 'program' ? [] : leads,
    ...(recipe.laid ? { laid: readLeads(completed(recipe.laid, said), form.paint) } : {}),
    behaviours: behaviours.map((one) => ({ ...one, steps: readSteps(completed(one.steps, said)) })),
    marks,
    faults: faults.map(readFault),
  });
  if (read.ok) return withDeadTest(name === 'us' ? withUsTags(read.value) : read.value);
  throw new Error(
    `${recipe.id}: ${read.problems.map(({ path, message }) => `${path}: ${message}`).join('; ')}`,
  );
}

/**
 * A board with a motor is tested dead before it is energised, and energised only with permission: what its
 * practice does not say itself.
 */
function withDeadTest(exercise: Exercise): Exercise {
  const isStarter = exercise.bench.devices.some((device) => anatomy(device).motor !== undefined);
  if (!isStarter || exercise.task === 'program') return exercise;
  const { deadTest = deadTestTable(exercise), permission = true, ...practice } = exercise.practice ?? {};
  return { ...exercise, practice: { deadTest, permission, ...practice } };
}

/** Frames, conductors, and the control circuit with each start button held, as the reference reads. */
function deadTestTable(exercise: Exercise): DeadTest[] {
  const reference = referenceBench(exercise);
  const starts = reference.devices.filter(({ duty }) => duty === 'start' || duty === 'forward');
  return [
    ...deadTestsOf({ deadTest: true }, reference),
    ...controlTests(
      reference,
      starts.map(({ tag }) => tag),
    ),
  ];
}

/** Reads a fault that is written shortly. */
function readFault(text: string): ExerciseFault {
  const [fault = '', title = ''] = text.split(' | ');
  const [kind = '', ...place] = fault.split(' ');
  const id = `${kind}-${place.join('-')}`
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .slice(0, 60);
  return { id, title, fault: { [kind]: place.join(' ') } };
}

/** A text with the form's terms in place of the words in braces. */
function completed(text: string, terms: Readonly<Record<string, string>>): string {
  return text.replace(/\{(\w+)\}/g, (_, word: string) => {
    const term = terms[word];
    if (term === undefined) throw new Error(`no form says what {${word}} is`);
    return term;
  });
}

/** A device with the form's control voltage where it has a coil or a lamp and says none itself. */
function withCoil(device: DeviceEntry, { coil }: Form): DeviceEntry {
  if (device.options?.coil === CONTROL_COIL) return { ...device, options: { ...device.options, coil } };
  if (device.options?.voltage === CONTROL_COIL)
    return { ...device, options: { ...device.options, voltage: coil.voltage } };
  return device;
}

/** A controller with its program in it, where that is not to be written. */
function withProgram(device: DeviceEntry, { task, programs = {} }: Recipe): DeviceEntry {
  const text = programs[device.tag];
  if (text === undefined || task !== undefined) return device;
  return { ...device, settings: { ...device.settings, program: programFrom(device.tag, text) } };
}

const programsOf = (programs: Readonly<Record<string, string>>): Readonly<Record<string, Program>> =>
  Object.fromEntries(Object.entries(programs).map(([tag, text]) => [tag, programFrom(tag, text)]));

/** A program that ships as text; throws with its line what has no ladder form. */
function programFrom(tag: string, text: string): Program {
  const read = readProgramText(text);
  if (!read.ok) throw new Error(`program of ${tag}, line ${read.line}: ${read.message}`);
  return read.program;
}

/** Stands in a board for what goes with the form's control voltage. */
export const CONTROL_COIL = 'control voltage';
