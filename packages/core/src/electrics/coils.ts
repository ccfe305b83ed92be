import { OPERATED, LETTING_GO, REST } from '../catalogue/index.js';
import { sealedIn, type Circuit, type Coil, type MechanicalState } from '../circuit/index.js';
import { DROP_OUT, ENERGISED, LIMIT_SLACK, OVERVOLTAGE, PICK_UP } from '../tolerances.js';
import type { Electrical } from './electrical.js';

/** What each coil asks of its armature: in at 85 % of its voltage, and once in, out below the drop-out. */
export function coilWants(circuit: Circuit, electrical: Electrical, state: MechanicalState, k: number): boolean {
  const coil = circuit.coils[k] as Coil;
  const volts = electrical.coilVolts[k] as number;
  const kind = circuit.mechanisms[coil.mechanism]?.kind ?? 'armature';
  const limit = sealedIn(kind, state[coil.mechanism] as number) ? DROP_OUT : PICK_UP;
  return volts >= limit * coil.voltage * (1 - LIMIT_SLACK);
}

/** Per unit of its rating where an energised coil is outside 85 to 110 %; null where all is well. */
export function coilVoltageFault(coil: Coil, volts: number): number | null {
  const perUnit = volts / coil.voltage;
  if (perUnit < ENERGISED) return null;
  return perUnit < PICK_UP - LIMIT_SLACK || perUnit > OVERVOLTAGE + LIMIT_SLACK ? perUnit : null;
}

/** True where the armature is in: fully operated, or letting go with its contacts still made. */
export const isIn = (state: number): boolean => state === OPERATED || state === LETTING_GO;
export const isOut = (state: number): boolean => state === REST;
