import type { Bench } from '../bench/index.js';
import { compile } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import {
  DANGER,
  compareCircuits,
  propertyTitle,
  propertyWeight,
  proveCircuit,
  singleFaultTolerance,
  triedBy,
  type Comparison,
  type Proof,
  type Property,
  type PropertyId,
  type Tolerance,
} from '../proof/index.js';
import {
  firstMismatch,
  isExpectation,
  observableByDefault,
  runSteps,
  whyAfter,
  type RunResult,
  type Step,
} from '../simulation/index.js';
import {
  exerciseKey,
  isUntouched,
  openingBoard,
  referenceBench,
  type Behaviour,
  type Exercise,
  type HintDegree,
} from './exercise.js';
import {
  criteriaOf,
  less,
  markedBy,
  reasonAgainst,
  recordedOf,
  resultOf,
  type Judged,
  type Judgements,
} from './share.js';
import { type Part, type Report, type ReportIncident, type ReportProperty } from './report.js';
import type { Evidence } from './evidence.js';
import { judgePractice, type WorkEvent } from './practice/index.js';
import { judgeRules, judgeWorkmanship, type RuleVerdict } from './rules/index.js';
import { drivingOf, ofReference, type OfReference } from './reference.js';
import { judgeSurvival } from './survive.js';

/** How far a wiring is worked. */
export interface How {
  /** Whether to try every single fault as well; true by default. */
  readonly faults?: boolean;
  /**
   * Most situations that the proof and the comparison try before they stop and say that they are not
   * complete.
   */
  readonly most?: number;
}

export interface GradeOptions extends How {
  /** What was done at the bench, in order; without it work practice is not judged. */
  readonly log?: readonly WorkEvent[];
  /** Hints that were taken; their points are taken off. */
  readonly hints?: readonly HintDegree[];
  /** What this wiring was found to do before (`wiringKey`): then it is not worked again. */
  readonly worked?: WorkedWiring;
}

/** What a wiring does, and what its marks are but for the work at the bench: whoever wired it, and however. */
export interface WorkedWiring extends Pick<Report, 'equivalence' | 'incidents' | 'proof' | 'tolerance'> {
  readonly properties: readonly ReportProperty[];
  readonly judged: Judgements;
}

/**
 * Marks one wiring of an exercise's board: behaviours on a fresh bench each, safety properties over every
 * order of working, house rules and workmanship on the wiring, and equivalence to the reference. The
 * candidate is the exercise's board with the student's wires (`candidateBench`).
 */
export function grade(
  exercise: Exercise,
  candidate: Bench,
  { log, hints = [], worked, ...how }: GradeOptions = {},
): Report {
  const { properties, judged, ...found } = worked ?? workWiring(exercise, candidate, how);
  const wired = !isUntouched(exercise, candidate);
  const practice = practiceOf(exercise, log).map(weighed);
  const all = { ...judged, workmanship: [...judged.workmanship, ...practice] };
  const criteria = criteriaOf(exercise, all).map((criterion) =>
    wired ? criterion : { ...criterion, points: 0, evidence: criterion.evidence ?? NOTHING_WIRED },
  );
  return {
    ...markedBy(exercise, criteria, properties, (usual) => (wired ? usual : NOTHING_WIRED.found), hints),
    ...found,
  };
}

/** The same for the same wiring of the same exercise, worked in the same ways. */
export const wiringKey = (exercise: Exercise, { wires, devices }: Bench, how: How = {}): string =>
  JSON.stringify([exerciseKey(exercise), how, wires, devices.map(({ settings }) => settings)]);

/** Works a wiring in every way that its marks ask for, and judges it. */
export function workWiring(exercise: Exercise, candidate: Bench, how: How = {}): WorkedWiring {
  const circuit = compile(candidate);
  const solver = new Solver(circuit);
  const reference = new Solver(compile(referenceBench(exercise)));
  const faults = how.faults !== false && !isUntouched(exercise, candidate);
  const { trials, proof, equivalence, tolerance } = work(exercise, solver, reference, { ...how, faults });
  const properties = proof.properties.map((property): ReportProperty =>
    exercise.lesson?.includes(property.id) ? { ...property, lesson: true } : property,
  );
  const known = ofReference(exercise, reference.circuit);
  const idle = idleContactors(known, drivingOf(circuit, proof.running));
  const motors = circuit.motors.map(({ tag }) => tag);
  const judged: Judgements = {
    behaviour: [
      ...trials.map(judgeBehaviour).map((one) => explainedBy(solver, one, mismatched(one))),
      ...judgeEquivalence(exercise, equivalence).map((one) =>
        explainedBy(solver, one, Object.keys(equivalence.counterexample?.expected ?? {})),
      ),
    ],
    safety: [
      ...properties
        .filter(({ lesson }) => !lesson)
        .map((one) => judgeProperty(one, idle))
        .map((one) => (DRIVES.has(one.id) ? explainedBy(solver, one, motors) : one)),
      ...judgeSurvival(exercise, circuit, known),
    ],
    rules: judgeRules(circuit, exercise.rules, proof.running).map((verdict) => ({
      ...weighed(verdict),
      ...(exercise.essentialRules?.some((key) => key === verdict.key) ? ESSENTIAL_RULE : {}),
    })),
    workmanship: judgeWorkmanship(circuit, exercise.rules).map(weighed),
  };
  const incidents = trials.flatMap(({ behaviour, result }) =>
    result.incidents.map((incident): ReportIncident => ({ ...incident, behaviour: behaviour.id })),
  );
  return { properties, judged, proof: triedBy(proof), equivalence, incidents, tolerance };
}

/** What working a wiring shows. */
interface Shown {
  readonly trials: readonly Trial[];
  readonly proof: Proof;
  readonly equivalence: Comparison;
  readonly tolerance: Tolerance | null;
}

function work(exercise: Exercise, solver: Solver, reference: Solver, { faults, most }: How): Shown {
  const trials = tryBehaviours(exercise, solver, reference);
  const proof = proveCircuit(solver, most === undefined ? {} : { maxSituations: most });
  const equivalence = compareCircuits(reference, solver, {
    observe: exercise.observe,
    ...(most === undefined ? {} : { maxPairs: most }),
  });
  // What cannot be proved whole is not proved again for every fault.
  const tolerance = faults && proof.complete ? singleFaultTolerance(solver.circuit, proof) : null;
  return { trials, proof, equivalence, tolerance };
}

/** Work practice, where the exercise asks for it and the work is known. */
function practiceOf(exercise: Exercise, log: GradeOptions['log']): RuleVerdict[] {
  const { practice } = exercise;
  if (!log || !practice) return [];
  return judgePractice(practice, log, {
    board: openingBoard(exercise),
    reference: referenceBench(exercise),
  });
}

function judgeBehaviour({ behaviour, result, idle }: Trial): Judged {
  const { id, title, points, essential = true, steps } = behaviour;
  const nothing = idle
    ? { found: 'nothing moved on the way; where nothing starts there is nothing to see' }
    : null;
  return {
    id,
    title,
    weight: points,
    essential,
    broken: firstMismatch(steps, result) ?? nothing,
    kept: idle ? 0 : reachedPart(steps, result),
  };
}

/** A rule that nobody passes without weighs as much as a property that keeps people from harm. */
const ESSENTIAL_RULE = { essential: true, weight: DANGER };

/** Id of the comparison with the reference among the criteria; no behaviour of an exercise can have it. */
export const EQUIVALENCE = 'compare.equivalent';

/**
 * Points of the comparison with the reference beside those of all behaviours together (common practice, no
 * source).
 */
const EQUIVALENCE_SHARE = 0.05;

/**
 * A wiring that can be told from the reference in some order of working has not everything that is asked,
 * whatever the behaviours happen to try. Where a bound stopped the comparison it claims nothing.
 */
function judgeEquivalence({ behaviours }: Exercise, { counterexample }: Comparison): Judged[] {
  const points = behaviours.reduce((sum, one) => sum + one.points, 0);
  if (points === 0) return [];
  return [
    {
      id: EQUIVALENCE,
      title: 'Does what the reference does, in whatever order it is worked',
      weight: (points * EQUIVALENCE_SHARE) / (1 - EQUIVALENCE_SHARE),
      essential: false,
      broken: counterexample && {
        found: Object.entries(counterexample.expected)
          .map(([what, value]) => `${what} should be ${value} and is ${counterexample.actual[what] ?? ''}`)
          .join('; '),
        steps: counterexample.steps,
      },
    },
  ];
}

/** Properties that a motor breaks by being driven where it must not be. */
const DRIVES: ReadonlySet<string> = new Set<PropertyId>([
  'stop-drops',
  'estop-holds',
  'overload-drops',
  'no-self-start',
]);

/** What was judged, with why its devices are as they are at the end of its steps. */
function explainedBy(solver: Solver, judged: Judged, observed: readonly string[]): Judged {
  const { broken } = judged;
  if (!broken?.steps) return judged;
  const why = whyAfter(solver, broken.steps, observed);
  return why.length === 0 ? judged : { ...judged, broken: { ...broken, why } };
}

const mismatched = ({ broken }: Judged): string[] => (broken?.mismatches ?? []).map(({ what }) => what);

/** Contactors with which the reference drives a motor and this wiring never does. */
const idleContactors = ({ driving }: OfReference, own: ReadonlySet<string>): string[] =>
  [...driving].filter((tag) => !own.has(tag));

function judgeProperty(property: Property, idle: readonly string[]): Judged {
  const { id } = property;
  // Who leaves a contactor out has not shown that the motor runs well on it.
  const unseen =
    id === 'full-phases' && idle.length > 0
      ? { found: `was not put to the test: no motor ever runs with ${idle.join(' or ')} in` }
      : null;
  return {
    id,
    title: propertyTitle(id),
    weight: propertyWeight(id),
    broken: safetyEvidence(property) ?? unseen,
  };
}

const NOTHING_WIRED: Evidence = { found: 'nothing is wired' };

interface Trial {
  readonly behaviour: Behaviour;
  readonly result: RunResult;
  /** Nothing that is observed ever moves on this wiring, where something does on the reference. */
  readonly idle: boolean;
}

function tryBehaviours({ behaviours, observe }: Exercise, solver: Solver, reference: Solver): Trial[] {
  const watch = observe.length > 0 ? observe : observableByDefault(reference.circuit);
  // Words of settled moments need no shafts, but where a load works a switch.
  const mechanicsAlone = reference.circuit.travels.length === 0;
  return behaviours.map((behaviour) => {
    const result = runSteps(solver, behaviour.steps, { watch });
    const idle =
      result.moved.length === 0 &&
      runSteps(reference, behaviour.steps, { watch, mechanicsAlone }).moved.length > 0;
    return { behaviour, result, idle };
  });
}

/**
 * The mark as an instructor leaves it: some criteria with other points. Full points given to a behaviour
 * say that it is right; a failed safety property never passes.
 */
export function resultWith(
  report: Report,
  changes: readonly { part: Part; criterion: string; to: number }[],
): {
  score: number;
  recorded: number;
  max: number;
  passed: boolean;
  changed: boolean;
  reason: string | null;
} {
  const { score, max, pass, passed, reason } = report;
  // A report of an earlier marker says nothing of what is recorded.
  if (changes.length === 0)
    return { score, recorded: recordedOf({ score, pass, passed }), max, passed, reason, changed: false };
  const criteria = report.criteria.map((criterion) => {
    const points = changes.findLast(
      (change) => change.part === criterion.part && change.criterion === criterion.id,
    )?.to;
    if (points === undefined) return criterion;
    return { ...criterion, points, evidence: points >= criterion.max ? null : criterion.evidence };
  });
  const result = less(resultOf(criteria), report.hints?.cost ?? 0);
  const against = reasonAgainst({ ...report, ...result, criteria });
  const recorded = recordedOf({ score: result.score, pass, passed: against === null });
  return { score: result.score, recorded, max, passed: against === null, reason: against, changed: true };
}

const weighed = (verdict: RuleVerdict): Judged => ({ ...verdict, weight: 1 });

/**
 * A behaviour that goes right up to some later expectation keeps the part of its expectations that came
 * before.
 */
function reachedPart(steps: readonly Step[], { mismatches }: RunResult): number {
  const first = mismatches[0]?.step ?? steps.length;
  const expectations = steps.filter(isExpectation).length;
  return steps.slice(0, first).filter(isExpectation).length / Math.max(1, expectations);
}

function safetyEvidence({ holds, tested, trace, found, otherwise }: Property): Evidence | null {
  if (!holds) return { found, steps: trace, ...(otherwise ? { otherwise } : {}) };
  return tested ? null : { found: 'was never put to the test: nothing ran on this wiring' };
}
