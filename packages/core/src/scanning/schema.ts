import { z } from 'zod';
import { terminalRef } from '../bench/schema.js';
import type { Joints } from './joints.js';

export const jointsSchema: z.ZodType<Joints> = z.strictObject({
  contactum: z.literal('joints/1'),
  joined: z.array(z.array(terminalRef).max(500)).max(2000),
});
