import { firstLostOf, propertyTitle } from '../proof/index.js';
import { exerciseVersion, type Exercise, type HintDegree } from './exercise.js';
import { addPoints, partOf, sharePoints } from './points.js';
import { MARKER_VERSION, PARTS, type Criterion, type Part, type Report } from './report.js';
import type { Evidence } from './evidence.js';

/** One thing that was judged, before points are shared. */
export interface Judged {
  readonly id: string;
  readonly title: string;
  readonly weight: number;
  readonly broken: Evidence | null;
  readonly kept?: number;
  readonly essential?: boolean;
}

/** What was judged, part by part. */
export type Judgements = Readonly<Record<Part, readonly Judged[]>>;

const mostOf = (marks: Exercise['marks']): number => addPoints(PARTS.map((part) => marks[part]));

/**
 * Every part's marks shared among its criteria. A part that has nothing to judge on this exercise gives its
 * marks to the others in proportion.
 */
export function criteriaOf({ marks }: Exercise, judged: Judgements): Criterion[] {
  const parts = PARTS.filter((part) => judged[part].length > 0);
  const totals = sharePoints(
    mostOf(marks),
    parts.map((part) => marks[part]),
  );
  return parts.flatMap((part, k) => share(part, totals[k]!, judged[part]));
}

function share(part: Part, total: number, judged: readonly Judged[]): Criterion[] {
  const shares = sharePoints(
    total,
    judged.map(({ weight }) => weight),
  );
  return judged.map(({ id, title, broken, kept = 0, essential }, k) => {
    const max = shares[k]!;
    return {
      id,
      part,
      title,
      points: broken ? partOf(max, kept) : max,
      max,
      ...(essential === undefined ? {} : { essential }),
      evidence: broken,
    };
  });
}

/** Score and share: safety, rules and workmanship count at the share that was earned of the behaviour. */
export function resultOf(criteria: readonly Criterion[]): { score: number; share: number } {
  const sum = (of: (criterion: Criterion) => number, test: (criterion: Criterion) => boolean) =>
    addPoints(criteria.filter(test).map(of));
  const isBehaviour = ({ part }: Criterion) => part === 'behaviour';
  const most = sum(({ max }) => max, isBehaviour);
  const earned = sum(({ points }) => points, isBehaviour);
  const others = sum(
    ({ points }) => points,
    (criterion) => !isBehaviour(criterion),
  );
  const part = most > 0 ? earned / most : 1;
  return { score: Math.round((earned + part * others) * 10) / 10, share: Math.round(part * 1e4) / 1e4 };
}

/** What hints cost by what their exercise says; nothing where none was taken. */
function hintsTaken({ hints }: Exercise, taken: readonly HintDegree[]): Report['hints'] {
  if (!hints || taken.length === 0) return undefined;
  return { taken, cost: addPoints(taken.map((degree) => hints[degree])) };
}

/** A result with points taken off, never under nothing. */
export const less = <T extends { readonly score: number }>(result: T, points: number): T => ({
  ...result,
  score: Math.max(0, Math.round((result.score - points) * 10) / 10),
});

/** Points under the pass mark that a mark stays which has not passed. */
const UNDER_PASS = 1;

/** What a mark book takes: the score of what has passed; else at most one point under the pass mark. */
export const recordedOf = ({ score, pass, passed }: Pick<Report, 'score' | 'pass' | 'passed'>): number =>
  passed ? score : Math.min(score, Math.max(0, pass - UNDER_PASS));

/**
 * Whose marks these are, what they add up to, and whether that passes; `against` comes before, or stands
 * for, the usual reasons.
 */
export function markedBy(
  exercise: Exercise,
  criteria: readonly Criterion[],
  properties: Report['properties'],
  against: (usual: string | null) => string | null = (usual) => usual,
  taken: readonly HintDegree[] = [],
) {
  const { pass } = exercise.marks;
  const hints = hintsTaken(exercise, taken);
  const result = less(resultOf(criteria), hints?.cost ?? 0);
  const reason = against(reasonAgainst({ ...result, pass, criteria, properties }));
  const passed = reason === null;
  return {
    contactum: 'report/1',
    exercise: exercise.id,
    exerciseVersion: exerciseVersion(exercise),
    marker: MARKER_VERSION,
    ...result,
    ...(hints ? { hints } : {}),
    recorded: recordedOf({ score: result.score, pass, passed }),
    max: mostOf(exercise.marks),
    pass,
    passed,
    reason,
    criteria,
    properties,
  } as const satisfies Partial<Report>;
}

/**
 * Why an attempt does not pass, in one line: a failed safety property, something essential that is not
 * right, or too few points.
 */
export function reasonAgainst({
  criteria,
  properties,
  score,
  pass,
}: Pick<Report, 'criteria' | 'properties' | 'score' | 'pass'>): string | null {
  const unsafe = firstLostOf(properties.filter(({ lesson }) => !lesson));
  if (unsafe) return `“${propertyTitle(unsafe.id)}” does not hold: ${unsafe.found}`;
  const wrong = criteria.find(({ essential, evidence }) => essential === true && evidence !== null);
  if (wrong) return `“${wrong.title}” is not right: ${wrong.evidence?.found ?? ''}`;
  return score >= pass ? null : `${score} points; ${pass} are needed`;
}
