import type { CoilRating } from '../catalogue/index.js';
import { AC_COIL_ON_DC, DROP_OUT, LIMIT_SLACK, PICK_UP } from '../tolerances.js';

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

/**
 * Volts at which a coil pulls in and lets go, on its own kind of current and on the other. A DC coil on AC
 * only hums. An AC coil on DC has its resistance alone against the voltage: it draws many times its sealed
 * current, pulls in at a fraction of its rating, and burns.
 */
export function coilThresholds({ voltage, kind }: CoilRating) {
  const [pickUp, dropOut] = [PICK_UP, DROP_OUT].map((part) => part * voltage * (1 - LIMIT_SLACK)) as [
    number,
    number,
  ];
  const onDc = { pickUp: pickUp * AC_COIL_ON_DC, dropOut: dropOut * AC_COIL_ON_DC };
  return { own: { pickUp, dropOut }, other: kind === 'ac' ? onDc : null };
}
