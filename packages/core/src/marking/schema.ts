import { z } from 'zod';
import { benchSchema, groupSchema, tag, terminalRef, wiresSchema } from '../bench/schema.js';
import { stepsSchema } from '../simulation/schema.js';
import { PROPERTY_IDS } from '../proof/index.js';
import { writtenFaultSchema } from '../faults/schema.js';
import { programSchema } from '../program/schema.js';
import { questionSchema } from '../questions/schema.js';
import { FAMILIES, SHOWN, TASKS, TOOLS, type Exercise } from './exercise.js';
import { HOUSE_RULES, RULE_FIELDS, type Rules } from './rules/index.js';

const id = z.string().regex(/^[a-z0-9][a-z0-9-]{0,59}$/, 'must be lower-case letters, digits and hyphens');
const points = z.number().nonnegative().max(1000);

const on = z.boolean().optional();

export const rulesSchema = groupSchema(RULE_FIELDS) as unknown as z.ZodType<Rules>;

const ohms = z.number().nonnegative();
const deadTest = z.strictObject({
  between: z.tuple([terminalRef, terminalRef]),
  hold: z.array(tag).max(4).default([]),
  expect: z.union([
    z.enum(['open', 'closed']),
    z.strictObject({ min: ohms.optional(), max: ohms.optional() }),
  ]),
});

const practiceSchema = z.strictObject({
  deadTest: z.union([z.boolean(), z.array(deadTest).min(1).max(60)]).optional(),
  permission: on,
  incidents: z.int().min(0).max(100).optional(),
  minutes: z.number().positive().max(10_000).optional(),
  wiringOrder: z.enum(['power-first', 'control-first']).optional(),
});

export const exerciseSchema: z.ZodType<Exercise> = z.strictObject({
  contactum: z.literal('exercise/1'),
  id,
  title: z.string().min(1).max(200),
  family: z.enum(FAMILIES),
  task: z.enum(TASKS).optional(),
  program: z.record(tag, programSchema).optional(),
  questions: z.array(questionSchema).min(1).max(100).optional(),
  sets: z
    .array(
      z.strictObject({
        id,
        title: z.string().min(1).max(200),
        complaint: z.string().min(1).max(1000),
        faults: z.array(writtenFaultSchema).min(1).max(6),
        minutes: z.number().positive().max(600),
      }),
    )
    .max(60)
    .optional(),
  tools: z.array(z.enum(TOOLS)).max(TOOLS.length).optional(),
  brief: z.string().max(8000).default(''),
  bench: benchSchema,
  reference: wiresSchema,
  laid: wiresSchema.optional(),
  observe: z.array(z.string().min(1).max(60)).max(60).default([]),
  behaviours: z
    .array(
      z.strictObject({ id, title: z.string().min(1).max(200), points, essential: on, steps: stepsSchema }),
    )
    .max(60)
    .default([]),
  rules: rulesSchema.default({}),
  essentialRules: z.array(z.enum(HOUSE_RULES)).max(HOUSE_RULES.length).optional(),
  survive: z
    .array(
      z.strictObject({ fault: writtenFaultSchema, title: z.string().min(1).max(200), points, essential: on }),
    )
    .max(40)
    .optional(),
  practice: practiceSchema.optional(),
  deadTest: z.array(deadTest).min(1).max(60).optional(),
  repair: z.enum(['never', 'marked']).optional(),
  shows: z.array(z.enum(SHOWN)).max(SHOWN.length).optional(),
  hints: z.strictObject({ symptom: points, net: points, lead: points }).optional(),
  lesson: z.array(z.enum(PROPERTY_IDS)).max(PROPERTY_IDS.length).optional(),
  leads: z.enum(['ducts', 'hung']).optional(),
  marks: z
    .strictObject({ behaviour: points, safety: points, rules: points, workmanship: points, pass: points })
    .default({ behaviour: 50, safety: 30, rules: 10, workmanship: 10, pass: 60 }),
  faults: z
    .array(z.strictObject({ id, title: z.string().min(1).max(200), fault: writtenFaultSchema }))
    .max(100)
    .default([]),
});
