import { ARRIVING, OPERATED, REST, RETURNING } from '../../catalogue/index.js';
import { TRAVEL } from '../../tolerances.js';
import type { Mechanics } from './mechanics.js';
import { arriveInPosition, isUnderWay, sendIn } from './two-position.js';

/** Trip bar of an overload relay. */
export const trip: Mechanics<'trip'> = {
  isMoving: isUnderWay,
  arrive: arriveInPosition,
  travel: (_, own) => own * TRAVEL.trip,
  word: (_, state) => (state === OPERATED || state === RETURNING ? 'tripped' : 'healthy'),
  acts: {
    trip: sendIn,
    reset: (_, now) => (now === OPERATED || now === ARRIVING ? RETURNING : now),
  },
  choices: (_, tag) => [
    { stimulus: { trip: tag }, when: REST, to: ARRIVING },
    { stimulus: { reset: tag }, when: OPERATED, to: RETURNING },
  ],
  kept: (_, state) => state,
};
