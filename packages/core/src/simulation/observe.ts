import { BURNT, anatomy, kindOf, type Device } from '../catalogue/index.js';
import {
  isArmature,
  isClosed,
  isClockwork,
  isTripBar,
  partOf,
  secondsSet,
  stateName,
  stateNames,
  type Circuit,
  type Mechanism,
  type MechanicalState,
} from '../circuit/index.js';
import {
  WireCurrents,
  lampState,
  readOhms,
  readVolts,
  type Driven,
  type Electrical,
  type MotorConnection,
  type Solver,
} from '../electrics/index.js';
import {
  countAt,
  highOf,
  isConnected,
  isCounter,
  isCounterOn,
  isTimerOn,
  type CounterVariable,
} from '../program/index.js';
import { DRIVEN, STANDSTILL } from '../tolerances.js';
import type { Simulation } from './simulation.js';

/** A moment of a bench: what the proof sees of a settled state, or what a run has reached. */
export interface Moment {
  readonly solver: Solver;
  readonly state: MechanicalState;
  readonly electrical: Electrical;
  /** The field of a motor, where it is known without the whole solution. */
  readonly drivenBy?: (motor: number) => Driven;
  /** What a lamp that is not burnt shows, likewise. */
  readonly lampBy?: (lamp: number) => 'lit' | 'dim' | 'dark';
  /** Present only in a run in time. */
  readonly simulation?: Simulation;
}

/** A mechanism, a motor's field, a lamp's light; nothing of what only a run in time has. */
export interface Reads {
  readonly mechanism?: number;
  readonly motor?: number;
  readonly lamp?: number;
}

export interface Observer {
  readonly what: string;
  /** Needs a shaft or heat, which only a run in time has. */
  readonly timed: boolean;
  /** Volts and ohms are continuous; the rest are words. */
  readonly numeric: boolean;
  /** What of the circuit it reads; null of the whole solution. */
  readonly reads: Reads | null;
  read(moment: Moment): string | number;
}

/** Every word that may be observed of a device by its designation alone; none of what has no state. */
export function observedWords(device: Device): readonly string[] {
  const { lamps, actuators } = anatomy(device);
  if (lamps.length > 0) return ['lit', 'dim', 'dark', 'burnt'];
  const [first] = actuators;
  if (!first) return [];
  return isArmature(first) ? [...stateNames(first), 'chattering'] : stateNames(first);
}

type Outcome = { readonly observer: Observer } | { readonly problem: string };

/** Resolves what an expectation or an `observe` list names on this bench. */
export function observerOf(circuit: Circuit, what: string): Outcome {
  if (what === 'bench')
    return worded(what, false, {}, ({ simulation }) => (simulation?.hasShorted ? 'short' : 'sound'));
  const meter = /^(volts|amps|ohms)\(\s*([^\s,()]+)\s*(?:,\s*([^\s,()]+)\s*)?\)$/.exec(what);
  if (meter)
    return meterObserver(circuit, what, meter[1] as 'volts' | 'amps' | 'ohms', meter[2] ?? '', meter[3]);
  const contact = /^([^\s:]+):([^\s:-]+-[^\s:-]+)$/.exec(what);
  if (contact) return contactObserver(circuit, what, contact[1] ?? '', contact[2] ?? '');
  const device = circuit.bench.devices.find(({ tag }) => tag === what);
  if (device) return deviceObserver(circuit, device);
  const dot = what.lastIndexOf('.');
  const program = programObserver(circuit, what);
  if (program) return program;
  const setting = settingObserver(circuit, what, what.slice(0, dot), what.slice(dot + 1));
  if (setting) return setting;
  const motor = circuit.motors.findIndex(({ tag }) => tag === what.slice(0, dot));
  if (dot > 0 && motor >= 0) return motorObserver(motor, what, what.slice(dot + 1));
  return { problem: `"${what}" is nothing that can be observed on this bench` };
}

function meterObserver(
  circuit: Circuit,
  what: string,
  mode: 'volts' | 'amps' | 'ohms',
  first: string,
  second: string | undefined,
): Outcome {
  const a = circuit.indexOf.get(first);
  const b = second === undefined ? undefined : circuit.indexOf.get(second);
  if (a === undefined) return { problem: `"${first}" is not a terminal of this bench` };
  if (mode === 'amps') {
    if (second !== undefined) return { problem: 'amps() takes one terminal' };
    return numeric(what, false, ({ solver, state, electrical, simulation }) => {
      const slips = simulation?.slips;
      return new WireCurrents(solver, state, slips ? solver.solve(state, slips) : electrical, slips).into(a)
        .value;
    });
  }
  if (b === undefined)
    return {
      problem:
        second === undefined
          ? `${mode}() takes two terminals`
          : `"${second}" is not a terminal of this bench`,
    };
  if (mode === 'ohms')
    return numeric(what, false, ({ solver, state }) => readOhms(solver, state, a, b).value);
  return numeric(
    what,
    false,
    ({ solver, state, simulation }) => readVolts(solver, state, a, b, simulation?.slips).value,
  );
}

function numeric(what: string, timed: boolean, read: Observer['read']): Outcome {
  return { observer: { what, timed, numeric: true, reads: null, read } };
}

function worded(what: string, timed: boolean, reads: Reads | null, read: Observer['read']): Outcome {
  return { observer: { what, timed, numeric: false, reads, read } };
}

function contactObserver(circuit: Circuit, what: string, tag: string, name: string): Outcome {
  const k = circuit.switches.findIndex((s) => s.tag === tag && s.spec.name === name);
  if (k < 0) return { problem: `${tag} has no contact ${name}` };
  // A fault may change what a contact does.
  return worded(what, false, { mechanism: circuit.switches[k]!.mechanism }, ({ solver, state }) => {
    return isClosed(solver.circuit.switches[k]!, state) ? 'closed' : 'open';
  });
}

function deviceObserver(circuit: Circuit, device: Device): Outcome {
  const { tag } = device;
  const lamp = circuit.lamps.findIndex((l) => l.tag === tag);
  if (lamp >= 0) {
    return worded(tag, false, { lamp }, (moment) => {
      const { state } = moment;
      const shown = state[circuit.lamps[lamp]!.mechanism] === BURNT ? undefined : moment.lampBy?.(lamp);
      return shown ?? lampState(circuit, moment.electrical, state, lamp);
    });
  }
  const index = circuit.mechanismOf.get(tag);
  const mechanism = index === undefined ? undefined : circuit.mechanisms[index]!;
  if (index === undefined || !mechanism) return { problem: `"${tag}" has no state to observe` };
  return worded(tag, false, { mechanism: index }, ({ state, simulation }) => {
    if (simulation?.isChattering(index)) return 'chattering';
    return stateName(mechanism, state[index]!) ?? 'turning';
  });
}

/** An input, output or variable of a controller; the output, time and value of its blocks. */
function programObserver(circuit: Circuit, what: string): Outcome | null {
  const controller = circuit.controllers.find(({ tag }) => what.startsWith(`${tag}.`));
  if (!controller) return null;
  const { tag, program } = controller;
  const name = what.slice(tag.length + 1);
  const [block = '', aspect] = name.split('.');
  const variable = program?.variables.find((one) => one.name === block);
  const at =
    variable && isConnected(variable) ? variable.at : aspect !== undefined && variable ? block : name;
  const mechanism = partOf(circuit, tag, at);
  if (!mechanism || name.includes('~') || mechanism.kind === 'winding')
    return { problem: `"${name}" is no input, output or variable of ${tag}` };
  const { index } = mechanism;
  if (mechanism.kind === 'program-timer') {
    if (aspect === 'Q')
      return worded(what, false, { mechanism: index }, ({ state }) =>
        isTimerOn(mechanism.does, state[index]!) ? 'on' : 'off',
      );
    if (aspect === 'ET')
      return numeric(what, true, ({ simulation, state }) =>
        stateName(mechanism, state[index]!) === 'done' && mechanism.does !== 'TOF'
          ? mechanism.delay
          : (simulation?.runFor(index) ?? 0),
      );
  }
  if (variable && isCounter(variable))
    return counterObserver(circuit, what, { variable, low: mechanism }, aspect);
  if (aspect !== undefined && variable) return { problem: `${block} has no "${aspect}"` };
  return worded(
    what,
    false,
    { mechanism: index },
    ({ state }) => stateName(mechanism, state[index]!) ?? 'off',
  );
}

function counterObserver(
  circuit: Circuit,
  what: string,
  { variable, low }: { readonly variable: CounterVariable; readonly low: Mechanism },
  aspect: string | undefined,
): Outcome {
  const high = partOf(circuit, low.device.tag, highOf(variable.name));
  const value = countAt(low.index, high?.index ?? low.index);
  if (aspect === 'CV') return numeric(what, false, ({ state }) => value(state));
  if (aspect === 'Q')
    return worded(what, false, null, ({ state }) => (isCounterOn(variable, value(state)) ? 'on' : 'off'));
  return { problem: `a counter has Q and CV, not "${aspect ?? ''}"` };
}

/** What a dial really stands at: amperes of an overload relay, seconds of a timer. */
function settingObserver(circuit: Circuit, what: string, tag: string, name: string): Outcome | null {
  const mechanism = circuit.mechanismOf.get(tag);
  if (mechanism === undefined) return null;
  const moving = circuit.mechanisms[mechanism]!;
  if (isTripBar(moving) && name === 'dial')
    return numeric(what, false, ({ solver, simulation }) => {
      const relay = solver.circuit.protections.find((one) => one.tag === tag);
      const set = relay?.spec.curve === 'overload' ? relay.spec.dial : 0;
      return simulation?.dialOf(mechanism) ?? set;
    });
  if (isClockwork(moving) && name === 'delay')
    return numeric(
      what,
      false,
      ({ solver, simulation }) =>
        simulation?.delayOf(mechanism) ?? secondsSet(solver.circuit.mechanisms[mechanism]!) ?? 0,
    );
  return null;
}

function motorObserver(k: number, what: string, aspect: string): Outcome {
  switch (aspect) {
    case 'driven':
      return worded(
        what,
        false,
        { motor: k },
        (moment) => moment.drivenBy?.(k) ?? moment.electrical.motors[k]?.driven ?? 'none',
      );
    case 'connection':
      return worded(what, false, null, ({ solver, electrical }) => connectionOf(k, solver, electrical));
    case 'turning':
      return worded(what, true, null, ({ simulation, solver }) => {
        const speed = simulation?.shafts[k]?.speed ?? 0;
        if (Math.abs(speed) < STANDSTILL * (solver.motors[k]?.synchronous ?? 1)) return 'stopped';
        return speed > 0 ? 'forward' : 'reverse';
      });
    case 'speed':
      return numeric(
        what,
        true,
        ({ simulation }) => (Math.abs(simulation?.shafts[k]?.speed ?? 0) * 60) / (2 * Math.PI),
      );
    case 'current':
      return numeric(what, true, ({ simulation }) => simulation?.shafts[k]?.amps ?? 0);
    default:
      return { problem: `a motor has driven, turning, connection, speed and current, not "${aspect}"` };
  }
}

/**
 * How the winding ends of a motor that is fed are joined now; `open` where no winding has a voltage (delta
 * links for clockwise by IEC 60034-8, from memory: U1-W2, V1-U2, W1-V2).
 */
function connectionOf(k: number, solver: Solver, electrical: Electrical): MotorConnection {
  const motor = solver.circuit.motors[k]!;
  const least = DRIVEN * (solver.motors[k]?.windingVolts ?? 1);
  if (!electrical.motors[k]?.windingVolts.some(({ re, im }) => Math.hypot(re, im) >= least)) return 'open';
  if (motor.connection !== 'open') return motor.connection;
  const node = (terminal: number) => electrical.node[solver.network.net(terminal)]!;
  const [u, v, w] = motor.windings.map(([start, finish]) => [node(start), node(finish)] as const);
  if (!u || !v || !w) return 'open';
  const [u1, u2] = u;
  const [v1, v2] = v;
  const [w1, w2] = w;
  const distinct = (...nodes: number[]) => new Set(nodes).size === nodes.length;
  if (distinct(u1, u2, v1, v2, w1, w2)) return 'open';
  if (u2 === v2 && v2 === w2 && distinct(u1, v1, w1, u2)) return 'star';
  if (u1 === v1 && v1 === w1 && distinct(u2, v2, w2, u1)) return 'star';
  if (u1 === w2 && v1 === u2 && w1 === v2 && distinct(u1, v1, w1)) return 'delta';
  if (u1 === v2 && v1 === w2 && w1 === u2 && distinct(u1, v1, w1)) return 'delta';
  return 'other';
}

/** What is observed of a bench where nobody says: contactors, relays, lamps, and motors' fields. */
export function observableByDefault({ bench }: Circuit): string[] {
  return bench.devices.flatMap((device) => {
    const { told, toldByDefault } = kindOf(device);
    if (!toldByDefault) return [];
    return [told === 'field' ? `${device.tag}.driven` : device.tag];
  });
}
