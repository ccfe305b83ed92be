import { z } from 'zod';
import { wiresSchema } from '../../bench/schema.js';
import type { SheetEntries } from './entries.js';

const key = z.string().min(1).max(120);
const person = z.string().trim().min(1).max(100);
const ohms = z.union([z.number().nonnegative(), z.enum(['open', 'closed'])]);
const seen = z.union([z.literal('as expected'), z.record(z.string().max(60), z.string().max(60))]);

/** What was entered at a physical board. */
export const sheetEntriesSchema: z.ZodType<SheetEntries> = z.strictObject({
  begun: z.iso.datetime().optional(),
  ended: z.iso.datetime().optional(),
  isolatedBy: person.optional(),
  permittedBy: person.optional(),
  incidents: z.int().min(0).max(1000).optional(),
  dead: z.record(key, ohms).default({}),
  functions: z.record(key, z.record(key, seen)).default({}),
  settings: z.record(key, z.number()).default({}),
  checks: z.record(key, z.boolean()).default({}),
  remarks: z.string().max(4000).optional(),
  asWired: wiresSchema.optional(),
});
