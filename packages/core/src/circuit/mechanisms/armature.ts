import { ARRIVING, LETTING_GO, OPERATED, REST, RETURNING } from '../../catalogue/index.js';
import { TRAVEL } from '../../tolerances.js';
import type { Mechanics } from './mechanics.js';
import { arriveInPosition, isUnderWay } from './two-position.js';

/** True where the armature is in: fully operated, or letting go with its contacts still made. */
export const isIn = (state: number): boolean => state === OPERATED || state === LETTING_GO;

/**
 * Armature of a contactor, relay or brake. It starts to move the moment its coil's decision changes; one
 * that lets go keeps its contacts for a lag that is shorter than any armature's travel in.
 */
export const armature: Mechanics<'armature'> = {
  part: 'armature',
  coil: {
    react(_, state, [wants]) {
      if (wants) {
        if (state === REST || state === RETURNING) return ARRIVING;
        return state === LETTING_GO ? OPERATED : state;
      }
      if (state === OPERATED) return LETTING_GO;
      return state === ARRIVING ? RETURNING : state;
    },
    seals: isIn,
    holds: (_, state) => state === OPERATED,
    moves: (_, [wants]) => (wants ? OPERATED : REST),
    rests: [REST, OPERATED],
  },
  isMoving: isUnderWay,
  arrive: arriveInPosition,
  /** A reversed move has only the way back before it. */
  travel(_, own, { now, before, left }) {
    const [pullIn, drop] = [own * TRAVEL.pullIn, own * TRAVEL.dropTravel];
    if (now === LETTING_GO) return own * TRAVEL.dropLag;
    if (now === ARRIVING)
      return before === RETURNING ? Math.max(pullIn * (1 - left / drop), own * TRAVEL.leastPullIn) : pullIn;
    return before === ARRIVING ? Math.max(drop * (1 - left / pullIn), own * TRAVEL.leastFall) : drop;
  },
  word: (_, state) => (isIn(state) ? 'in' : 'out'),
  words: () => ['in', 'out'],
  acts: {},
  choices: () => [],
  kept: () => null,
};
