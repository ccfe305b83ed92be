import {
  ARRIVING,
  INTACT,
  LETTING_GO,
  OPERATED,
  REST,
  RETURNING,
  SUPPLY_OPEN,
  SUPPLY_TRIPPED,
  TIMER_PAUSE,
  TRIPPED,
} from '../catalogue/index.js';
import type { Mechanism, Stimulus } from '../circuit/index.js';
import { TRAVEL, TRAVEL_SPREAD } from '../tolerances.js';

/** Order of arrival that a stimulus names, what it is made of included. */
export const orderOf = (stimulus: Stimulus): readonly string[] => [
  ...(stimulus.first ?? []),
  ...('together' in stimulus ? stimulus.together.flatMap(orderOf) : []),
];

/**
 * What a device's own travel is, per unit of its kind's: no two are alike. Multiples of the golden ratio fall as far apart
 * as can be (Knuth, TAOCP 3, 6.4, from memory).
 */
const ownTravel = ({ index }: Mechanism): number => 1 + TRAVEL_SPREAD * (((index * GOLDEN_RATIO) % 1) - 0.5);
const GOLDEN_RATIO = (Math.sqrt(5) - 1) / 2;

/** Seconds until a mechanism that has just begun a move arrives; a reversed move has only the way back before it. */
export function travelTime(mechanism: Mechanism, now: number, before: number, left: number): number {
  const own = ownTravel(mechanism);
  switch (mechanism.kind) {
    case 'armature': {
      const [pullIn, dropTravel] = [own * TRAVEL.pullIn, own * TRAVEL.dropTravel];
      if (now === LETTING_GO) return own * TRAVEL.dropLag;
      if (now === ARRIVING)
        return before === RETURNING
          ? Math.max(pullIn * (1 - left / dropTravel), own * TRAVEL.leastPullIn)
          : pullIn;
      return before === ARRIVING
        ? Math.max(dropTravel * (1 - left / pullIn), own * TRAVEL.leastFall)
        : dropTravel;
    }
    case 'selector':
      return own * TRAVEL.selector;
    case 'trip':
      return own * TRAVEL.trip;
    case 'timer':
      return Math.max(
        own * TRAVEL.timerContact,
        now === TIMER_PAUSE && mechanism.device.type === 'star-delta-timer'
          ? mechanism.device.options.pause
          : 0,
      );
    default:
      return own * TRAVEL.plunger;
  }
}

const TIMER_NAMES = ['idle', 'timing', 'done', 'timing', 'idle', 'timing'];

/** What a mechanism is doing, in the words of the script format; null while it is between two states. */
export function stateName({ kind, device, positions }: Mechanism, state: number): string | null {
  switch (kind) {
    case 'armature':
      return state === OPERATED || state === LETTING_GO ? 'in' : 'out';
    case 'timer':
      return TIMER_NAMES[state] ?? 'idle';
    case 'plunger':
    case 'latch':
      return state === OPERATED
        ? 'pressed'
        : state === REST
          ? 'released'
          : state === ARRIVING
            ? 'released'
            : 'pressed';
    case 'trip':
      return state === OPERATED ? 'tripped' : state === RETURNING ? 'tripped' : 'healthy';
    case 'selector':
      return positions?.[state] ?? null;
    case 'switchgear':
      return state === TRIPPED
        ? device.type === 'fuse'
          ? 'blown'
          : 'tripped'
        : state === REST
          ? 'closed'
          : 'open';
    case 'supply':
      return (state & SUPPLY_TRIPPED) !== 0 ? 'tripped' : (state & SUPPLY_OPEN) !== 0 ? 'open' : 'closed';
    case 'filament':
      return state === INTACT ? null : 'burnt';
  }
}
