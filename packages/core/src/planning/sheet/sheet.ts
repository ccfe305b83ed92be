import { settableOn, purposeOf, kindName } from '../../catalogue/index.js';
import type { Bench } from '../../bench/index.js';
import { describeStimulus } from '../../circuit/index.js';
import {
  EQUIVALENCE,
  criteriaOf,
  grade,
  referenceBench,
  type Criterion,
  type Exercise,
  type Part,
} from '../../marking/index.js';
import { describeExpected, isExpectation, type Expected, type Step } from '../../simulation/index.js';
import type { Stimulus } from '../../circuit/index.js';
import { deadTestTable, type DeadTestTable } from '../dead-tests/index.js';

/** Something to look at in a functional test, after what was done. */
export interface SheetRow {
  /** What is done before it is looked at, in words and as steps since the last row. */
  readonly does: readonly string[];
  readonly steps: readonly Stimulus[];
  readonly expect: Readonly<Record<string, Expected>>;
  readonly expected: string;
}

export interface SheetFunction {
  readonly id: string;
  readonly title: string;
  readonly essential: boolean;
  readonly rows: readonly SheetRow[];
}

/** A dial or a delay that is looked at. */
export interface SheetSetting {
  readonly tag: string;
  readonly name: string;
  readonly setting: string;
  readonly unit: string;
  readonly right: number;
}

/** Something that is judged beside the functions: by eye, or by a test of its own. */
export interface SheetCheck {
  readonly part: Exclude<Part, 'behaviour'>;
  readonly id: string;
  readonly title: string;
  readonly points: number;
  /** A board does not pass without it. */
  readonly essential?: boolean;
  /** How it is found out on a physical board. */
  readonly how: string;
}

/** What is asked of a physical board: everything that a mark on the screen is made of. */
export interface BenchSheet {
  readonly exercise: string;
  readonly title: string;
  readonly board: string;
  readonly cautions: readonly string[];
  readonly deadTests: DeadTestTable;
  readonly functions: readonly SheetFunction[];
  readonly settings: readonly SheetSetting[];
  readonly checks: readonly SheetCheck[];
  readonly points: Readonly<Record<string, number>>;
  readonly max: number;
  readonly pass: number;
}

/** Shown wherever a real board is worked at. */
export const CAUTIONS: readonly string[] = [
  'Isolate, lock off and prove dead before you touch anything.',
  'Nobody energises before the instructor has said so and signed for it.',
  'Tests on a live board only under supervision.',
  'A right simulation does not make a real board safe: local codes and a licensed person decide.',
];

/** How a property is tried on a physical board. [P] common practice, no source. */
const HOW: Readonly<Record<string, string>> = {
  'no-short': 'No protective device opened in any test, both buttons pressed at once included.',
  'stop-drops': 'While it runs, press and hold each Stop, then press every Start: nothing runs.',
  'estop-holds': 'Press the emergency stop while it runs, press every Start, release it: nothing runs.',
  'overload-drops': 'Trip each overload by its test button while it runs, press every Start: nothing runs.',
  'no-self-start':
    'While it runs, cut and restore the supply; release the emergency stop; reset the overload: nothing starts.',
  'coil-voltage': 'Read the voltage at each coil while it is in: 85 to 110 % of its rating.',
  'no-chatter': 'No contactor or relay buzzes or chatters in any test.',
  'no-race': 'Each start tried ten times ends in the same state.',
  'earth-bonded': 'Read each motor frame to the supply’s earth, dead: closed.',
  'full-phases':
    'With the motor running, all three lines carry the same current; dead, no lead of N or PE is under its terminals.',
  'dead-at-rest':
    'Supply on, every contactor out: each motor terminal reads 0 V to every line, to neutral and to earth.',
  isolates: 'Everything that isolates is opened: each coil and motor terminal reads 0 V to every line.',
  'overload-in-line':
    'Dead: from each line terminal of the motor to the contactor, the only way leads through a heater of its relay.',
  'earth-carries-nothing':
    'Dead, with the bond of earth and neutral lifted: no coil, lamp or winding reads to the protective conductor.',
  'separate-secondary':
    'Dead: the secondary reads open to every line and to neutral, and closed to earth at one terminal at the most.',
};

/**
 * How a single fault is tried that a board must bear: never with the supply on. [P] common practice, no
 * source.
 */
const HOW_SURVIVED =
  'Dead and locked off: bring it about by hand (hold the armature in, bridge the pole); the ways to what must stay out read open.';

const BY_EYE = 'Look at the board.';

const howOf = ({ part, id }: Pick<Criterion, 'part' | 'id'>): string =>
  part === 'safety' ? (HOW[id] ?? HOW_SURVIVED) : BY_EYE;

/** A board that its students wire, as it should be. */
export function benchSheet(exercise: Exercise): BenchSheet {
  const reference = referenceBench(exercise);
  const { criteria: all, max, pass } = grade(exercise, reference, { log: [], faults: false });
  const asked = (part: Part) =>
    all
      .filter((one) => one.part === part && one.id !== EQUIVALENCE)
      .map((one) => ({ ...one, weight: one.max, broken: null }));
  // Nobody works a physical board in every order: the functions have the points of that comparison too.
  const criteria = criteriaOf(exercise, {
    behaviour: asked('behaviour'),
    safety: asked('safety'),
    rules: asked('rules'),
    workmanship: asked('workmanship'),
  });
  const points = Object.fromEntries(criteria.map(({ part, id, max: most }) => [`${part}/${id}`, most]));
  return {
    exercise: exercise.id,
    title: exercise.title,
    board: exercise.bench.title,
    cautions: CAUTIONS,
    deadTests: deadTestTable(reference),
    functions: exercise.behaviours.map(({ id, title, essential = true, steps }) => ({
      id,
      title,
      essential,
      rows: rowsOf(steps),
    })),
    settings: settingsOf(reference),
    checks: criteria.flatMap(({ part, id, title, max: most, essential }): SheetCheck[] =>
      part === 'behaviour'
        ? []
        : [
            {
              part,
              id,
              title,
              points: most,
              ...(essential ? { essential } : {}),
              how: howOf({ part, id }),
            },
          ],
    ),
    points,
    max,
    pass,
  };
}

/** What is done before a row is looked at, in words; `k` is the row's place. */
export const doneWords = (does: readonly string[], k: number): string =>
  does.join(', ') || (k === 0 ? 'with the supply on' : 'look further');

/** What is done and then looked at, row by row. */
export function rowsOf(steps: readonly Step[]): SheetRow[] {
  const rows: SheetRow[] = [];
  let done: Stimulus[] = [];
  for (const step of steps) {
    if (!isExpectation(step)) {
      done.push(step);
      continue;
    }
    const expected = Object.entries(step.expect).map(([what, value]) => `${what} ${describeExpected(value)}`);
    rows.push({
      does: done.map(describeStimulus),
      steps: done,
      expect: step.expect,
      expected: expected.join(', '),
    });
    done = [];
  }
  return rows;
}

const settingsOf = ({ devices }: Bench): SheetSetting[] =>
  devices.flatMap((device) =>
    settableOn(device).map(({ setting, unit }): SheetSetting => ({
      tag: device.tag,
      name: device.duty ? purposeOf(device) : kindName(device),
      setting,
      unit,
      right: Number((device.settings as Readonly<Record<string, unknown>>)[setting]),
    })),
  );
