import { compile, type Circuit } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { describeFault, possibleFaults } from '../faults/index.js';
import { describeExpected, observerOf, stepProblem, type Simulation } from '../simulation/index.js';
import type { Problem } from '../bench/index.js';
import { Eye, describeTest, freshBoard, observableOf, type BoardObservation } from './observation.js';
import { Search, type Next } from './search.js';
import { tabulate, type Candidate, type ReferenceCircuit } from './table.js';

/** Faults that explain everything that was observed, with those that nothing could tell from them. */
export interface Suspicion {
  readonly faults: Candidate;
  readonly title: string;
  readonly places: readonly Candidate[];
  /** It explains everything only if it comes and goes. */
  readonly comesAndGoes: boolean;
}

export interface Diagnosis {
  /** The board without a fault explains all. */
  readonly sound: boolean;
  readonly candidates: readonly Suspicion[];
  /** Candidates that were tried. */
  readonly of: number;
  readonly next: (Next & { readonly title: string }) | null;
}

/** Faults in words. */
export const describeFaults = (faults: Candidate): string =>
  faults.length === 0 ? 'no fault' : faults.map(describeFault).join(', and ');

/** What of observations does not fit a board, with its path. */
export function observationProblems(
  circuit: Circuit,
  observations: readonly BoardObservation[],
  path = 'observations',
): Problem[] {
  return observations.flatMap(({ steps, see = {}, meter }, k) => {
    const names = [...Object.keys(see).map((what) => ({ what, at: `see["${what}"]` }))];
    if (meter) names.push({ what: observableOf(meter), at: 'meter' });
    const seen = names.flatMap(({ what, at }): Problem[] => {
      const outcome = observerOf(circuit, what);
      return 'problem' in outcome ? [{ path: `${path}[${k}].${at}`, message: outcome.problem }] : [];
    });
    const done = steps.flatMap((step, n): Problem[] => {
      const problem = stepProblem(circuit, step);
      return problem ? [{ path: `${path}[${k}].steps[${n}].${problem.key}`, message: problem.message }] : [];
    });
    return [...done, ...seen];
  });
}

const SOUND: Candidate = [];
const UNITS = { volts: 'V', ohms: 'Ω', amps: 'A' } as const;

/** A board, and how far it was worked. */
interface Worked {
  readonly dead: boolean;
  readonly steps: BoardObservation['steps'];
  readonly board: Simulation;
}

/**
 * What it takes to work a test: nothing on a dead board, else a little for each act and the time that is
 * waited.
 */
const secondsOf = ({ dead = false, steps }: BoardObservation): number =>
  dead
    ? 0
    : 1 + steps.reduce((sum, step) => sum + ('wait' in step ? step.wait : 'elapse' in step ? 10 : 0.3), 0);

/** Every candidate of a board, and which of them still explain what has been observed of it. */
export class Suspects {
  readonly solver: Solver;
  readonly singles: readonly Candidate[];
  private readonly eye: Eye;
  private readonly single: ReadonlySet<Candidate>;
  private readonly boards = new Map<Candidate, Worked>();
  private left: Candidate[];
  private soundLeft = true;
  private made: readonly BoardObservation[] = [];
  private tried: number;

  constructor(
    readonly referenceCircuit: ReferenceCircuit,
    singles?: readonly Candidate[],
  ) {
    const circuit = compile(referenceCircuit.bench);
    this.solver = new Solver(circuit);
    this.eye = new Eye(circuit);
    this.singles = singles ?? possibleFaults(circuit).map((fault) => [fault]);
    this.single = new Set(this.singles);
    this.left = [...this.singles];
    this.tried = this.singles.length;
  }

  get sound(): boolean {
    return this.soundLeft;
  }

  get of(): number {
    return this.tried;
  }

  /** Candidates that explain everything so far. */
  get remaining(): readonly Candidate[] {
    return this.left;
  }

  get observations(): readonly BoardObservation[] {
    return this.made;
  }

  /** Takes one more observation. */
  observe(observation: BoardObservation): void {
    this.made = [...this.made, observation];
    this.soundLeft &&= this.explains(SOUND, observation);
    this.left = this.left.filter((candidate) => this.explains(candidate, observation));
  }

  /** True where a board with these faults shows, from fresh, what was observed. */
  explains(candidate: Candidate, observation: BoardObservation): boolean {
    return this.eye.agrees(this.worked(candidate, observation), observation);
  }

  /** What a worked board shows of everything that a test looks at, in words. */
  show(board: Simulation, { see = {}, meter }: BoardObservation): string[] {
    const names = meter ? [observableOf(meter)] : Object.keys(see);
    return names.map((what) => {
      const value = this.eye.read(board, what);
      if (!meter) return `${what} ${value}`;
      return Number.isFinite(value)
        ? `${Number(Number(value).toPrecision(3))} ${UNITS[meter.mode]}`
        : 'no connection';
    });
  }

  /**
   * A board with these faults on which a test's steps were done; one that was worked just so far goes on
   * from there.
   */
  worked(candidate: Candidate, { dead = false, steps }: BoardObservation): Simulation {
    const known = this.boards.get(candidate);
    const goesOn =
      known?.dead === dead &&
      known.steps.length <= steps.length &&
      JSON.stringify(known.steps) === JSON.stringify(steps.slice(0, known.steps.length));
    const board = goesOn ? known.board : freshBoard(this.solver, candidate, dead);
    for (const step of goesOn ? steps.slice(known.steps.length) : steps) board.work(step);
    if (this.isKept(candidate)) this.boards.set(candidate, { dead, steps, board });
    return board;
  }

  /** Boards are kept of what is looked at again: single faults and the sound board. */
  private isKept(candidate: Candidate): boolean {
    return candidate === SOUND || this.single.has(candidate);
  }

  /** Pairs of faults of which neither explains everything by itself; yields the part that is done. */
  *pairs(): Generator<number, readonly Candidate[]> {
    const alone = new Set(this.left.filter((candidate) => candidate.length === 1));
    // What is worked quickly is asked first: most pairs are refused by it.
    const made = [...this.made].sort((a, b) => secondsOf(a) - secondsOf(b));
    const pool = this.singles.filter((candidate) => !alone.has(candidate));
    const found: Candidate[] = [];
    for (const [k, one] of pool.entries()) {
      for (const other of pool.slice(k + 1)) {
        const pair = [...one, ...other];
        this.tried += 1;
        if (made.every((observation) => this.explains(pair, observation))) found.push(pair);
      }
      yield (k + 1) / pool.length;
    }
    this.left = [...this.left, ...found];
    return found;
  }

  /** Single faults that explain everything if they may be there at one time and not at another. */
  comingAndGoing(): readonly Candidate[] {
    return this.singles.filter((candidate) =>
      this.made.every((one) => this.explains(SOUND, one) || this.explains(candidate, one)),
    );
  }
}

export interface DiagnoseOptions {
  readonly pairs?: boolean;
}

/** Most candidates for which the best next test is sought among all tests. */
const TABLED = 400;

/**
 * What agrees with everything that was observed of a board, and what to look at next; yields the part that
 * is done.
 */
export function* diagnosing(
  referenceCircuit: ReferenceCircuit,
  observations: readonly BoardObservation[],
  { pairs = false }: DiagnoseOptions = {},
): Generator<number, Diagnosis> {
  const suspects = new Suspects(referenceCircuit);
  for (const [k, observation] of observations.entries()) {
    suspects.observe(observation);
    yield (0.3 * (k + 1)) / observations.length;
  }
  if (pairs) for (const part of suspects.pairs()) yield 0.3 + 0.5 * part;
  const permanent = suspects.remaining;
  const comesAndGoes = permanent.length === 0 && !suspects.sound;
  const candidates = comesAndGoes ? suspects.comingAndGoing() : permanent;
  const { sound, of } = suspects;
  if (candidates.length > TABLED)
    return { sound, of, next: null, candidates: candidates.map((one) => suspicion([one], comesAndGoes)) };
  const tried = sound ? [...candidates, []] : candidates;
  const table = yield* after(0.8, tabulate(referenceCircuit, tried, suspects.solver));
  const search = new Search(table);
  const next = search.next(tried.map((_, k) => k));
  const groups = search.groups(candidates.map((_, k) => k));
  return {
    sound,
    of,
    candidates: groups.map((group) =>
      suspicion(
        group.map((k) => candidates[k]!),
        comesAndGoes,
      ),
    ),
    next: next && { ...next, title: describeTest(next.test) },
  };
}

/** Some work as the last part of more, of which this much is done before it. */
function* after<T>(done: number, work: Generator<number, T>): Generator<number, T> {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    yield done + (1 - done) * step.value;
  }
}

function suspicion([first = [], ...places]: readonly Candidate[], comesAndGoes: boolean): Suspicion {
  const title = describeFaults(first);
  return { faults: first, title: comesAndGoes ? `${title}, now and then` : title, places, comesAndGoes };
}

/** What was seen or read on a board, in words. */
export const describeObservation = ({ see, read, ...test }: BoardObservation): string => {
  const said = see
    ? Object.entries(see).map(([what, value]) => `${what} ${describeExpected(value)}`)
    : [read === undefined ? '' : describeExpected(read)];
  return `${describeTest(test).replace(/: look$/, '')}: ${said.join(', ')}`;
};
