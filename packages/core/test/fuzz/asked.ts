import {
  Simulation,
  Solver,
  coilWants,
  compile,
  isShorted,
  makeQuestions,
  readFault,
  referenceBench,
  run,
  runSteps,
  type Answer,
  type Bench,
  type Circuit,
  type Expected,
  type Question,
  type QuestionDegree,
  type Step,
  type Stimulus,
} from '@contactum/core';
import { withoutControllers, seeded } from '../help.js';
import { wrongWiring } from './wrong-wirings.js';

/** Whether a coil or lamp is energised with some contacts held as they are told, each on a circuit of its own. */
function isOn(
  circuit: Circuit,
  state: Uint8Array,
  tag: string,
  held: Readonly<Record<string, boolean>>,
): boolean {
  const switches = circuit.switches.map((one) => {
    const closed = held[`${one.tag}:${one.spec.name}`];
    return closed === undefined ? one : { ...one, closedIn: one.closedIn.map(() => closed) };
  });
  const own = { ...circuit, switches };
  const electrical = new Solver(own).at(state);
  if (isShorted(electrical)) return false;
  const coil = own.coils.findIndex((one) => one.tag === tag);
  if (coil >= 0) return coilWants(own, electrical, state, coil);
  const lamp = own.lamps.findIndex((one) => one.tag === tag);
  return electrical.lampVolts[lamp]! >= 0.8 * own.lamps[lamp]!.voltage;
}

function* subsets<T>(list: readonly T[], size: number, from = 0): Generator<T[]> {
  if (size === 0) yield [];
  else
    for (let k = from; k < list.length; k += 1)
      for (const rest of subsets(list, size - 1, k + 1)) yield [list[k]!, ...rest];
}

const worked = (bench: Bench, steps: readonly Stimulus[]) => {
  const simulation = new Simulation(new Solver(compile(bench)));
  for (const step of steps) simulation.work(step);
  return { circuit: simulation.solver.circuit, state: simulation.state.slice() };
};

const name = ({ tag, spec }: Circuit['switches'][number]): string => `${tag}:${spec.name}`;

/** The first smallest set of open contacts that, all closed, energises something: every set is tried. */
function plainBlocks(bench: Bench, steps: readonly Stimulus[], of: string): string[] | null {
  const { circuit, state } = worked(bench, steps);
  const wired = new Set(bench.wires.flatMap(({ from, to }): string[] => [from, to]));
  const open = circuit.switches.filter(
    ({ tag, spec, closedIn, mechanism }) =>
      !closedIn[state[mechanism]!] && wired.has(`${tag}:${spec.a}`) && wired.has(`${tag}:${spec.b}`),
  );
  for (let size = 1; size <= 3; size += 1)
    for (const set of subsets(open.map(name), size))
      if (isOn(circuit, state, of, Object.fromEntries(set.map((one) => [one, true])))) return set;
  return null;
}

/** Contacts that hold something: closed ones are opened one after another for as long as it stays. */
function plainHolds(bench: Bench, steps: readonly Stimulus[], of: string): string[] {
  const { circuit, state } = worked(bench, steps);
  const kept = new Set(['breaker', 'fuse', 'disconnector']);
  const closed = circuit.switches.filter(
    ({ tag, closedIn, mechanism }) =>
      closedIn[state[mechanism]!] && !kept.has(bench.devices.find((one) => one.tag === tag)?.type ?? ''),
  );
  const opened: Record<string, boolean> = {};
  for (const one of closed.map(name)) {
    opened[one] = false;
    if (!isOn(circuit, state, of, opened)) delete opened[one];
  }
  return closed.map(name).filter((one) => opened[one] === undefined);
}

/** What each name shows after each stimulus: asked of `run`, which tells what it saw instead. */
function plainStates(bench: Bench, steps: readonly Stimulus[], of: readonly string[]) {
  return steps.map((_, k) =>
    Object.fromEntries(
      of.map((what): [string, string | number] => {
        const expect: Record<string, Expected> = { [what]: 'never' };
        const script: Step[] = [...steps.slice(0, k + 1), { expect }];
        return [what, run(bench, script).mismatches[0]!.actual];
      }),
    ),
  );
}

/** The one fault with which everything is as it was found, by `run` with the fault injected first. */
function plainCause(bench: Bench, { among, findings }: Extract<Question, { ask: 'cause' }>): Answer {
  return among.find((fault) =>
    findings.every(({ steps, see = {} }) => {
      const script: Step[] = [...steps, { expect: see }];
      return runSteps(new Solver(compile(bench)), script, { faults: [readFault(fault)] }).ok;
    }),
  )!;
}

/** The answer of a plain solver; null of a question that it does not know. */
export function plainAnswer(bench: Bench, question: Question): Answer | null {
  switch (question.ask) {
    case 'states':
      return plainStates(bench, question.steps, question.of);
    case 'blocks':
      return plainBlocks(bench, [...question.steps, question.then], question.of);
    case 'holds':
      return plainHolds(bench, question.steps, question.of);
    case 'cause':
      return plainCause(bench, question);
    default:
      return null;
  }
}

/** A right or wrong board of a seed, with some questions about it. */
export function askedOn(seed: number, count: number): { bench: Bench; questions: Question[] } {
  const random = seeded(seed);
  const all = withoutControllers();
  const exercise = all[seed % all.length]!;
  const bench = seed % 3 === 0 ? referenceBench(exercise) : wrongWiring(exercise, random);
  const degree = ((seed % 5) + 1) as QuestionDegree;
  return { bench, questions: makeQuestions(bench, { seed, degree, count }) };
}
