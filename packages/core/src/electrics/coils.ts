import { isSealed, type Circuit, type Coil, type MechanicalState } from '../circuit/index.js';
import { ENERGISED, LIMIT_SLACK, OVERVOLTAGE, PICK_UP } from '../tolerances.js';
import type { Electrical } from './electrical.js';

/** RMS volts across a coil, the AC and the DC part. */
export interface CoilVolts {
  readonly ac: number;
  readonly dc: number;
}

export function coilVolts(electrical: Electrical, k: number): CoilVolts {
  const dc = electrical.coilDcVolts[k]!;
  const total = electrical.coilVolts[k]!;
  return { ac: Math.sqrt(Math.max(total * total - dc * dc, 0)), dc };
}

/** What a coil asks of its armature: in from its pick-up voltage, and once in, out below its drop-out. */
export function pulls({ kind, own, other }: Coil, sealed: boolean, { ac, dc }: CoilVolts): boolean {
  const [its, wrong] = kind === 'ac' ? [ac, dc] : [dc, ac];
  return (
    its >= (sealed ? own.dropOut : own.pickUp) ||
    (other !== null && wrong >= (sealed ? other.dropOut : other.pickUp))
  );
}

/** What each coil asks of its armature in one state of a circuit. */
export function coilWants(
  circuit: Circuit,
  electrical: Electrical,
  state: MechanicalState,
  k: number,
): boolean {
  const coil = circuit.coils[k]!;
  return pulls(coil, isSealed(circuit, coil, state), coilVolts(electrical, k));
}

export interface CoilFault {
  /** Volts across the coil, per unit of its rating. */
  readonly perUnit: number;
  /** Energised by the other kind of current. */
  readonly wrongKind: boolean;
}

/**
 * What is wrong with the voltage of an energised coil: outside 85 to 110 % or of the wrong kind; null where
 * all is well.
 */
export function voltageFault(coil: Coil, { ac, dc }: CoilVolts): CoilFault | null {
  const [own, other] = coil.kind === 'ac' ? [ac, dc] : [dc, ac];
  if (other >= ENERGISED * coil.voltage) return { perUnit: other / coil.voltage, wrongKind: true };
  const perUnit = own / coil.voltage;
  if (perUnit < ENERGISED || (coil.takesFewVolts && perUnit <= 1)) return null;
  return perUnit < PICK_UP - LIMIT_SLACK || perUnit > OVERVOLTAGE + LIMIT_SLACK
    ? { perUnit, wrongKind: false }
    : null;
}

/** What is wrong with the voltage of a coil in one solution. */
export function coilVoltageFault(circuit: Circuit, electrical: Electrical, k: number): CoilFault | null {
  return voltageFault(circuit.coils[k]!, coilVolts(electrical, k));
}
