import { z } from 'zod';
import {
  AIDS,
  type Agreement,
  type AssessmentOutcome,
  type AssessmentPlan,
  type ItemAnalysis,
  type Likenesses,
  type ObservedCriterion,
  type Sampled,
  type Task,
} from '@contactum/core';
import type { AttemptState, Person, Result } from './responses.js';

/** Assessments: several tasks under conditions, sat, invigilated, examined, released and appealed. */

const id = z.uuid();
const title = z.string().trim().min(1).max(120);
const minutes = z.int().min(1).max(600);
const moment = z.iso.datetime({ offset: true }).nullable();
const word = z.string().min(1).max(60);
const reason = z.string().trim().min(3, 'needs at least three letters').max(500);

const criterion = z.strictObject({
  title,
  /** From the lowest to the highest. */
  levels: z
    .array(z.strictObject({ title, points: z.number().min(0).max(100) }))
    .min(2)
    .max(6)
    .refine((levels) => levels.every(({ points }, k) => k === 0 || points > (levels[k - 1]?.points ?? 0)), {
      message: 'each level must have more points than the one before it',
    }),
  critical: z.boolean().default(false),
});

const ofAnyTask = {
  weight: z.number().min(1).max(1000),
  minutes: minutes.nullable().default(null),
  mustPass: z.boolean().default(false),
};

const taskRequest = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('exercise'),
    exerciseId: z.string().min(1).max(60),
    /** Everybody has a board of their own: as hard, and not the same. */
    variants: z.boolean().default(true),
    /** Wired on the physical board; an examiner enters its bench sheet. Its board is the same for all. */
    physical: z.boolean().default(false),
    ...ofAnyTask,
  }),
  z.strictObject({
    kind: z.literal('observed'),
    title,
    criteria: z.array(criterion).min(1).max(20),
    ...ofAnyTask,
  }),
]);

/** Machines of a room: one address, or a network with its length. */
const address = z.union([z.ipv4(), z.cidrv4(), z.ipv6(), z.cidrv6()], {
  error: 'must be an address or a network: 10.20.30.7, 10.20.30.0/24',
});

export const assessmentRequest = z.strictObject({
  title,
  tasks: z.array(taskRequest).min(1).max(20),
  order: z.enum(['fixed', 'free']).default('free'),
  /** Minutes of the whole. */
  minutes,
  aids: z.array(z.enum(AIDS)).max(AIDS.length).default([]),
  pass: z
    .strictObject({ sum: z.number().min(0).max(100).nullable(), each: z.boolean() })
    .default({ sum: 60, each: false }),
  /** `together`: an invigilator starts everybody; `own`: each starts when they are ready. */
  start: z.enum(['together', 'own']).default('together'),
  opensAt: moment.default(null),
  /** Nobody starts after it. */
  closesAt: moment.default(null),
  /** Said in the room; without it nobody starts. */
  code: z.string().trim().toUpperCase().min(3).max(12).nullable().default(null),
  /** Where it is sat; anywhere where none is named. */
  addresses: z.array(address).max(50).default([]),
  extra: z
    .array(z.strictObject({ studentId: id, minutes: z.int().min(0).max(600) }))
    .max(500)
    .default([]),
});

export const assessmentChange = z.strictObject({ withdrawn: z.boolean() });

/** What an invigilator does; to everybody where nobody is named. */
export const invigilation = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('start'), students: z.array(id).max(500).optional() }),
  z.strictObject({ do: z.literal('pause'), students: z.array(id).max(500).optional(), why: reason }),
  z.strictObject({ do: z.literal('resume'), students: z.array(id).max(500).optional() }),
  z.strictObject({
    do: z.literal('extend'),
    students: z.array(id).max(500).optional(),
    minutes: z.number().min(0.5).max(300),
    why: reason,
  }),
  z.strictObject({ do: z.literal('void'), student: id, why: reason }),
  z.strictObject({ do: z.literal('note'), student: id.nullable().default(null), text: reason }),
]);

const place = { student: id, task: word, criterion: word, level: z.int().min(0).max(5) };
export const levelRequest = z.strictObject({ ...place, note: z.string().trim().max(500).default('') });
export const agreedRequest = z.strictObject({ ...place, reason });
export const reviewRequest = z.strictObject({
  student: id,
  verdict: z.enum(['confirmed', 'to be changed']),
  note: z.string().trim().max(1000).default(''),
});
export const appealRequest = z.strictObject({
  task: word,
  criterion: z.string().trim().min(1).max(120),
  text: z.string().trim().min(10, 'needs at least ten letters').max(2000),
});
export const appealAnswer = z.strictObject({
  upheld: z.boolean(),
  answer: z.string().trim().min(10, 'needs at least ten letters').max(2000),
});
export const startRequest = z.strictObject({ code: z.string().trim().toUpperCase().max(12).default('') });
/** Names a window of a browser: the one that was opened last works. */
export const hereRequest = z.strictObject({ window: id, takes: z.boolean().default(false) });

export type AssessmentRequest = z.infer<typeof assessmentRequest>;
export type AssessmentTaskRequest = AssessmentRequest['tasks'][number];
export type Invigilation = z.infer<typeof invigilation>;
export type LevelRequest = z.infer<typeof levelRequest>;
export type AgreedRequest = z.infer<typeof agreedRequest>;
export type ReviewRequest = z.infer<typeof reviewRequest>;
export type AppealRequest = z.infer<typeof appealRequest>;
export type AppealAnswer = z.infer<typeof appealAnswer>;

/** A task as it was set. */
export type SetTask = AssessmentPlan['tasks'][number] & {
  /** Of one that is an exercise. */
  readonly exerciseId?: string;
  readonly version?: number;
  readonly task?: Task;
  readonly variants?: boolean;
  readonly physical?: boolean;
};

/** What stands of an assessment as long as it is set: what was asked for, with its tasks named. */
export interface SetPlan
  extends Pick<AssessmentRequest, 'order' | 'minutes' | 'aids' | 'start'>, AssessmentPlan {
  readonly tasks: readonly SetTask[];
  readonly addresses?: AssessmentRequest['addresses'];
}

export type AssessmentState =
  'set' | 'running' | 'paused' | 'ended' | 'signed off' | 'released' | 'withdrawn';

export interface AssessmentSummary {
  readonly id: string;
  readonly title: string;
  readonly classId: string;
  readonly className: string;
  readonly state: AssessmentState;
  readonly minutes: number;
  readonly tasks: number;
  readonly opensAt: string | null;
  readonly closesAt: string | null;
  readonly students: number;
  readonly started: number;
  readonly handedIn: number;
}

export interface SittingEvent {
  readonly id: string;
  /** Of everybody where it is null. */
  readonly studentId: string | null;
  readonly kind: string;
  readonly text: string;
  readonly by: string;
  readonly at: string;
}

/** A judgement of a criterion as one examiner may see it. */
export interface JudgedCriterion {
  readonly task: string;
  readonly criterion: string;
  /** One's own. */
  readonly mine: number | null;
  readonly note: string;
  /** Examiners who judged it, oneself left out; what they named is told only to who has judged it. */
  readonly others: number;
  readonly theirs: readonly { readonly by: string; readonly level: number; readonly note: string }[];
  readonly agreed: { readonly level: number; readonly by: string; readonly reason: string } | null;
  /** What counts now; null while examiners differ or none has judged. */
  readonly stands: number | null;
}

export interface Appeal {
  readonly id: string;
  readonly student: string;
  readonly task: string;
  readonly criterion: string;
  readonly text: string;
  readonly at: string;
  readonly answer: string | null;
  readonly upheld: boolean | null;
  readonly by: string | null;
  readonly answeredAt: string | null;
}

export interface SittingRow {
  readonly student: Pick<Person, 'id' | 'name' | 'login'>;
  readonly extraMinutes: number;
  readonly startedAt: string | null;
  readonly endsAt: string | null;
  readonly pausedAt: string | null;
  readonly handedInAt: string | null;
  readonly voided: { readonly at: string; readonly reason: string } | null;
  readonly seenAt: string | null;
  readonly awaySeconds: number;
  readonly address: string;
  readonly attempts: readonly {
    readonly task: string;
    readonly attemptId: string;
    readonly state: AttemptState;
    readonly result: Result | null;
    /** Minutes from its beginning to handing it in. */
    readonly minutes: number | null;
  }[];
  readonly judged: readonly JudgedCriterion[];
  readonly outcome: AssessmentOutcome;
  readonly review: {
    readonly verdict: 'confirmed' | 'to be changed';
    readonly note: string;
    readonly by: string;
  } | null;
}

export interface AssessmentForInstructor extends Omit<AssessmentSummary, 'tasks' | 'minutes'>, SetPlan {
  readonly tasks: readonly SetTask[];
  readonly code: string | null;
  readonly signedOff: { readonly at: string; readonly by: string } | null;
  readonly releasedAt: string | null;
  /** Of tasks on a physical board: what their bench sheets are entered for. */
  readonly sheets: readonly { readonly task: string; readonly settingId: string }[];
  /** The server's time, by which all others are read. */
  readonly now: string;
  readonly sittings: readonly SittingRow[];
  readonly events: readonly SittingEvent[];
  readonly appeals: readonly Appeal[];
  /** Whom a moderator looks at, and why. */
  readonly sample: readonly Sampled[];
  /** Why it cannot be signed off yet; empty where it can. */
  readonly missing: readonly string[];
}

/** What the marks of an assessment tell. */
export interface LookBack {
  readonly people: number;
  readonly passed: number;
  readonly percents: readonly number[];
  readonly tasks: readonly {
    readonly id: string;
    readonly title: string;
    /** Per cent of its points, by person. */
    readonly percents: readonly number[];
    /** Minutes, by person. */
    readonly minutes: readonly number[];
  }[];
  readonly byTask: ItemAnalysis;
  readonly criteria: readonly { readonly task: string; readonly title: string; readonly max: number }[];
  readonly byCriterion: ItemAnalysis;
  readonly agreement: readonly {
    readonly task: string;
    readonly criterion: string;
    readonly of: Agreement;
  }[];
  readonly agreementInAll: Agreement;
}

export type AssessmentLikeness = Likenesses & {
  readonly task: string;
  readonly title: string;
  readonly names: Readonly<Record<string, { readonly name: string; readonly attemptId: string }>>;
};

// ── as a student sees it ─────────────────────────────

export interface SittingTask {
  readonly id: string;
  readonly title: string;
  readonly kind: 'exercise' | 'observed';
  /** On the physical board: its bench sheet is entered by an examiner. */
  readonly physical: boolean;
  /** What is asked, of a task that is done at the bench; null where the screen tells it. */
  readonly brief: string | null;
  readonly task: Task | null;
  readonly minutes: number | null;
  readonly endsAt: string | null;
  /** Of the whole, per cent. */
  readonly weight: number;
  readonly state: 'to do' | 'locked' | 'under way' | 'handed in' | 'watched' | 'at the bench';
  readonly attemptId: string | null;
  /** What an examiner watches. */
  readonly criteria: readonly Pick<ObservedCriterion, 'id' | 'title'>[];
}

export interface SittingView {
  readonly id: string;
  readonly title: string;
  readonly className: string;
  readonly minutes: number;
  readonly extraMinutes: number;
  readonly order: 'fixed' | 'free';
  readonly start: 'together' | 'own';
  readonly aids: SetPlan['aids'];
  readonly needsCode: boolean;
  readonly opensAt: string | null;
  readonly closesAt: string | null;
  readonly now: string;
  readonly startedAt: string | null;
  readonly endsAt: string | null;
  readonly pausedAt: string | null;
  readonly handedInAt: string | null;
  readonly voided: string | null;
  /** How many there are; told before the start as well. */
  readonly taskCount: number;
  /** None before the start. */
  readonly tasks: readonly SittingTask[];
  /** Once the marks are released. */
  readonly outcome: AssessmentOutcome | null;
  readonly appeals: readonly Appeal[];
}

/** What a window is told every few seconds. */
export interface SittingPulse {
  readonly now: string;
  readonly endsAt: string | null;
  readonly pausedAt: string | null;
  readonly ended: boolean;
  /** Another window has taken over. */
  readonly isOther: boolean;
  /** It is not one of the machines on which this is sat. */
  readonly isElsewhere: boolean;
}
