import { z } from 'zod';
import { tag, terminalRef } from '../bench/schema.js';
import { observationSchema } from '../diagnosis/schema.js';
import { writtenFaultSchema } from '../faults/schema.js';
import { stimuliSchema, stimulusSchema } from '../simulation/schema.js';
import { DANGERS, type Answers, type Question } from './question.js';

const id = z.string().regex(/^[a-z0-9][a-z0-9-]{0,59}$/, 'must be lower-case letters, digits and hyphens');
const asked = { id, points: z.number().positive().max(1000) };
const observed = z.string().min(1).max(120);

export const questionSchema: z.ZodType<Question> = z.discriminatedUnion('ask', [
  z.strictObject({
    ...asked,
    ask: z.literal('states'),
    steps: stimuliSchema.refine((steps) => steps.length > 0, 'names no stimulus'),
    of: z.array(observed).min(1).max(20),
  }),
  z.strictObject({
    ...asked,
    ask: z.literal('blocks'),
    steps: stimuliSchema.default([]),
    then: stimulusSchema,
    of: tag,
  }),
  z.strictObject({ ...asked, ask: z.literal('holds'), steps: stimuliSchema, of: tag }),
  z.strictObject({
    ...asked,
    ask: z.literal('value'),
    of: z.union([
      z.string().regex(/^[^\s.]+\.[a-zA-Z]+$/, 'must be written TAG.value'),
      z.strictObject({ volts: z.tuple([terminalRef, terminalRef]) }),
      z.strictObject({ amps: terminalRef }),
    ]),
    steps: stimuliSchema.optional(),
    tolerance: z.number().positive().max(0.5).optional(),
    among: z.array(z.number()).min(2).max(12).optional(),
  }),
  z.strictObject({
    ...asked,
    ask: z.literal('terminal'),
    what: z.union([
      z.strictObject({ of: tag, contact: z.enum(['no', 'nc']) }),
      z.strictObject({ of: tag, coil: z.literal(true) }),
      z.strictObject({ joined: terminalRef }),
    ]),
  }),
  z.strictObject({ ...asked, ask: z.literal('danger'), property: z.enum(DANGERS) }),
  z.strictObject({
    ...asked,
    ask: z.literal('cause'),
    among: z.array(writtenFaultSchema).min(2).max(12),
    findings: z.array(observationSchema).min(1).max(40),
  }),
]);

const word = z.union([z.string().max(60), z.number()]);
const answerSchema = z.union([
  z.number(),
  z.string().max(200),
  z.strictObject({ value: z.number(), unit: z.string().max(8).optional() }),
  z.array(z.string().max(120)).max(60),
  z.array(z.record(z.string().max(120), word)).max(200),
  stimuliSchema,
  writtenFaultSchema,
]);

export const answerEntrySchema = z.strictObject({
  kind: z.literal('answer'),
  question: id,
  answer: answerSchema.nullable(),
});

export const answersSchema = z.strictObject({
  contactum: z.literal('answers/1'),
  exercise: z.string().max(80),
  answers: z.record(id, answerSchema),
}) as unknown as z.ZodType<Answers>;
