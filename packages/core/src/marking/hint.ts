import { spellRef, spellWire, type Bench } from '../bench/index.js';
import { isController, programOf } from '../catalogue/index.js';
import { compile, describeStimulus, type Stimulus } from '../circuit/index.js';
import { netlistOf } from '../drawing/index.js';
import { Solver } from '../electrics/index.js';
import { firstLostOf, proveCircuit, propertyTitle } from '../proof/index.js';
import { rungWords } from '../program/index.js';
import { describeRungEdit, repair, type RepairEdit, type RungEdit } from '../repair/index.js';
import { firstMismatch, isExpectation, runSteps, type Step } from '../simulation/index.js';
import { referenceBench, repairTask, writesProgram, type Exercise, type HintDegree } from './exercise.js';
import { judgeRules, judgeWorkmanship } from './rules/index.js';

/** One step of help with a wiring, and the terminals that it speaks of. */
export interface Hint {
  readonly degree: HintDegree;
  readonly text: string;
  readonly at: readonly string[];
}

/** Most edits for which the wiring's own repair is looked for; what lacks more is compared with the reference. */
const FEW = 2;
/** Wirings that are looked at for it. */
const EFFORT = 4000;
/** Programs that are looked at for one change that makes the board right. */
const PROGRAMS = 400;

/**
 * A hint of a degree for a wiring: what it does wrong, where to look, or which lead to lay or take off, or
 * what to change in a rung where the program is the student's. Null where nothing is wrong with it.
 */
export function hintFor(exercise: Exercise, bench: Bench, degree: HintDegree): Hint | null {
  const symptom = symptomOf(exercise, bench);
  if (symptom === null) return null;
  if (degree === 'symptom') return { degree, text: symptom, at: [] };
  const edit = nextEdit(exercise, bench);
  if (!edit) {
    const text = writesProgram(exercise)
      ? ofProgram(exercise, bench, degree)
      : `No single lead is wrong by itself. ${symptom}`;
    return { degree, text, at: [] };
  }
  if ('rung' in edit) return { degree, text: rungEditWords(edit, degree), at: [] };
  return degree === 'net'
    ? { degree, text: netWords(edit), at: [lookAt(edit)] }
    : { degree, text: leadWords(edit), at: endsOf(edit) };
}

const sequence = (steps: readonly Step[]): string => {
  const stimuli = steps.filter((step): step is Stimulus => !isExpectation(step));
  return stimuli.length > 0 ? stimuli.map(describeStimulus).join(' → ') : 'at rest';
};

/** The first thing that a wiring does wrong, in the order in which it is marked. */
function symptomOf(exercise: Exercise, bench: Bench): string | null {
  const circuit = compile(bench);
  const solver = new Solver(circuit);
  for (const { title, steps } of exercise.behaviours) {
    const wrong = firstMismatch(steps, runSteps(solver, steps));
    if (wrong) return `“${title}” is not right. ${sequence(wrong.steps)}: ${wrong.found}.`;
  }
  const proof = proveCircuit(solver);
  const broken = firstLostOf(proof.properties.filter(({ id }) => !exercise.lesson?.includes(id)));
  if (broken)
    return `“${propertyTitle(broken.id)}” does not hold. ${sequence(broken.trace)}: ${broken.found}.`;
  const rules = [
    ...judgeRules(circuit, exercise.rules, proof.running),
    ...judgeWorkmanship(circuit, exercise.rules),
  ];
  const lost = rules.find((one) => one.broken);
  return lost?.broken ? `${lost.title}: ${lost.broken.found}.` : null;
}

/**
 * What to do next: of a board that is nearly right its own repair, to a rung where the program alone makes it
 * right; else the first way to the reference. Null where every lead is right and no single change is known.
 */
function nextEdit(exercise: Exercise, bench: Bench): RepairEdit | RungEdit | null {
  const [lacking, extra] = differencesOf(exercise, bench);
  const differences = lacking.length + extra.length;
  if (differences <= FEW) {
    // Where no lead is wrong it is the program.
    const effort = differences === 0 && writesProgram(exercise) ? PROGRAMS : EFFORT;
    const { repairs, program } = repair(repairTask(exercise, bench), { most: FEW, list: 1, effort });
    const edit = program?.repairs[0]?.[0] ?? repairs[0]?.[0];
    if (edit) return edit;
  }
  return extra[0] ?? lacking[0] ?? null;
}

const rungEditWords = (edit: RungEdit, degree: HintDegree): string =>
  degree === 'net' ? `Look at rung ${edit.rung + 1} of the program.` : `${describeRungEdit(edit)}.`;

/** Of programs that no single change makes right: whose it is, and then a rung of a right one that it lacks. */
function ofProgram(exercise: Exercise, { devices }: Bench, degree: HintDegree): string {
  const controllers = devices.filter(isController);
  const empty = controllers.filter((one) => (programOf(one)?.rungs.length ?? 0) === 0);
  const first =
    empty.length > 0
      ? `Every lead is right. ${empty.map(({ tag }) => tag).join(', ')} has no program yet.`
      : 'Every lead is right. Look at the program.';
  if (degree === 'net') return first;
  const [lacking] = controllers.flatMap((device) => {
    const [own, right] = [programOf(device), exercise.program?.[device.tag]];
    const written = new Set(own?.rungs.map((rung) => rungWords(own, rung)));
    return (right?.rungs ?? []).map((rung) => rungWords(right!, rung)).filter((words) => !written.has(words));
  });
  return lacking === undefined ? first : `${first} A correct program has this rung: ${lacking}.`;
}

/**
 * Leads of the reference whose ends a wiring does not join, in the reference's order; leads of the wiring
 * whose ends the reference does not join.
 */
function differencesOf(exercise: Exercise, bench: Bench): readonly [RepairEdit[], RepairEdit[]] {
  const reference = referenceBench(exercise);
  const wired = netlistOf(bench).netOf;
  const right = netlistOf(reference).netOf;
  const fitted = new Set(exercise.bench.wires.map(({ from, to }) => `${from} ${to}`));
  const joins = (nets: ReadonlyMap<string, number>, from: string, to: string) =>
    nets.has(from) && nets.get(from) === nets.get(to);
  return [
    reference.wires
      .filter(({ from, to }) => !joins(wired, from, to))
      .map(({ from, to }) => ({ add: { from, to } })),
    bench.wires
      .filter(({ from, to }) => !fitted.has(`${from} ${to}`) && !joins(right, from, to))
      .map((remove) => ({ remove })),
  ];
}

/** The end of a lead that goes elsewhere, and where it goes. */
function movedEnd({ move, to }: Extract<RepairEdit, { move: unknown }>): readonly [string, string] {
  return move.from === to.from ? [move.to, to.to] : [move.from, to.from];
}

const endsOf = (edit: RepairEdit): readonly string[] =>
  'add' in edit
    ? [edit.add.from, edit.add.to]
    : 'remove' in edit
      ? [edit.remove.from, edit.remove.to]
      : movedEnd(edit);

const lookAt = (edit: RepairEdit): string => endsOf(edit)[0]!;

function netWords(edit: RepairEdit): string {
  const place = spellRef(lookAt(edit));
  return 'add' in edit
    ? `Look at everything that ${place} is joined to: something is missing there.`
    : `Look at everything that ${place} is joined to: a lead there does not belong.`;
}

function leadWords(edit: RepairEdit): string {
  if ('add' in edit) return `Lay a lead from ${spellRef(edit.add.from)} to ${spellRef(edit.add.to)}.`;
  if ('remove' in edit) return `Take off the lead ${spellWire(edit.remove)}.`;
  const [end, goes] = movedEnd(edit);
  return `Move the end at ${spellRef(end)} of the lead ${spellWire(edit.move)} to ${spellRef(goes)}.`;
}
