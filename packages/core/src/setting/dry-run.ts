import type { Bench } from '../bench/index.js';
import { anatomy, type Device } from '../catalogue/index.js';
import { compile, targetOf } from '../circuit/index.js';
import { seededNumbers } from '../random/index.js';
import { Solver } from '../electrics/index.js';
import { grade, isAsked, referenceBench, type Exercise, type Report } from '../marking/index.js';
import { propertyTitle, singleFaultTolerance, type Tolerance } from '../proof/index.js';
import { isExpectation, runSteps, type Step } from '../simulation/index.js';
import { wrongWirings } from './mistakes.js';
import { rightWirings } from './otherwise.js';
import { groundOf } from './wiring.js';

/** What stands against setting an exercise, or should be known before it is set. */
export interface Objection {
  readonly part: 'behaviour' | 'safety' | 'rules' | 'workmanship' | 'exercise';
  readonly id: string;
  readonly title: string;
  readonly found: string;
  /** Steps that show it on the reference. */
  readonly steps?: readonly Step[];
  /** It may not be set so; a safety property that fails may be declared the lesson. */
  readonly refuses: boolean;
}

export interface Readiness {
  readonly ready: boolean;
  readonly objections: readonly Objection[];
  readonly score: number;
  readonly max: number;
}

/** An exercise's reference against its own behaviours, properties, rules and marks. */
export function readinessOf(exercise: Exercise): Readiness {
  // The board answers its questions: each is tried as the document is read.
  if (isAsked(exercise)) {
    const { behaviour } = exercise.marks;
    return { ready: true, objections: [], score: behaviour, max: behaviour };
  }
  const report = grade(exercise, referenceBench(exercise), { faults: false });
  const objections = [
    ...formal(exercise),
    ...unmoved(exercise),
    ...unworked(exercise),
    ...lost(report),
    ...broken(exercise, report),
    ...unproved(report),
    ...begunRight(exercise),
  ];
  return {
    ready: objections.every(({ refuses }) => !refuses),
    objections,
    score: report.score,
    max: report.max,
  };
}

const objection = (id: string, title: string, found: string, refuses = true): Objection => ({
  part: 'exercise',
  id,
  title,
  found,
  refuses,
});

/** A board that passes as the student finds it asks for nothing. */
function begunRight(exercise: Exercise): Objection[] {
  const { bench, laid } = exercise;
  if (!laid) return [];
  const opening = { ...bench, wires: [...bench.wires, ...laid] };
  const { passed } = grade({ ...exercise, laid: undefined }, opening, { faults: false });
  return passed
    ? [
        objection(
          'laid',
          'Right from the beginning',
          'the leads that are on the board when an attempt begins pass already: there is nothing to do',
        ),
      ]
    : [];
}

/** What is wrong with an exercise whatever its reference does. */
function formal({ behaviours, marks, task, sets, reference, observe }: Exercise): Objection[] {
  const all = marks.behaviour + marks.safety + marks.rules + marks.workmanship;
  return [
    ...(task !== 'find' && task !== 'program' && reference.length === 0
      ? [objection('reference', 'No reference wiring', 'wire the board before it is set')]
      : []),
    ...(task === 'find' && (sets ?? []).length === 0
      ? [objection('sets', 'No work order', 'an exercise to find needs at least one set of faults')]
      : []),
    ...(behaviours.length === 0
      ? [
          objection(
            'behaviours',
            'No behaviour',
            'nothing is asked of a wiring; propose some from the reference',
          ),
        ]
      : []),
    ...(behaviours.length > 0 && behaviours.every(({ points }) => points === 0)
      ? [objection('points', 'No behaviour has points', 'give each the weight that it has')]
      : []),
    ...(all <= 0 ? [objection('marks', 'No marks', 'the four parts must add up to more than nothing')] : []),
    ...(marks.pass > all
      ? [objection('pass', 'Nobody can pass', `the pass mark is ${marks.pass} of ${all} points`)]
      : []),
    ...(observe.length === 0
      ? [
          objection(
            'observe',
            'Nothing is observed',
            'contactors, lamps and fields are compared instead',
            false,
          ),
        ]
      : []),
  ];
}

/** Observed values that stand still in every behaviour: a wiring without them would lose nothing by it. */
function unmoved(exercise: Exercise): Objection[] {
  const { observe, behaviours, task } = exercise;
  if (task === 'find' || behaviours.length === 0) return [];
  const solver = new Solver(compile(referenceBench(exercise)));
  const moved = new Set(
    behaviours.flatMap(
      ({ steps }) => runSteps(solver, steps, { watch: observe, mechanicsAlone: true }).moved,
    ),
  );
  return observe
    .filter((what) => !moved.has(what))
    .map((what) =>
      objection(
        `unmoved-${what}`,
        `${what} is observed and never changes`,
        `no behaviour moves ${what}: add one that does, or take it off the list of what is observed`,
      ),
    );
}

/** Emergency stops, stops and overload relays of the board that no behaviour works. */
function unworked({ bench, behaviours, task }: Exercise): Objection[] {
  if (task === 'find' || behaviours.length === 0) return [];
  const worked = new Set(
    behaviours.flatMap(({ steps }) =>
      steps.flatMap((step) => (isExpectation(step) ? [] : (targetOf(step) ?? []))),
    ),
  );
  return bench.devices
    .filter(({ tag }) => !worked.has(tag))
    .flatMap((device) => {
      const what = GUARDS.find(({ is }) => is(device));
      return what
        ? [
            objection(
              `unworked-${device.tag}`,
              `No behaviour ${what.words} ${device.tag}`,
              `whether ${device.tag} works as it should is asked by the safety properties alone`,
              false,
            ),
          ]
        : [];
    });
}

/** What guards a board, and what a behaviour does with it. */
const GUARDS: readonly { readonly words: string; readonly is: (device: Device) => boolean }[] = [
  { words: 'strikes', is: ({ duty }) => duty === 'emergency-stop' },
  { words: 'presses', is: ({ duty }) => duty === 'stop' },
  { words: 'trips', is: (device) => anatomy(device).protection?.curve === 'overload' },
];

/** What the reference itself loses. Rules are a house's own: the instructor is told. */
const lost = ({ criteria }: Report): Objection[] =>
  criteria.flatMap(({ part, id, title, evidence }) =>
    evidence === null || part === 'safety'
      ? []
      : [
          {
            part,
            id,
            title,
            found: `the reference: ${evidence.found}`,
            ...(evidence.steps ? { steps: evidence.steps } : {}),
            refuses: part === 'behaviour',
          },
        ],
  );

/** Safety properties that fail on the reference, and lessons that do not. */
const broken = ({ lesson = [] }: Exercise, { properties }: Report): Objection[] =>
  properties.flatMap(({ id, holds, trace, found }): Objection[] => {
    const part = 'safety';
    const title = propertyTitle(id);
    if (!holds && !lesson.includes(id)) return [{ part, id, title, found, steps: trace, refuses: true }];
    if (holds && lesson.includes(id))
      return [
        { part, id, title, found: 'is named as the lesson, and holds on the reference', refuses: true },
      ];
    return [];
  });

const unproved = ({ proof }: Report): Objection[] =>
  !proof.complete
    ? [
        objection(
          'proof',
          'Not proved whole',
          'the board has more situations than the proof may look at; what is not refuted is not promised',
          false,
        ),
      ]
    : [];

/** A wiring of the dry run with the mark that it would get. */
export interface Trial {
  readonly kind: 'right' | 'wrong';
  readonly title: string;
  /** What a careful instructor says of it. */
  readonly should: 'full' | 'fails' | 'not-full';
  readonly bench: Bench;
  readonly score: number;
  readonly max: number;
  readonly passed: boolean;
  readonly reason: string | null;
  /** What a mark book would take. */
  readonly recorded: number;
  /** What it protects less than the reference: safety properties, or what single faults take from it. */
  readonly worse: readonly string[];
  /** Criteria that lost points. */
  readonly losses: readonly { readonly part: string; readonly title: string; readonly found: string }[];
  /** How far the mark is from what it should say, 0 to 1; above 0.5 it says something else. */
  readonly surprise: number;
  readonly says: string;
}

/** Most wrong wirings of a dry run. */
export const WRONG_WIRINGS = 60;

/** A wiring of a dry run before it is marked. */
export type TrialWiring = Pick<Trial, 'kind' | 'title' | 'should' | 'bench'>;

/**
 * Wrong wirings made from the reference by the usual mistakes, and right ones wired otherwise; the same for
 * the same seed.
 */
export function trialWirings(exercise: Exercise, seed = 1, count = WRONG_WIRINGS): TrialWiring[] {
  const random = seededNumbers(seed);
  const ground = groundOf(exercise);
  // Where a program is the student's the right one is on the board: the leads are what is tried.
  const board = (wires: Bench['wires'], { devices }: Pick<Bench, 'devices'> = ground.board): Bench => ({
    ...exercise.bench,
    devices,
    wires: [...exercise.bench.wires, ...wires],
  });
  const wrong = wrongWirings(ground, count, random).map(
    ({ title, verdict, wires, devices }): TrialWiring => ({
      kind: 'wrong',
      title,
      should: verdict,
      bench: board(wires, { devices }),
    }),
  );
  const right = rightWirings(ground, random).map(({ title, wires }): TrialWiring => ({
    kind: 'right',
    title,
    should: 'full',
    bench: board(wires),
  }));
  return [...right, ...wrong];
}

/** Marks wirings of the dry run of one exercise. */
export class TrialMarker {
  /** What single faults take from the reference, worked out when it is first asked for. */
  private tolerance: Tolerance | null = null;

  constructor(private readonly exercise: Exercise) {}

  mark(wiring: TrialWiring): Trial {
    const { bench, should } = wiring;
    const { score, max, recorded, passed, reason, criteria, properties, equivalence } = grade(
      this.exercise,
      bench,
      { faults: false },
    );
    const share = max > 0 ? recorded / max : 0;
    const losses = criteria.flatMap(({ part, title, evidence }) =>
      evidence ? [{ part, title, found: evidence.found }] : [],
    );
    const alike = equivalence.equivalent && equivalence.complete;
    const unsafe = properties
      .filter(({ holds, lesson }) => !holds && !lesson)
      .map(({ id }) => `“${propertyTitle(id)}”`);
    // What cannot be told from the reference in any order of working may still protect less than it.
    const isHidden = should === 'fails' && passed && alike;
    const worse = isHidden ? this.worseOn(bench) : unsafe;
    const verdict = isHidden ? hiddenVerdict(worse) : surpriseOf(should, share, passed);
    const says =
      alike && !passed && worse.length > 0
        ? `works as the reference does; ${worseWords(worse)}`
        : verdict.says;
    return {
      ...wiring,
      score,
      max,
      recorded,
      passed,
      reason: reason ?? null,
      losses,
      worse,
      ...verdict,
      says,
    };
  }

  /**
   * Faults of contacts and armatures that take something from a wiring which they leave the reference, in
   * words.
   */
  private worseOn(bench: Bench): string[] {
    this.tolerance ??= singleFaultTolerance(compile(referenceBench(this.exercise)));
    const kept = new Map(this.tolerance.faults.map(({ title, lost }) => [title, lost.map(({ id }) => id)]));
    return singleFaultTolerance(compile(bench)).faults.flatMap(({ title, lost }) => {
      const before = kept.get(title);
      const more = before ? lost.filter(({ id }) => !before.includes(id)) : [];
      return more.map(({ id }) => `“${propertyTitle(id)}” when ${title}`);
    });
  }
}

/** The trials of a dry run, one after the other. The caller takes them as they come. */
export function* dryRun(
  exercise: Exercise,
  seed?: number,
  count?: number,
): Generator<Trial & { readonly of: number }> {
  const wirings = trialWirings(exercise, seed, count);
  const marker = new TrialMarker(exercise);
  for (const wiring of wirings) yield { ...marker.mark(wiring), of: wirings.length };
}

/** How many of the things at which a wiring is worse are named; the rest are counted. */
const NAMED = 2;

function worseWords(worse: readonly string[]): string {
  const more = worse.length > NAMED ? ` and ${worse.length - NAMED} more` : '';
  return `worse than the reference at ${worse.slice(0, NAMED).join(', ')}${more}`;
}

/**
 * Of a wiring that passes although its mistake should not, and that no order of working tells from the
 * reference.
 */
const hiddenVerdict = (worse: readonly string[]): Pick<Trial, 'surprise' | 'says'> =>
  worse.length > 0
    ? { surprise: 0.8, says: `works as the reference does; ${worseWords(worse)}` }
    : { surprise: 0.2, says: 'works and protects as the reference does' };

/** How far a mark is from what a careful instructor says, with that in words. */
function surpriseOf(
  should: Trial['should'],
  share: number,
  passed: boolean,
): Pick<Trial, 'surprise' | 'says'> {
  const isFull = share > 0.9999;
  switch (should) {
    case 'full':
      if (!passed) return { surprise: 1, says: 'right, and does not pass' };
      return isFull
        ? { surprise: 0, says: 'right, and full marks' }
        : { surprise: 0.6 + 0.4 * (1 - share), says: 'right, and loses points' };
    case 'fails':
      if (passed)
        return { surprise: 0.7 + 0.3 * share, says: isFull ? 'wrong, and full marks' : 'wrong, and passes' };
      return { surprise: 0.5 * share, says: 'wrong, and does not pass' };
    case 'not-full':
      if (isFull) return { surprise: 0.7, says: 'careless, and full marks' };
      return passed
        ? { surprise: 0.1, says: 'careless, passes with something lost' }
        : { surprise: 0.3, says: 'careless, and does not pass' };
  }
}

/** Worst surprises first. */
export const bySurprise = <T extends Pick<Trial, 'surprise' | 'title'>>(trials: readonly T[]): T[] =>
  trials.toSorted((a, b) => b.surprise - a.surprise || a.title.localeCompare(b.title));
