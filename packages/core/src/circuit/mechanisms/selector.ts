import { TRAVEL } from '../../tolerances.js';
import type { Mechanics } from './mechanics.js';

/** State in which a selector of n positions is on its way from one to another. */
const turning = (n: number, from: number, to: number): number => n + from * n + to;

/** Where a selector that is on its way is going to. */
const turningTo = (n: number, state: number): number => (state - n) % n;

/** Maintained selector. */
export const selector: Mechanics<'selector'> = {
  part: 'control',
  control: () => 'maintained',
  staysWhenRenewed: true,
  isMoving: ({ positions }, state) => state >= positions.length,
  arrive: ({ positions }, state) => turningTo(positions.length, state),
  travel: (_, own) => own * TRAVEL.selector,
  word: ({ positions }, state) => positions[state] ?? null,
  words: ({ positions }) => positions,
  acts: {
    turn({ positions }, now, to) {
      const goal = positions.indexOf(to);
      const from = now < positions.length ? now : turningTo(positions.length, now);
      return goal < 0 || goal === now ? now : turning(positions.length, from, goal);
    },
  },
  choices: ({ positions }, tag) =>
    positions.flatMap((_, now) =>
      positions.flatMap((to, k) =>
        k === now ? [] : [{ stimulus: { turn: tag, to }, when: now, to: turning(positions.length, now, k) }],
      ),
    ),
  kept: ({ positions }, state) => Math.min(state, positions.length - 1),
};
