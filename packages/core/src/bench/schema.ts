import { z } from 'zod';
import {
  DEVICE_TYPES,
  DUTIES,
  kindOf,
  type AnyDevice,
  type Device,
  type Field,
  type Fields,
  type FieldShape,
} from '../catalogue/index.js';
import { programSchema } from '../program/schema.js';
import { MOST_WIRES, type Bench, type TerminalRef, type Wire } from './bench.js';
import type { LeadId } from './wiring.js';

const positive = z.number().positive();
const contactText = z
  .string()
  .regex(/^(NO|NC) [^\s:-]+-[^\s:-]+$/, 'must be written like "NO 13-14" or "NC 21-22"');
const contactName = z.string().regex(/^[^\s:-]+-[^\s:-]+$/, 'must be written like "13-14"');
const text = (max: number) => z.string().max(max);
export const tag = z
  .string()
  .regex(/^[A-Za-z0-9+.=_-]{1,24}$/, 'must be a designation of up to 24 letters, digits, and . _ = + -')
  .refine((text) => text !== 'bench', '"bench" means the whole board and is no tag');

export const terminalRef = z
  .string()
  .max(60)
  .regex(/^[^\s:]+:[^\s:]+$/, 'must be written TAG:TERMINAL')
  .transform((ref) => ref as TerminalRef);

type NumberShape = Extract<FieldShape, { kind: 'number' }>;

function numberSchema({ whole, above, min, max }: NumberShape): z.ZodType {
  let schema = whole ? z.int() : z.number();
  if (above !== undefined) schema = schema.gt(above);
  if (min !== undefined) schema = schema.min(min);
  return max === undefined ? schema : schema.max(max);
}

function shapeSchema(shape: FieldShape): z.ZodType {
  switch (shape.kind) {
    case 'number':
      return numberSchema(shape);
    case 'choice':
      return z.literal(shape.of);
    case 'flag':
      return z.boolean();
    case 'text':
      return text(shape.most).min(shape.least ?? 0);
    case 'motor':
      return tag;
    case 'contacts':
      return z.array(contactText).min(shape.least).max(shape.most);
    case 'contact-name':
      return contactName;
    case 'list':
      return z.array(fieldSchema(shape.of)).min(shape.least).max(shape.most);
    case 'program':
      return programSchema;
    case 'limits':
      return z.tuple([positive, positive]);
    case 'group':
      return groupSchema(shape.fields);
  }
}

function fieldSchema(field: Field): z.ZodType {
  const schema = shapeSchema(field.shape);
  if (field.leftOut !== undefined) return schema.optional();
  return field.default === undefined ? schema : schema.default(field.default);
}

/** Values of some fields, each under its own key. */
export const groupSchema = (fields: Fields) =>
  z.strictObject(Object.fromEntries(Object.entries(fields).map(([key, field]) => [key, fieldSchema(field)])));

/** Options or settings: where every field may be left out, all of them may. */
function fieldsSchema(fields: Fields): z.ZodType {
  const list = Object.entries(fields);
  const schema = groupSchema(fields);
  if (list.some(([, field]) => field.default === undefined && field.leftOut === undefined)) return schema;
  return schema.default(
    Object.fromEntries(
      list.flatMap(([key, field]) => (field.leftOut === undefined ? [[key, field.default]] : [])),
    ),
  );
}

const at = z.tuple([z.number(), z.number()]);

const kindSchemas = DEVICE_TYPES.map((type) => {
  const { options, settings } = kindOf({ type });
  return z.strictObject({
    tag,
    type: z.literal(type),
    options: fieldsSchema(options),
    settings: fieldsSchema(settings),
    duty: z.enum(DUTIES).optional(),
    at: at.optional(),
  });
});
const [firstKind, ...otherKinds] = kindSchemas;

/** Fills in the values that follow from others of the same device. */
function complete(read: AnyDevice): Device {
  const patch = kindOf(read).complete?.(read.options, read.settings);
  const options = { ...read.options, ...patch?.options };
  const settings = { ...read.settings, ...patch?.settings };
  // The fields of the kind, through which it was read, are those of its type.
  return { ...read, options, settings } as Device;
}

export const deviceSchema: z.ZodType<Device> = z
  .discriminatedUnion('type', [firstKind as (typeof kindSchemas)[number], ...otherKinds])
  .transform((read) => complete(read as AnyDevice));

export const wireSchema: z.ZodType<Wire> = z.strictObject({
  from: terminalRef,
  to: terminalRef,
  colour: text(24).optional(),
  area: positive.optional(),
  number: text(24).optional(),
  length: positive.optional(),
});

export const wiresSchema = z.array(wireSchema).max(MOST_WIRES);

export const benchSchema: z.ZodType<Bench> = z.strictObject({
  contactum: z.literal('bench/1'),
  title: text(200).default(''),
  devices: z.array(deviceSchema).max(120),
  wires: wiresSchema.default([]),
  interlocks: z
    .array(z.strictObject({ kind: z.literal('mechanical'), between: z.array(tag).min(2).max(8) }))
    .max(20)
    .default([]),
});

const settingValue = z.union([z.number(), text(24), z.boolean()]);
const lead = z
  .string()
  .regex(
    /^w[1-9][0-9]{0,5}$/,
    'must be the name of a lead that is laid, such as w12',
  ) as unknown as z.ZodType<LeadId>;

export const editSchema = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('connect'), lead, wire: wireSchema }),
  z.strictObject({ do: z.literal('cut'), lead, wire: wireSchema }),
  z.strictObject({ do: z.literal('move'), lead, from: wireSchema, to: wireSchema }),
  z.strictObject({
    do: z.literal('set'),
    device: tag,
    setting: text(24),
    from: settingValue,
    to: settingValue,
  }),
  z.strictObject({
    do: z.literal('program'),
    device: tag,
    from: programSchema.nullable(),
    to: programSchema.nullable(),
  }),
]);
