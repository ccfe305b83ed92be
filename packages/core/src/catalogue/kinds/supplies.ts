import type { MechanismSpec, SourceSpec, TerminalSpec } from '../anatomy.js';
import { SUPPLY_OPEN, SUPPLY_TRIPPED } from '../states.js';

/**
 * What the supplies have in common: a state is a set of bits, one a lost phase, and those of switched off
 * and tripped.
 */

const STATES = 32;

/** Name of the actuator of a supply. */
export const SUPPLY_SWITCH = 'supply';

export const supplyMechanism = (...phases: string[]): MechanismSpec => ({
  name: SUPPLY_SWITCH,
  kind: 'supply',
  states: STATES,
  initial: 0,
  phases,
});

/** Live unless this phase is lost or the supply is off. */
export function liveUnless(phase: number): boolean[] {
  const dead = (1 << phase) | SUPPLY_OPEN | SUPPLY_TRIPPED;
  return Array.from({ length: STATES }, (_, state) => (state & dead) === 0);
}

/** The impedance that a prospective current stands for, unless the options give it. */
export function sourceImpedance(
  options: {
    readonly prospectiveCurrent: number;
    readonly sourceOhms?: number | undefined;
    readonly sourceHenries?: number | undefined;
  },
  volts: number,
): Pick<SourceSpec, 'ohms' | 'henries'> {
  const { prospectiveCurrent, sourceOhms, sourceHenries } = options;
  if (sourceOhms === undefined && sourceHenries === undefined)
    return { ohms: volts / prospectiveCurrent, henries: 0 };
  return { ohms: sourceOhms ?? 0, henries: sourceHenries ?? 0 };
}

/** Terminals that take any number of conductors. */
export function rails(role: TerminalSpec['role'], ...names: string[]): TerminalSpec[] {
  return names.map((name) => ({ name, role, conductors: Number.POSITIVE_INFINITY }));
}
