import { BURNT } from '../catalogue/index.js';
import { seals } from './mechanisms/index.js';
import type { Circuit, Coil, Element, Impedance, ImpedanceLaw, MechanicalState } from './circuit.js';

/** Variants of an element's admittances: burnt through it has none. */
export const BURNT_THROUGH = -1;
export const UNSEALED = 0;
export const SEALED = 1;

/** Which of its admittances an element has in a state. */
export function variantOf({ mechanisms }: Circuit, { law }: Element, state: MechanicalState): number {
  if (law.kind !== 'impedance') return UNSEALED;
  if (law.burns !== undefined && state[law.burns] === BURNT) return BURNT_THROUGH;
  if (!law.sealed) return UNSEALED;
  const { by, asks } = law.sealed;
  return seals(mechanisms[by]!, state[by]!, asks) ? SEALED : UNSEALED;
}

/** The impedance of a variant. */
export const impedanceOf = ({ open, sealed }: ImpedanceLaw, variant: number): Impedance =>
  variant === SEALED && sealed ? sealed.impedance : open;

/** True while a coil's own armature or timer has closed its magnetic circuit. */
export const isSealed = (
  { mechanisms }: Circuit,
  { mechanism, asks }: Coil,
  state: MechanicalState,
): boolean => seals(mechanisms[mechanism]!, state[mechanism]!, asks);
