import type { Misfit } from './kind.js';

/**
 * Synchronous speed 120 f / p of the pole count whose speed lies nearest above the rated one, rpm;
 * null where no even pole count gives a slip between 0 and 30 %.
 */
export function synchronousSpeed(frequency: number, ratedSpeed: number): number | null {
  for (let poles = 24; poles >= 2; poles -= 2) {
    const synchronous = (120 * frequency) / poles;
    if (ratedSpeed < synchronous && ratedSpeed >= 0.7 * synchronous) return synchronous;
  }
  return null;
}

/** A rated speed that no induction motor of its frequency can have. */
export function plateMisfits({
  frequency,
  speed,
}: {
  readonly frequency: number;
  readonly speed: number;
}): Misfit[] {
  if (synchronousSpeed(frequency, speed) !== null) return [];
  return [
    {
      path: 'options.plate.speed',
      message: `must lie below the synchronous speed of a ${frequency} Hz motor, is ${speed} rpm`,
    },
  ];
}
