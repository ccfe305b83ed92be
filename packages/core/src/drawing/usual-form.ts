import type { Bench } from '../bench/index.js';
import { anatomy } from '../catalogue/index.js';
import type { DrawingForm } from './drawing.js';

/** The way in which a board's circuits are usually drawn: 60 Hz boards as ladders. */
export function usualForm(bench: Bench): DrawingForm {
  const isUs = bench.devices.some((device) =>
    anatomy(device).sources.some(({ frequency }) => frequency === 60),
  );
  return isUs ? 'us' : 'iec';
}
