import { button } from '../boards.js';
import type { BehaviourRecipe } from '../recipe.js';
import { RUNS, overload, start, stop, supplyLoss } from './parts.js';

/** What the starters with one contactor and one motor have in common. */

export const OBSERVE = ['KM1', 'M1.driven'];
export const COIL_RETURN = 'return: KM1 A2 > {return}';
export const RUN_FAULTS = [
  'open-wire KM1:14 S2:14 | Seal-in lead broken',
  'coil-open KM1 | Coil of KM1 burnt through',
  'contact-stuck-open F2:95-96 | Overload contact 95-96 does not make',
  'lost-phase G1:L2 | L2 lost before the breaker',
];

export const holds = (id: string, title: string, by: string, points: number, more = ''): BehaviourRecipe => ({
  id,
  title,
  points,
  steps: `${start(by)}; wait 1; ${RUNS}${more}`,
});
export const stops = (id: string, title: string, from: string, by: string): BehaviourRecipe => ({
  id,
  title,
  points: 4,
  steps: `${start(from)}; ${stop(by)}`,
});
export const tripped = (points: number, again = 'S2'): BehaviourRecipe => ({
  id: 'overload',
  title: 'The overload stops it and must be reset',
  points,
  steps: overload(again),
});
export const lost = (points: number, first = 'S2'): BehaviourRecipe => ({
  id: 'supply-loss',
  title: 'Stays off when the supply comes back',
  points,
  steps: supplyLoss(first),
});

/** The quay's station beside the pump house's. */
export const QUAY = [
  { before: 'M1', device: button('S3', 'stop', 'red') },
  { before: 'M1', device: button('S4', 'start', 'white') },
];

/** What a pump does that is worked from both. */
export const FROM_TWO_PLACES = [
  holds('start-house', 'Starts from the pump house and holds', 'S2', 4),
  holds('start-quay', 'Starts from the quay and holds', 'S4', 4),
  stops('stop-house', 'Stops from the pump house', 'S4', 'S1'),
  stops('stop-quay', 'Stops from the quay', 'S2', 'S3'),
  tripped(4, 'S4'),
  lost(4, 'S4'),
];
