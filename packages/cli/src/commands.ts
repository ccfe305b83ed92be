import {
  Solver,
  WireCurrents,
  candidateBench,
  compare,
  compareProblems,
  compile,
  describeProof,
  triedBy,
  describeStimulus,
  explain,
  explained,
  grade,
  isSupplySwitch,
  prove,
  readOhms,
  referenceBench,
  readVolts,
  describeRungEdit,
  programSearchWords,
  repair,
  repairTask,
  run,
  scriptProblems,
  type Bench,
  type Exercise,
  type Reading,
  type ProgramRepair,
  type RepairEdit,
  type Script,
  type Stimulus,
  type TerminalIndex,
  type Wire,
} from '@contactum/core';
import { readBench, readDocument, readExercise, readScript } from '@contactum/core/documents';
import {
  shippedExercise,
  shippedExercises,
  shippedQuestions,
  shippedSearches,
} from '@contactum/core/exercises';
import type { Answer } from './answer.js';
import { diagnoseAnswer } from './faults.js';
import { worked } from './export.js';
import { Unusable, fitting, readFile } from './input.js';

function fittingScript(bench: Bench, file: string): Script {
  const script = readFile(file, readScript);
  fitting(file, scriptProblems(compile(bench), script.steps));
  return script;
}

const WARNINGS = {
  'double-coil': 'a bit that another coil writes as well: the last one alone decides',
} as const;

/** Whether a document can be read, and what it is. */
export function checkCommand(file: string): Answer {
  const { kind, warnings = [] } = readFile(file, readDocument);
  const json = { ok: true, kind, ...(warnings.length > 0 ? { warnings } : {}) };
  const words = [
    `${file}: a valid ${kind}`,
    ...warnings.map(({ path, what }) => `${path}: ${WARNINGS[what]}`),
  ];
  return { holds: true, json, words: words.join('\n') };
}

/** A script worked on a bench. */
export function runCommand(file: string, scriptFile: string): Answer {
  const bench = readFile(file, readBench);
  const result = run(bench, fittingScript(bench, scriptFile).steps);
  const { ok, mismatches, events, incidents } = result;
  const words = [
    ...mismatches.map(
      ({ step, what, expected, actual }) =>
        `step ${step}: ${what} should be ${JSON.stringify(expected)}, is ${String(actual)}`,
    ),
    ...incidents.map(({ t, kind, where }) => `${t.toFixed(3)} s: ${kind} at ${where.join(', ')}`),
    ok ? 'as expected' : `${mismatches.length} not as expected`,
  ];
  return { holds: ok, json: { ok, mismatches, events, incidents }, words: words.join('\n') };
}

const inWords = (steps: readonly Stimulus[]) =>
  steps.length > 0 ? steps.map(describeStimulus).join(', ') : 'at once';

/** Every safety property, over every order of working. */
export function proveCommand(file: string): Answer {
  const proof = prove(readFile(file, readBench));
  const words = proof.properties.map(({ id, holds, tested, trace, found }) =>
    holds
      ? `holds  ${id}${tested ? '' : ': never put to the test'}`
      : `fails  ${id}: ${inWords(trace)}: ${found}`,
  );
  words.push(describeProof(triedBy(proof)));
  return {
    holds: proof.complete && proof.properties.every(({ holds }) => holds),
    json: proof,
    words: words.join('\n'),
  };
}

/** Whether two wirings of one board do the same. */
export function compareCommand(
  referenceFile: string,
  candidateFile: string,
  { observe }: { readonly observe?: string },
): Answer {
  const reference = readFile(referenceFile, readBench);
  const candidate = readFile(candidateFile, readBench);
  const what = observe
    ?.split(',')
    .map((name) => name.trim())
    .filter(Boolean);
  fitting('--observe', compareProblems(reference, candidate, what));
  const result = compare(reference, candidate, what ? { observe: what } : {});
  const { counterexample } = result;
  const words = counterexample
    ? `not equivalent: ${inWords(counterexample.steps)}: ` +
      `expected ${JSON.stringify(counterexample.expected)}, got ${JSON.stringify(counterexample.actual)}`
    : result.equivalent
      ? `equivalent in ${result.pairs} pairs of situations`
      : 'not decided: the search was stopped';
  return { holds: result.equivalent, json: result, words };
}

/** An exercise and its board with the wires of a bench. */
function candidate(exerciseFile: string, benchFile: string): { exercise: Exercise; bench: Bench } {
  const exercise = readFile(exerciseFile, readExercise);
  const fitted = candidateBench(exercise, readFile(benchFile, readBench));
  if ('problems' in fitted) fitting(benchFile, fitted.problems);
  return { exercise, bench: 'bench' in fitted ? fitted.bench : exercise.bench };
}

/** The document of a shipped exercise; the ids of all where none is named. */
export function exerciseCommand(id = ''): Answer {
  if (id === '') {
    const shipped = [...shippedExercises(), ...shippedSearches(), ...shippedQuestions()];
    const words = shipped.map((one) => `${one.id}: ${one.title}`);
    return { holds: true, json: shipped.map((one) => one.id), words: words.join('\n') };
  }
  const exercise = shippedExercise(id);
  if (!exercise) throw new Unusable(`arguments: no exercise "${id}" ships; contactum exercise lists them`);
  return { holds: true, json: exercise, words: JSON.stringify(exercise, null, 2) };
}

/** The mark of a wiring. */
export function gradeCommand(exerciseFile: string, benchFile: string): Answer {
  const { exercise, bench } = candidate(exerciseFile, benchFile);
  const report = grade(exercise, bench);
  const words = report.criteria.map(
    ({ part, title, points, max, evidence }) =>
      `${points} of ${max}  ${part}: ${title}${evidence ? `: ${evidence.found}` : ''}`,
  );
  const faults = report.tolerance;
  if (faults) {
    const lost = faults.faults.filter((fault) => fault.lost.length > 0);
    words.push(
      ...lost.map(({ title, lost: properties }) => {
        const told = properties.map(
          ({ id, trace, found }) => `${id} no longer holds: ${inWords(trace)}: ${found}`,
        );
        return `fault  ${title}: ${told.join('; ')}`;
      }),
    );
    words.push(
      `${faults.survived} of ${faults.faults.length} single faults leave every safety property that holds as it is`,
    );
  }
  if (report.share < 1)
    words.push(
      `safety, rules and workmanship count at ${Math.round(report.share * 1000) / 10} %, ` +
        'the share that was earned of the behaviour',
    );
  const verdict =
    report.reason === null ? 'passed' : `recorded as ${report.recorded}, not passed: ${report.reason}`;
  words.push(`${report.score} of ${report.max}, ${verdict}`);
  return { holds: report.passed, json: report, words: words.join('\n') };
}

/** What explains some observations of a board: the reference, or another that should be right. */
export function diagnoseCommand(
  exerciseFile: string,
  benchFile: string | undefined,
  { observations, pairs }: { readonly observations?: string; readonly pairs?: boolean },
): Answer {
  const exercise = readFile(exerciseFile, readExercise);
  const bench = benchFile !== undefined ? candidate(exerciseFile, benchFile).bench : referenceBench(exercise);
  if (observations === undefined) throw new Unusable('arguments: diagnose needs --observations FILE');
  return diagnoseAnswer({ bench, behaviours: exercise.behaviours }, observations, pairs === true);
}

const wireInWords = ({ from, to }: Wire) => `${from} to ${to}`;

function editInWords(edit: RepairEdit): string {
  if ('remove' in edit) return `remove ${wireInWords(edit.remove)}`;
  if ('add' in edit) return `add ${wireInWords(edit.add)}`;
  return `move ${wireInWords(edit.move)} so that it joins ${wireInWords(edit.to)}`;
}

/** The fewest leads to change so that a wiring passes. */
export function repairCommand(
  exerciseFile: string,
  benchFile: string,
  { most }: { readonly most?: string },
): Answer {
  const { exercise, bench } = candidate(exerciseFile, benchFile);
  const bound = most === undefined ? 3 : Number(most);
  if (!Number.isInteger(bound) || bound < 0 || bound > 5)
    throw new Unusable('arguments: --most is a whole number from 0 to 5');
  const result = repair(repairTask(exercise, bench), { most: bound });
  const { found, repairs, more, searched, stopped, program } = result;
  const [edits = []] = repairs;
  const inProgram = program ? programWords(program) : [];
  const isInProgram = program !== undefined && program.repairs.length > 0;
  const words = isInProgram
    ? inProgram
    : !found
      ? [
          ...inProgram,
          `no repair was found within ${searched} edits${stopped ? '; the search was stopped there' : ''}`,
        ]
      : edits.length === 0
        ? ['nothing to repair: the wiring behaves rightly and holds every safety property']
        : [
            `${edits.length === 1 ? 'one edit repairs' : `${edits.length} edits repair`} the wiring; ` +
              `${more ? 'at least ' : ''}${repairs.length} ${repairs.length === 1 ? 'way' : 'ways'}:`,
            ...repairs.map((one) => `  ${one.map(editInWords).join('; ')}`),
          ];
  const json = { found, edits, repairs, more, searched, stopped, ...(program ? { program } : {}) };
  return { holds: found || isInProgram, json, words: words.join('\n') };
}

/** Changes of a program that make its board right, or how far they were looked for. */
function programWords(program: ProgramRepair): string[] {
  const { controller, repairs } = program;
  if (repairs.length === 0) return [programSearchWords(program)];
  const [first = []] = repairs;
  return [
    `${first.length === 1 ? 'one change of a contact' : `${first.length} changes of contacts`} in the program of ${controller}:`,
    ...repairs.map((edits) => `  ${edits.map(describeRungEdit).join('; ')}`),
  ];
}

/** Why something on a board is as it is after a script: what conducts to it, or what blocks it. */
export function explainCommand(
  file: string,
  { of, script }: { readonly of?: string; readonly script?: string },
): Answer {
  const solver = new Solver(compile(readFile(file, readBench)));
  const known = explained(solver.circuit);
  if (of === undefined) throw new Unusable('arguments: explain needs --of DEVICE');
  if (!known.includes(of))
    throw new Unusable(
      `arguments: "${of}" has no coil, lamp or motor in ${file}; there are ${known.join(', ')}`,
    );
  const simulation = worked(solver, script);
  const json = explain(simulation.solver, simulation.state, of);
  return { holds: true, json, words: json.sentence };
}

interface MeasureValues {
  readonly mode?: string;
  readonly between?: readonly string[];
  readonly at?: string;
  readonly script?: string;
}

/** What an instrument shows between two terminals, or on a lead. */
export function measureCommand(file: string, { mode, between, at, script }: MeasureValues): Answer {
  const bench = readFile(file, readBench);
  const circuit = compile(bench);
  const terminal = (name: string): TerminalIndex => {
    const index = circuit.indexOf.get(name);
    if (index === undefined) throw new Unusable(`arguments: "${name}" is not a terminal of ${file}`);
    return index;
  };
  const pair = (): [TerminalIndex, TerminalIndex] => {
    if (between?.length !== 2) throw new Unusable(`arguments: --mode ${mode ?? ''} takes --between A B`);
    return [terminal(between[0] ?? ''), terminal(between[1] ?? '')];
  };
  if (mode !== 'volts' && mode !== 'ohms' && mode !== 'amps')
    throw new Unusable('arguments: --mode is volts, ohms or amps');
  const probes = mode === 'amps' ? null : pair();
  if (mode === 'amps' && at === undefined) throw new Unusable('arguments: --mode amps takes --at A');
  const clamp = mode === 'amps' ? terminal(at ?? '') : null;

  const solver = new Solver(circuit);
  const simulation = worked(solver, script);
  // Ohms are read on a dead board: every supply off, and what that releases released.
  if (mode === 'ohms') {
    for (const one of circuit.mechanisms) if (isSupplySwitch(one)) simulation.apply({ open: one.device.tag });
    simulation.settle();
  }
  const { state, slips } = simulation;
  let reading: Reading;
  if (clamp !== null)
    reading = new WireCurrents(solver, state, solver.solve(state, slips), slips).into(clamp);
  else {
    const [a, b] = probes as [TerminalIndex, TerminalIndex];
    reading = mode === 'volts' ? readVolts(solver, state, a, b, slips) : readOhms(solver, state, a, b);
  }
  const { value, unit, angle } = reading;
  const number = Number.isFinite(value) ? String(Number(value.toPrecision(6))) : 'no connection';
  return {
    holds: true,
    json: { value, unit, angle },
    words: Number.isFinite(value)
      ? `${number} ${unit}${angle === null ? '' : ` at ${angle.toFixed(1)}°`}`
      : number,
  };
}
