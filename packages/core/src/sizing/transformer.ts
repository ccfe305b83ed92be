import { anatomy, type CoilSpec, type Device } from '../catalogue/index.js';
import { coilImpedances } from '../machines/index.js';
import { TRANSFORMER_VA } from './tables.js';

/** What the coils and lamps of a control circuit take. */
export interface ControlDemand {
  /** VA with everything in. */
  readonly sealed: number;
  /** VA more while the largest coil pulls in. */
  readonly inrush: number;
  /** VA asked of the transformer. */
  readonly needed: number;
  /** The usual rating for it; null beyond those. */
  readonly rating: number | null;
}

/**
 * All that is sealed and the largest inrush do not come at full value together (common practice, no
 * source).
 */
const TOGETHER = 0.8;

/**
 * VA of a control transformer for the coils and lamps of a board: 0.8 × (all sealed + largest inrush), next
 * usual rating.
 */
export function transformerFor(devices: readonly Device[]): ControlDemand {
  let sealed = 0;
  let inrush = 0;
  for (const device of devices) {
    const { coils, lamps } = anatomy(device);
    for (const coil of coils) {
      if (coil.kind !== 'ac') continue;
      const { open, closed } = coilVa(coil);
      sealed += closed;
      inrush = Math.max(inrush, open - closed);
    }
    for (const { voltage, ohms } of lamps) sealed += (voltage * voltage) / ohms;
  }
  const needed = TOGETHER * (sealed + inrush);
  return { sealed, inrush, needed, rating: TRANSFORMER_VA.find((va) => va >= needed) ?? null };
}

/** Frequency to which coils' reactances refer, Hz. */
const COIL_FREQUENCY = 50;

function coilVa(coil: CoilSpec): { open: number; closed: number } {
  const { inrush, sealed } = coilImpedances(coil.size, coil);
  const va = ({ ohms, henries }: { readonly ohms: number; readonly henries: number }) =>
    coil.voltage ** 2 / Math.hypot(ohms, 2 * Math.PI * COIL_FREQUENCY * henries);
  return { open: va(inrush), closed: va(sealed) };
}
