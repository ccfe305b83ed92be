import { splitRef, type Bench } from '../bench/index.js';
import { ARRIVING, CLOSED, OPERATED, REST, type Duty } from '../catalogue/index.js';
import {
  compile,
  describeStimulus,
  wiredTerminals,
  wiredTogether,
  type Circuit,
  type MechanicalState,
  type Stimulus,
} from '../circuit/index.js';
import { Solver, coilVoltageFault, describeShort, isIn, isShorted } from '../electrics/index.js';
import type { Simulation } from '../simulation/index.js';
import { directed, isSame, powered, worked, type Leg, type Shows } from './directed.js';
import { Exploration, SearchBound, type Choice, type PairChoice } from './exploration.js';

export const PROPERTY_IDS = [
  'no-short',
  'stop-drops',
  'estop-holds',
  'overload-drops',
  'no-self-start',
  'coil-voltage',
  'no-chatter',
  'no-race',
  'earth-bonded',
  'full-phases',
] as const;
export type PropertyId = (typeof PROPERTY_IDS)[number];

export interface Property {
  readonly id: PropertyId;
  readonly holds: boolean;
  /** Something on this wiring put it to the test: nothing stops that never ran. */
  readonly tested: boolean;
  /** The shortest sequence that shows the violation, as a script; empty where it holds or shows at once. */
  readonly trace: readonly Stimulus[];
  /** The same sequence with the other order of arrival, where the violation is that the two end differently. */
  readonly otherwise?: readonly Stimulus[];
  /** What was found, in words. */
  readonly found: string;
}

export interface Proof {
  readonly complete: boolean;
  /** Settled situations that were reached. */
  readonly states: number;
  /** All situations that were tried, those on the way between two settled ones included. */
  readonly situations: number;
  readonly properties: readonly Property[];
}

export interface ProofOptions {
  /** Most situations to try before the search stops and says so. */
  readonly maxSituations?: number;
  /** Properties to decide; all that have something to judge by default. */
  readonly properties?: readonly PropertyId[];
  /** A short circuit that protection clears (an earth fault's) ends a way without being a violation. */
  readonly isCleared?: (state: MechanicalState) => boolean;
}

const MAX_SITUATIONS = 4_000_000;
const START_DUTIES: readonly (Duty | undefined)[] = ['start', 'forward', 'reverse', 'jog'];

/** Tries every order in which the bench can be worked, breadth first, and decides the properties of the format. */
export function prove(bench: Bench, options: ProofOptions = {}): Proof {
  return proveCircuit(new Solver(compile(bench)), options);
}

export function proveCircuit(solver: Solver, options: ProofOptions = {}): Proof {
  const search = new Search(solver, options);
  search.run();
  return search.result();
}

/** What a proof tried, in words. */
export function describeProof({
  complete,
  states,
  situations,
}: Pick<Proof, 'complete' | 'states'> & { readonly situations?: number }): string {
  const number = (n: number) => n.toLocaleString('en-GB').replaceAll(',', '\u202f');
  if (!complete)
    return `the search stopped after ${number(states)} situations at rest; what was not reached is not decided`;
  const between =
    situations === undefined ? '' : `, and the ${number(situations - states)} moments between them,`;
  return states === 1
    ? 'the one situation that this board can be in was tried'
    : `all ${number(states)} situations this board can be in${between} were tried`;
}

/** No stimulus: the bench as it is switched on. */
const FRESH = -1;

class Search {
  private readonly circuit: Circuit;
  private readonly exploration: Exploration;
  private readonly judged: Set<PropertyId>;
  private readonly violations = new Map<
    PropertyId,
    { trace: readonly Stimulus[]; found: string; otherwise?: readonly Stimulus[] }
  >();
  /** Something ran; a three-phase motor was driven. */
  private hasRun = false;
  private hasDriven = false;
  private shortedAtOnce = false;
  /** Settled situations in order of discovery; from which place in this list, and by which choice, each was reached. */
  private readonly queue: number[] = [];
  private readonly parent: number[] = [];
  private readonly by: number[] = [];
  private readonly running: boolean[] = [];
  private reached = new Uint8Array(1024);
  private readonly stops: readonly { tag: string; mechanism: number; duty: Duty | undefined }[];
  private readonly overloads: readonly { tag: string; mechanism: number }[];
  private readonly maxSituations: number;
  private readonly isCleared: ((state: MechanicalState) => boolean) | undefined;
  private readonly arrived: MechanicalState;
  private complete = true;

  constructor(
    private readonly solver: Solver,
    { maxSituations = MAX_SITUATIONS, properties, isCleared }: ProofOptions,
  ) {
    this.maxSituations = maxSituations;
    this.isCleared = isCleared;
    this.circuit = solver.circuit;
    this.arrived = this.circuit.initial.slice();
    this.exploration = new Exploration(solver, undefined, maxSituations);
    this.stops = this.exploration.controls.filter(({ duty }) => duty === 'stop' || duty === 'emergency-stop');
    this.overloads = this.circuit.mechanisms
      .filter(({ kind }) => kind === 'trip')
      .map(({ device, index }) => ({ tag: device.tag, mechanism: index }));
    const judged = judgedProperties(this.circuit);
    this.judged = properties ? new Set(properties.filter((id) => judged.has(id))) : judged;
  }

  run(): void {
    try {
      this.explore();
    } catch (error) {
      if (!(error instanceof SearchBound)) throw error;
      this.complete = false;
    }
  }

  private explore(): void {
    const { exploration } = this;
    const { choices, pairs } = exploration;
    this.take(this.exploration.begin(), this.circuit.initial, FRESH, FRESH);
    this.shortedAtOnce = this.queue.length === 0 && this.violations.has('no-short');
    // Nothing else is judged of a bench that is shorted as its supply comes on.
    if (this.shortedAtOnce) for (const id of PROPERTY_IDS) if (id !== 'no-short') this.violations.delete(id);
    if (this.judged.has('earth-bonded') && !this.shortedAtOnce) this.checkEarth();
    const state = this.circuit.initial.slice();
    for (let here = 0; here < this.queue.length; here += 1) {
      exploration.situations.read(this.queue[here] as number, state);
      const held = exploration.held(state);
      for (let k = 0; k < choices.length; k += 1) {
        const { mechanism, when, to, holds } = choices[k] as Choice;
        if (state[mechanism] !== when || (holds && held >= exploration.heldLimit)) continue;
        state[mechanism] = to;
        this.take(exploration.lead(state), state, here, k);
        state[mechanism] = when;
      }
      if (held === 0) this.takePairs(pairs, state, here);
      if (exploration.situations.count > this.maxSituations) {
        this.complete = false;
        return;
      }
    }
  }

  /** Two pressed at one instant are tried for shorts alone: one after the other leads everywhere else. */
  private takePairs(pairs: readonly PairChoice[], state: MechanicalState, here: number): void {
    if (!this.judged.has('no-short') || this.violations.has('no-short')) return;
    for (const { stimulus, mechanisms } of pairs) {
      for (const mechanism of mechanisms) state[mechanism] = ARRIVING;
      const code = this.exploration.lead(state);
      if (code < 0 && this.exploration.outcome(code).short) this.findShort(state, here, stimulus);
      for (const mechanism of mechanisms) state[mechanism] = REST;
    }
  }

  result(): Proof {
    const properties = PROPERTY_IDS.filter((id) => this.judged.has(id)).map((id): Property => {
      const violation = this.violations.get(id);
      if (violation) return { id, holds: false, tested: true, ...violation };
      const tested = this.isTested(id);
      const decided = this.complete || id === 'earth-bonded';
      return {
        id,
        holds: decided,
        tested,
        trace: [],
        found: decided ? '' : `not decided: the search stopped at ${this.queue.length} situations`,
      };
    });
    return {
      complete: this.complete,
      states: this.queue.length,
      situations: this.exploration.situations.count,
      properties,
    };
  }

  /** Whether the wiring gave a property anything to judge. */
  private isTested(id: PropertyId): boolean {
    if (this.shortedAtOnce) return id === 'no-short';
    const wired = wiredTerminals(this.circuit);
    switch (id) {
      case 'no-short':
        return this.circuit.sources.some(({ terminal }) => wired.has(terminal));
      case 'earth-bonded':
        return true;
      case 'full-phases':
        return this.hasDriven;
      case 'coil-voltage':
      case 'no-chatter':
      case 'no-race':
        return this.exploration.hasEnergised;
      default:
        return this.hasRun;
    }
  }

  /** Judges where one stimulus led and keeps the situations that are new. */
  private take(code: number, started: MechanicalState, from: number, choice: number): void {
    if (code >= 0) {
      this.arrive(code, from, choice);
      return;
    }
    const { ends, short, badVoltage, chatter } = this.exploration.outcome(code);
    const by = this.stimulus(choice);
    if (short && this.open('no-short')) this.findShort(started, from, by);
    if (badVoltage && this.open('coil-voltage')) this.findVoltage(started, from, by);
    if (chatter && this.open('no-chatter')) {
      const shows = (simulation: Simulation) => simulation.incidents.some(({ kind }) => kind === 'chatter');
      const goal = (state: MechanicalState) => this.exploration.isEndless(state);
      this.violate(
        'no-chatter',
        from,
        { stimulus: by, started: started.slice(), goal },
        `${chatter.join(', ') || 'a coil'} never comes to rest`,
        shows,
      );
    }
    if (ends.length > 1 && by && this.open('no-race')) this.findRace(ends, started, from, by);
    for (const end of ends) this.arrive(end, from, choice);
  }

  private arrive(end: number, from: number, choice: number): void {
    const known = end < this.reached.length && this.reached[end] === 1;
    const starter =
      from >= 0 && this.running[from] === false && this.open('no-self-start') && this.isStarter(choice);
    if (known && !starter) return;
    const state = this.arrived;
    this.exploration.situations.read(end, state);
    const running = this.isRunning(state);
    if (running) {
      this.hasRun = true;
      if (!known) this.judgeSettled(state, from, choice);
      if (starter && this.startsHeld(state) === 0 && !this.unnamedHeld(state)) {
        const by = this.stimulus(choice) as Stimulus;
        this.violateSettled(
          'no-self-start',
          state,
          from,
          choice,
          `${this.drivenIn(state).join(', ')} by ${describeStimulus(by)}`,
        );
      }
    }
    if (known) return;
    if (end >= this.reached.length) {
      const grown = new Uint8Array(Math.max(end + 1, 2 * this.reached.length));
      grown.set(this.reached);
      this.reached = grown;
    }
    this.reached[end] = 1;
    this.queue.push(end);
    this.parent.push(from);
    this.by.push(choice);
    this.running.push(running);
  }

  /** The return of the supply, a stop or emergency stop released, a reset: none of them may start anything. */
  private isStarter(choice: number): boolean {
    const by = this.stimulus(choice);
    return (
      by !== null &&
      ('close' in by ||
        'reset' in by ||
        ('release' in by && this.stops.some(({ tag }) => tag === by.release)))
    );
  }

  private judgeSettled(state: MechanicalState, from: number, choice: number): void {
    for (const { tag, mechanism, duty } of this.stops) {
      if (state[mechanism] !== OPERATED) continue;
      const id = duty === 'stop' ? 'stop-drops' : 'estop-holds';
      if (this.open(id))
        this.violateSettled(
          id,
          state,
          from,
          choice,
          `${this.drivenIn(state).join(', ')} while ${tag} is ${duty === 'stop' ? 'held' : 'set'}`,
        );
    }
    for (const { tag, mechanism } of this.overloads) {
      if (state[mechanism] === OPERATED && this.open('overload-drops')) {
        this.violateSettled(
          'overload-drops',
          state,
          from,
          choice,
          `${this.drivenIn(state).join(', ')} while ${tag} is tripped`,
        );
      }
    }
    this.judgePhases(state, from, choice);
  }

  /** A three-phase motor that is fed with every protection closed and every line there has a turning field. */
  private judgePhases(state: MechanicalState, from: number, choice: number): void {
    if (this.hasDriven && !this.open('full-phases')) return;
    this.circuit.motors.forEach(({ tag, windings }, k) => {
      if (windings.length < 3) return;
      const driven = this.exploration.decisions.driven(k, state);
      if (driven !== 'none') this.hasDriven = true;
      if (driven !== 'single-phase' || !this.open('full-phases')) return;
      const whole = this.circuit.mechanisms.every(({ kind, index, device }) =>
        kind === 'switchgear' && device.type !== 'disconnector'
          ? state[index] === CLOSED
          : kind !== 'supply' || state[index] === 0,
      );
      if (!whole) return;
      const shows = (simulation: Simulation) => simulation.solution.motors[k]?.driven === 'single-phase';
      this.violateSettled(
        'full-phases',
        state,
        from,
        choice,
        `${tag} is driven by two lines alone: it hums and does not start`,
        shows,
      );
    });
  }

  private findShort(started: MechanicalState, from: number, by: Stimulus | null): void {
    const { decisions } = this.exploration;
    const goal = (state: MechanicalState) => decisions.shorted(state) && !this.isCleared?.(state);
    const at = this.exploration.wayTo(started, goal)?.state;
    if (!at) return;
    const { kind, joined, path } = describeShort(this.solver, at, this.solver.at(at));
    const leg = { stimulus: by, started: started.slice(), goal };
    this.violate(
      'no-short',
      from,
      leg,
      `${kind} short: ${joined[0]} meets ${joined[1]} through ${path.slice(1, -1).join(', ')}`,
      (simulation) => simulation.hasShorted,
    );
  }

  private findVoltage(started: MechanicalState, from: number, by: Stimulus | null): void {
    const { circuit } = this;
    const faultOf = (state: MechanicalState) => {
      const electrical = this.solver.at(state);
      if (isShorted(electrical)) return null;
      for (const [k, coil] of circuit.coils.entries()) {
        const fault = coilVoltageFault(circuit, electrical, k);
        if (fault) return { coil, ...fault };
      }
      return null;
    };
    const goal = (state: MechanicalState) => faultOf(state) !== null;
    const at = this.exploration.wayTo(started, goal)?.state;
    const fault = at && faultOf(at);
    if (!fault) return;
    const { coil, perUnit, wrongKind } = fault;
    const kind = wrongKind ? (coil.kind === 'ac' ? ' DC' : ' AC') : '';
    const text = `coil ${coil.tag} has ${Math.round(perUnit * 100)} %${kind} of its ${coil.voltage} V ${coil.kind.toUpperCase()}`;
    const shows = (simulation: Simulation) =>
      simulation.events.some(({ what }) => what.startsWith(`volts(${circuit.terminals[coil.a] as string},`));
    this.violate('coil-voltage', from, { stimulus: by, started: started.slice(), goal }, text, shows);
  }

  /** One stimulus, at most one start held, and two ends: told with the order that the devices' own travel would not take. */
  private findRace(ends: readonly number[], started: MechanicalState, from: number, by: Stimulus): void {
    const states = ends.map((end) => this.exploration.state(end));
    if (this.startsHeld(states[0] as MechanicalState) > 1) return;
    const armatures = states.map((state) => `{ ${this.armaturesIn(state)} }`);
    const found = `ends with ${[...new Set(armatures)].join(' or ')}, as one or another is quicker`;
    const to = (state: MechanicalState): Leg => ({
      stimulus: by,
      started: started.slice(),
      goal: (other) => isSame(state, other),
    });
    const before = this.legs(from);
    const tried = states.map((state) => {
      const leg = to(state);
      return directed(
        this.solver,
        this.exploration,
        { root: before.root, legs: [...before.legs, leg] },
        (simulation) => leg.goal(simulation.state),
      );
    });
    const plain = tried.find(({ steps }) => steps.at(-1)?.first === undefined) ?? tried[0];
    const other = tried.find((one) => one !== plain && one.shown) ?? tried.find((one) => one !== plain);
    this.violations.set('no-race', {
      trace: other?.steps ?? [],
      found,
      ...(plain ? { otherwise: plain.steps } : {}),
    });
  }

  private open(id: PropertyId): boolean {
    return this.judged.has(id) && !this.violations.has(id);
  }

  private stimulus(choice: number): Stimulus | null {
    return this.exploration.choices[choice]?.stimulus ?? null;
  }

  private startsHeld(state: MechanicalState): number {
    return this.exploration.buttons.filter(
      ({ mechanism, duty }) => state[mechanism] !== REST && START_DUTIES.includes(duty),
    ).length;
  }

  private unnamedHeld(state: MechanicalState): boolean {
    return this.exploration.buttons.some(
      ({ mechanism, duty }) => duty === undefined && state[mechanism] !== REST,
    );
  }

  /** A motor is driven, or on a bench without motors a contactor or relay is in. */
  private isRunning(state: MechanicalState): boolean {
    const { motors, coils } = this.circuit;
    if (motors.length === 0) return coils.some(({ mechanism }) => isIn(state[mechanism] as number));
    for (let k = 0; k < motors.length; k += 1) if (this.exploration.decisions.isDriven(k, state)) return true;
    return false;
  }

  private drivenIn(state: MechanicalState): string[] {
    const { motors } = this.circuit;
    if (motors.length === 0)
      return this.circuit.coils
        .filter(({ mechanism }) => isIn(state[mechanism] as number))
        .map(({ tag }) => `${tag} is in`);
    return motors.flatMap(({ tag }, k) => {
      const driven = this.exploration.decisions.driven(k, state);
      return driven === 'none' ? [] : [`${tag} is driven ${driven}`];
    });
  }

  private armaturesIn(state: MechanicalState): string {
    const tags = this.circuit.coils
      .filter(({ mechanism }) => isIn(state[mechanism] as number))
      .map(({ tag }) => tag);
    return tags.length > 0 ? `${tags.join(', ')} in` : 'nothing in';
  }

  /** A violation in a settled situation: some motor driven (without a motor, some armature in), or what `shows` tells. */
  private violateSettled(
    id: PropertyId,
    state: MechanicalState,
    from: number,
    choice: number,
    found: string,
    shows: Shows = (simulation) => this.runs(simulation),
  ): void {
    const end = state.slice();
    const goal = (other: MechanicalState) => isSame(end, other);
    this.violate(
      id,
      from,
      this.legOf(from, choice, goal) ?? { stimulus: null, started: end, goal },
      found,
      shows,
    );
  }

  private violate(
    id: PropertyId,
    from: number,
    { stimulus, started, goal }: Omit<Leg, 'stimulus'> & { readonly stimulus: Stimulus | null },
    found: string,
    shows: Shows,
  ): void {
    const { solver, exploration } = this;
    const before = this.legs(from);
    let way = { root: before.root, legs: stimulus ? [...before.legs, { stimulus, started, goal }] : [] };
    // What shows as the supply comes on, in one of the ways in which it may, shows when it is switched off and on again.
    if (!stimulus && !shows(worked(solver, []), []))
      way = { root: worked(solver, [], true).state, legs: powered(solver, goal) };
    this.violations.set(id, {
      trace: way.legs.length > 0 ? directed(solver, exploration, way, shows).steps : [],
      found,
    });
  }

  /** The situation in which the bench came on, and the steps by which a later one was reached from it. */
  private legs(place: number): { readonly root: MechanicalState; readonly legs: Leg[] } {
    const legs: Leg[] = [];
    let at = place;
    for (; at >= 0 && (this.by[at] as number) >= 0; at = this.parent[at] as number) {
      const end = this.exploration.state(this.queue[at] as number);
      const leg = this.legOf(this.parent[at] as number, this.by[at] as number, (state) => isSame(end, state));
      if (leg) legs.unshift(leg);
    }
    return { root: this.exploration.state(this.queue[Math.max(at, 0)] as number), legs };
  }

  private legOf(from: number, choice: number, goal: Leg['goal']): Leg | null {
    const { stimulus, mechanism, to } = this.exploration.choices[choice] ?? {};
    if (!stimulus || mechanism === undefined || to === undefined || from < 0) return null;
    const started = this.exploration.state(this.queue[from] as number);
    started[mechanism] = to;
    return { stimulus, started, goal };
  }

  private runs(simulation: Simulation): boolean {
    const { motors, coils } = this.circuit;
    if (motors.length === 0)
      return coils.some(({ mechanism }) => isIn(simulation.state[mechanism] as number));
    return simulation.solution.motors.some(({ driven }) => driven !== 'none');
  }

  private checkEarth(): void {
    const loose = unbondedEarths(this.circuit);
    if (loose.length > 0)
      this.violations.set('earth-bonded', {
        trace: [],
        found: `${loose.join(', ')} not joined to the supply's PE`,
      });
  }
}

/** PE terminals of motors that no wire joins to a supply's PE. */
export function unbondedEarths(circuit: Circuit): string[] {
  const joined = wiredTogether(circuit);
  const supplies = circuit.terminals.flatMap((ref, k) => {
    const { tag, terminal } = splitRef(ref);
    const type = circuit.bench.devices.find((d) => d.tag === tag)?.type;
    return terminal === 'PE' && (type === 'supply-3n' || type === 'supply-1n') ? [joined.find(k)] : [];
  });
  return circuit.motors
    .filter(({ earth }) => !supplies.includes(joined.find(earth)))
    .map(({ earth }) => circuit.terminals[earth] as string);
}

/** Properties that have something to judge on this bench. */
function judgedProperties(circuit: Circuit): Set<PropertyId> {
  const duties = new Set(circuit.bench.devices.map(({ duty }) => duty));
  const coils = circuit.coils.length > 0;
  const subjects = circuit.motors.length > 0 || coils;
  const judged = new Set<PropertyId>();
  const when = (condition: boolean, id: PropertyId) => condition && judged.add(id);
  when(circuit.sources.length > 0, 'no-short');
  when(subjects && duties.has('stop'), 'stop-drops');
  when(subjects && duties.has('emergency-stop'), 'estop-holds');
  when(subjects && circuit.mechanisms.some(({ kind }) => kind === 'trip'), 'overload-drops');
  when(subjects, 'no-self-start');
  when(coils, 'coil-voltage');
  when(coils, 'no-chatter');
  when(coils, 'no-race');
  when(circuit.motors.length > 0, 'earth-bonded');
  when(
    circuit.motors.some(({ windings }) => windings.length === 3),
    'full-phases',
  );
  return judged;
}
