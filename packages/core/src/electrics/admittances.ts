import {
  impedanceOf,
  type Circuit,
  type Element,
  type Impedance,
  type Transformer,
} from '../circuit/index.js';
import {
  sequenceAdmittance,
  windingAdmittances,
  type Complex,
  type InductionMotor,
} from '../machines/index.js';
import { LEAST_OHMS } from '../tolerances.js';

/**
 * Admittances between the windings of an element at one frequency, siemens: the current into the start of
 * winding w is Σ y(w, v) V(v). Row after row, real and imaginary parts side by side.
 */
export type Admittances = Float64Array;

/** Least resistance of a motor's winding at DC, ohms. */
const LEAST_WINDING_OHMS = 1e-3;

/** The machine that an element's motor is; slips are per unit, 1 where a rotor is at rest. */
export interface Rotors {
  readonly machines: readonly InductionMotor[];
  readonly slip: (motor: number) => number;
}

/** Admittances of an element in one of its variants. */
export function admittancesOf(
  circuit: Circuit,
  { law }: Element,
  variant: number,
  frequency: number,
  { machines, slip }: Rotors,
): Admittances {
  const omega = 2 * Math.PI * frequency;
  switch (law.kind) {
    case 'impedance':
      return matrix([[admittanceOf(impedanceOf(law, variant), omega)]]);
    case 'motor': {
      const { windings, connection } = circuit.motors[law.motor]!;
      const machine = machines[law.motor]!;
      const row = frequency === 0 ? stillRow(machine) : turningRow(machine, connection, slip(law.motor));
      return circulant(row, windings.length);
    }
    case 'transformer':
      return transformerAdmittances(circuit.transformers[law.transformer]!, frequency, omega);
  }
}

/** Admittance of a series branch; an ideal one keeps a least resistance. */
export function admittanceOf({ ohms, henries }: Impedance, omega: number): Complex {
  const x = omega * henries;
  const r = Math.max(ohms, Math.abs(x) > LEAST_OHMS ? 0 : LEAST_OHMS);
  const d = r * r + x * x;
  return { re: r / d, im: -x / d };
}

const NONE: Complex = { re: 0, im: 0 };

/** A winding at DC is its resistance alone. */
const stillRow = ({ r1 }: InductionMotor): readonly Complex[] => [
  { re: 1 / Math.max(r1, LEAST_WINDING_OHMS), im: 0 },
  NONE,
  NONE,
];

/** First row of the circulant; a single-phase motor has one winding and a forward field. */
const turningRow = (machine: InductionMotor, connection: string, slip: number): readonly Complex[] =>
  connection === 'single' ? [sequenceAdmittance(machine, slip)] : windingAdmittances(machine, slip);

/** I(X1) = (V(X1 X2) − V(H1 H2) / ratio) / Z; the primary draws its opposite by the ratio, and magnetises. */
function transformerAdmittances(transformer: Transformer, frequency: number, omega: number): Admittances {
  const { ratio, series, magnetising, primaryOhms, secondaryOhms } = transformer;
  if (frequency === 0)
    return matrix([
      [{ re: 1 / primaryOhms, im: 0 }, NONE],
      [NONE, { re: 1 / secondaryOhms, im: 0 }],
    ]);
  const y = admittanceOf(series, omega);
  const core = admittanceOf(magnetising, omega);
  const across = { re: -y.re / ratio, im: -y.im / ratio };
  const primary = { re: core.re + y.re / (ratio * ratio), im: core.im + y.im / (ratio * ratio) };
  return matrix([
    [primary, across],
    [across, y],
  ]);
}

/** Every winding stands to the others as the first does, one place on. */
function circulant(row: readonly Complex[], n: number): Admittances {
  const y = new Float64Array(2 * n * n);
  for (let w = 0; w < n; w += 1)
    for (let v = 0; v < n; v += 1) {
      const { re, im } = row[(v - w + n) % n]!;
      y[2 * (w * n + v)] = re;
      y[2 * (w * n + v) + 1] = im;
    }
  return y;
}

function matrix(rows: readonly (readonly Complex[])[]): Admittances {
  return Float64Array.from(rows.flat().flatMap(({ re, im }) => [re, im]));
}
