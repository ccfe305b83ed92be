import { iecTag, usTag } from '../catalogue/index.js';
import { controlTests, deadTestsOf, referenceBench, type Exercise, type Rules } from '../marking/index.js';
import { proposeBehaviours, proposeObserve } from '../setting/index.js';
import { readExercise } from '../documents.js';
import { splitRef, type TerminalRef, type Wire } from '../bench/index.js';
import type { TemplateCircuit } from './template-build.js';
import { circuitOf } from './template-circuit.js';
import { HINTS, MARKS } from './recipe.js';
import { RULES as CONTROLLER_RULES } from './families/controller-parts.js';
import { STARTER_RULES, sticksIn, weldedPole } from './families/parts.js';
import type { Nets } from './nets.js';
import { paintOf } from './template-paint.js';
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

const BY_CONTROLLER =
  'Wire the board and write the program: buttons, the overload relay and what the contactors report go to ' +
  'inputs, the coils hang on outputs.';

/** Choices that cannot stand together, each named by its key. */
export function templateProblems(choices: TemplateChoices): { path: string; message: string }[] {
  return [
    ...circuitProblems(choices),
    ...(choices.logic === 'controller' ? controllerProblems(choices) : []),
  ];
}

/** Choices that belong to contacts and relays alone. */
function controllerProblems({
  family,
  relays,
  overload,
  interlocks,
}: TemplateChoices): { path: string; message: string }[] {
  const problems: { path: string; message: string }[] = [];
  if (relays === 'own-rung')
    problems.push({
      path: 'relays',
      message: 'must be one for both, or in series on one input, by controller',
    });
  if (overload === 'coil')
    problems.push({
      path: 'overload',
      message: 'leads to an input by controller: must not be behind the coils',
    });
  if (family === 'reversing' && !interlocks.includes('electrical'))
    problems.push({
      path: 'interlocks',
      message: 'must name electrical: a program alone does not interlock',
    });
  return problems;
}

function circuitProblems({
  family,
  logic,
  stations,
  jog,
  interlocks,
  limits,
  form,
  control,
  lineVoltage,
  controlVoltage,
  overload,
  relays,
  stationCable,
}: TemplateChoices): { path: string; message: string }[] {
  const problems: { path: string; message: string }[] = [];
  if (logic === 'relays' && family === 'jogging' && jog === 'button' && stations > 1)
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
  if (relays !== 'shared' && family !== 'reversing')
    problems.push({ path: 'relays', message: 'are for a reversing starter' });
  if (relays === 'own-rung' && overload === 'coil')
    problems.push({
      path: 'overload',
      message: 'must be before the coils where each direction has its relay in its own rung',
    });
  if (stationCable && (stations < 2 || family === 'jogging' || family === 'star-delta'))
    problems.push({ path: 'stationCable', message: 'is for a remote station: there must be more than one' });
  if (control === 'dc' && controlVoltage > 60)
    problems.push({ path: 'controlVoltage', message: `must be at most 60 V DC, is ${controlVoltage}` });
  return problems;
}

/** What of the rules a board's form, supply and cables ask for, whatever its logic. */
const formRules = (
  { form, control, colours }: TemplateChoices,
  cables: NonNullable<Rules['cables']>,
): Rules => ({
  ...(control === 'transformer' ? { secondaryEarthed: true } : {}),
  ...(colours !== 'form' ? { wireColours: colours } : form === 'us' ? { wireColours: 'us' } : {}),
  ...(cables.length > 0 ? { cables } : {}),
});

/** The rules of a board with a controller (common practice, no source). */
const controllerRules = (choices: TemplateChoices, cables: NonNullable<Rules['cables']>): Rules => ({
  ...CONTROLLER_RULES,
  overloadDial: true,
  feedback: true,
  ...(choices.emergencyStop ? { estopCutsOutputs: true } : {}),
  ...(choices.family === 'reversing' || choices.family === 'star-delta' ? { hardwiredInterlock: true } : {}),
  ...formRules(choices, cables),
});

/** What every house asks of a starter, with the rules that go with the choices (common practice, no source). */
function rulesOf(choices: TemplateChoices, cables: NonNullable<Rules['cables']>): Rules {
  const { family, control, overload, interlocks, emergencyStop, relays } = choices;
  return {
    ...STARTER_RULES,
    // With each relay in its own rung the contacts stand neither first nor behind the coils.
    overloadPosition: relays === 'own-rung' ? 'either' : overload,
    // The relay that watches the lines is live whatever the emergency stop does.
    ...(emergencyStop && control !== 'dc' && control !== 'lines' ? { emergencyStopFirst: true } : {}),
    ...(family === 'reversing' ? { interlocks } : {}),
    ...(family === 'star-delta' ? { interlocks: ['electrical'] } : {}),
    ...formRules(choices, cables),
  };
}

/**
 * A whole exercise by choices: board, reference wiring, behaviours found on it, rules, marks, dead tests
 * and faults. Throws, with the place, where choices cannot stand together.
 */
export function exerciseFromTemplate(
  id: string,
  given: Partial<TemplateChoices> & Pick<TemplateChoices, 'family'>,
): Exercise {
  const choices: TemplateChoices = { ...TEMPLATE_DEFAULTS, ...given };
  const [problem] = templateProblems(choices);
  if (problem) throw new Error(`${problem.path}: ${problem.message}`);
  const { family } = choices;
  const title = `${TITLES[family]}${choices.logic === 'controller' ? ' by controller' : ''}`;
  const { devices, interlocks, nets, faults, boxes, program } = circuitOf(choices, title);
  const reference = wiresOf(nets, choices, boxes);
  const cables = cablesOf(reference, boxes);
  const read = readExercise({
    contactum: 'exercise/1',
    id,
    title,
    family,
    brief: program ? `${BRIEFS[family]} ${BY_CONTROLLER}` : BRIEFS[family],
    bench: { contactum: 'bench/1', title: `${title} board`, devices, wires: [], interlocks },
    reference,
    observe: [],
    behaviours: [],
    ...(program ? { task: 'both', program } : {}),
    rules: program ? controllerRules(choices, cables) : rulesOf(choices, cables),
    ...interlocking(choices),
    repair: 'marked',
    shows: ['reference', 'progress', 'tests', 'proof'],
    hints: HINTS,
    ...lessonOf(choices),
    marks: MARKS,
    faults,
  });
  if (!read.ok) throw new Error(read.problems.map(({ path, message }) => `${path}: ${message}`).join('; '));
  const observe = proposeObserve(read.value);
  const watched = { ...read.value, observe };
  return {
    ...watched,
    behaviours: proposeBehaviours(watched),
    practice: { deadTest: deadTestsFor(watched), permission: true },
  };
}

const wiresOf = (nets: Nets, { form, colours }: TemplateChoices, boxes: TemplateCircuit['boxes']): Wire[] =>
  nets.wires(paintOf(form, colours), boxes);

/** Each remote station on a cable with as many cores as it needs. */
const cablesOf = (reference: readonly Wire[], boxes: TemplateCircuit['boxes']) =>
  boxes.map((devices) => {
    const isInside = (ref: TerminalRef) => devices.includes(splitRef(ref).tag);
    return { devices, cores: reference.filter(({ from, to }) => isInside(from) !== isInside(to)).length };
  });

/**
 * What is taught by a property that fails: a jog button’s NC contact in the seal-in races; with a relay in
 * each rung the other direction may still run.
 */
function lessonOf({ family, logic, jog, relays }: TemplateChoices): Pick<Exercise, 'lesson'> {
  if (logic === 'controller') return {};
  if (family === 'jogging' && jog === 'button') return { lesson: ['no-race'] };
  return relays === 'own-rung' ? { lesson: ['overload-drops'] } : {};
}

/** Contactors that exclude each other must bear that one sticks. */
function interlocking({
  family,
  form,
  logic,
}: TemplateChoices): Pick<Exercise, 'essentialRules' | 'survive'> {
  const [one, two, three] = [1, 2, 3].map((n) => (form === 'us' ? usTag('M', n) : iecTag('KM', n))) as [
    string,
    string,
    string,
  ];
  const essentialRules: Exercise['essentialRules'] = [
    logic === 'controller' ? 'hardwiredInterlock' : 'interlocks',
  ];
  if (family === 'reversing')
    return {
      essentialRules,
      survive: [
        sticksIn(one, 'reverse shorts nothing'),
        sticksIn(two, 'forward shorts nothing'),
        weldedPole(one, 'reverse shorts nothing'),
        weldedPole(two, 'forward shorts nothing'),
      ],
    };
  if (family !== 'star-delta') return {};
  return {
    essentialRules,
    survive: [
      sticksIn(one, 'a new start shorts nothing'),
      sticksIn(two, 'no short at the changeover'),
      sticksIn(three, 'no short at the next start'),
    ],
  };
}

/**
 * What a board is tested for before it is energised: frames, conductors, and the control circuit with each
 * start button held.
 */
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
