import { SUPPLY_OPEN, SUPPLY_TRIPPED } from '../../catalogue/index.js';
import { TRAVEL } from '../../tolerances.js';
import type { Mechanics } from './mechanics.js';

/** The bit of a lost phase; 0 where the supply has no such phase. */
const bitOf = (phases: readonly string[], phase: string): number => {
  const k = phases.indexOf(phase);
  return k < 0 ? 0 : 1 << k;
};

/** Switch and phases of a supply: its state is a set of bits. */
export const supply: Mechanics<'supply'> = {
  part: 'supply',
  isBitSet: true,
  staysWhenRenewed: true,
  isMoving: () => false,
  arrive: (_, state) => state,
  travel: (_, own) => own * TRAVEL.plunger,
  word: (_, state) =>
    (state & SUPPLY_TRIPPED) !== 0 ? 'tripped' : (state & SUPPLY_OPEN) !== 0 ? 'open' : 'closed',
  words: () => ['closed', 'open', 'tripped'],
  acts: {
    open: (_, now) => now | SUPPLY_OPEN,
    close: (_, now) => now & ~SUPPLY_OPEN,
    lose: ({ phases }, now, phase) => now | bitOf(phases, phase),
    restore: ({ phases }, now, phase) => now & ~bitOf(phases, phase),
    trip: (_, now) => now | SUPPLY_TRIPPED,
    reset: (_, now) => now & ~SUPPLY_TRIPPED,
  },
  choices: (_, tag) => [
    { stimulus: { open: tag }, when: 0, to: SUPPLY_OPEN },
    { stimulus: { close: tag }, when: SUPPLY_OPEN, to: 0 },
  ],
  kept: () => null,
};
