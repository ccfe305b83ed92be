import type { Device } from '../catalogue/index.js';
import type { Change, Ground } from './wiring.js';

/**
 * The usual mistakes of learners, made from any reference wiring (common practice, no source). A careful
 * instructor says of each that it fails, or that it passes at most with something lost.
 */
export interface Mistake {
  readonly kind: string;
  readonly title: string;
  readonly verdict: 'fails' | 'not-full';
  readonly change: Change;
  /** What of the devices is set otherwise. */
  readonly devices?: readonly Device[];
}

export type Maker = (ground: Ground) => readonly Mistake[];
