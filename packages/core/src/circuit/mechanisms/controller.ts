import { PROGRAM_STATES } from '../../program/index.js';
import type { Mechanics, Wants } from './mechanics.js';

/** The parts of a programmable controller; when they change is worked by the program (`programs.ts`). */

const { processor: PROCESSOR, input: INPUT, output: OUTPUT, timer: TIMER } = PROGRAM_STATES;
export const { powered: POWERED, inStop: IN_STOP } = PROCESSOR;

const still = {
  part: 'controller',
  isBitSet: true,
  isMoving: () => false,
  arrive: (_: unknown, state: number) => state,
  travel: () => 0,
  acts: {},
  choices: () => [],
  kept: () => null,
} as const;

/** A bit that a coil's decision sets and clears. */
const setBy = (bit: number, rests: readonly number[]) => ({
  react: (_: unknown, state: number, [wants]: Wants) => (wants ? state | bit : state & ~bit),
  seals: (state: number) => (state & bit) !== 0,
  holds: (_: unknown, state: number) => (state & bit) !== 0,
  moves: (_: unknown, [wants]: Wants) => (wants ? rests[1]! : rests[0]!),
  rests,
});

const onOff = (bit: number) => ({
  word: (_: unknown, state: number) => ((state & bit) === 0 ? 'off' : 'on'),
  words: () => ['off', 'on'],
});

export const processor: Mechanics<'processor'> = {
  ...still,
  coil: setBy(POWERED, [0, POWERED]),
  word: (_, state) => ((state & POWERED) === 0 ? 'off' : (state & IN_STOP) === 0 ? 'run' : 'stop'),
  words: () => ['run', 'stop', 'off'],
  acts: { turn: (_, now, to) => (to === 'stop' ? now | IN_STOP : now & ~IN_STOP) },
  staysWhenRenewed: true,
};

export const input: Mechanics<'input'> = {
  ...still,
  ...onOff(INPUT.seen),
  coil: setBy(INPUT.there, [0, INPUT.seen | INPUT.there]),
};

export const output: Mechanics<'output'> = { ...still, ...onOff(OUTPUT.closed) };

export const memory: Mechanics<'memory'> = {
  ...still,
  word: ({ isShown }, state) => (isShown ? (state === 0 ? 'off' : 'on') : ''),
  words: () => ['off', 'on'],
};

const TIMER_WORDS = ['idle', 'timing', 'done', 'timing'] as const;

/** What runs in a program: the processor decides when it begins, time when it is up. */
export const programTimer: Mechanics<'program-timer'> = {
  ...still,
  runs: {
    seconds: ({ delay }) => delay,
    isRunning: (state) => state === TIMER.timing,
    out: () => TIMER.up,
  },
  word: (_, state) => TIMER_WORDS[state] ?? 'idle',
  words: () => ['idle', 'timing', 'done'],
  choices: ({ name }, tag) => [{ stimulus: { elapse: `${tag}.${name}` }, when: TIMER.timing, to: TIMER.up }],
};
