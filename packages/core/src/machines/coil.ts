import type { CoilRating } from '../catalogue/index.js';

/**
 * Apparent power of typical coils, VA, and power factor: a contactor of size 9 to 12 A draws about 70 VA
 * at cos φ 0.8 with the armature out and 8 VA at 0.3 sealed; a plug-in relay 3 and 1.5 VA. DC coils are
 * resistances. Common practice, no source.
 */
const AC_COILS = {
  contactor: { inrush: { va: 70, cosPhi: 0.8 }, sealed: { va: 8, cosPhi: 0.3 } },
  relay: { inrush: { va: 3, cosPhi: 0.7 }, sealed: { va: 1.5, cosPhi: 0.5 } },
} as const;
const DC_WATTS = { contactor: 3, relay: 1 } as const;
/** Frequency to which the coil reactances refer, Hz. */
const COIL_FREQUENCY = 50;

/** Impedances of a coil, armature out and in: series ohms and henries. */
export function coilImpedances(size: 'contactor' | 'relay', { voltage, kind }: CoilRating) {
  if (kind === 'dc') {
    const winding = { ohms: (voltage * voltage) / DC_WATTS[size], henries: 0 };
    return { inrush: winding, sealed: winding };
  }
  const series = ({ va, cosPhi }: { va: number; cosPhi: number }) => {
    const z = (voltage * voltage) / va;
    return {
      ohms: z * cosPhi,
      henries: (z * Math.sqrt(1 - cosPhi * cosPhi)) / (2 * Math.PI * COIL_FREQUENCY),
    };
  };
  return { inrush: series(AC_COILS[size].inrush), sealed: series(AC_COILS[size].sealed) };
}
