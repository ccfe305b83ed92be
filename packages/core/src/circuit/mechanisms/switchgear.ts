import { CLOSED, OPEN, TRIPPED } from '../../catalogue/index.js';
import { TRAVEL } from '../../tolerances.js';
import type { Mechanics } from './mechanics.js';

/** Poles of a breaker, fuse or disconnector: they change over at once. */
export const switchgear: Mechanics<'switchgear'> = {
  part: 'switchgear',
  isMoving: () => false,
  arrive: (_, state) => state,
  travel: (_, own) => own * TRAVEL.plunger,
  word: ({ tripped }, state) => (state === TRIPPED ? tripped : state === CLOSED ? 'closed' : 'open'),
  words: ({ tripped }) => ['closed', 'open', tripped],
  acts: {
    open: (_, now) => (now === TRIPPED ? now : OPEN),
    close: (_, now) => (now === TRIPPED ? now : CLOSED),
    trip: () => TRIPPED,
    reset: (_, now) => (now === TRIPPED ? CLOSED : now),
  },
  // Nobody takes fuses out of a board that is worked.
  choices: ({ tripped }, tag) =>
    tripped === 'blown'
      ? []
      : [
          { stimulus: { open: tag }, when: CLOSED, to: OPEN },
          { stimulus: { close: tag }, when: OPEN, to: CLOSED },
        ],
  kept: (_, state) => state,
};
