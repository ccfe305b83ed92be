import { ARRIVING, OPERATED, REST, RETURNING } from '../../catalogue/index.js';
import { TRAVEL } from '../../tolerances.js';
import type { Mechanics } from './mechanics.js';
import { arriveInPosition, isUnderWay, sendBack, sendIn } from './two-position.js';

/** Plunger of a push-button, an emergency stop or a limit switch. */
export const plunger: Mechanics<'plunger'> = {
  part: 'control',
  control: ({ returns }) => (returns === 'by spring' ? 'momentary' : 'maintained'),
  isMoving: isUnderWay,
  arrive: arriveInPosition,
  travel: (_, own) => own * TRAVEL.plunger,
  word: (_, state) => (state === OPERATED || state === RETURNING ? 'pressed' : 'released'),
  words: () => ['pressed', 'released'],
  acts: { press: sendIn, release: sendBack },
  choices: ({ returns }, tag) => [
    { stimulus: { release: tag }, when: OPERATED, to: RETURNING },
    { stimulus: { press: tag }, when: REST, to: ARRIVING, holds: returns === 'by spring' },
  ],
  // Only what a hand set stays.
  kept: ({ returns }, state) => (returns === 'by hand' ? state : null),
};
