import { z } from 'zod';
import { tag } from '../bench/schema.js';
import type { Stimulus } from '../circuit/index.js';
import { LONGEST_TIME } from '../tolerances.js';
import type { Script, Step } from './script.js';

const phase = z.enum(['L1', 'L2', 'L3', 'L', '+']);
const seconds = z.number().nonnegative().max(LONGEST_TIME);
/** Order of arrival of what moves together. */
const first = z.array(tag).max(200).optional();

const range = z
  .strictObject({ min: z.number().optional(), max: z.number().optional() })
  .refine(({ min, max }) => min !== undefined || max !== undefined, 'a range needs min or max')
  .refine(({ min, max }) => min === undefined || max === undefined || min <= max, 'min is above max');

const expectation = z.strictObject({
  expect: z
    .record(z.string().max(120), z.union([z.string().max(40), z.number(), range]))
    .refine((e) => Object.keys(e).length > 0, 'names nothing'),
});

const VERBS: Record<string, z.ZodType> = {
  press: z.strictObject({ press: tag, first }),
  release: z.strictObject({ release: tag, first }),
  turn: z.strictObject({ turn: tag, to: z.string().max(24), first }),
  open: z.strictObject({ open: tag, first }),
  close: z.strictObject({ close: tag, first }),
  lose: z.strictObject({ lose: tag, phase, first }),
  restore: z.strictObject({ restore: tag, phase, first }),
  trip: z.strictObject({ trip: tag, first }),
  reset: z.strictObject({ reset: tag, first }),
  set: z.strictObject({
    set: z.string().regex(/^[^\s]+\.[a-zA-Z]+$/, 'must be written TAG.setting'),
    to: z.union([z.number(), z.string().max(24), z.boolean()]),
    first,
  }),
  elapse: z.strictObject({ elapse: tag, first }),
  wait: z.strictObject({ wait: seconds, first }),
  expect: expectation,
};

/** Reads one step by its verb, so that an error speaks of the step meant and not of every alternative. */
function byVerb<T>(verbs: Record<string, z.ZodType>, what: string): z.ZodType<T> {
  return z.unknown().transform((value, context): T => {
    if (typeof value !== 'object' || value === null || Array.isArray(value)) {
      context.addIssue({ code: 'custom', message: `must be ${what}` });
      return z.NEVER;
    }
    const verb = Object.keys(value).find((key) => Object.hasOwn(verbs, key));
    const schema = verb === undefined ? undefined : verbs[verb];
    if (!schema) {
      context.addIssue({
        code: 'custom',
        message: `must be ${what}; known are ${Object.keys(verbs).join(', ')}`,
      });
      return z.NEVER;
    }
    const read = schema.safeParse(value);
    if (read.success) return read.data as T;
    for (const issue of read.error.issues) context.addIssue({ ...issue });
    return z.NEVER;
  });
}

const instant = byVerb<Stimulus>(
  Object.fromEntries(Object.entries(VERBS).filter(([verb]) => !['wait', 'expect', 'elapse'].includes(verb))),
  'a stimulus',
);
VERBS.together = z.strictObject({ together: z.array(instant).min(1).max(8), first });

/** What a hand does to a board at the moment: no settings, no waits. */
export const actSchema: z.ZodType<Stimulus> = byVerb<Stimulus>(
  Object.fromEntries(
    Object.entries(VERBS).filter(([verb]) =>
      ['press', 'release', 'turn', 'open', 'close', 'trip', 'reset'].includes(verb),
    ),
  ),
  'something done by hand',
);

export const stepSchema = byVerb<Step>(VERBS, 'a stimulus or an expectation');
export const stepsSchema = z.array(stepSchema).max(1000);

export const scriptSchema: z.ZodType<Script> = z.strictObject({
  contactum: z.literal('script/1'),
  steps: stepsSchema,
});
