import {
  TIMER_DONE,
  TIMER_IDLE,
  TIMER_PAUSE,
  TIMER_TIMING,
  TIMER_TO_DONE,
  TIMER_TO_IDLE,
} from '../../catalogue/index.js';
import { TRAVEL } from '../../tolerances.js';
import type { Mechanics, SpecOf } from './mechanics.js';

type Timer = SpecOf<'timer'>;

const WORDS = ['idle', 'timing', 'done', 'timing', 'idle', 'timing'];

/** Idle, or on the way back to it. */
const isIdle = (state: number): boolean => state === TIMER_IDLE || state === TIMER_TO_IDLE;

function reactOffDelay(state: number, wants: boolean): number {
  if (wants) {
    if (isIdle(state)) return TIMER_TO_DONE;
    return state === TIMER_TIMING ? TIMER_DONE : state;
  }
  if (state === TIMER_DONE) return TIMER_TIMING;
  return state === TIMER_TO_DONE ? TIMER_TO_IDLE : state;
}

function reactOnDelay(state: number, wants: boolean): number {
  if (wants) return isIdle(state) ? TIMER_TIMING : state;
  if (state === TIMER_TIMING) return TIMER_IDLE;
  return isIdle(state) ? state : TIMER_TO_IDLE;
}

/** Delay timers: an off-delay timer is done while energised and timing after release. */
export const timer: Mechanics<'timer'> = {
  part: 'clockwork',
  coil: {
    react: ({ does }, state, [wants = false]) =>
      does === 'off-delay' ? reactOffDelay(state, wants) : reactOnDelay(state, wants),
    seals: (state) => state === TIMER_TIMING || state === TIMER_DONE,
    holds: ({ does }, state) => (does === 'off-delay' ? state === TIMER_DONE : state !== TIMER_IDLE),
    moves: ({ does }, [wants]) => (!wants ? TIMER_IDLE : does === 'off-delay' ? TIMER_DONE : TIMER_TIMING),
    rests: [TIMER_IDLE, TIMER_TIMING, TIMER_DONE],
  },
  runs: { seconds: ({ delay }) => delay, isRunning: (state) => state === TIMER_TIMING, out: runOut },
  isMoving: (_, state) => state === TIMER_TO_DONE || state === TIMER_TO_IDLE || state === TIMER_PAUSE,
  arrive: (_, state) => (state === TIMER_TO_IDLE ? TIMER_IDLE : TIMER_DONE),
  travel: ({ pause }, own, { now }) => Math.max(own * TRAVEL.timerContact, now === TIMER_PAUSE ? pause : 0),
  word: (_, state) => WORDS[state] ?? 'idle',
  words: () => ['idle', 'timing', 'done'],
  acts: {},
  choices: (spec, tag) => [{ stimulus: { elapse: tag }, when: TIMER_TIMING, to: runOut(spec) }],
  kept: () => null,
};

function runOut({ does }: Timer): number {
  if (does === 'star-delta') return TIMER_PAUSE;
  return does === 'off-delay' ? TIMER_TO_IDLE : TIMER_TO_DONE;
}
