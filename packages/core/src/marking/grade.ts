import type { Bench } from '../bench/index.js';
import { compile } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { compareCircuits, proveCircuit, tolerance, type Property, type PropertyId } from '../proof/index.js';
import { isExpectation, runSteps, type RunResult, type Step } from '../simulation/index.js';
import { exerciseVersion, referenceBench, type Exercise } from './exercise.js';
import { addPoints, partOf, sharePoints } from './points.js';
import { MARKER_VERSION, type Criterion, type Evidence, type Part, type Report, type ReportIncident } from './report.js';
import { judgePractice, type WorkEvent } from './practice.js';
import { judgeRules, type RuleVerdict } from './rules.js';
import { judgeWorkmanship } from './workmanship.js';

const PROPERTY_TITLES: Readonly<Record<PropertyId, string>> = {
  'no-short': 'No order of working it makes a short circuit',
  'stop-drops': 'Stop always stops',
  'estop-holds': 'Emergency stop holds everything off',
  'overload-drops': 'A tripped overload holds everything off',
  'no-self-start': 'Nothing starts by itself',
  'coil-voltage': 'Every coil gets its own voltage',
  'no-chatter': 'Every armature comes to rest',
  'no-race': 'No outcome hangs on which armature is quicker',
  'earth-bonded': 'Motor frames are earthed',
  'full-phases': 'A driven motor has all three lines',
};

/** Title of a safety property. */
export const propertyTitle = (id: PropertyId): string => PROPERTY_TITLES[id];

export interface GradeOptions {
  /** What was done at the bench, in order; without it work practice is not judged. */
  readonly log?: readonly WorkEvent[];
  /** Whether to try every single fault as well; true by default. */
  readonly faults?: boolean;
}

/**
 * Marks one wiring of an exercise's board: behaviours on a fresh bench each, safety properties over every
 * order of working, house rules and workmanship on the wiring, and equivalence to the reference. The
 * candidate is the exercise's board with the student's wires (`candidateBench`).
 */
export function grade(exercise: Exercise, candidate: Bench, { log, faults = true }: GradeOptions = {}): Report {
  const circuit = compile(candidate);
  const solver = new Solver(circuit);
  const wired = candidate.wires.length > exercise.bench.wires.length;
  const trials = exercise.behaviours.map((behaviour) => ({ behaviour, result: runSteps(solver, behaviour.steps) }));
  const proof = proveCircuit(solver);
  const equivalence = compareCircuits(new Solver(compile(referenceBench(exercise))), solver, { observe: exercise.observe });

  const { marks } = exercise;
  const criteria: Criterion[] = [
    ...share(
      'behaviour',
      marks.behaviour,
      trials.map(({ behaviour, result }) => ({
        id: behaviour.id,
        title: behaviour.title,
        weight: behaviour.points,
        broken: behaviourEvidence(behaviour.steps, result),
        kept: reachedPart(behaviour.steps, result),
      })),
    ),
    ...share(
      'safety',
      marks.safety,
      proof.properties.map((property) => ({ id: property.id, title: PROPERTY_TITLES[property.id], weight: 1, broken: safetyEvidence(property) })),
    ),
    ...share('rules', marks.rules, judgeRules(circuit, exercise.rules).map(weighed)),
    ...share(
      'workmanship',
      marks.workmanship,
      [...judgeWorkmanship(circuit, exercise.rules), ...(log && exercise.practice ? judgePractice(exercise.practice, log, exercise.bench) : [])].map(weighed),
    ),
  ].map((criterion) => (wired ? criterion : { ...criterion, points: 0, evidence: criterion.evidence ?? { found: 'nothing is wired' } }));

  const score = addPoints(criteria.map(({ points }) => points));
  const max = addPoints(criteria.map(({ max: most }) => most));
  const whole = marks.behaviour + marks.safety + marks.rules + marks.workmanship;
  // A part that has nothing to judge on this exercise lowers what can be scored, and the pass mark with it.
  const pass = whole > 0 ? (marks.pass * max) / whole : 0;
  return {
    contactum: 'report/1',
    exercise: exercise.id,
    exerciseVersion: exerciseVersion(exercise),
    marker: MARKER_VERSION,
    score,
    max,
    pass,
    passed: wired && passes(score, pass, proof.properties),
    criteria,
    properties: proof.properties,
    proof: { complete: proof.complete, states: proof.states, situations: proof.situations },
    equivalence,
    incidents: trials.flatMap(({ behaviour, result }) => result.incidents.map((incident): ReportIncident => ({ ...incident, behaviour: behaviour.id }))),
    tolerance: wired && faults ? tolerance(circuit, proof) : null,
  };
}

/** A failed safety property never passes, whatever the points. */
function passes(score: number, pass: number, properties: readonly Property[]): boolean {
  return score >= pass && properties.every(({ holds }) => holds);
}

/** The mark as an instructor leaves it: some criteria with other points. */
export function resultWith(report: Report, changes: readonly { part: Part; criterion: string; to: number }[]): { score: number; max: number; passed: boolean; changed: boolean } {
  const points = report.criteria.map((criterion) => changes.findLast((change) => change.part === criterion.part && change.criterion === criterion.id)?.to ?? criterion.points);
  const score = addPoints(points);
  const passed = changes.length === 0 ? report.passed : passes(score, report.pass, report.properties);
  return { score, max: report.max, passed, changed: changes.length > 0 };
}

interface Judged {
  readonly id: string;
  readonly title: string;
  readonly weight: number;
  readonly broken: Evidence | null;
  readonly kept?: number;
}

const weighed = (verdict: RuleVerdict): Judged => ({ ...verdict, weight: 1 });

function share(part: Part, total: number, judged: readonly Judged[]): Criterion[] {
  const shares = sharePoints(
    total,
    judged.map(({ weight }) => weight),
  );
  return judged.map(({ id, title, broken, kept = 0 }, k) => {
    const max = shares[k] as number;
    return { id, part, title, points: broken ? partOf(max, kept) : max, max, evidence: broken };
  });
}

/** The steps up to the first value that is not as expected. */
function behaviourEvidence(steps: readonly Step[], result: RunResult): Evidence | null {
  const first = result.mismatches[0];
  if (!first) return null;
  const mismatches = result.mismatches.filter(({ step }) => step === first.step);
  const found = mismatches
    .map(({ what, expected, actual }) => `${what} should be ${typeof expected === 'object' ? rangeText(expected) : String(expected)} and is ${readable(actual)}`)
    .join('; ');
  return { found, steps: steps.slice(0, first.step + 1).filter((step) => !isExpectation(step)), mismatches };
}

/** A behaviour that goes right up to some later expectation keeps the part of its expectations that came before. */
function reachedPart(steps: readonly Step[], { mismatches }: RunResult): number {
  const first = mismatches[0]?.step ?? steps.length;
  const expectations = steps.filter(isExpectation).length;
  return steps.slice(0, first).filter(isExpectation).length / Math.max(1, expectations);
}

const readable = (value: string | number) => (typeof value === 'number' ? String(Number(value.toPrecision(4))) : value);

function rangeText({ min, max }: { min?: number | undefined; max?: number | undefined }): string {
  if (min === undefined) return `at most ${String(max)}`;
  return max === undefined ? `at least ${min}` : `${min} to ${max}`;
}

function safetyEvidence({ holds, trace, found }: Property): Evidence | null {
  return holds ? null : { found, steps: trace };
}
