import { controlTests, deadTestsOf, referenceBench, type Exercise, type Rules } from '../marking/index.js';
import { proposeBehaviours, proposeObserve } from '../setting/index.js';
import { readExercise } from '../documents.js';
import { FORM } from './form.js';
import { circuitOf } from './template-circuit.js';
import { TEMPLATE_DEFAULTS, type TemplateChoices } from './template-fields.js';

const TITLES = {
  'seal-in': 'Seal-in starter',
  jogging: 'Jogging starter',
  reversing: 'Reversing starter',
  'star-delta': 'Star-delta starter',
} as const;

const BRIEFS = {
  'seal-in':
    'Start runs the motor, Stop stops it; it runs on when Start is let go, and stays off after a trip or a supply failure until somebody presses Start.',
  jogging:
    'Start runs the motor until Stop; jogging moves it only while the button is held, whatever was pressed before.',
  reversing:
    'The motor runs forward and in reverse by two buttons, and Stop stops it. Both contactors at once would short two lines.',
  'star-delta':
    'The motor starts in star and goes over to delta. Star and delta at once would short the lines.',
} as const;

/** Choices that cannot stand together, each named by its key. */
export function templateProblems({
  family,
  stations,
  jog,
  interlocks,
  limits,
  form,
  control,
  lineVoltage,
  controlVoltage,
}: TemplateChoices): { path: string; message: string }[] {
  const problems: { path: string; message: string }[] = [];
  if (family === 'jogging' && jog === 'button' && stations > 1)
    problems.push({
      path: 'stations',
      message: 'must be 1 where the jog button’s own contact opens the seal-in',
    });
  if (family === 'reversing' && interlocks.length === 0)
    problems.push({
      path: 'interlocks',
      message: 'must name at least one: without any the board is one to condemn',
    });
  if (limits && family !== 'reversing')
    problems.push({ path: 'limits', message: 'are for a reversing starter' });
  if (form === 'us' && control === 'direct' && lineVoltage > 240)
    problems.push({ path: 'control', message: `must be a transformer at ${lineVoltage} V in the US way` });
  if (form === 'us' && control === 'dc' && lineVoltage > 240)
    problems.push({
      path: 'control',
      message: `must be a transformer at ${lineVoltage} V in the US way: the relay that watches the lines hangs on a line and neutral`,
    });
  if (control === 'dc' && controlVoltage > 60)
    problems.push({ path: 'controlVoltage', message: `must be at most 60 V DC, is ${controlVoltage}` });
  return problems;
}

/** The rules that go with the choices (common practice, no source). */
const rulesOf = ({ family, form, control, overload, interlocks, emergencyStop }: TemplateChoices): Rules => ({
  overloadPosition: overload,
  coilReturnUnswitched: true,
  fusedControl: true,
  earthBonded: true,
  maxWiresPerTerminal: 2,
  stopUpstream: true,
  noPoleSealing: true,
  overloadDial: true,
  // The relay that watches the lines is live whatever the emergency stop does.
  ...(emergencyStop && control !== 'dc' ? { emergencyStopFirst: true } : {}),
  ...(family === 'reversing' ? { interlocks } : {}),
  ...(family === 'star-delta' ? { interlocks: ['electrical'] } : {}),
  ...(control === 'transformer' ? { secondaryEarthed: true } : {}),
  ...(form === 'us' ? { wireColours: 'us' } : {}),
});

/**
 * A whole exercise by choices: board, reference wiring, behaviours found on it, rules, marks, dead tests and faults. Throws, with the
 * place, where choices cannot stand together.
 */
export function exerciseFromTemplate(
  id: string,
  given: Partial<TemplateChoices> & Pick<TemplateChoices, 'family'>,
): Exercise {
  const choices: TemplateChoices = { ...TEMPLATE_DEFAULTS, ...given };
  const [problem] = templateProblems(choices);
  if (problem) throw new Error(`${problem.path}: ${problem.message}`);
  const { family, form, jog } = choices;
  const { devices, interlocks, nets, faults } = circuitOf(choices);
  const read = readExercise({
    contactum: 'exercise/1',
    id,
    title: TITLES[family],
    family,
    brief: BRIEFS[family],
    bench: { contactum: 'bench/1', title: `${TITLES[family]} board`, devices, wires: [], interlocks },
    reference: nets.wires(FORM[form].paint),
    observe: [],
    behaviours: [],
    rules: rulesOf(choices),
    repair: 'marked',
    shows: ['reference', 'progress', 'tests'],
    // A jog button’s NC contact in the seal-in races: that is what the exercise teaches.
    ...(family === 'jogging' && jog === 'button' ? { lesson: ['no-race'] } : {}),
    marks: { behaviour: 50, safety: 30, rules: 10, workmanship: 10, pass: 70 },
    faults,
  });
  if (!read.ok) throw new Error(read.problems.map(({ path, message }) => `${path}: ${message}`).join('; '));
  const observe = proposeObserve(read.value);
  const watched = { ...read.value, observe };
  return { ...watched, behaviours: proposeBehaviours(watched), deadTest: deadTestsFor(watched) };
}

/** What a board is tested for before it is energised: frames, conductors, and the control circuit with each start button held. */
export function deadTestsFor(exercise: Exercise): NonNullable<Exercise['deadTest']> {
  const reference = referenceBench(exercise);
  const starts = reference.devices.filter(
    ({ duty }) => duty === 'start' || duty === 'forward' || duty === 'reverse',
  );
  return [
    ...deadTestsOf({ deadTest: true }, reference),
    ...controlTests(
      reference,
      starts.map(({ tag }) => tag),
    ),
  ];
}
