import { changed, type Change, type DeviceEntry } from './board.js';
import { DIRECT_STARTER, REVERSING_STARTER, STAR_DELTA_STARTER, button, limit } from './boards.js';
import type { SharedBoard } from './recipe.js';

/** The boards of starters whose logic is in a programmable controller. */

const CONTROLLER: readonly DeviceEntry[] = [
  { tag: 'G2', type: 'supply-dc', options: { voltage: 24, currentLimit: 5 } },
  { tag: 'A1', type: 'plc', options: { inputs: 8, groups: [4, 2] } },
];

/** A board with 24 V DC and a controller before its first contactor. */
const controlled = (board: SharedBoard, change: Change = {}): SharedBoard => ({
  ...board,
  ...changed(board, {
    ...change,
    add: [...CONTROLLER.map((device) => ({ before: 'KM1', device })), ...(change.add ?? [])],
  }),
});

export const CONTROLLED_STARTER = controlled(DIRECT_STARTER);

export const CONTROLLED_JOGGER = controlled(DIRECT_STARTER, {
  title: 'Sluice gate board',
  add: [{ before: 'M1', device: button('S3', 'jog', 'black') }],
});

export const CONTROLLED_WITH_EMERGENCY_STOP = controlled(DIRECT_STARTER, {
  add: [
    { before: 'M1', device: button('S4', 'start', 'white') },
    { before: 'M1', device: { tag: 'S5', type: 'estop', duty: 'emergency-stop' } },
  ],
});

export const CONTROLLED_REVERSER = controlled(REVERSING_STARTER);

export const CONTROLLED_HARROW_WITH_LIMITS = controlled(REVERSING_STARTER, {
  title: 'Salt harrow board with limit switches',
  add: [
    { before: 'M1', device: limit('SQ1', 'forward') },
    { before: 'M1', device: limit('SQ2', 'reverse') },
  ],
});

export const CONTROLLED_STAR_DELTA = controlled(STAR_DELTA_STARTER, { without: ['KT1'] });
