import {
  Solver,
  compareCircuits,
  compile,
  proveCircuit,
  type Bench,
  type Comparison,
  type Hands,
  type Proof,
  type Stimulus,
} from '@contactum/core';
import { alikeBoard, groupedBoard, miswired } from './groups.js';

/** Most situations of the whole board up to which it is searched at once. */
const MOST = 60_000;

/**
 * What a person does of a sequence: settings and faults that are put in so that it shows in time do not
 * count.
 */
const done = (trace: readonly Stimulus[]): number =>
  trace.filter((one) => !('set' in one || 'inject' in one || 'clear' in one)).length;

/** What a proof by parts says otherwise than the search through the whole board. */
function unlike(parted: Proof, whole: Proof): string[] {
  return whole.properties.flatMap((property, k): string[] => {
    const other = parted.properties[k]!;
    const [one, two] = [property, other].map(({ id, holds, tested }) => `${id} ${holds} ${tested}`);
    if (one !== two) return [`${two} by parts, ${one} on the whole: ${other.found || property.found}`];
    const [here, there] = [done(other.trace), done(property.trace)];
    return here === there ? [] : [`${property.id} by ${here} stimuli, on the whole by ${there}`];
  });
}

export interface PartsResult {
  readonly parts: number;
  /** Parts for which the search of another stood. */
  readonly alike?: number;
  readonly skipped: boolean;
  readonly findings: readonly string[];
}

/** Proves a board of groups by parts and at once. */
export function partsOf(
  seed: number,
  hands: Hands = seed % 3 === 0 ? 'switchgear too' : 'controls',
): PartsResult {
  return asOneToo(groupedBoard(seed), seed, hands);
}

/** The same of a board whose groups are alike, or nearly. */
export function alikeOf(
  seed: number,
  hands: Hands = seed % 3 === 0 ? 'switchgear too' : 'controls',
): PartsResult {
  return asOneToo(alikeBoard(seed), seed, hands);
}

function asOneToo(bench: Bench | null, seed: number, hands: Hands): PartsResult {
  if (!bench) return { parts: 0, skipped: true, findings: [] };
  const prove = (asOne: boolean) =>
    proveCircuit(new Solver(compile(bench)), { hands, asOne, maxSituations: MOST });
  const whole = prove(true);
  if (!whole.complete) return { parts: 0, skipped: true, findings: [] };
  const parted = prove(false);
  return {
    parts: parted.parts?.length ?? 1,
    alike: parted.parts?.filter(({ isLikeAnother }) => isLikeAnother).length ?? 0,
    skipped: false,
    findings: unlike(parted, whole).map((text) => `seed ${seed}: ${text}`),
  };
}

/** Compares a board of groups with the same wired wrongly, by parts and at once. */
export function partsCompared(seed: number): PartsResult {
  const board = groupedBoard(seed, seed % 4 === 0 ? 3 : 0);
  const wrong = board && miswired(board, seed);
  if (!wrong) return { parts: 0, skipped: true, findings: [] };
  const compare = (asOne: boolean) =>
    compareCircuits(new Solver(compile(board)), new Solver(compile(wrong)), { asOne, maxPairs: MOST });
  const whole = compare(true);
  if (!whole.complete) return { parts: 0, skipped: true, findings: [] };
  const parted = compare(false);
  const said = ({ equivalent, complete, counterexample }: Comparison) =>
    `${equivalent} ${complete} after ${counterexample ? done(counterexample.steps) : 'nothing'}`;
  const [one, other] = [said(parted), said(whole)];
  return {
    parts: whole.pairs > parted.pairs ? 2 : 1,
    skipped: false,
    findings: one === other ? [] : [`seed ${seed}: compared by parts ${one}, on the whole ${other}`],
  };
}
