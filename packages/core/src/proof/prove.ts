import { splitRef, type Bench } from '../bench/index.js';
import { OPERATED, REST, type Duty } from '../catalogue/index.js';
import { compile, describeStimulus, wiredTogether, type Circuit, type MechanicalState, type Stimulus } from '../circuit/index.js';
import { Solver, describeShort, isIn } from '../electrics/index.js';
import { Transitions, type Settling } from './transitions.js';

export const PROPERTY_IDS = ['no-short', 'stop-drops', 'estop-holds', 'overload-drops', 'no-self-start', 'coil-voltage', 'no-chatter', 'no-race', 'earth-bonded'] as const;
export type PropertyId = (typeof PROPERTY_IDS)[number];

export interface Property {
  readonly id: PropertyId;
  readonly holds: boolean;
  /** The shortest sequence that shows the violation; empty where it holds or shows at once. */
  readonly trace: readonly Stimulus[];
  /** What was found, in words. */
  readonly found: string;
}

export interface Proof {
  readonly complete: boolean;
  /** Settled situations that were reached. */
  readonly states: number;
  readonly properties: readonly Property[];
}

export interface ProofOptions {
  /** Most settled situations to reach before the search stops and says so. */
  readonly maxStates?: number;
}

const MAX_STATES = 200_000;
const START_DUTIES: readonly (Duty | undefined)[] = ['start', 'forward', 'reverse', 'jog'];

interface Reached {
  readonly state: MechanicalState;
  readonly parent: Reached | null;
  readonly by: Stimulus | null;
  readonly driven: readonly string[];
}

/** Tries every order in which the bench can be worked, breadth first, and decides the properties of the format. */
export function prove(bench: Bench, options: ProofOptions = {}): Proof {
  return proveCircuit(new Solver(compile(bench)), options);
}

export function proveCircuit(solver: Solver, { maxStates = MAX_STATES }: ProofOptions = {}): Proof {
  const search = new Search(solver, maxStates);
  search.run();
  return search.result();
}

class Search {
  private readonly circuit: Circuit;
  private readonly transitions: Transitions;
  private readonly judged: Set<PropertyId>;
  private readonly violations = new Map<PropertyId, { trace: Stimulus[]; found: string }>();
  private readonly reached = new Map<string, Reached>();
  private readonly queue: Reached[] = [];
  private readonly stops: readonly { tag: string; mechanism: number; duty: Duty | undefined }[];
  private readonly overloads: readonly { tag: string; mechanism: number }[];
  private complete = true;

  constructor(
    private readonly solver: Solver,
    private readonly maxStates: number,
  ) {
    this.circuit = solver.circuit;
    this.transitions = new Transitions(solver);
    this.stops = this.transitions.controls.filter(({ duty }) => duty === 'stop' || duty === 'emergency-stop');
    this.overloads = this.circuit.mechanisms.filter(({ kind }) => kind === 'trip').map(({ device, index }) => ({ tag: device.tag, mechanism: index }));
    this.judged = judgedProperties(this.circuit);
  }

  run(): void {
    if (this.judged.has('earth-bonded')) this.checkEarth();
    this.take(this.transitions.settle(this.circuit.initial), null, null);
    for (const here of this.queue) {
      for (const stimulus of this.transitions.stimuli(here.state, true)) {
        this.take(this.transitions.after(here.state, stimulus), here, stimulus);
      }
      if (this.queue.length > this.maxStates) {
        this.complete = false;
        return;
      }
    }
  }

  result(): Proof {
    const properties = PROPERTY_IDS.filter((id) => this.judged.has(id)).map((id): Property => {
      const violation = this.violations.get(id);
      if (violation) return { id, holds: false, ...violation };
      const decided = this.complete || id === 'earth-bonded';
      return { id, holds: decided, trace: [], found: decided ? '' : `not decided: the search stopped at ${this.queue.length} situations` };
    });
    return { complete: this.complete, states: this.queue.length, properties };
  }

  /** Judges where one stimulus led and keeps the situations that are new. */
  private take(settling: Settling, from: Reached | null, by: Stimulus | null): void {
    if (settling.short && !this.violations.has('no-short')) {
      const { kind, joined, path } = describeShort(this.solver, settling.short.state, settling.short.electrical);
      this.violate('no-short', from, by, `${kind} short: ${joined[0]} meets ${joined[1]} through ${path.slice(1, -1).join(', ')}`);
    }
    // Two pressed at one instant are tried for shorts alone: one after the other leads everywhere else.
    if (by && 'together' in by) return;
    if (settling.coilFault && !this.violations.has('coil-voltage')) {
      const coil = this.circuit.coils[settling.coilFault.coil];
      const percent = Math.round(settling.coilFault.perUnit * 100);
      const kind = settling.coilFault.wrongKind ? (coil?.kind === 'ac' ? ' DC' : ' AC') : '';
      this.violate('coil-voltage', from, by, `coil ${coil?.tag ?? ''} has ${percent} %${kind} of its ${coil?.voltage ?? 0} V ${(coil?.kind ?? '').toUpperCase()}`);
    }
    if (settling.chatter && !this.violations.has('no-chatter')) {
      this.violate('no-chatter', from, by, `${settling.chatter.join(', ')} never comes to rest`);
    }
    if (settling.ends.length > 1 && by && !this.violations.has('no-race') && this.startsHeld(settling.ends[0]?.state) <= 1) {
      const ends = settling.ends.map(({ state }) => `{ ${this.armaturesIn(state)} }`);
      this.violate('no-race', from, by, `ends with ${[...new Set(ends)].join(' or ')}, as one or another is quicker`);
    }
    for (const { key, state } of settling.ends) {
      const driven = this.drivenIn(state);
      this.judgeSettled(state, driven, from, by);
      this.judgeStart(state, driven, from, by);
      if (this.reached.has(key)) continue;
      const reached: Reached = { state, parent: from, by, driven };
      this.reached.set(key, reached);
      this.queue.push(reached);
    }
  }

  private judgeSettled(state: MechanicalState, driven: readonly string[], from: Reached | null, by: Stimulus | null): void {
    if (driven.length === 0) return;
    for (const { tag, mechanism, duty } of this.stops) {
      if (state[mechanism] !== OPERATED) continue;
      const id = duty === 'stop' ? 'stop-drops' : 'estop-holds';
      if (!this.violations.has(id)) this.violate(id, from, by, `${driven.join(', ')} while ${tag} is ${duty === 'stop' ? 'held' : 'set'}`);
    }
    for (const { tag, mechanism } of this.overloads) {
      if (state[mechanism] === OPERATED && !this.violations.has('overload-drops')) {
        this.violate('overload-drops', from, by, `${driven.join(', ')} while ${tag} is tripped`);
      }
    }
  }

  /** The return of the supply, a stop or emergency stop released, a reset: none of them may start anything. */
  private judgeStart(state: MechanicalState, driven: readonly string[], from: Reached | null, by: Stimulus | null): void {
    if (!from || !by || from.driven.length > 0 || driven.length === 0 || this.violations.has('no-self-start')) return;
    const released = 'release' in by && this.stops.some(({ tag }) => tag === by.release);
    if (!('close' in by) && !('reset' in by) && !released) return;
    if (this.startsHeld(state) > 0 || this.unnamedHeld(state)) return;
    this.violate('no-self-start', from, by, `${driven.join(', ')} by ${describeStimulus(by)}`);
  }

  private startsHeld(state: MechanicalState | undefined): number {
    if (!state) return 0;
    return this.transitions.buttons.filter(({ mechanism, duty }) => state[mechanism] !== REST && START_DUTIES.includes(duty)).length;
  }

  /** A button without a duty is held: nothing can be said of what it asks for. */
  private unnamedHeld(state: MechanicalState): boolean {
    return this.transitions.buttons.some(({ mechanism, duty }) => duty === undefined && state[mechanism] !== REST);
  }

  /** What runs: motors that are driven, or on a bench without motors the contactors and relays that are in. */
  private drivenIn(state: MechanicalState): string[] {
    const { motors } = this.circuit;
    if (motors.length === 0) return this.circuit.coils.filter(({ mechanism }) => isIn(state[mechanism] as number)).map(({ tag }) => `${tag} is in`);
    const fields = this.solver.at(state).motors;
    return motors.flatMap(({ tag }, k) => {
      const driven = fields[k]?.driven ?? 'none';
      return driven === 'none' ? [] : [`${tag} is driven ${driven}`];
    });
  }

  private armaturesIn(state: MechanicalState): string {
    const tags = this.circuit.coils.filter(({ mechanism }) => isIn(state[mechanism] as number)).map(({ tag }) => tag);
    return tags.length > 0 ? `${tags.join(', ')} in` : 'nothing in';
  }

  private violate(id: PropertyId, from: Reached | null, by: Stimulus | null, found: string): void {
    const trace: Stimulus[] = by ? [by] : [];
    for (let step = from; step?.by; step = step.parent) trace.unshift(step.by);
    this.violations.set(id, { trace, found });
  }

  private checkEarth(): void {
    const loose = unbondedEarths(this.circuit);
    if (loose.length > 0) this.violations.set('earth-bonded', { trace: [], found: `${loose.join(', ')} not joined to the supply's PE` });
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
  return circuit.motors.filter(({ earth }) => !supplies.includes(joined.find(earth))).map(({ earth }) => circuit.terminals[earth] as string);
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
  return judged;
}
