import { SEALED, UNSEALED, impedanceOf, type Circuit, type Element, type Tie } from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { sequenceAdmittance, windingAdmittances, type Complex } from '../machines/index.js';

/** Windings of a motor that can load one line at once, in per unit of the largest voltage across them, by how they are joined. */
const LINE_SHARE = { star: 2 / 3, delta: 2, open: 3, single: 1 } as const;

/**
 * Upper bound of the volts that all loads together, each at the largest voltage of the bench and with every rotor at
 * rest, drop in a source's impedance. Infinity where a DC supply could reach its current limit or networks of two
 * frequencies meet: then only whole solutions decide.
 */
export function sagOf(solver: Solver, ties: readonly Tie[]): number {
  const { sources, frequencies, elements } = solver.circuit;
  if (frequencies.filter((f) => f > 0).length > 1) return Number.POSITIVE_INFINITY;
  const siemens = elements.reduce((sum, element) => sum + mostSiemens(solver, element), 0);
  const amps = siemens * mostVolts(ties);
  if (sources.some(({ currentLimit }) => amps > currentLimit)) return Number.POSITIVE_INFINITY;
  const ohms = sources.map((source) => impedance(source.ohms, source.frequency, source.henries));
  return amps * Math.max(0, ...ohms);
}

const impedance = (ohms: number, frequency: number, henries: number): number =>
  Math.hypot(ohms, 2 * Math.PI * frequency * henries);

/** Largest voltage between two conductors of the bench. */
function mostVolts(ties: readonly Tie[]): number {
  const between = (a: Tie, b: Tie) =>
    a.group === b.group
      ? Math.hypot(a.re - b.re, a.im - b.im)
      : Math.hypot(a.re, a.im) + Math.hypot(b.re, b.im);
  return Math.max(0, ...ties.flatMap((a) => ties.map((b) => between(a, b))));
}

/** Largest admittance with which an element can load a line. */
function mostSiemens(solver: Solver, { law }: Element): number {
  const { circuit } = solver;
  const highest = Math.max(...circuit.frequencies, 0);
  const siemens = (part: { ohms: number; henries: number }, frequency: number) =>
    1 / Math.max(impedance(part.ohms, frequency, part.henries), 1e-9);
  switch (law.kind) {
    case 'impedance': {
      const frequency = circuit.frequencies.includes(0) ? 0 : highest;
      return Math.max(...[UNSEALED, SEALED].map((variant) => siemens(impedanceOf(law, variant), frequency)));
    }
    case 'motor':
      return motorSiemens(circuit, solver, law.motor);
    case 'transformer': {
      const { series, magnetising, ratio } = circuit.transformers[law.transformer]!;
      return siemens(magnetising, highest) + siemens(series, highest) / (ratio * ratio);
    }
  }
}

/** Eigenvalues of the circulant are the sequence admittances; joined inside, the windings have no zero sequence. */
function motorSiemens(circuit: Circuit, solver: Solver, k: number): number {
  const size = (y: Complex) => Math.hypot(y.re, y.im);
  const machine = solver.motors[k]!;
  const { connection } = circuit.motors[k]!;
  const [y0, y1, y2] = windingAdmittances(machine, 1);
  const zero = connection === 'open' ? size({ re: y0.re + y1.re + y2.re, im: y0.im + y1.im + y2.im }) : 0;
  return Math.max(zero, size(sequenceAdmittance(machine, 1))) * LINE_SHARE[connection];
}
