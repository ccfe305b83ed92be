import { z } from 'zod';
import { COUNTERS, LONGEST_PRESET, MOST_COUNTS, TIMERS, type RungElement, type Program } from './program.js';

const MOST = { variables: 400, rungs: 200, series: 40, actions: 8 } as const;

const name = z
  .string()
  .regex(
    /^[A-Za-z_][A-Za-z0-9_]{0,31}$/,
    'must be an identifier: a letter, then letters, digits and _, up to 32 in all',
  );
const bit = z
  .string()
  .regex(/^[A-Za-z_][A-Za-z0-9_]{0,31}(\.Q)?$/, 'must be a variable, or NAME.Q of a block');
const comment = z.string().max(200).optional();
const address = z
  .string()
  .regex(/^[IQ][0-9]{1,2}\.[0-7]$/, 'must be an input or output such as I0.0 or Q0.2');

/** The variants of a variable by the key that tells them apart. */
const variable = z.union([
  z.strictObject({ name, comment, at: address }),
  z.strictObject({ name, comment, timer: z.enum(TIMERS), preset: z.number().min(0).max(LONGEST_PRESET) }),
  z.strictObject({ name, comment, counter: z.enum(COUNTERS), preset: z.int().min(0).max(MOST_COUNTS) }),
  z.strictObject({ name, comment, initial: z.boolean().optional(), retain: z.boolean().optional() }),
]);

const element: z.ZodType<RungElement> = z.lazy(() =>
  z.union([
    z.strictObject({ no: bit }),
    z.strictObject({ nc: bit }),
    z.strictObject({ rising: bit }),
    z.strictObject({ falling: bit }),
    z.strictObject({ any: z.array(z.array(element).max(MOST.series)).min(1).max(MOST.series) }),
  ]),
);

const action = z.union([
  z.strictObject({ coil: name }),
  z.strictObject({ negated: name }),
  z.strictObject({ set: name }),
  z.strictObject({ reset: name }),
  z.strictObject({ timer: name }),
  z.strictObject({ counter: name, reset: bit.optional() }),
]);

const rung = z.strictObject({
  comment,
  when: z.array(element).max(MOST.series),
  then: z.array(action).min(1).max(MOST.actions),
});

export const programSchema: z.ZodType<Program> = z.strictObject({
  contactum: z.literal('program/1'),
  title: z.string().max(200).default('Program'),
  variables: z.array(variable).max(MOST.variables).default([]),
  rungs: z.array(rung).max(MOST.rungs).default([]),
});
