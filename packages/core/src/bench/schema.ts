import { z } from 'zod';
import type { Device } from '../catalogue/index.js';
import { LONGEST_TIME } from '../tolerances.js';
import { MOST_WIRES, type Bench, type TerminalRef, type Wire } from './bench.js';

const positive = z.number().positive();
const nonNegative = z.number().nonnegative();
const poles = z.int().min(1).max(3);
const coil = z.strictObject({ voltage: positive, kind: z.enum(['ac', 'dc']) });
const contactText = z
  .string()
  .regex(/^(NO|NC) [^\s:-]+-[^\s:-]+$/, 'must be written like "NO 13-14" or "NC 21-22"');
const contactName = z.string().regex(/^[^\s:-]+-[^\s:-]+$/, 'must be written like "13-14"');
const text = (max: number) => z.string().max(max);
export const tag = z
  .string()
  .regex(/^[A-Za-z0-9+.=_-]{1,24}$/, 'must be a designation of up to 24 letters, digits, and . _ = + -')
  .refine((text) => text !== 'bench', '"bench" means the whole board and is no tag');
const delay = z.number().nonnegative().max(LONGEST_TIME);

export const terminalRef = z
  .string()
  .max(60)
  .regex(/^[^\s:]+:[^\s:]+$/, 'must be written TAG:TERMINAL')
  .transform((ref) => ref as TerminalRef);

const duty = z.enum(['start', 'stop', 'emergency-stop', 'forward', 'reverse', 'jog', 'limit']);
const at = z.tuple([z.number(), z.number()]);
const empty = z.strictObject({}).default({});

const plate = z.strictObject({
  kW: positive,
  voltage: positive,
  connection: z.enum(['star', 'delta']).default('star'),
  frequency: positive.default(50),
  speed: positive,
  current: positive,
  cosPhi: z.number().gt(0).max(1).default(0.8),
  startCurrentRatio: positive.default(6),
  startTorqueRatio: positive.default(2),
  breakdownTorqueRatio: z.number().gt(1).default(2.5),
  serviceFactor: z.number().min(1).default(1),
});

const sourceImpedance = {
  sourceOhms: nonNegative.optional(),
  sourceHenries: nonNegative.optional(),
};

const supplyDefaults = { lineVoltage: 400, frequency: 50, prospectiveCurrent: 3000 };
const singleDefaults = { voltage: 230, frequency: 50, prospectiveCurrent: 1000 };

function device<T extends string, O extends z.ZodType, S extends z.ZodType>(
  type: T,
  options: O,
  settings: S,
) {
  return z.strictObject({
    tag,
    type: z.literal(type),
    options,
    settings,
    duty: duty.optional(),
    at: at.optional(),
  });
}

const closed = z.strictObject({ closed: z.boolean().default(true) }).default({ closed: true });

const signal = z
  .strictObject({
    voltage: positive.default(230),
    kind: z.enum(['ac', 'dc']).default('ac'),
    colour: text(24).optional(),
  })
  .default({ voltage: 230, kind: 'ac' });

const raw = z.discriminatedUnion('type', [
  device(
    'supply-3n',
    z
      .strictObject({
        lineVoltage: positive.default(400),
        frequency: positive.default(50),
        prospectiveCurrent: positive.default(3000),
        ...sourceImpedance,
      })
      .default(supplyDefaults),
    empty,
  ),
  device(
    'supply-1n',
    z
      .strictObject({
        voltage: positive.default(230),
        frequency: positive.default(50),
        prospectiveCurrent: positive.default(1000),
        ...sourceImpedance,
      })
      .default(singleDefaults),
    empty,
  ),
  device(
    'supply-dc',
    z
      .strictObject({ voltage: positive.default(24), currentLimit: positive.default(5) })
      .default({ voltage: 24, currentLimit: 5 }),
    empty,
  ),
  device(
    'breaker',
    z
      .strictObject({
        poles: poles.default(3),
        rating: positive.default(10),
        curve: z.enum(['B', 'C', 'D']).default('C'),
      })
      .default({ poles: 3, rating: 10, curve: 'C' }),
    closed,
  ),
  device(
    'fuse',
    z
      .strictObject({
        poles: poles.default(1),
        rating: positive.default(2),
        class: z.enum(['gG', 'aM']).default('gG'),
      })
      .default({ poles: 1, rating: 2, class: 'gG' }),
    z.strictObject({ fitted: z.boolean().default(true) }).default({ fitted: true }),
  ),
  device('disconnector', z.strictObject({ poles: poles.default(3) }).default({ poles: 3 }), closed),
  device(
    'transformer',
    z
      .strictObject({
        primaryVoltage: positive.default(400),
        secondaryVoltage: positive.default(230),
        va: positive.default(100),
      })
      .default({ primaryVoltage: 400, secondaryVoltage: 230, va: 100 }),
    empty,
  ),
  device(
    'motor-1',
    z.strictObject({
      plate: z.strictObject({
        kW: positive,
        voltage: positive.default(230),
        frequency: positive.default(50),
        speed: positive,
        current: positive,
      }),
    }),
    z.strictObject({ load: nonNegative.default(0.3) }).default({ load: 0.3 }),
  ),
  device('brake', z.strictObject({ coil, motor: tag }), empty),
  device(
    'contactor',
    z.strictObject({ coil, aux: z.array(contactText).max(16).default(['NO 13-14']) }),
    empty,
  ),
  device(
    'relay',
    z.strictObject({
      base: z.enum(['octal-8', 'octal-11']).optional(),
      contacts: z.array(contactText).max(16).default([]),
      coil,
    }),
    empty,
  ),
  device(
    'overload',
    z.strictObject({
      range: z.tuple([positive, positive]),
      class: z.enum(['10A', '10', '20', '30']).default('10'),
      phaseLossSensitive: z.boolean().default(true),
    }),
    z
      .strictObject({ dial: positive.optional(), reset: z.enum(['manual', 'auto']).default('manual') })
      .default({ reset: 'manual' }),
  ),
  device(
    'pushbutton',
    z
      .strictObject({
        contacts: z.array(contactText).min(1).max(8).default(['NO 13-14']),
        colour: text(24).optional(),
      })
      .default({ contacts: ['NO 13-14'] }),
    empty,
  ),
  device(
    'estop',
    z
      .strictObject({ contacts: z.array(contactText).min(1).max(8).default(['NC 11-12']) })
      .default({ contacts: ['NC 11-12'] }),
    empty,
  ),
  device(
    'selector',
    z.strictObject({
      positions: z.array(text(24).min(1)).min(2).max(6).default(['off', 'on']),
      contacts: z
        .array(z.strictObject({ terminals: contactName, closedIn: z.array(text(24)).min(1) }))
        .min(1)
        .max(12),
    }),
    z.strictObject({ position: text(24).optional() }).default({}),
  ),
  device(
    'limit-switch',
    z
      .strictObject({
        contacts: z.array(contactText).min(1).max(8).default(['NO 13-14', 'NC 21-22']),
        travel: z.strictObject({ motor: tag, end: z.enum(['forward', 'reverse']) }).optional(),
      })
      .default({ contacts: ['NO 13-14', 'NC 21-22'] }),
    empty,
  ),
  device(
    'timer',
    z.strictObject({
      function: z.enum(['on-delay', 'off-delay']).default('on-delay'),
      coil,
      instant: z.array(contactText).max(8).default([]),
    }),
    z.strictObject({ delay: delay.default(10) }).default({ delay: 10 }),
  ),
  device(
    'star-delta-timer',
    z.strictObject({ coil, pause: delay.default(0.05) }),
    z.strictObject({ delay: delay.default(10) }).default({ delay: 10 }),
  ),
  device('lamp', signal, empty),
  device('buzzer', signal, empty),
  device(
    'motor-3',
    z.strictObject({
      leads: z.union([z.literal(3), z.literal(6)]).default(6),
      internal: z.enum(['star', 'delta']).optional(),
      plate,
    }),
    z.strictObject({ load: nonNegative.default(0.3) }).default({ load: 0.3 }),
  ),
  device(
    'impedance',
    z
      .strictObject({ ohms: nonNegative.default(100), henries: nonNegative.default(0) })
      .default({ ohms: 100, henries: 0 }),
    empty,
  ),
  device(
    'terminal-strip',
    z.strictObject({ count: z.int().min(1).max(60).default(12) }).default({ count: 12 }),
    empty,
  ),
  device(
    'busbar',
    z.strictObject({ count: z.int().min(1).max(60).default(12) }).default({ count: 12 }),
    empty,
  ),
]);

/** Fills in the defaults that depend on other values of the same device. */
function complete(read: z.output<typeof raw>): Device {
  switch (read.type) {
    case 'overload':
      return { ...read, settings: { ...read.settings, dial: read.settings.dial ?? read.options.range[0] } };
    case 'selector':
      return { ...read, settings: { position: read.settings.position ?? read.options.positions[0] ?? '' } };
    case 'motor-3':
      return {
        ...read,
        options: { ...read.options, internal: read.options.internal ?? read.options.plate.connection },
      };
    default:
      return read;
  }
}

export const deviceSchema = raw.transform(complete);

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
const index = z.int().min(0).max(MOST_WIRES);

export const editSchema = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('connect'), index, wire: wireSchema }),
  z.strictObject({ do: z.literal('cut'), index, wire: wireSchema }),
  z.strictObject({ do: z.literal('move'), index, from: wireSchema, to: wireSchema }),
  z.strictObject({
    do: z.literal('set'),
    device: tag,
    setting: text(24),
    from: settingValue,
    to: settingValue,
  }),
]);
