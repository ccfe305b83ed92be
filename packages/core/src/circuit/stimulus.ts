import type { Stimulus, Act, WrittenFault } from './stimuli.js';
import { anatomy, kindOf, limitsWithin, type Device, type Verb, positionsOn } from '../catalogue/index.js';
import { actedOn, secondsSet } from './mechanisms/index.js';
import type { Circuit, MechanicalState } from './circuit.js';

type KeysOf<T> = T extends unknown ? keyof T : never;
export type StimulusVerb = Exclude<KeysOf<Act>, 'to' | 'phase'>;
type ActOf<V extends StimulusVerb> = Extract<Act, Readonly<Record<V, unknown>>>;

/** Why a stimulus cannot be given to a bench, and under which of its keys. */
export interface StimulusProblem {
  readonly key: string;
  readonly message: string;
}

/** What is known of a verb, once. */
export interface StimulusKind<V extends StimulusVerb = StimulusVerb> {
  /** What stands under the verb: a device, one of its settings, seconds, a fault, or further stimuli. */
  readonly names: 'device' | 'setting' | 'seconds' | 'fault' | 'stimuli';
  /** What else the stimulus says, under a key of its own. */
  readonly detail?: 'position' | 'phase' | 'value';
  /** Done by a hand at the board. */
  readonly byHand: boolean;
  /** May be one of several at one instant. */
  readonly atAnInstant: boolean;
  readonly words: (act: ActOf<V>) => string;
  /** What of it does not fit the device that it names. */
  readonly problem?: (act: ActOf<V>, device: Device) => StimulusProblem | null;
}

const HAND = { names: 'device', byHand: true, atAnInstant: true } as const;
const FAULT = { names: 'fault', byHand: false, atAnInstant: true } as const;
const SUPPLY = { names: 'device', detail: 'phase', byHand: false, atAnInstant: true } as const;

/** Every stimulus there is. Which devices accept one is said by their kinds (`DeviceKind.verbs`). */
export const STIMULI: { readonly [V in StimulusVerb]: StimulusKind<V> } = {
  press: { ...HAND, words: ({ press }) => `press ${press}` },
  release: { ...HAND, words: ({ release }) => `release ${release}` },
  turn: {
    ...HAND,
    detail: 'position',
    words: ({ turn, to }) => `turn ${turn} to ${to}`,
    problem: ({ turn, to }, device) =>
      positionsOn(device).includes(to)
        ? null
        : { key: 'to', message: `"${to}" is not a position of ${turn}` },
  },
  open: { ...HAND, words: ({ open }) => `switch off ${open}` },
  close: { ...HAND, words: ({ close }) => `switch on ${close}` },
  lose: { ...SUPPLY, words: ({ lose, phase }) => `lose ${phase} of ${lose}`, problem: phaseProblem },
  restore: {
    ...SUPPLY,
    words: ({ restore, phase }) => `restore ${phase} of ${restore}`,
    problem: phaseProblem,
  },
  trip: { ...HAND, words: ({ trip }) => `trip ${trip}` },
  reset: { ...HAND, words: ({ reset }) => `reset ${reset}` },
  pushIn: { ...HAND, words: ({ pushIn }) => `push in the armature of ${pushIn} by hand` },
  letOut: { ...HAND, words: ({ letOut }) => `release the armature of ${letOut}` },
  set: {
    names: 'setting',
    detail: 'value',
    byHand: false,
    atAnInstant: true,
    words: ({ set, to }) => `set ${set} to ${String(to)}`,
    problem: settingProblem,
  },
  elapse: {
    names: 'device',
    byHand: false,
    atAnInstant: false,
    words: ({ elapse }) => `let ${elapse} run out`,
  },
  wait: { names: 'seconds', byHand: false, atAnInstant: false, words: ({ wait }) => `wait ${wait} s` },
  inject: { ...FAULT, words: ({ inject }) => `inject ${faultWords(inject)}` },
  clear: { ...FAULT, words: ({ clear }) => `clear ${faultWords(clear)}` },
  together: {
    names: 'stimuli',
    byHand: false,
    atAnInstant: false,
    words: ({ together }) => `at one instant: ${together.map(describeStimulus).join(' and ')}`,
  },
};

/** `open-wire S2:14 KM1:A1`. */
const faultWords = (fault: WrittenFault): string => {
  const [kind = '', place = ''] = Object.entries(fault)[0] ?? [];
  return `${kind} ${String(place)}`;
};

export const STIMULUS_VERBS = Object.keys(STIMULI) as StimulusVerb[];

/** The verb of a stimulus. */
export const verbOf = (stimulus: Stimulus): StimulusVerb =>
  STIMULUS_VERBS.find((verb) => Object.hasOwn(stimulus, verb)) as StimulusVerb;

const kindOfStimulus = (stimulus: Stimulus): StimulusKind => STIMULI[verbOf(stimulus)];

/** What stands under the verb of a stimulus, and what it says besides, as words. */
function partsOf(stimulus: Stimulus): { readonly named: string; readonly detail: string } {
  const named = (stimulus as unknown as Record<StimulusVerb, unknown>)[verbOf(stimulus)];
  const detail = 'to' in stimulus ? stimulus.to : 'phase' in stimulus ? stimulus.phase : '';
  return { named: String(named), detail: String(detail) };
}

/** A setting as scripts name it: the device's tag and the setting's name. */
export function splitSetting(setting: string): { readonly tag: string; readonly name: string } {
  const dot = setting.lastIndexOf('.');
  return { tag: setting.slice(0, dot), name: setting.slice(dot + 1) };
}

/** The tag that a stimulus acts on, or null. */
export function targetOf(stimulus: Stimulus): string | null {
  const { named } = partsOf(stimulus);
  const { names } = kindOfStimulus(stimulus);
  if (names === 'setting') return splitSetting(named).tag;
  return names === 'device' ? named : null;
}

/** A stimulus in plain words. */
export function describeStimulus(stimulus: Stimulus): string {
  const order = [...new Set(stimulus.first)];
  const words = kindOfStimulus(stimulus).words(stimulus as never);
  return order.length < 2 ? words : `${words} (${order.join(' before ')})`;
}

/**
 * Starts what a person does; the state is changed in place. Time, settings and lists of stimuli are the
 * caller's.
 */
export function actOn(circuit: Circuit, state: MechanicalState, stimulus: Stimulus): void {
  const verb = verbOf(stimulus);
  if (STIMULI[verb].names !== 'device') return;
  const { named, detail } = partsOf(stimulus);
  const index = circuit.mechanismOf.get(named);
  const mechanism = index === undefined ? undefined : circuit.mechanisms[index];
  if (mechanism)
    state[mechanism.index] = actedOn(mechanism, verb as Verb, state[mechanism.index] ?? 0, detail);
}

/** Why a stimulus cannot be given to a circuit's bench, and under which key; null where it can. */
export function stimulusProblem(circuit: Circuit, stimulus: Stimulus): StimulusProblem | null {
  const unknown = (stimulus.first ?? []).findIndex((tag) => !circuit.mechanismOf.has(tag));
  if (unknown >= 0)
    return {
      key: `first[${unknown}]`,
      message: `"${stimulus.first?.[unknown] ?? ''}" is nothing that moves on this bench`,
    };
  if ('together' in stimulus) {
    for (const [k, one] of stimulus.together.entries()) {
      const problem = stimulusProblem(circuit, one);
      if (problem) return { key: `together[${k}].${problem.key}`, message: problem.message };
    }
    return null;
  }
  const tag = targetOf(stimulus);
  if (tag === null) return null;
  const verb = verbOf(stimulus);
  const kind = kindOfStimulus(stimulus);
  const device = circuit.bench.devices.find((one) => one.tag === tag);
  if (!device && verb === 'elapse' && isTimerOfProgram(circuit, tag)) return null;
  if (!device) return { key: verb, message: `"${tag}" is not a device of this bench` };
  if (kind.names === 'device' && !kindOf(device).verbs.includes(verb as Verb))
    return { key: verb, message: `a ${device.type} (${tag}) cannot be given "${verb}"` };
  return kind.problem?.(stimulus as never, device) ?? null;
}

/** True of the timer of a program, named with its controller. */
function isTimerOfProgram({ mechanismOf, mechanisms }: Circuit, name: string): boolean {
  const index = mechanismOf.get(name);
  return index !== undefined && secondsSet(mechanisms[index]!) !== null;
}

function phaseProblem({ phase }: { readonly phase: string }, device: Device): StimulusProblem | null {
  const { sources } = anatomy(device);
  return sources.some(({ conductor }) => conductor === phase)
    ? null
    : { key: 'phase', message: `${device.tag} has no ${phase}` };
}

/** What does not fit the field of a setting that a script changes. */
function settingProblem({ set, to }: ActOf<'set'>, device: Device): StimulusProblem | null {
  const { name } = splitSetting(set);
  const { settings } = kindOf(device);
  const field = Object.hasOwn(settings, name) ? settings[name] : undefined;
  if (!field || field.worked)
    return { key: 'set', message: `a ${device.type} has no setting "${name}" that can be changed in a run` };
  const wrong = (rule: string): StimulusProblem => ({ key: 'to', message: `must ${rule}, is ${String(to)}` });
  const { shape } = field;
  if (shape.kind === 'choice')
    return shape.of.some((one) => one === to) ? null : wrong(`be ${shape.of.join(' or ')}`);
  if (shape.kind !== 'number') return null;
  const { min = 0, max, unit = '' } = shape;
  if (typeof to !== 'number' || to < min) return wrong(`be a number of at least ${min}`);
  if (max !== undefined && to > max) return wrong(`be at most ${max} ${unit}`);
  const limits = limitsWithin(device, shape.within);
  return limits && (to < limits[0] || to > limits[1])
    ? wrong(`lie in the range ${limits[0]} to ${limits[1]} ${unit}`)
    : null;
}
