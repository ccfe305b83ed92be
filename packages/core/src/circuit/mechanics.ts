import {
  ARRIVING,
  CLOSED,
  LETTING_GO,
  OPEN,
  OPERATED,
  REST,
  RETURNING,
  SUPPLY_OPEN,
  SUPPLY_TRIPPED,
  TIMER_DONE,
  TIMER_IDLE,
  TIMER_PAUSE,
  TIMER_TIMING,
  TIMER_TO_DONE,
  TIMER_TO_IDLE,
  TRIPPED,
  turning,
  turningTo,
} from '../catalogue/index.js';
import { LONGEST_TIME } from '../tolerances.js';
import type { Circuit, Mechanism, MechanicalState, MechanismIndex } from './circuit.js';
import type { Stimulus } from './stimulus.js';

/**
 * How mechanisms move, one step at a time, with no electricity and no clock in it: the simulation gives
 * the steps their times, the proof tries their orders. An armature starts to move the moment its coil's
 * decision changes; one that lets go keeps its contacts for a lag that is shorter than any armature's travel.
 */

/** The state to which a coil's decision moves its mechanism at once; the same state where nothing changes. */
export function react(mechanism: Mechanism, state: number, wants: boolean): number {
  if (mechanism.kind === 'armature') {
    if (wants) {
      if (state === REST || state === RETURNING) return ARRIVING;
      return state === LETTING_GO ? OPERATED : state;
    }
    if (state === OPERATED) return LETTING_GO;
    return state === ARRIVING ? RETURNING : state;
  }
  if (mechanism.kind !== 'timer') return state;
  if (isOffDelay(mechanism)) {
    if (wants) {
      if (state === IDLE_LIKE(state)) return TIMER_TO_DONE;
      return state === TIMER_TIMING ? TIMER_DONE : state;
    }
    if (state === TIMER_DONE) return TIMER_TIMING;
    return state === TIMER_TO_DONE ? TIMER_TO_IDLE : state;
  }
  if (wants) return state === IDLE_LIKE(state) ? TIMER_TIMING : state;
  if (state === TIMER_TIMING) return TIMER_IDLE;
  return state === TIMER_DONE || state === TIMER_TO_DONE || state === TIMER_PAUSE ? TIMER_TO_IDLE : state;
}

/** Idle, or on the way back to it: the state itself then, otherwise −1. */
const IDLE_LIKE = (state: number) => (state === TIMER_IDLE || state === TIMER_TO_IDLE ? state : -1);

function isOffDelay({ device }: Mechanism): boolean {
  return device.type === 'timer' && device.options.function === 'off-delay';
}

/** True while the mechanism is on its way and will arrive by itself. */
export function isMoving({ kind, positions }: Mechanism, state: number): boolean {
  switch (kind) {
    case 'armature':
    case 'plunger':
    case 'latch':
    case 'trip':
      return state >= ARRIVING;
    case 'selector':
      return state >= (positions?.length ?? 0);
    case 'timer':
      return state === TIMER_TO_DONE || state === TIMER_TO_IDLE || state === TIMER_PAUSE;
    default:
      return false;
  }
}

/** Where a moving mechanism is when its present move has ended. */
export function arrive({ kind, positions }: Mechanism, state: number): number {
  if (kind === 'selector') return turningTo(positions?.length ?? 1, state);
  if (kind === 'timer') return state === TIMER_TO_IDLE ? TIMER_IDLE : TIMER_DONE;
  return state === ARRIVING ? OPERATED : state === LETTING_GO ? RETURNING : REST;
}

/** True while a timer runs. */
export const isTiming = ({ kind }: Mechanism, state: number): boolean =>
  kind === 'timer' && state === TIMER_TIMING;

/** The state that a timer goes to when its time has run out. */
export function runOut(mechanism: Mechanism): number {
  if (mechanism.device.type === 'star-delta-timer') return TIMER_PAUSE;
  return isOffDelay(mechanism) ? TIMER_TO_IDLE : TIMER_TO_DONE;
}

/** True where a mechanical interlock keeps this armature from leaving rest. */
export function isHeldOut(circuit: Circuit, state: MechanicalState, armature: MechanismIndex): boolean {
  return (
    circuit.jammed.includes(armature) ||
    circuit.interlocks.some(
      (group) =>
        group.includes(armature) && group.some((other) => other !== armature && state[other] !== REST),
    )
  );
}

const PHASE_BIT: Readonly<Record<string, number>> = { L1: 1, L2: 2, L3: 4, L: 1, '+': 1 };

/** Starts what a person does; the state is changed in place. Time, settings and lists of stimuli are the caller's. */
export function actOn(circuit: Circuit, state: MechanicalState, stimulus: Stimulus): void {
  const move = (tag: string, next: (mechanism: Mechanism, now: number) => number) => {
    const index = circuit.mechanismOf.get(tag);
    const mechanism = index === undefined ? undefined : circuit.mechanisms[index];
    if (index !== undefined && mechanism) state[index] = next(mechanism, state[index] as number);
  };
  if ('press' in stimulus)
    move(stimulus.press, (_, now) => (now === OPERATED || now === ARRIVING ? now : ARRIVING));
  else if ('release' in stimulus)
    move(stimulus.release, (_, now) => (now === REST || now === RETURNING ? now : RETURNING));
  else if ('turn' in stimulus) {
    move(stimulus.turn, ({ positions = [] }, now) => {
      const to = positions.indexOf(stimulus.to);
      const from = now < positions.length ? now : turningTo(positions.length, now);
      return to < 0 || to === now ? now : turning(positions.length, from, to);
    });
  } else if ('open' in stimulus)
    move(stimulus.open, ({ kind }, now) =>
      kind === 'supply' ? now | SUPPLY_OPEN : now === TRIPPED ? now : OPEN,
    );
  else if ('close' in stimulus)
    move(stimulus.close, ({ kind }, now) =>
      kind === 'supply' ? now & ~SUPPLY_OPEN : now === TRIPPED ? now : CLOSED,
    );
  else if ('lose' in stimulus) move(stimulus.lose, (_, now) => now | (PHASE_BIT[stimulus.phase] ?? 0));
  else if ('restore' in stimulus) move(stimulus.restore, (_, now) => now & ~(PHASE_BIT[stimulus.phase] ?? 0));
  else if ('trip' in stimulus) {
    move(stimulus.trip, ({ kind }, now) =>
      kind === 'trip'
        ? now === OPERATED || now === ARRIVING
          ? now
          : ARRIVING
        : kind === 'supply'
          ? now | SUPPLY_TRIPPED
          : TRIPPED,
    );
  } else if ('reset' in stimulus) {
    move(stimulus.reset, ({ kind }, now) => {
      if (kind === 'trip') return now === OPERATED || now === ARRIVING ? RETURNING : now;
      if (kind === 'supply') return now & ~SUPPLY_TRIPPED;
      return now === TRIPPED ? CLOSED : now;
    });
  }
}

const ACCEPTS: Readonly<Record<string, readonly string[]>> = {
  press: ['pushbutton', 'estop', 'limit-switch'],
  release: ['pushbutton', 'estop', 'limit-switch'],
  turn: ['selector'],
  open: ['breaker', 'disconnector', 'fuse', 'supply-3n', 'supply-1n', 'supply-dc'],
  close: ['breaker', 'disconnector', 'fuse', 'supply-3n', 'supply-1n', 'supply-dc'],
  lose: ['supply-3n', 'supply-1n', 'supply-dc'],
  restore: ['supply-3n', 'supply-1n', 'supply-dc'],
  trip: ['overload', 'breaker'],
  reset: ['overload', 'breaker', 'fuse', 'supply-3n', 'supply-1n', 'supply-dc'],
  elapse: ['timer', 'star-delta-timer'],
};

const PHASES: Readonly<Record<string, readonly string[]>> = {
  'supply-3n': ['L1', 'L2', 'L3'],
  'supply-1n': ['L'],
  'supply-dc': ['+'],
};

/** Why a stimulus cannot be given to a circuit's bench, and under which key; null where it can. */
export function stimulusProblem(
  circuit: Circuit,
  stimulus: Stimulus,
): { key: string; message: string } | null {
  const unknown = (stimulus.first ?? []).findIndex((tag) => !circuit.mechanismOf.has(tag));
  if (unknown >= 0)
    return {
      key: `first[${unknown}]`,
      message: `"${stimulus.first?.[unknown] ?? ''}" is nothing that moves on this bench`,
    };
  for (const [verb, types] of Object.entries(ACCEPTS)) {
    if (!Object.hasOwn(stimulus, verb)) continue;
    const tag = (stimulus as unknown as Record<string, string>)[verb] ?? '';
    const device = circuit.bench.devices.find((d) => d.tag === tag);
    if (!device) return { key: verb, message: `"${tag}" is not a device of this bench` };
    if (!types.includes(device.type))
      return { key: verb, message: `a ${device.type} (${tag}) cannot be given "${verb}"` };
    if ('turn' in stimulus && device.type === 'selector' && !device.options.positions.includes(stimulus.to)) {
      return { key: 'to', message: `"${stimulus.to}" is not a position of ${tag}` };
    }
    if ('phase' in stimulus && !PHASES[device.type]?.includes(stimulus.phase))
      return { key: 'phase', message: `${tag} has no ${stimulus.phase}` };
    return null;
  }
  if ('set' in stimulus) return settingProblem(circuit, stimulus);
  if ('together' in stimulus) {
    for (const [k, one] of stimulus.together.entries()) {
      const problem = stimulusProblem(circuit, one);
      if (problem) return { key: `together[${k}].${problem.key}`, message: problem.message };
    }
  }
  return null;
}

const SETTINGS: Readonly<Record<string, Readonly<Record<string, 'number' | 'reset'>>>> = {
  overload: { dial: 'number', reset: 'reset' },
  'motor-3': { load: 'number' },
  'motor-1': { load: 'number' },
  timer: { delay: 'number' },
  'star-delta-timer': { delay: 'number' },
};

function settingProblem(
  circuit: Circuit,
  { set, to }: { set: string; to: number | string | boolean },
): { key: string; message: string } | null {
  const dot = set.lastIndexOf('.');
  const device = circuit.bench.devices.find((d) => d.tag === set.slice(0, dot));
  if (!device) return { key: 'set', message: `"${set.slice(0, dot)}" is not a device of this bench` };
  const setting = set.slice(dot + 1);
  const known = SETTINGS[device.type] ?? {};
  const kind = Object.hasOwn(known, setting) ? known[setting] : undefined;
  if (!kind)
    return {
      key: 'set',
      message: `a ${device.type} has no setting "${setting}" that can be changed in a run`,
    };
  if (kind === 'number' && (typeof to !== 'number' || to < 0))
    return { key: 'to', message: `must be a number of at least 0, is ${String(to)}` };
  if (setting === 'delay' && (to as number) > LONGEST_TIME)
    return { key: 'to', message: `must be at most ${LONGEST_TIME} s, is ${String(to)}` };
  if (kind === 'reset' && to !== 'manual' && to !== 'auto')
    return { key: 'to', message: `must be manual or auto, is ${String(to)}` };
  if (device.type === 'overload' && kind === 'number') {
    const [min, max] = device.options.range;
    if ((to as number) < min || (to as number) > max)
      return { key: 'to', message: `must lie in the range ${min} to ${max} A, is ${String(to)}` };
  }
  return null;
}
