import type { ProtectionSpec } from '../catalogue/index.js';
import {
  OVERLOAD_RESET_HEAT,
  PHASE_LOSS_LEAST,
  PHASE_LOSS_QUICKER,
  PHASE_LOSS_RATIO,
  PROTECTION_FELT,
} from '../tolerances.js';
import { heatAfter, heaterTimeConstant, secondsToTrip } from './overload-relay.js';
import {
  BIMETAL_SECONDS,
  FUSE_COOLS,
  breakerClearing,
  breakerHeatAfter,
  fuseClearing,
  fuseWearAfter,
} from './protection.js';

type Curve = ProtectionSpec['curve'];
type SpecOf<C extends Curve> = Extract<ProtectionSpec, { readonly curve: C }>;

/**
 * How the heat of one kind of protection rises and what it releases by. Heat is per unit of release,
 * currents in amperes a pole.
 */
interface Release<C extends Curve> {
  /** Seconds in which it forgets 63 % of its heat. */
  readonly timeConstant: (spec: SpecOf<C>) => number;
  /**
   * Seconds until a pole releases at a steady current; Infinity where it never does. All poles' currents
   * are given.
   */
  readonly secondsLeft: (spec: SpecOf<C>, heat: number, amps: number, all: readonly number[]) => number;
  readonly heatAfter: (
    spec: SpecOf<C>,
    heat: number,
    amps: number,
    all: readonly number[],
    seconds: number,
  ) => number;
  /** Amperes below which a cold one feels nothing. */
  readonly leastFelt: (spec: SpecOf<C>) => number;
  /** A new one takes its place when it is reset. */
  readonly isRenewed: boolean;
}

/**
 * A phase-loss sensitive relay trips lower when one pole is without current ([S] IEC 60947-4-1, from
 * memory: 1.15 times).
 */
function effectiveDial({ dial, phaseLossSensitive }: SpecOf<'overload'>, amps: readonly number[]): number {
  if (!phaseLossSensitive) return dial;
  const [low = 0, , high = 0] = [...amps].sort((a, b) => a - b);
  return high > PHASE_LOSS_LEAST * dial && low < PHASE_LOSS_RATIO * high ? dial / PHASE_LOSS_QUICKER : dial;
}

const RELEASES: { readonly [C in Curve]: Release<C> } = {
  overload: {
    timeConstant: (spec) => heaterTimeConstant(spec.class),
    secondsLeft: (spec, heat, amps, all) => secondsToTrip(heat, amps, effectiveDial(spec, all), spec.class),
    heatAfter: (spec, heat, amps, all, seconds) =>
      heatAfter(heat, amps, effectiveDial(spec, all), spec.class, seconds),
    leastFelt: () => 0,
    isRenewed: false,
  },
  breaker: {
    timeConstant: () => BIMETAL_SECONDS,
    secondsLeft: ({ rating, band }, heat, amps) => breakerClearing(rating, band, amps, heat),
    heatAfter: ({ rating }, heat, amps, _, seconds) => breakerHeatAfter(heat, rating, amps, seconds),
    leastFelt: ({ rating }) => rating * PROTECTION_FELT,
    isRenewed: false,
  },
  fuse: {
    timeConstant: () => FUSE_COOLS,
    secondsLeft: (spec, heat, amps) => Math.max(0, 1 - heat) * fuseClearing(spec.rating, spec.class, amps),
    heatAfter: (spec, heat, amps, _, seconds) => fuseWearAfter(heat, spec.rating, spec.class, amps, seconds),
    leastFelt: ({ rating }) => rating * PROTECTION_FELT,
    isRenewed: true,
  },
};

/** The table's entry for a protection; the curve of the one is the curve of the other. */
const releaseOf = ({ curve }: ProtectionSpec): Release<Curve> => RELEASES[curve] as unknown as Release<Curve>;

/** Seconds in which a protection forgets 63 % of its heat. */
export const coolingConstant = (spec: ProtectionSpec): number => releaseOf(spec).timeConstant(spec);

/**
 * Seconds until any pole releases at steady currents, from the heat that each has; Infinity where none
 * does.
 */
export const secondsToRelease = (
  spec: ProtectionSpec,
  heat: readonly number[],
  amps: readonly number[],
): number =>
  Math.min(...heat.map((one, pole) => releaseOf(spec).secondsLeft(spec, one, amps[pole] ?? 0, amps)));

/** Heat of a pole after some seconds at steady currents. */
export const heatLater = (
  spec: ProtectionSpec,
  heat: number,
  pole: number,
  amps: readonly number[],
  seconds: number,
): number => releaseOf(spec).heatAfter(spec, heat, amps[pole] ?? 0, amps, seconds);

export const leastFelt = (spec: ProtectionSpec): number => releaseOf(spec).leastFelt(spec);

export const isRenewed = (spec: ProtectionSpec): boolean => releaseOf(spec).isRenewed;

/**
 * Seconds until a cold fuse or breaker opens at a steady fault current; Infinity for what opens no pole of
 * its own.
 */
export const clearingSeconds = (spec: ProtectionSpec | undefined, amps: number): number =>
  spec === undefined || spec.curve === 'overload'
    ? Number.POSITIVE_INFINITY
    : secondsToRelease(spec, [0], [amps]);

/** Seconds in which a tripped relay has cooled so far that it resets by itself. */
export const secondsToReset = (spec: ProtectionSpec, heat: readonly number[]): number => {
  const hottest = Math.max(...heat);
  return hottest <= OVERLOAD_RESET_HEAT ? 0 : coolingConstant(spec) * Math.log(hottest / OVERLOAD_RESET_HEAT);
};
