import { z } from 'zod';
import { benchSchema, wiresSchema } from '../bench/schema.js';
import { stepsSchema } from '../simulation/schema.js';
import { FAMILIES, type Exercise } from './exercise.js';

const id = z.string().regex(/^[a-z0-9][a-z0-9-]{0,59}$/, 'must be lower-case letters, digits and hyphens');
const points = z.number().nonnegative().max(1000);

export const rulesSchema = z.strictObject({
  overloadPosition: z.enum(['line', 'coil', 'either']).optional(),
  coilReturnUnswitched: z.boolean().optional(),
  fusedControl: z.boolean().optional(),
  earthBonded: z.boolean().optional(),
  maxWiresPerTerminal: z.int().min(1).max(8).optional(),
});

export const exerciseSchema: z.ZodType<Exercise> = z.strictObject({
  contactum: z.literal('exercise/1'),
  id,
  title: z.string().min(1).max(200),
  family: z.enum(FAMILIES),
  brief: z.string().max(8000).default(''),
  bench: benchSchema,
  reference: wiresSchema,
  observe: z.array(z.string().min(1).max(60)).max(60).default([]),
  behaviours: z.array(z.strictObject({ id, title: z.string().min(1).max(200), points, steps: stepsSchema })).max(60),
  rules: rulesSchema.default({}),
  marks: z
    .strictObject({ behaviour: points, safety: points, rules: points, workmanship: points, pass: points })
    .default({ behaviour: 50, safety: 30, rules: 10, workmanship: 10, pass: 60 }),
  faults: z
    .array(z.strictObject({ id, title: z.string().min(1).max(200), fault: z.record(z.string(), z.unknown()) }))
    .max(100)
    .default([]),
});
