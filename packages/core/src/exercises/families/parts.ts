import type { Rules, Survival } from '../../marking/index.js';

/** Leads and sequences that the families share. */

/** From the supply through breaker, contactor and overload relay. */
export const LINE = 'power: G1 L1 L2 L3 > Q1 1 3 5; Q1 2 4 6 > KM1 1 3 5; KM1 2 4 6 > F2 1 3 5';

/** A motor of three leads behind them. */
export const DIRECT = `${LINE}; F2 2 4 6 > M1 U V W`;

export const FRAME = 'earth: G1 PE > M1 PE';

/** Fused control circuit with the overload's contact in front of Stop. */
export const GUARDED_FEED = '{feed}\ncontrol: F1 2 > F2 95; F2 96 > S1 21';

/** What every house asks (common practice, no source). */
export const BASIC_RULES: Rules = {
  overloadPosition: 'either',
  coilReturnUnswitched: true,
  fusedControl: true,
  contactDuty: true,
  controlIsolated: true,
  overloadReset: 'manual',
  earthBonded: true,
  maxWiresPerTerminal: 2,
};

export const STARTER_RULES: Rules = {
  ...BASIC_RULES,
  stopUpstream: true,
  noPoleSealing: true,
  overloadDial: true,
};

/** The armature of a contactor sticks in: what must not come of it. */
export const sticksIn = (tag: string, says: string): Survival => ({
  fault: { 'armature-jammed': tag, position: 'in' },
  title: `${tag} sticks in: ${says}`,
  points: 3,
});

/** A pole of a contactor is welded: what must not come of it. */
export const weldedPole = (tag: string, says: string): Survival => ({
  fault: { 'contact-stuck-closed': `${tag}:1-2` },
  title: `A pole of ${tag} is welded: ${says}`,
  points: 3,
});

/** One contactor and its motor. */
export const OFF = 'KM1 out, M1.driven none';
export const RUNS = 'KM1 in, M1.driven forward';
export const start = (by: string): string => `press ${by}; KM1 in; release ${by}; ${RUNS}`;
export const stop = (by: string): string => `press ${by}; KM1 out; release ${by}; ${OFF}`;
export const tap = (by: string): string => `press ${by}; release ${by}`;

/** Running, tripped, not to be started, reset, and started again. */
export const overload = (again: string): string =>
  `${start('S2')}; trip F2; F2 tripped, ${OFF}; ${tap(again)}; ${OFF}; reset F2; F2 healthy, ${OFF}; ${tap(again)}; KM1 in`;

/** Running, the supply gone and back, and started again. */
export const supplyLoss = (first: string): string =>
  `${start(first)}; open G1; ${OFF}; close G1; ${OFF}; ${tap('S2')}; KM1 in`;
