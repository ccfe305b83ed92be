import { z } from 'zod';
import { tag } from '../bench/schema.js';
import { writtenFaultSchema } from '../faults/schema.js';
import { STIMULI, STIMULUS_VERBS, type Stimulus, type StimulusVerb } from '../circuit/index.js';
import { LONGEST_TIME } from '../tolerances.js';
import type { Script, Step } from './script.js';

export const rangeSchema = z
  .strictObject({ min: z.number().optional(), max: z.number().optional() })
  .refine(({ min, max }) => min !== undefined || max !== undefined, 'a range needs min or max')
  .refine(({ min, max }) => min === undefined || max === undefined || min <= max, 'min is above max');

/** Values by what shows them. */
export const expectationSchema = z
  .record(z.string().max(120), z.union([z.string().max(40), z.number(), rangeSchema]))
  .refine((e) => Object.keys(e).length > 0, 'names nothing');

const expectation = z.strictObject({ expect: expectationSchema });

const NAMED = {
  device: tag,
  setting: z.string().regex(/^[^\s]+\.[a-zA-Z]+$/, 'must be written TAG.setting'),
  fault: writtenFaultSchema,
  seconds: z.number().nonnegative().max(LONGEST_TIME),
};

const DETAILS = {
  position: { to: z.string().max(24) },
  phase: { phase: z.enum(['L1', 'L2', 'L3', 'L', '+']) },
  value: { to: z.union([z.number(), z.string().max(24), z.boolean()]) },
};

/** Order of arrival of what moves together. */
const first = z.array(tag).max(200).optional();

function verbSchema(verb: StimulusVerb): z.ZodType {
  const { names, detail } = STIMULI[verb];
  const named = names === 'stimuli' ? z.array(instant).min(1).max(8) : NAMED[names];
  return z.strictObject({ [verb]: named, ...(detail ? DETAILS[detail] : {}), first });
}

/** Schemas of the verbs that a test admits. */
const verbSchemas = (admits: (kind: (typeof STIMULI)[StimulusVerb]) => boolean): Record<string, z.ZodType> =>
  Object.fromEntries(
    STIMULUS_VERBS.filter((verb) => admits(STIMULI[verb])).map((verb) => [verb, verbSchema(verb)]),
  );

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
  verbSchemas(({ atAnInstant }) => atAnInstant),
  'a stimulus',
);

/** What a hand does to a board at the moment: no settings, no waits. */
export const actSchema: z.ZodType<Stimulus> = byVerb<Stimulus>(
  verbSchemas(({ byHand }) => byHand),
  'something done by hand',
);

export const stepSchema = byVerb<Step>(
  { ...verbSchemas(() => true), expect: expectation },
  'a stimulus or an expectation',
);
export const stepsSchema = z.array(stepSchema).max(1000);

/** A dial that a hand sets. */
export const settingSchema: z.ZodType<Stimulus> = verbSchema('set') as z.ZodType<Stimulus>;

/** What is done to a board whose faults nobody changes on the way. */
export const stimulusSchema: z.ZodType<Stimulus> = byVerb<Stimulus>(
  verbSchemas(({ names }) => names !== 'fault'),
  'a stimulus',
);
export const stimuliSchema = z.array(stimulusSchema).max(1000);

export const scriptSchema: z.ZodType<Script> = z.strictObject({
  contactum: z.literal('script/1'),
  steps: stepsSchema,
});
