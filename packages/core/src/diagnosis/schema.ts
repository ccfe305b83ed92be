import { z } from 'zod';
import { terminalRef } from '../bench/schema.js';
import { expectationSchema, rangeSchema, stimuliSchema } from '../simulation/schema.js';
import type { BoardObservation } from './observation.js';

const between = z.tuple([terminalRef, terminalRef]);

const meter = z.discriminatedUnion('mode', [
  z.strictObject({ mode: z.literal('volts'), between }),
  z.strictObject({ mode: z.literal('ohms'), between }),
  z.strictObject({ mode: z.literal('amps'), at: terminalRef }),
]);

export const observationSchema: z.ZodType<BoardObservation> = z
  .strictObject({
    dead: z.boolean().optional(),
    steps: stimuliSchema,
    see: expectationSchema.optional(),
    meter: meter.optional(),
    read: z.union([z.enum(['open', 'closed']), rangeSchema]).optional(),
  })
  .refine(({ see, read }) => see !== undefined || read !== undefined, 'nothing was seen or read')
  .refine(
    ({ meter: laid, read }) => (laid === undefined) === (read === undefined),
    'a meter and what it read go together',
  )
  .refine(
    ({ meter: laid, read }) => typeof read !== 'string' || laid?.mode === 'ohms',
    '"open" and "closed" are read with an ohmmeter',
  );

/** What was seen on a board, on screen or physical. */
export interface Observations {
  readonly contactum: 'observations/1';
  readonly observations: readonly BoardObservation[];
}

export const observationsSchema: z.ZodType<Observations> = z.strictObject({
  contactum: z.literal('observations/1'),
  observations: z.array(observationSchema).max(500),
});
