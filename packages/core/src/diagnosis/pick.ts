import { seededNumbers } from '../random/index.js';
import type { Fault, FaultKind } from '../faults/index.js';
import { isSamePlace } from '../live/index.js';
import type { FaultEffect } from './effects.js';
import { REPORTED_SYMPTOMS, type ReportedSymptom } from './reported-symptoms.js';

/** How hard a search is meant to be: from one plain fault to one that comes and goes. */
export const DEGREES = [1, 2, 3, 4, 5] as const;
export type Degree = (typeof DEGREES)[number];

export const DEGREE_WORDS: Readonly<Record<Degree, string>> = {
  1: 'one obvious fault',
  2: 'one fault, more readings',
  3: 'a setting, a loose joint or a stuck contact',
  4: 'two faults at once',
  5: 'an intermittent fault',
};

/** Faults that a first search may have: something is simply broken. */
const PLAIN: readonly FaultKind[] = [
  'open-wire',
  'coil-open',
  'contact-stuck-open',
  'blown-fuse',
  'lamp-failed',
  'timer-dead',
  'lost-phase',
];
/** Faults in which nothing is simply broken. */
const MEAN: readonly FaultKind[] = [
  'loose-wire',
  'contact-stuck-closed',
  'armature-jammed',
  'timer-misset',
  'overload-will-not-reset',
  'winding-open',
  'wrong-coil-voltage',
  'wrong-tap',
  'open-neutral',
];
/** Faults that may come and go. */
const FITFUL: readonly FaultKind[] = ['open-wire', 'contact-stuck-open', 'coil-open'];

/** Faults that were picked, and what an operator says of them. */
export interface Picked {
  readonly faults: readonly Fault[];
  readonly complaint: string;
  readonly minutes: number;
}

/** What is said where nothing stands out. */
const VAGUE = 'It does not do everything that it did.';

/** What an operator says of a board with these faults. */
export function complaintOf(
  effects: readonly Pick<FaultEffect, 'reportedSymptoms'>[],
  comesAndGoes = false,
): string {
  // What the machine does is said before what its lamps do.
  const first = (reportedSymptoms: readonly ReportedSymptom[]) =>
    reportedSymptoms.find((reportedSymptom) => !reportedSymptom.startsWith('lamp')) ??
    reportedSymptoms[0] ??
    [];
  const reportedSymptoms = [...new Set(effects.flatMap(({ reportedSymptoms: all }) => first(all)))];
  // What only shows in one order of working has no words of its own.
  const said =
    reportedSymptoms.map((reportedSymptom) => REPORTED_SYMPTOMS[reportedSymptom]).join(' ') || VAGUE;
  return comesAndGoes ? `Not every time, but again and again: ${said}` : said;
}

/**
 * Picks faults of a degree among those of a board, the same for the same seed; null where the board has
 * none of it.
 */
export function pickFaults(effects: readonly FaultEffect[], degree: Degree, seed: number): Picked | null {
  const random = seededNumbers(seed * 31 + degree);
  const shown = effects.filter(({ symptoms }) => symptoms.length > 0);
  const of = (kinds: readonly FaultKind[]) => shown.filter(({ fault }) => kinds.includes(fault.kind));
  const one = <T>(list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)];
  const plain = of(PLAIN);
  const middle =
    [...plain].sort((a, b) => a.readings - b.readings)[Math.floor(plain.length / 2)]?.readings ?? 0;
  const single = (list: readonly FaultEffect[], minutes: number): Picked | null => {
    const found = one(list) ?? one(plain);
    return found ? { faults: [found.fault], complaint: complaintOf([found]), minutes } : null;
  };
  switch (degree) {
    case 1:
      return single(
        plain.filter(({ readings }) => readings <= middle),
        15,
      );
    case 2:
      return single(
        plain.filter(({ readings }) => readings > middle),
        20,
      );
    case 3:
      return single(of(MEAN), 25);
    case 4: {
      const first = one(plain);
      const second = first && one(plain.filter(({ fault }) => !isSamePlace(fault, first.fault)));
      if (!first || !second) return null;
      return { faults: [first.fault, second.fault], complaint: complaintOf([first, second]), minutes: 35 };
    }
    case 5: {
      const found = one(of(FITFUL));
      if (!found) return null;
      const when = random() < 0.5 ? { every: 2 + Math.floor(random() * 2) } : { from: 5, to: 8, period: 12 };
      return { faults: [{ ...found.fault, when }], complaint: complaintOf([found], true), minutes: 35 };
    }
  }
}
