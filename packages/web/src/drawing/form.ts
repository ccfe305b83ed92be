import { anatomy, type Bench, type DrawingForm } from '@contactum/core';

/** The way in which a board's circuits are usually drawn: 60 Hz boards as ladders. */
export function formOf(bench: Bench): DrawingForm {
  const isUs = bench.devices.some((device) =>
    anatomy(device).sources.some(({ frequency }) => frequency === 60),
  );
  return isUs ? 'us' : 'iec';
}
