import { ARRIVING, OPERATED, REST, RETURNING, UNPOWERED } from '../../catalogue/index.js';
import { TRAVEL } from '../../tolerances.js';
import type { Mechanics } from './mechanics.js';
import { arriveInPosition, sendIn } from './two-position.js';

/**
 * Trip bar of an overload relay. An electronic relay falls out as if tripped when it loses its supply, and
 * is healthy again when it comes back; one that has tripped stays tripped. Common practice, no source.
 */
export const trip: Mechanics<'trip'> = {
  part: 'trip bar',
  coil: {
    react(_, state, [wants]) {
      if (wants) return state === UNPOWERED ? REST : state;
      return state === REST ? UNPOWERED : state;
    },
    seals: () => false,
    holds: (_, state) => state === REST,
    moves: (_, [wants]) => (wants ? REST : UNPOWERED),
    rests: [REST, UNPOWERED],
  },
  isMoving: (_, state) => state === ARRIVING || state === RETURNING,
  arrive: arriveInPosition,
  travel: (_, own) => own * TRAVEL.trip,
  word: (_, state) => (state === REST || state === ARRIVING ? 'healthy' : 'tripped'),
  words: () => ['healthy', 'tripped'],
  acts: {
    trip: (_, now) => (now === UNPOWERED ? now : sendIn(null, now)),
    reset: (_, now) => (now === OPERATED || now === ARRIVING ? RETURNING : now),
  },
  choices: (_, tag) => [
    { stimulus: { trip: tag }, when: REST, to: ARRIVING },
    { stimulus: { reset: tag }, when: OPERATED, to: RETURNING },
  ],
  kept: (_, state) => state,
};
