import { travelOf, type Mechanism, type Move, type Stimulus } from '../circuit/index.js';
import { TRAVEL_SPREAD } from '../tolerances.js';

/** Order of arrival that a stimulus names, what it is made of included. */
export const orderOf = (stimulus: Stimulus): readonly string[] => [
  ...(stimulus.first ?? []),
  ...('together' in stimulus ? stimulus.together.flatMap(orderOf) : []),
];

/**
 * What a device's own travel is, per unit of its kind's: no two are alike. Multiples of the golden ratio
 * fall as far apart as can be (Knuth, TAOCP 3, 6.4, from memory).
 */
const ownTravel = ({ index }: Mechanism): number => 1 + TRAVEL_SPREAD * (((index * GOLDEN_RATIO) % 1) - 0.5);
const GOLDEN_RATIO = (Math.sqrt(5) - 1) / 2;

/** Seconds until a mechanism that has just begun a move arrives. */
export const travelTime = (mechanism: Mechanism, move: Move): number =>
  travelOf(mechanism, ownTravel(mechanism), move);
