import dayjs from 'dayjs';
import type { Aid } from '@contactum/core';
import type { AssessmentState, SittingTask } from '@contactum/contract';

export const AID_WORDS: Readonly<Record<Aid, string>> = {
  reference: 'drawing of the reference',
  proof: 'live proof',
  tests: 'walk-through and tests',
  drawing: 'drawing of the own wiring',
  meter: 'meter',
  explain: 'explanation of what a device does',
};

export const STATE_WORDS: Readonly<Record<AssessmentState, string>> = {
  set: 'not started',
  running: 'running',
  paused: 'paused',
  ended: 'ended, to be marked',
  'signed off': 'signed off',
  released: 'marks released',
  withdrawn: 'withdrawn',
};

export const TASK_WORDS: Readonly<Record<NonNullable<SittingTask['task']>, string>> = {
  wire: 'Wire',
  find: 'Find the fault',
  program: 'Program',
  both: 'Wire and program',
  answer: 'Questions',
};

export const at = (moment: string | null): string =>
  moment === null ? '–' : dayjs(moment).format('D MMM HH:mm');
export const clockTime = (moment: string | null): string =>
  moment === null ? '–' : dayjs(moment).format('HH:mm:ss');

/** Seconds as minutes and seconds: `7:05`. */
export function minutesAndSeconds(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}
