import { z } from 'zod';
import { HINT_DEGREES, PARTS, type AttemptEntry } from '@contactum/core';
import { actSchema, answerEntrySchema, editSchema } from '@contactum/core/documents';

/** What a browser may send. Unknown keys are refused; an error names the JSON path. */

export const signInTicket = z.uuid();

export const signInRequest = z.strictObject({
  login: z.string().min(1).max(60),
  password: z.string().min(1).max(200),
  /** Stay signed in on this computer for as long as the college allows. */
  stay: z.boolean().optional(),
  /** By which the place in the line is asked for, while the password waits to be looked at. */
  ticket: signInTicket.optional(),
});

const moment = z.iso.datetime({ offset: true }).nullable();
const id = z.uuid();

/** Whom an exercise is set to, until when, and how its attempts count. */
const settingFields = {
  opensAt: moment.default(null),
  dueAt: moment.default(null),
  closesAt: moment.default(null),
  /** None is no limit. */
  attemptsAllowed: z.int().min(1).max(100).nullable().default(null),
  counts: z.enum(['best', 'last']).default('best'),
  mode: z.enum(['practice', 'assessment']).default('practice'),
  /** Every attempt has a variant of the exercise. */
  variants: z.boolean().default(false),
  audience: z.enum(['class', 'group', 'people']).default('class'),
  groupId: id.nullable().default(null),
  /** To whom it is set, where it is set to single people. */
  people: z.array(id).max(500).default([]),
  /**
   * More time for single people, minutes: they are due and closed so much later, and may work so much
   * longer.
   */
  extra: z
    .array(z.strictObject({ studentId: id, minutes: z.int().min(0).max(100_000) }))
    .max(500)
    .default([]),
};

export const assignRequest = z.strictObject({ exerciseId: z.string().min(1).max(60), ...settingFields });

/** Changes a setting: what is not named stays as it is. */
export const settingRequest = z
  .strictObject({
    opensAt: moment,
    dueAt: moment,
    closesAt: moment,
    attemptsAllowed: z.int().min(1).max(100).nullable(),
    counts: z.enum(['best', 'last']),
    mode: z.enum(['practice', 'assessment']),
    variants: z.boolean(),
    audience: z.enum(['class', 'group', 'people']),
    groupId: id.nullable(),
    people: z.array(id).max(500),
    extra: settingFields.extra.unwrap(),
    withdrawn: z.boolean(),
  })
  .partial();

/** A terminal by its name. */
export const terminal = z.string().regex(/^[^:\s]{1,30}:[^:\s]{1,10}$/, 'must be a terminal such as KM1:A1');

/**
 * What a log holds: an edit of the wiring, the board's supply switched, something worked by hand, an
 * ohmmeter laid on two terminals, an answer to a question.
 */
const entry: z.ZodType<AttemptEntry> = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('edit'),
    edit: editSchema,
    source: z.enum(['board', 'scan']).optional(),
  }),
  z.strictObject({ kind: z.literal('supply'), on: z.boolean() }),
  z.strictObject({ kind: z.literal('act'), stimulus: actSchema }),
  z.strictObject({ kind: z.literal('reading'), from: terminal, to: terminal }),
  answerEntrySchema,
]);

/** One entry of an attempt's log with its number. */
export const logEntryRequest = z.strictObject({ seq: z.int().min(1).max(100_000), entry });

export const passwordRequest = z.strictObject({
  password: z.string().min(1).max(200),
  next: z.string().min(8, 'must be at least 8 characters long').max(200),
});

export const emptyRequest = z.strictObject({});

export const hintRequest = z.strictObject({ degree: z.enum(HINT_DEGREES) });
export type HintRequest = z.infer<typeof hintRequest>;

export const remarkRequest = z.strictObject({ text: z.string().trim().min(1).max(2000) });

/** Marking an attempt again: by the exercise as it was when it was set, or as it is now. */
export const markAgainRequest = z.strictObject({ exercise: z.enum(['set', 'now']) });

export const pointsRequest = z.strictObject({
  criterion: z.string().min(1).max(80),
  part: z.enum(PARTS),
  points: z.number().min(0).max(1000),
  reason: z.string().trim().min(3, 'needs a reason of at least three letters').max(500),
});

export type SignInRequest = z.infer<typeof signInRequest>;
export type AssignRequest = z.infer<typeof assignRequest>;
export type SettingRequest = z.infer<typeof settingRequest>;
export type LogEntryRequest = z.infer<typeof logEntryRequest>;
export type RemarkRequest = z.infer<typeof remarkRequest>;
export type MarkAgainRequest = z.infer<typeof markAgainRequest>;
export type PointsRequest = z.infer<typeof pointsRequest>;
