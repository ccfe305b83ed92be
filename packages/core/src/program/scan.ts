import { edgesOf, highOf, wasOf } from './parts.js';
import {
  MOST_COUNTS,
  isConnected,
  isCounter,
  isEdge,
  isInput,
  isTimer,
  variableOf,
  type RungAction,
  type CounterVariable,
  type RungElement,
  type Program,
  type RungSeries,
  type TimerBlock,
  type ProgramVariable,
} from './program.js';

/** State numbers of what a program works with. */
export const PROGRAM_STATES = {
  /** A processor: its supply is there, and its switch stands in stop. */
  processor: { powered: 1, inStop: 2 },
  /** An input: what the program sees, and what is at its terminal. */
  input: { seen: 1, there: 2 },
  /** An output: its contact, and its bit. */
  output: { closed: 1, bit: 2 },
  /** A timer that has run out is `up` until a scan takes notice of it. */
  timer: { idle: 0, timing: 1, done: 2, up: 3 },
} as const;

/**
 * Where in a state each thing stands that a program works with: an address, a variable, what an edge
 * remembers.
 */
export type Places = (name: string) => number;

/** Works every rung once, from top to bottom; the state is changed in place. */
export type Scan = (state: Uint8Array) => void;

type Reads = (state: Uint8Array) => boolean;
type Writes = (state: Uint8Array, result: boolean) => void;

const { input, output, timer } = PROGRAM_STATES;

/** True of the output of a timer in a state. */
export function isTimerOn(does: TimerBlock, state: number): boolean {
  if (does === 'TON') return state === timer.done;
  if (does === 'TP') return state === timer.timing || state === timer.up;
  return state !== timer.idle;
}

/** True of the output of a counter at a value. */
export const isCounterOn = (
  { counter, preset }: Pick<CounterVariable, 'counter' | 'preset'>,
  value: number,
): boolean => (counter === 'CTU' ? value >= preset : value <= 0);

/** Reads a counter's value from where its two halves stand. */
export const countAt =
  (low: number, high: number) =>
  (state: Uint8Array): number =>
    state[low]! + 256 * state[high]!;

/**
 * A program as what one scan does (IEC 61131-3): a value that is written is read by the rungs below it in the
 * same scan; edges compare with the scan before; a contact in a branch without power is worked as well. Where
 * counters count no further than to their preset, their outputs are the same and their values are few.
 */
export function scanOf(program: Program, at: Places, counts: 'on' | 'to preset' = 'on'): Scan {
  const compilation = new Compilation(program, at, counts);
  const edges = [...new Set(edgesOf(program))].map(at);
  const rungs = program.rungs.map(({ when, then }) => ({
    when: compilation.series(when),
    then: then.map((action) => compilation.action(action)),
  }));
  return (state) => {
    for (let r = 0; r < rungs.length; r += 1) {
      const { when, then } = rungs[r]!;
      const result = when(state);
      for (let k = 0; k < then.length; k += 1) then[k]!(state, result);
    }
    for (let k = 0; k < edges.length; k += 1) state[edges[k]!] = state[edges[k]!]! >> 1;
  };
}

class Compilation {
  private readonly variables: ReadonlyMap<string, ProgramVariable>;
  /** What the edge contacts compare with, in the order in which they are met. */
  private readonly edges: string[];

  constructor(
    program: Program,
    private readonly at: Places,
    private readonly counts: 'on' | 'to preset',
  ) {
    this.variables = new Map(program.variables.map((variable) => [variable.name, variable]));
    this.edges = [...edgesOf(program)];
  }

  private variable(name: string): ProgramVariable {
    const found = this.variables.get(name);
    if (!found) throw new Error(`no variable ${name}`);
    return found;
  }

  /** A series is on where all of it is; every element is worked, power before it or not. */
  series(elements: RungSeries): Reads {
    const parts = elements.map((element) => this.element(element));
    return (state) => {
      let on = true;
      for (let k = 0; k < parts.length; k += 1) on = parts[k]!(state) && on;
      return on;
    };
  }

  private element(element: RungElement): Reads {
    if ('any' in element) {
      const branches = element.any.map((branch) => this.series(branch));
      return (state) => {
        let on = false;
        for (let k = 0; k < branches.length; k += 1) on = branches[k]!(state) || on;
        return on;
      };
    }
    if (isEdge(element)) return this.edge(element);
    if ('no' in element) return this.reads(element.no);
    const reads = this.reads('nc' in element ? element.nc : '');
    return (state) => !reads(state);
  }

  private edge(element: RungElement): Reads {
    const rising = 'rising' in element;
    const reads = this.reads(rising ? element.rising : 'falling' in element ? element.falling : '');
    const was = this.at(this.edges.shift()!);
    // Edges of one input share what they compare with: it is brought up to date at the end of the scan.
    return (state) => {
      const now = reads(state);
      const before = (state[was]! & 1) === 1;
      state[was] = (state[was]! & 1) | (now ? 2 : 0);
      return rising ? now && !before : before && !now;
    };
  }

  /** The bit of a variable, or the output of a block. */
  reads(bit: string): Reads {
    const variable = this.variable(variableOf(bit));
    const { name } = variable;
    if (isConnected(variable)) {
      const at = this.at(variable.at);
      const mask = isInput(variable) ? input.seen : output.bit;
      return (state) => (state[at]! & mask) !== 0;
    }
    const at = this.at(name);
    if (isTimer(variable)) return (state) => isTimerOn(variable.timer, state[at]!);
    if (isCounter(variable)) return this.counted(variable);
    return (state) => state[at] === 1;
  }

  private counted(variable: CounterVariable): Reads {
    const value = countAt(this.at(variable.name), this.at(highOf(variable.name)));
    return (state) => isCounterOn(variable, value(state));
  }

  action(action: RungAction): Writes {
    if ('timer' in action) return this.timer(action.timer);
    if ('counter' in action) return this.counter(action.counter, action.reset);
    if ('coil' in action) return this.writes(action.coil);
    if ('negated' in action) {
      const write = this.writes(action.negated);
      return (state, result) => {
        write(state, !result);
      };
    }
    const value = 'set' in action;
    const write = this.writes(value ? action.set : action.reset);
    return (state, result) => {
      if (result) write(state, value);
    };
  }

  private writes(name: string): Writes {
    const variable = this.variable(name);
    const at = this.at(isConnected(variable) ? variable.at : name);
    const mask = isConnected(variable) ? output.bit : 1;
    return (state, on) => {
      state[at] = on ? state[at]! | mask : state[at]! & ~mask;
    };
  }

  private timer(name: string): Writes {
    const variable = this.variable(name);
    const at = this.at(name);
    if (!isTimer(variable)) throw new Error(`${name} is no timer`);
    const works = { TON: onDelay, TOF: offDelay, TP: pulse }[variable.timer];
    const atOnce = variable.preset === 0;
    return (state, result) => {
      state[at] = works(state[at]!, result, atOnce);
    };
  }

  private counter(name: string, reset: string | undefined): Writes {
    const variable = this.variable(name);
    if (!isCounter(variable)) throw new Error(`${name} is no counter`);
    const [low, high, was] = [this.at(name), this.at(highOf(name)), this.at(wasOf(name))];
    const { counter, preset } = variable;
    const most = this.counts === 'on' ? MOST_COUNTS : preset;
    const valueIn = countAt(low, high);
    const isReset: Reads = reset === undefined ? () => false : this.reads(reset);
    const put = (state: Uint8Array, value: number): void => {
      state[low] = value & 255;
      state[high] = value >> 8;
    };
    return (state, result) => {
      const value = valueIn(state);
      const counts = result && state[was] === 0;
      state[was] = result ? 1 : 0;
      if (isReset(state)) put(state, counter === 'CTU' ? 0 : preset);
      else if (!counts) return;
      else if (counter === 'CTU') put(state, Math.min(value + 1, Math.max(most, value)));
      else put(state, Math.max(value - 1, 0));
    };
  }
}

/** On-delay: runs while its input is on, and is on once it has run out. */
function onDelay(state: number, on: boolean, atOnce: boolean): number {
  if (!on) return timer.idle;
  if (state === timer.idle) return atOnce ? timer.done : timer.timing;
  return state === timer.up ? timer.done : state;
}

/** Off-delay: on with its input, and for the set time after it. */
function offDelay(state: number, on: boolean, atOnce: boolean): number {
  if (on) return timer.done;
  if (state === timer.done) return atOnce ? timer.idle : timer.timing;
  return state === timer.up ? timer.idle : state;
}

/** Pulse: on for the set time from the rise of its input, whatever that does meanwhile. */
function pulse(state: number, on: boolean, atOnce: boolean): number {
  if (state === timer.timing) return state;
  if (state === timer.idle) return on ? (atOnce ? timer.done : timer.timing) : state;
  return on ? timer.done : timer.idle;
}
