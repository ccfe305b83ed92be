import type { Bench } from '../bench/index.js';
import { anatomy } from '../catalogue/index.js';
import type { DrawingForm } from './drawing.js';

/** True of a board for 60 Hz: its conductors are named, and its circuits drawn, by US practice. */
export const isUsBoard = ({ devices }: Bench): boolean =>
  devices.some((device) => anatomy(device).sources.some(({ frequency }) => frequency === 60));

/** The way in which a board's circuits are usually drawn: 60 Hz boards as ladders. */
export const usualForm = (bench: Bench): DrawingForm => (isUsBoard(bench) ? 'us' : 'iec');
