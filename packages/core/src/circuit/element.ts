import { BURNT } from '../catalogue/index.js';
import { seals } from './mechanisms/index.js';
import type { Circuit, Coil, Impedance, MechanicalState, MechanismIndex } from './circuit.js';

/**
 * What takes current between terminals: one or more windings. A coil, a lamp or an impedance is one winding; the windings
 * of a motor or a transformer are coupled through their core. All of them are solved, measured and exported alike.
 */
export interface Element {
  readonly tag: string;
  /** Index into `bench.wires` of the wire that it is the resistance of. */
  readonly wire?: number;
  /** Ends of each winding; −1 is a star point inside the device, lower numbers are other places inside it. */
  readonly windings: readonly (readonly [number, number])[];
  readonly law: ImpedanceLaw | MotorLaw | TransformerLaw;
}

/** One winding of one impedance, or of another while a mechanism closes its magnetic circuit. */
export interface ImpedanceLaw {
  readonly kind: 'impedance';
  readonly open: Impedance;
  readonly sealed?: { readonly impedance: Impedance; readonly by: MechanismIndex };
  /** Mechanism that says whether it has burnt through. */
  readonly burns?: MechanismIndex;
}

/** Windings of the motor with this index in `Circuit.motors`. */
export interface MotorLaw {
  readonly kind: 'motor';
  readonly motor: number;
}

/** Primary and secondary of the transformer with this index in `Circuit.transformers`. */
export interface TransformerLaw {
  readonly kind: 'transformer';
  readonly transformer: number;
}

/** Variants of an element's admittances: burnt through it has none. */
export const BURNT_THROUGH = -1;
export const UNSEALED = 0;
export const SEALED = 1;

/** Which of its admittances an element has in a state. */
export function variantOf({ mechanisms }: Circuit, { law }: Element, state: MechanicalState): number {
  if (law.kind !== 'impedance') return UNSEALED;
  if (law.burns !== undefined && state[law.burns] === BURNT) return BURNT_THROUGH;
  if (!law.sealed) return UNSEALED;
  const { by } = law.sealed;
  return seals(mechanisms[by]!, state[by]!) ? SEALED : UNSEALED;
}

/** The impedance of a variant. */
export const impedanceOf = ({ open, sealed }: ImpedanceLaw, variant: number): Impedance =>
  variant === SEALED && sealed ? sealed.impedance : open;

/** True while a coil's own armature or timer has closed its magnetic circuit. */
export const isSealed = ({ mechanisms }: Circuit, { mechanism }: Coil, state: MechanicalState): boolean =>
  seals(mechanisms[mechanism]!, state[mechanism]!);
