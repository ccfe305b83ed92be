import { z } from 'zod';
import { actSchema, writtenFaultSchema } from '@contactum/core/documents';
import type { Behaviour, Bench, Standing, WrittenFault } from '@contactum/core';
import type { WireFrame } from './searches.js';

/** The floor: every bench of a class as it is worked at now, and the instructor's hand in it. */

/** Steps of the job sheet, in the order of the work. */
export const STEPS = ['wire', 'dead-test', 'ask', 'energise', 'prove', 'hand-in'] as const;
export type JobStep = (typeof STEPS)[number];

/**
 * How a bench stands: worked out by the server from the log of what was done at it, and whether its student
 * asks.
 */
export interface BenchStatus extends Omit<Standing, 'step'> {
  readonly step: JobStep;
  readonly asks: boolean;
  /** Edits of its wiring so far: with as many leads as before it may be another board. */
  readonly edits: number;
}

/** Text of a message between a bench and its instructors. */
const wordText = z.string().trim().min(1).max(300);

/** A message between a bench and its instructors, or from an instructor to all of a class. */
export interface BenchWord {
  readonly id: string;
  readonly by: string;
  readonly text: string;
  readonly at: string;
  readonly isStudents: boolean;
  readonly isToClass: boolean;
}

/** What a student's browser says to the floor: nothing of how the board stands, which its log tells. */
export const benchSays = z.discriminatedUnion('kind', [
  /** Asks for permission to energise, or takes it back. */
  z.strictObject({ kind: z.literal('asks'), yes: z.boolean() }),
  /**
   * The answer to whoever asked to take the lead, by their id; the lead is taken back from whoever has it.
   */
  z.strictObject({ kind: z.literal('consent'), yes: z.boolean(), to: z.uuid() }),
  /** A message to the instructors of the class: an answer, or a question. */
  z.strictObject({ kind: z.literal('word'), text: wordText }),
  /** Something of the instructor’s hand could not be done. */
  z.strictObject({ kind: z.literal('refused'), why: z.string().max(300) }),
]);
export type BenchSays = z.infer<typeof benchSays>;

/** What an instructor who has the lead does at a bench. */
const hand = z.discriminatedUnion('do', [
  /** A line as it is typed at the bench: `KM1 13 > S2 13`, `cut KM1 13 > S2 13`, `undo`. */
  z.strictObject({ do: z.literal('line'), line: z.string().min(1).max(120) }),
  z.strictObject({ do: z.literal('act'), stimulus: actSchema }),
]);
export type BenchHand = z.infer<typeof hand>;

/** What an instructor's page says to the floor. */
export const floorSays = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('watch'), attemptId: z.uuid().nullable() }),
  z.strictObject({ kind: z.literal('ask-lead'), attemptId: z.uuid() }),
  z.strictObject({ kind: z.literal('leave-lead'), attemptId: z.uuid() }),
  z.strictObject({ kind: z.literal('hand'), attemptId: z.uuid(), hand }),
  z.strictObject({ kind: z.literal('permit'), attemptId: z.uuid() }),
  z.strictObject({
    kind: z.literal('fault'),
    attemptId: z.uuid(),
    fault: writtenFaultSchema,
    clear: z.boolean(),
  }),
  /** To one bench, or to every bench of the class. */
  z.strictObject({
    kind: z.literal('word'),
    attemptId: z.uuid().nullable(),
    text: wordText,
  }),
  /** A student's message needs no answer. */
  z.strictObject({ kind: z.literal('heard'), attemptId: z.uuid() }),
]);
export type FloorSays = z.infer<typeof floorSays>;

/** What a student's browser is told from the floor. */
export type ToBench =
  | { readonly kind: 'watched'; readonly by: string | null }
  /** Who asks for the lead, by name and id. */
  | { readonly kind: 'lead-asked'; readonly by: string; readonly id: string }
  | { readonly kind: 'lead'; readonly by: string | null; readonly id: string | null }
  | { readonly kind: 'hand'; readonly hand: BenchHand }
  | { readonly kind: 'fault'; readonly fault: WrittenFault; readonly clear: boolean }
  | { readonly kind: 'permitted' }
  | { readonly kind: 'word'; readonly word: BenchWord }
  /** Why a message was not sent. */
  | { readonly kind: 'unsent'; readonly text: string; readonly why: string };

/** A bench of the class as its instructor sees it. */
export interface FloorBench {
  readonly attemptId: string;
  /** Of a search for faults: its own page shows it. */
  readonly searchId: string | null;
  readonly student: string;
  readonly exercise: string;
  readonly exerciseId: string;
  readonly startedAt: string;
  readonly status: BenchStatus | null;
  /** Its page is open now. */
  readonly here: boolean;
  readonly asksAt: string | null;
  /** The student's last message, while no instructor has answered or dismissed it. */
  readonly word: BenchWord | null;
  /** Potentials complete and functions shown, of all of them. */
  readonly progress: number;
  readonly of: number;
  /** Since when it has come no further. */
  readonly progressAt: string;
}

/** A board as it is wired now, with what it is asked to do: for its instructors. */
export interface FloorBoard {
  readonly bench: Bench;
  readonly functions: readonly Pick<Behaviour, 'id' | 'title' | 'steps'>[];
}

/** What an instructor's page is told. */
export type FloorNews =
  | { readonly kind: 'benches'; readonly benches: readonly FloorBench[] }
  /** What of some benches has changed. */
  | {
      readonly kind: 'changed';
      readonly benches: readonly (Pick<FloorBench, 'attemptId'> & Partial<FloorBench>)[];
    }
  | { readonly kind: 'frame'; readonly attemptId: string; readonly frame: WireFrame }
  | { readonly kind: 'lead'; readonly attemptId: string; readonly yes: boolean }
  /** The last messages of a bench that is looked at, the oldest first. */
  | { readonly kind: 'words'; readonly attemptId: string; readonly words: readonly BenchWord[] }
  /** A message more: of one bench, or to the class. */
  | { readonly kind: 'word'; readonly attemptId: string | null; readonly word: BenchWord }
  | { readonly kind: 'refused'; readonly why: string };
