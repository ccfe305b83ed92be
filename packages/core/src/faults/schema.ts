import { z } from 'zod';
import { terminalRef } from '../bench/schema.js';
import { FAULTS, FAULT_KINDS, readFault, type Fault, type FaultKind, type WrittenFault } from './index.js';
import type { FaultForm, FaultKey } from './fault.js';

const place = z.string().regex(/^[^\s]+( [^\s]+)?$/, 'must be a place: a device, a terminal, or two of them');
const number = z.number().positive().max(1e9);

const VALUES: Readonly<Record<FaultKey['kind'], z.ZodType>> = {
  number,
  terminal: terminalRef,
  position: z.enum(['in', 'out']),
};

const seconds = z.number().nonnegative().max(86_400);

const when = z
  .union([
    z.strictObject({ every: z.int().min(1).max(1000) }),
    z.strictObject({ hotter: z.number().nonnegative().max(10) }),
    z.strictObject({ from: seconds, to: seconds, period: number.max(86_400).optional() }),
  ])
  .refine(
    (one) => !('from' in one) || (one.from < one.to && (one.period === undefined || one.to <= one.period)),
    'must run from a moment to a later one, within the period',
  );

function schemaOf(kind: FaultKind): z.ZodType {
  const { keys = {} }: FaultForm = FAULTS[kind];
  const values = Object.entries(keys).map(([name, key]: [string, FaultKey]) => [
    name,
    key.needed ? VALUES[key.kind] : VALUES[key.kind].optional(),
  ]);
  return z.strictObject({ [kind]: place, ...Object.fromEntries(values), when: when.optional() });
}

const SCHEMAS: Readonly<Record<string, z.ZodType>> = Object.fromEntries(
  FAULT_KINDS.map((kind) => [kind, schemaOf(kind)]),
);

/** A fault as documents write it, read by its kind, so that an error speaks of the fault meant. */
export const writtenFaultSchema: z.ZodType<WrittenFault> = z.unknown().transform((value, context) => {
  const isGroup = typeof value === 'object' && value !== null && !Array.isArray(value);
  const kind = isGroup ? Object.keys(value).find((key) => Object.hasOwn(SCHEMAS, key)) : undefined;
  const schema = kind === undefined ? undefined : SCHEMAS[kind];
  if (!schema) {
    const message = `must be a fault; known kinds are ${FAULT_KINDS.join(', ')}`;
    context.addIssue({ code: 'custom', message });
    return z.NEVER;
  }
  const read = schema.safeParse(value);
  if (read.success) return read.data as WrittenFault;
  for (const issue of read.error.issues) context.addIssue({ ...issue });
  return z.NEVER;
});

export const faultSchema: z.ZodType<Fault> = writtenFaultSchema.transform(readFault);
