import { A, A2, abs, add, mul, scale, type Complex, type InductionMotor } from '../machines/index.js';
import { DRIVEN, SINGLE_PHASE } from '../tolerances.js';
import type { Driven, MotorField, Potentials } from './electrical.js';

/**
 * The field that a motor's winding voltages make, by their symmetrical components (Fortescue 1918, from
 * memory).
 */
export function motorField(
  machine: InductionMotor,
  windings: readonly (readonly [number, number])[],
  potentials: readonly Potentials[],
): MotorField {
  const network = potentials.find(({ frequency }) => frequency > 0);
  const zero = { re: 0, im: 0 };
  if (!network) return { positive: 0, negative: 0, driven: 'none', windingVolts: [zero, zero, zero] };
  const { re, im } = network;
  const [u = zero, v = zero, w = zero] = windings.map(([a, b]): Complex => ({
    re: re[a]! - re[b]!,
    im: im[a]! - im[b]!,
  }));
  const rated = machine.windingVolts;
  if (windings.length === 1)
    return { positive: abs(u), negative: 0, driven: fieldName(abs(u), 0, rated), windingVolts: [u] };
  const positive = abs(scale(add(u, add(mul(A, v), mul(A2, w))), 1 / 3));
  const negative = abs(scale(add(u, add(mul(A2, v), mul(A, w))), 1 / 3));
  return { positive, negative, driven: fieldName(positive, negative, rated), windingVolts: [u, v, w] };
}

function fieldName(positive: number, negative: number, rated: number): Driven {
  const strong = Math.max(positive, negative);
  if (strong < DRIVEN * rated) return 'none';
  if (Math.min(positive, negative) > SINGLE_PHASE * strong) return 'single-phase';
  return positive > negative ? 'forward' : 'reverse';
}
