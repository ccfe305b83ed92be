import {
  AC3_AMPS,
  AWG,
  CODE_LETTERS,
  GG_RATINGS,
  MM2,
  NEC_RATINGS,
  NEMA_SIZES,
  necFullLoad,
} from './tables.js';

/** A motor's plate as it is read, and how it is fed. */
export interface StarterInput {
  readonly form: 'iec' | 'us';
  /** kW, or hp in the US. */
  readonly power: number;
  /** Volts between lines. */
  readonly volts: number;
  readonly frequency: number;
  /** rpm on the plate. */
  readonly speed: number;
  /** Amperes on the plate; the table's or the formula's where it is not known. */
  readonly amps?: number | undefined;
  readonly cosPhi: number;
  /** Per unit. */
  readonly efficiency: number;
  readonly serviceFactor: number;
  /** Starting current over the rated. */
  readonly startRatio: number;
  /** Metres of cable to the motor. */
  readonly length: number;
  readonly starting: 'direct' | 'star-delta';
}

/** One thing that is chosen, with how. */
export interface Sized {
  readonly id: string;
  readonly what: string;
  /** As a person reads it, with its unit. */
  readonly chosen: string;
  /** The figure behind it. */
  readonly value: number;
  readonly unit: string;
  /** The arithmetic with its numbers in it. */
  readonly how: string;
  /** Standard and clause, or that it is common practice. */
  readonly rests: string;
}

const PRACTICE = 'common practice, no source';

/**
 * Ohms mm² per metre of warm copper, and ohms per metre of inductive reactance (IEC 60364-5-52 annex G,
 * from memory).
 */
const RHO = 0.0225;
const REACTANCE = 0.00008;
const WATTS_PER_HP = 746;

const atLeast = (list: readonly number[], amps: number): number | null =>
  list.find((one) => one >= amps - 1e-9) ?? null;
const a = (amps: number): string => `${Number(amps.toPrecision(3))} A`;
const beyond = 'beyond the table';

/** rpm of the field; poles from the plate's speed, which lies just below it. */
export function fieldOf({ frequency, speed }: Pick<StarterInput, 'frequency' | 'speed'>): {
  poles: number;
  rpm: number;
  slip: number;
} {
  const poles = 2 * Math.max(1, Math.floor((60 * frequency) / speed + 1e-9));
  const rpm = (120 * frequency) / poles;
  return { poles, rpm, slip: (rpm - speed) / rpm };
}

/** Amperes from power, voltage, power factor and efficiency: P / (√3 U cos φ η). */
export function formulaAmps({ form, power, volts, cosPhi, efficiency }: StarterInput): number {
  const watts = power * (form === 'us' ? WATTS_PER_HP : 1000);
  return watts / (Math.sqrt(3) * volts * cosPhi * efficiency);
}

/**
 * Everything that is chosen for a starter, in the order in which it is chosen. Throws where a value is not
 * positive.
 */
export function sizeStarter(input: StarterInput): Sized[] {
  for (const [name, value] of Object.entries(input))
    if (typeof value === 'number' && !(value > 0) && !(name === 'length' && value === 0))
      throw new RangeError(`${name}: must be positive, is ${value}`);
  const { plate, table } = currents(input);
  const cable = cableFor(input, table);
  return [
    ...speeds(input),
    ...plate.choices,
    overload(input, plate.amps),
    ...(input.starting === 'star-delta' ? starDelta(input, plate.amps) : []),
    fuse(input, table),
    breaker(input, table),
    contactor(input, plate.amps, table),
    cable.choice,
    ...drops(input, plate.amps, cable.area),
  ];
}

function speeds(input: StarterInput): Sized[] {
  const { poles, rpm, slip } = fieldOf(input);
  return [
    {
      id: 'synchronous-speed',
      what: 'Synchronous speed',
      chosen: `${rpm} rpm`,
      value: rpm,
      unit: 'rpm',
      how: `120 f / p = 120 × ${input.frequency} / ${poles}; slip ${(100 * slip).toFixed(2)} % at ${input.speed} rpm`,
      rests: 'arithmetic',
    },
  ];
}

/** The plate's current, and what protection and conductors are chosen by: in the US the table's. */
function currents(input: StarterInput): { plate: { amps: number; choices: Sized[] }; table: number } {
  const byFormula = formulaAmps(input);
  const listed = input.form === 'us' ? necFullLoad(input.power, input.volts) : null;
  const amps = input.amps ?? listed ?? byFormula;
  const unit = input.form === 'us' ? 'hp' : 'kW';
  const formula = `${input.power} ${unit} / (√3 × ${input.volts} V × ${input.cosPhi} × ${input.efficiency}) = ${a(byFormula)}`;
  const choices: Sized[] = [
    {
      id: 'full-load-current',
      what: 'Full-load current',
      chosen: a(amps),
      value: amps,
      unit: 'A',
      how:
        input.amps === undefined
          ? listed === null
            ? formula
            : `${input.power} hp at ${input.volts} V`
          : `from the plate; ${formula}`,
      rests: input.amps === undefined && listed !== null ? 'NEC Table 430.250 (from memory)' : 'arithmetic',
    },
  ];
  if (listed !== null && input.amps !== undefined)
    choices.push({
      id: 'table-current',
      what: 'Table current, for conductors and short-circuit protection',
      chosen: a(listed),
      value: listed,
      unit: 'A',
      how: `${input.power} hp at ${input.volts} V; the overload is set by the plate`,
      rests: 'NEC 430.6(A), Table 430.250 (from memory)',
    });
  if (input.form === 'us') choices.push(codeLetter(input, amps));
  return { plate: { amps, choices }, table: listed ?? amps };
}

function codeLetter({ volts, startRatio, power }: StarterInput, amps: number): Sized {
  const kva = (Math.sqrt(3) * volts * amps * startRatio) / 1000 / power;
  const letter = CODE_LETTERS.find(([, below]) => kva < below)?.[0] ?? 'M or higher';
  return {
    id: 'code-letter',
    what: 'Locked-rotor code letter',
    chosen: letter,
    value: kva,
    unit: 'kVA/hp',
    how: `√3 × ${volts} V × ${a(amps)} × ${startRatio} / ${power} hp = ${kva.toFixed(2)} kVA/hp`,
    rests: 'NEMA MG 1 (from memory)',
  };
}

function overload({ form, serviceFactor }: StarterInput, amps: number): Sized {
  if (form === 'iec')
    return {
      id: 'overload',
      what: 'Overload dial',
      chosen: a(amps),
      value: amps,
      unit: 'A',
      how: 'the plate’s current: no trip at 1.05 ×, trip within 2 h at 1.2 ×',
      rests: 'IEC 60947-4-1 (from memory)',
    };
  const part = serviceFactor >= 1.15 ? 1.25 : 1.15;
  return {
    id: 'overload',
    what: 'Overload, at most',
    chosen: a(amps * part),
    value: amps * part,
    unit: 'A',
    how: `${100 * part} % of ${a(amps)}: service factor ${serviceFactor}`,
    rests: 'NEC 430.32(A)(1) (from memory)',
  };
}

function starDelta({ power, form }: StarterInput, amps: number): Sized[] {
  const kW = form === 'us' ? (power * WATTS_PER_HP) / 1000 : power;
  const seconds = 4 + 2 * Math.sqrt(kW);
  return [
    {
      id: 'winding-leg-dial',
      what: 'Overload dial in the winding leg',
      chosen: a(amps / Math.sqrt(3)),
      value: amps / Math.sqrt(3),
      unit: 'A',
      how: `${a(amps)} / √3 = 0.58 × the line current`,
      rests: 'arithmetic',
    },
    {
      id: 'star-current',
      what: 'Line current in star, at starting',
      chosen: 'a third of delta’s',
      value: 1 / 3,
      unit: '',
      how: 'winding voltage U / √3; line current and torque one third',
      rests: 'arithmetic',
    },
    {
      id: 'timer',
      what: 'Star-delta timer',
      chosen: `about ${Math.round(seconds)} s`,
      value: seconds,
      unit: 's',
      how: `4 s + 2 s × √${kW.toFixed(1)}; a light load may take less`,
      rests: PRACTICE,
    },
  ];
}

function fuse({ form }: StarterInput, amps: number): Sized {
  const [part, list, rests] =
    form === 'us'
      ? ([1.75, NEC_RATINGS, 'NEC 430.52, dual-element fuse; 240.6(A) (from memory)'] as const)
      : ([
          1,
          GG_RATINGS,
          `aM fuse at the rated current: ${PRACTICE}; ratings IEC 60269-1 (from memory)`,
        ] as const);
  const rating = atLeast(list, amps * part);
  return {
    id: 'fuse',
    what: form === 'us' ? 'Dual-element fuse, at most' : 'Fuse, class aM',
    chosen: rating === null ? beyond : `${rating} A`,
    value: rating ?? NaN,
    unit: 'A',
    how: `${100 * part} % of ${a(amps)} = ${a(amps * part)}, next standard size`,
    rests,
  };
}

function breaker({ form }: StarterInput, amps: number): Sized {
  const [part, list, rests] =
    form === 'us'
      ? ([2.5, NEC_RATINGS, 'NEC 430.52, inverse-time breaker; 240.6(A) (from memory)'] as const)
      : ([
          1.25,
          GG_RATINGS,
          `curve D, which holds 10 × its rating (IEC 60898-1, from memory); margin: ${PRACTICE}`,
        ] as const);
  const rating = atLeast(list, amps * part);
  return {
    id: 'breaker',
    what: form === 'us' ? 'Inverse-time breaker, at most' : 'Breaker, curve D',
    chosen: rating === null ? beyond : `${rating} A`,
    value: rating ?? NaN,
    unit: 'A',
    how: `${100 * part} % of ${a(amps)} = ${a(amps * part)}, next standard size`,
    rests,
  };
}

function contactor({ form }: StarterInput, amps: number, table: number): Sized {
  if (form === 'us') {
    const size = NEMA_SIZES.find(([, most]) => most >= table);
    return {
      id: 'contactor',
      what: 'Contactor, NEMA size',
      chosen: size ? `size ${size[0]}` : beyond,
      value: size?.[1] ?? NaN,
      unit: 'A',
      how: `continuous amperes at least ${a(table)}`,
      rests: 'NEMA ICS 2 (from memory)',
    };
  }
  const rating = atLeast(AC3_AMPS, amps);
  return {
    id: 'contactor',
    what: 'Contactor, AC-3',
    chosen: rating === null ? beyond : `Ie ${rating} A`,
    value: rating ?? NaN,
    unit: 'A',
    how: `Ie in AC-3 at least ${a(amps)}`,
    rests: `category IEC 60947-4-1 (from memory); sizes ${PRACTICE}`,
  };
}

function cableFor({ form }: StarterInput, amps: number): { choice: Sized; area: number | null } {
  if (form === 'us') {
    const found = AWG.find(([, most]) => most >= 1.25 * amps);
    const choice = {
      id: 'cable',
      what: 'Conductor, copper 75 °C',
      chosen: found?.[0] ?? beyond,
      value: found?.[1] ?? NaN,
      unit: 'A',
      how: `125 % of ${a(amps)} = ${a(1.25 * amps)}`,
      rests: 'NEC 430.22, Table 310.16 (from memory)',
    };
    return { choice, area: found?.[2] ?? null };
  }
  const found = MM2.find(([, most]) => most >= amps);
  const choice = {
    id: 'cable',
    what: 'Conductor, copper PVC, method B2',
    chosen: found ? `${found[0]} mm²` : beyond,
    value: found?.[0] ?? NaN,
    unit: 'mm²',
    how: `carries at least ${a(amps)}${found ? `: ${found[1]} A at 30 °C` : ''}`,
    rests: 'IEC 60364-5-52 Table B.52.4 (from memory)',
  };
  return { choice, area: found?.[0] ?? null };
}

/** Volts lost between lines along a cable: √3 I L (R cos φ + X sin φ). */
export function voltDrop(amps: number, metres: number, area: number, cosPhi: number): number {
  const sinPhi = Math.sqrt(1 - cosPhi * cosPhi);
  return Math.sqrt(3) * amps * metres * ((RHO / area) * cosPhi + REACTANCE * sinPhi);
}

/** Power factor of a motor that starts (common practice, no source). */
const STARTING_COS_PHI = 0.35;

function drops(
  { length, volts, cosPhi, startRatio, starting }: StarterInput,
  amps: number,
  area: number | null,
): Sized[] {
  if (area === null || length === 0) return [];
  const first = (startRatio * amps) / (starting === 'star-delta' ? 3 : 1);
  const choice = (id: string, what: string, current: number, factor: number): Sized => {
    const lost = voltDrop(current, length, area, factor);
    return {
      id,
      what,
      chosen: `${lost.toFixed(1)} V, ${((100 * lost) / volts).toFixed(1)} %`,
      value: lost,
      unit: 'V',
      how: `√3 × ${a(current)} × ${length} m × (R cos φ + X sin φ), R = 0.0225 Ω mm²/m / ${area} mm², cos φ ${factor}`,
      rests: 'IEC 60364-5-52 annex G (from memory)',
    };
  };
  return [
    choice('volt-drop', 'Volt drop, running', amps, cosPhi),
    choice('volt-drop-starting', 'Volt drop, starting', first, STARTING_COS_PHI),
  ];
}
