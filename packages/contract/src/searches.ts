import { z } from 'zod';
import {
  DEGREES,
  type Bench,
  type Diagnosis,
  type Exercise,
  type FaultSet,
  type Frame,
  type MeterRequest,
  type Report,
  type SearchAnswer,
  type SearchEntry,
  type Shape,
  type Tool,
} from '@contactum/core';
import { observationSchema, settingSchema, actSchema, writtenFaultSchema } from '@contactum/core/documents';
import { terminal } from './requests.js';
import type { AttemptState, ExerciseForStudent } from './responses.js';

/**
 * A search for faults: what crosses between browser and server, over HTTP and over the socket of a live
 * bench.
 */

const wire = z.int().min(0).max(2000);

const meterRequest: z.ZodType<MeterRequest> = z.discriminatedUnion('mode', [
  z.strictObject({ mode: z.literal('volts'), at: z.tuple([terminal, terminal]) }),
  z.strictObject({ mode: z.literal('ohms'), at: z.tuple([terminal, terminal]) }),
  z.strictObject({ mode: z.literal('amps'), lead: wire }),
  z.strictObject({ mode: z.literal('sequence'), at: z.tuple([terminal, terminal, terminal]) }),
]);

/** What a student does at a live bench; the instructor's entries come another way. */
export const searchEntry: z.ZodType<SearchEntry> = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('act'), stimulus: z.union([actSchema, settingSchema]) }),
  z.strictObject({ kind: z.literal('read'), request: meterRequest }),
  z.strictObject({ kind: z.literal('look'), what: z.string().min(1).max(40) }),
  z.strictObject({ kind: z.literal('lock'), on: z.boolean() }),
  z.strictObject({ kind: z.literal('lift'), wire }),
  z.strictObject({ kind: z.literal('refit'), wire }),
  z.strictObject({ kind: z.literal('verdict'), fault: writtenFaultSchema }),
  z.strictObject({ kind: z.literal('exchange'), tag: z.string().min(1).max(30) }),
  z.strictObject({ kind: z.literal('renew'), wire }),
]);

/** A message to a live bench: an entry, with a number by which it is answered. */
export const benchMessage = z.strictObject({ n: z.int().min(1).max(1_000_000), entry: searchEntry });
export type BenchMessage = z.infer<typeof benchMessage>;

/** How right a verdict was, as its maker is told. */
export type VerdictAnswer = 'right' | 'place' | 'wrong';

/** What a live bench tells. */
export type BenchNews =
  | { readonly kind: 'shape'; readonly shape: Shape; readonly notes: readonly NotebookLine[] }
  | { readonly kind: 'frame'; readonly frame: WireFrame }
  | {
      readonly kind: 'answer';
      readonly n: number;
      readonly answer: SearchAnswer;
      readonly line: NotebookLine | null;
    }
  /** The bench runs elsewhere now, or its search has ended. */
  | { readonly kind: 'moved'; readonly why: string };

/** A frame as it crosses the wire: what is perceived, and nothing of fixed size that never says anything. */
export type WireFrame = Omit<Frame, 'live' | 'closed' | 'heats'> & {
  /** By contact, one figure each: how its armature or button stands. */
  readonly closed: string;
  readonly locked: boolean;
  readonly lifted: readonly number[];
};

/** A line of the notebook. */
export interface NotebookLine {
  readonly t: number;
  readonly kind: SearchEntry['kind'];
  readonly text: string;
  readonly verdict?: VerdictAnswer;
}

/** A student's search as it is worked at. */
export interface SearchView {
  readonly id: string;
  readonly attemptId: string | null;
  /** Of a task of an assessment. */
  readonly assessmentId: string | null;
  readonly state: AttemptState;
  readonly exercise: ExerciseForStudent;
  /** What is seen of the board: its leads and dials. */
  readonly bench: Bench;
  readonly order: Pick<FaultSet, 'title' | 'complaint' | 'minutes'>;
  readonly tools: readonly Tool[];
  /** The notebook may say which causes the readings still allow. */
  readonly tellsCauses: boolean;
  readonly startedAt: string;
  /** Of a practice that has ended. */
  readonly report: Report | null;
}

/** Which causes still agree with everything, and what to look at next. */
export interface Causes {
  readonly of: number;
  readonly left: readonly string[];
  readonly next: string | null;
}

const degreeSchema = z.union(DEGREES.map((degree) => z.literal(degree)));
const seed = z.int().min(0).max(4_294_967_295);

export const practiceRequest = z.strictObject({
  exerciseId: z.string().min(1).max(60),
  degree: degreeSchema,
  seed: seed.optional(),
});
export type PracticeRequest = z.infer<typeof practiceRequest>;

export const diagnoseRequest = z.strictObject({
  observations: z.array(observationSchema).max(60),
  pairs: z.boolean().default(false),
});
export type DiagnoseRequest = z.infer<typeof diagnoseRequest>;
export type DiagnoseAnswer = Omit<Diagnosis, 'candidates'> & {
  readonly candidates: readonly { readonly title: string; readonly alike: readonly string[] }[];
};

/** Faults put into live benches: one and the same, or by a seed another one for each. */
export const injectRequest = z.strictObject({
  searches: z.array(z.uuid()).min(1).max(200),
  what: z.union([
    z.strictObject({ fault: writtenFaultSchema }),
    z.strictObject({
      degree: degreeSchema,
      seed,
      different: z.boolean(),
    }),
  ]),
});
export type InjectRequest = z.infer<typeof injectRequest>;

export const clearRequest = z.strictObject({ searches: z.array(z.uuid()).min(1).max(200) });

/** Sets of faults of an instructor's own, as an exercise to find. */
export const searchExerciseRequest = z.strictObject({
  of: z.string().min(1).max(60),
  title: z.string().trim().min(1).max(200),
  sets: z
    .array(
      z.strictObject({
        title: z.string().trim().min(1).max(200),
        complaint: z.string().trim().min(1).max(1000),
        faults: z.array(writtenFaultSchema).min(1).max(6),
        minutes: z.number().positive().max(600),
      }),
    )
    .min(1)
    .max(60),
});
export type SearchExerciseRequest = z.infer<typeof searchExerciseRequest>;

/** A live bench of a class, as its instructor sees it. */
export interface LiveSearch {
  readonly id: string;
  readonly student: string;
  readonly exerciseId: string;
  readonly exercise: string;
  readonly order: string;
  readonly state: AttemptState;
  /** Somebody works at it now. */
  readonly live: boolean;
  readonly entries: number;
  readonly seconds: number;
  /** In the board now, in words. */
  readonly faults: readonly string[];
  /** Orders of the instructor that wait until the student comes. */
  readonly waiting: number;
  readonly startedAt: string;
}

/** A bench as its instructor looks at it: the board, what is wrong with it, and everything that was done. */
export interface WatchedSearch extends LiveSearch {
  /** Terminals at which the faults are that are in the board now. */
  readonly places: readonly string[];
  readonly board: Exercise['bench'];
  readonly shape: Shape;
  /** Everything about the board at this moment, potentials and contacts too: one figure each. */
  readonly frame: Omit<Frame, 'live' | 'closed'> & { readonly live: string; readonly closed: string };
  readonly notes: readonly NotebookLine[];
}
