import type { Bench, TerminalRef } from '../bench/index.js';
import { anatomy } from '../catalogue/index.js';
import {
  carriedAmps,
  compile,
  contactAt,
  contactPlace,
  isSwitchgear,
  secondsSet,
  wiredTogether,
  type Circuit,
  type Stimulus,
  type Switch,
} from '../circuit/index.js';
import { Eye, deadState, observableOf, type BoardObservation } from '../diagnosis/index.js';
import { Solver } from '../electrics/index.js';
import { WhatIf, conductingPath, fewestBlocking, targetIn } from '../explain/index.js';
import { faultProblem, readFault, type WrittenFault } from '../faults/index.js';
import { proveCircuit, type Proof } from '../proof/index.js';
import { Simulation, observerOf, stepProblem } from '../simulation/index.js';
import { transformerFor } from '../sizing/index.js';
import { lengthOf, shownAfter } from './danger.js';
import type {
  BlocksQuestion,
  CauseQuestion,
  DangerQuestion,
  HoldsQuestion,
  Meant,
  Question,
  StatesQuestion,
  ValueQuestion,
} from './question.js';

/** What is wrong with a question on its board, and where in it. */
export interface QuestionProblem {
  readonly path: string;
  readonly message: string;
}

/** Part by which a value may differ where its question does not say. */
const TOLERANCE = 0.05;

/** True where a number is near enough to the right one. */
export const isValue = (given: number, right: number, tolerance = TOLERANCE): boolean =>
  Math.abs(given - right) <= tolerance * Math.abs(right) + 1e-9;

/** A board that is asked about: everything that is right is found on it. */
export class AskedBoard {
  readonly circuit: Circuit;
  readonly solver: Solver;
  /** Worked when a danger is asked about first. */
  private proof: Proof | null = null;

  constructor(readonly bench: Bench) {
    this.circuit = compile(bench);
    this.solver = new Solver(this.circuit);
  }

  /** The board after some stimuli, each come to rest. */
  after(steps: readonly Stimulus[]): Simulation {
    const simulation = new Simulation(this.solver);
    for (const step of steps) simulation.work(step);
    return simulation;
  }

  // ── states ────────────────────────────────────────────────────────────────────────────────────

  /** What each of the devices shows after each of the stimuli, on a board with some faults. */
  states(
    { steps, of }: Pick<StatesQuestion, 'steps' | 'of'>,
    faults: readonly WrittenFault[] = [],
  ): Record<string, string | number>[] {
    const simulation = new Simulation(this.solver, undefined, false, faults.map(readFault));
    const eye = new Eye(this.circuit);
    return steps.map((step) => {
      simulation.work(step);
      return Object.fromEntries(of.map((what) => [what, eye.read(simulation, what)]));
    });
  }

  // ── contacts ──────────────────────────────────────────────────────────────────────────────────

  whatIf(steps: readonly Stimulus[], of: string): WhatIf {
    const target = targetIn(this.circuit, of);
    if (!target) throw new Error(`${of} has no coil, no lamp and no motor`);
    return new WhatIf(this.circuit, this.after(steps).state, target, this.solver);
  }

  /** The smallest set of open contacts that keeps something out; null where none does. */
  blocks({ steps, then, of }: Pick<BlocksQuestion, 'steps' | 'then' | 'of'>): string[] | null {
    const board = this.whatIf([...steps, then], of);
    if (board.isEnergised()) return null;
    return fewestBlocking(board)?.map(contactPlace) ?? null;
  }

  /** The contacts of one path that holds something; null where nothing does. */
  holds({ steps, of }: Pick<HoldsQuestion, 'steps' | 'of'>): string[] | null {
    const board = this.whatIf(steps, of);
    if (!board.isEnergised()) return null;
    const path = conductingPath(board);
    return path ? path.all.filter((one) => !this.isProtection(one)).map(contactPlace) : null;
  }

  /** A pole of a breaker, or a fuse link: it conducts unless something is wrong, and need not be named. */
  isProtection({ mechanism }: Switch): boolean {
    return isSwitchgear(this.circuit.mechanisms[mechanism]!);
  }

  /** The contacts of some names, each once; null where one of them is none. */
  contacts(names: readonly string[]): Switch[] | null {
    const found = new Set(names.map((name) => contactAt(this.circuit, name)));
    return found.has(undefined) ? null : ([...found] as Switch[]);
  }

  // ── values and terminals ──────────────────────────────────────────────────────────────────────

  /** A value with its unit; null where the board does not say it. */
  value({ of, steps = [] }: Pick<ValueQuestion, 'of' | 'steps'>): { value: number; unit: string } | null {
    if (typeof of !== 'string') {
      const meter =
        'volts' in of
          ? ({ mode: 'volts', between: of.volts } as const)
          : ({ mode: 'amps', at: of.amps } as const);
      const read = new Eye(this.circuit).read(this.after(steps), observableOf(meter));
      return { value: Number(read), unit: 'volts' in of ? 'V' : 'A' };
    }
    const dot = of.lastIndexOf('.');
    const [tag, name] = [of.slice(0, dot), of.slice(dot + 1)];
    const device = this.bench.devices.find((one) => one.tag === tag);
    if (!device) return null;
    const amps = (value: number | undefined) => (value === undefined ? null : { value, unit: 'A' });
    if (name === 'dial') return amps(carriedAmps(this.circuit, tag)?.amps);
    const motor = this.circuit.motors.find((one) => one.tag === tag);
    if (name === 'current') return amps(motor?.plate.current);
    if (name === 'windingCurrent')
      return amps(
        motor &&
          (motor.plate.connection === 'delta' ? motor.plate.current / Math.sqrt(3) : motor.plate.current),
      );
    if (name === 'delay') {
      const timer = this.circuit.mechanisms.find((one) => one.device.tag === tag && secondsSet(one) !== null);
      return timer ? { value: secondsSet(timer)!, unit: 's' } : null;
    }
    if (name === 'va' && anatomy(device).transformer) {
      const { rating } = transformerFor(this.bench.devices);
      return rating === null ? null : { value: rating, unit: 'VA' };
    }
    return null;
  }

  /** Every terminal that is meant, and the contacts by their names. */
  terminals(what: Meant): string[] {
    if ('joined' in what) {
      const own = this.circuit.indexOf.get(what.joined);
      if (own === undefined) return [];
      const sets = wiredTogether(this.circuit);
      return this.circuit.terminals.filter(
        (ref, k) => ref !== what.joined && sets.find(k) === sets.find(own),
      );
    }
    const device = this.bench.devices.find((one) => one.tag === what.of);
    if (!device) return [];
    const { contacts, coils } = anatomy(device);
    const ref = (name: string): string => `${what.of}:${name}`;
    if ('coil' in what) return coils.flatMap(({ a, b }) => [ref(a), ref(b), ref(`${a}-${b}`)]);
    const normally = what.contact === 'no' ? 'open' : 'closed';
    return contacts
      .filter((one) => one.role !== 'pole' && one.normally === normally)
      .flatMap(({ a, b, name }) => [ref(a), ref(b), ref(name)]);
  }

  // ── danger and cause ──────────────────────────────────────────────────────────────────────────

  /** The proof's shortest sequence that breaks a property; null where none does. */
  danger({
    property,
  }: Pick<DangerQuestion, 'property'>): { trace: readonly Stimulus[]; length: number } | null {
    this.proof ??= proveCircuit(this.solver);
    const found = this.proof.properties.find(({ id }) => id === property);
    if (!found || found.holds || found.unshown) return null;
    const trace = found.trace.filter((step): step is Stimulus => !('expect' in step));
    return { trace, length: shownAfter(this.solver, property, trace) ?? lengthOf(trace) };
  }

  /** True where a board with a fault shows everything that was found. */
  explains(written: WrittenFault, findings: readonly BoardObservation[]): boolean {
    const fault = readFault(written);
    const eye = new Eye(this.circuit);
    return findings.every((one) => {
      const start = one.dead ? deadState(this.circuit) : undefined;
      const simulation = new Simulation(this.solver, start, false, [fault]);
      for (const step of one.steps) simulation.work(step);
      return eye.agrees(simulation, one);
    });
  }

  causes({ among, findings }: Pick<CauseQuestion, 'among' | 'findings'>): WrittenFault[] {
    return among.filter((fault) => this.explains(fault, findings));
  }

  // ── what fits the board ───────────────────────────────────────────────────────────────────────

  /** What of a question does not fit the board, or has no answer on it. */
  problems(question: Question): QuestionProblem[] {
    const misfits = this.misfits(question);
    return misfits.length > 0 ? misfits : this.unanswered(question);
  }

  private misfits(question: Question): QuestionProblem[] {
    const steps = 'steps' in question ? (question.steps ?? []) : [];
    const found = steps.flatMap((step, k): QuestionProblem[] => {
      const problem = stepProblem(this.circuit, step);
      return problem ? [{ path: `steps[${k}].${problem.key}`, message: problem.message }] : [];
    });
    if (question.ask === 'blocks') {
      const problem = stepProblem(this.circuit, question.then);
      if (problem) found.push({ path: `then.${problem.key}`, message: problem.message });
    }
    if (question.ask === 'states')
      question.of.forEach((what, k) => {
        const outcome = observerOf(this.circuit, what);
        if ('problem' in outcome) found.push({ path: `of[${k}]`, message: outcome.problem });
      });
    if ((question.ask === 'blocks' || question.ask === 'holds') && !targetIn(this.circuit, question.of))
      found.push({ path: 'of', message: `"${question.of}" has no coil, no lamp and no motor` });
    if (question.ask === 'value' && typeof question.of !== 'string')
      for (const ref of refsOf(question.of))
        if (!this.circuit.indexOf.has(ref))
          found.push({ path: 'of', message: `there is no terminal ${ref}` });
    if (question.ask === 'cause')
      question.among.forEach((fault, k) => {
        const problem = faultProblem(this.circuit, readFault(fault));
        if (problem !== null) found.push({ path: `among[${k}]`, message: problem });
      });
    return found;
  }

  /** A question that the board itself cannot answer asks nothing. */
  private unanswered(question: Question): QuestionProblem[] {
    const none = (path: string, message: string): QuestionProblem[] => [{ path, message }];
    switch (question.ask) {
      case 'states':
        return [];
      case 'blocks':
        return this.blocks(question) ? [] : none('of', `no contact keeps ${question.of} out then`);
      case 'holds':
        return this.holds(question) ? [] : none('of', `nothing holds ${question.of} then`);
      case 'value': {
        const right = this.value(question);
        if (!right) return none('of', 'the board does not say this value');
        const among = question.among?.filter((one) => isValue(one, right.value, question.tolerance));
        return among === undefined || among.length === 1
          ? []
          : none('among', `${among.length} of the listed values are right, not one`);
      }
      case 'terminal':
        return this.terminals(question.what).length > 0 ? [] : none('what', 'no terminal is meant');
      case 'danger':
        return this.danger(question) ? [] : none('property', 'no steps break it on this board');
      case 'cause': {
        const right = this.causes(question).length;
        return right === 1 ? [] : none('findings', `${right} of the listed faults explain them, not one`);
      }
    }
  }
}

const refsOf = (of: Exclude<ValueQuestion['of'], string>): readonly TerminalRef[] =>
  'volts' in of ? of.volts : [of.amps];
