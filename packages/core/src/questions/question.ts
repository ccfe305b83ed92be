import type { TerminalRef } from '../bench/index.js';
import type { Stimulus } from '../circuit/index.js';
import type { BoardObservation } from '../diagnosis/index.js';
import type { WrittenFault } from '../faults/index.js';
import type { PropertyId } from '../proof/index.js';

/**
 * Questions about a board. None says what is right: the board answers, by simulation, explanation, proof or
 * what stands on its plates.
 */

interface Asked {
  readonly id: string;
  readonly points: number;
}

/** What each of some devices shows after each of some stimuli. */
export interface StatesQuestion extends Asked {
  readonly ask: 'states';
  readonly steps: readonly Stimulus[];
  readonly of: readonly string[];
}

/** The contacts that keep something from being energised after one more stimulus. */
export interface BlocksQuestion extends Asked {
  readonly ask: 'blocks';
  readonly steps: readonly Stimulus[];
  readonly then: Stimulus;
  readonly of: string;
}

/** The contacts of the path that holds something. */
export interface HoldsQuestion extends Asked {
  readonly ask: 'holds';
  readonly steps: readonly Stimulus[];
  readonly of: string;
}

/** Volts between two terminals, or amperes into one, after the steps. */
export type Measured =
  { readonly volts: readonly [TerminalRef, TerminalRef] } | { readonly amps: TerminalRef };

/** A number: `F2.dial`, `KT1.delay`, `M1.current`, `M1.windingCurrent`, `T1.va`, or something measured. */
export interface ValueQuestion extends Asked {
  readonly ask: 'value';
  readonly of: string | Measured;
  readonly steps?: readonly Stimulus[] | undefined;
  /** Part of the right value by which an answer may differ; 0.05 where it says nothing. */
  readonly tolerance?: number | undefined;
  /** Values to choose from, made by the engine: one is right, the others are what mistakes would give. */
  readonly among?: readonly number[] | undefined;
}

export type Meant =
  | { readonly of: string; readonly contact: 'no' | 'nc' }
  | { readonly of: string; readonly coil: true }
  | { readonly joined: TerminalRef };

export interface TerminalQuestion extends Asked {
  readonly ask: 'terminal';
  readonly what: Meant;
}

/** Properties that a sequence of stimuli can show to be broken. */
export const DANGERS = [
  'no-short',
  'stop-drops',
  'estop-holds',
  'overload-drops',
  'no-self-start',
  'coil-voltage',
  'no-chatter',
  'full-phases',
] as const satisfies readonly PropertyId[];
export type Danger = (typeof DANGERS)[number];

/** The shortest order of working that breaks a property. */
export interface DangerQuestion extends Asked {
  readonly ask: 'danger';
  readonly property: Danger;
}

/** Which of some faults explains everything that was found. */
export interface CauseQuestion extends Asked {
  readonly ask: 'cause';
  readonly among: readonly WrittenFault[];
  readonly findings: readonly BoardObservation[];
}

export type Question =
  | StatesQuestion
  | BlocksQuestion
  | HoldsQuestion
  | ValueQuestion
  | TerminalQuestion
  | DangerQuestion
  | CauseQuestion;
export type QuestionKind = Question['ask'];

/** One answer: cells by stimulus, contacts, a number, a terminal, stimuli, or a fault. */
export type Answer =
  | readonly Readonly<Record<string, string | number>>[]
  | readonly string[]
  | number
  | string
  | { readonly value: number; readonly unit?: string | undefined }
  | readonly Stimulus[]
  | WrittenFault;

/** An answer as it stands in the log of an attempt; null takes the one before it back. */
export interface AnswerEntry {
  readonly kind: 'answer';
  /** Id of the question. */
  readonly question: string;
  readonly answer: Answer | null;
}

/** The answers that a log leaves: to each question the last one. */
export function answersIn(log: readonly (AnswerEntry | { readonly kind: string })[]): Answers['answers'] {
  const left = new Map<string, Answer>();
  for (const entry of log) {
    if (entry.kind !== 'answer') continue;
    const { question, answer } = entry as AnswerEntry;
    if (answer === null) left.delete(question);
    else left.set(question, answer);
  }
  return Object.fromEntries(left);
}

/** What somebody has answered to the questions of an exercise, by their ids. */
export interface Answers {
  readonly contactum: 'answers/1';
  readonly exercise: string;
  readonly answers: Readonly<Record<string, Answer>>;
}
