import type { Stimulus } from '../../circuit/index.js';
import type { WorkEntry } from '../../live/index.js';
import type { AnswerEntry } from '../../questions/index.js';
import type { Incident } from '../../simulation/index.js';

/** What stands in the log of an attempt: what was done at its board, or answered to its questions. */
export type AttemptEntry = WorkEntry | AnswerEntry;

/** What was done during an attempt, in order; seconds from its beginning, never running back. */
export type WorkEvent = { readonly t: number } & (
  WorkEntry | { readonly kind: 'permission' } | { readonly kind: 'hand-in' }
);

/** What a replay of the work found: nothing of it is taken from anybody's word. */
export interface WorkFindings {
  /** The board was switched on; the reading and editing before it are those up to this place of the log. */
  readonly energised: readonly { readonly t: number; readonly at: number; readonly permitted: boolean }[];
  readonly incidents: readonly Incident[];
  readonly readings: readonly Reading[];
}

export interface Reading {
  readonly t: number;
  /** Place in the log. */
  readonly at: number;
  readonly between: readonly [string, string];
  /** Buttons that were held, in order of their tags. */
  readonly held: readonly string[];
  /** Infinity where nothing joins the two. */
  readonly ohms: number;
  /** With every supply off. */
  readonly dead: boolean;
}

/** Keeps a set of the buttons that are held by what was done. */
export function noteHeld(held: Set<string>, stimulus: Stimulus): void {
  if ('press' in stimulus) held.add(stimulus.press);
  if ('release' in stimulus) held.delete(stimulus.release);
}

/** An ohmmeter's reading in words, to three figures. */
export const describeOhms = (ohms: number): string =>
  Number.isFinite(ohms) ? `${Number(ohms.toPrecision(3))} Ω` : 'no connection';

/** When something happened, in words. */
export const atTime = (event: { readonly t: number } | undefined): string =>
  event ? ` at ${Math.floor(event.t / 60)} min ${Math.floor(event.t % 60)} s` : '';
