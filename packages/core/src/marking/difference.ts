import type { Part, Report } from './report.js';

/**
 * A criterion that two markings of one attempt judge differently; null points where one of them does not
 * have it.
 */
export interface CriterionDifference {
  readonly part: Part;
  readonly id: string;
  readonly title: string;
  readonly before: number | null;
  readonly after: number | null;
}

export interface ReportDifference {
  readonly criteria: readonly CriterionDifference[];
  readonly score: { readonly before: number; readonly after: number };
  readonly passed: { readonly before: boolean; readonly after: boolean };
  /** The exercise asked for something else, or the marker was another one. */
  readonly exerciseChanged: boolean;
  readonly markerChanged: boolean;
}

/** What changed between two markings of one attempt. */
export function reportDifference(before: Report, after: Report): ReportDifference {
  const key = ({ part, id }: { part: Part; id: string }) => `${part} ${id}`;
  const earlier = new Map(before.criteria.map((criterion) => [key(criterion), criterion]));
  const later = new Map(after.criteria.map((criterion) => [key(criterion), criterion]));
  const all = [...after.criteria, ...before.criteria.filter((criterion) => !later.has(key(criterion)))];
  const criteria = all.map(({ part, id, title }): CriterionDifference => ({
    part,
    id,
    title,
    before: earlier.get(key({ part, id }))?.points ?? null,
    after: later.get(key({ part, id }))?.points ?? null,
  }));
  return {
    criteria: criteria.filter((one) => one.before !== one.after),
    score: { before: before.score, after: after.score },
    passed: { before: before.passed, after: after.passed },
    exerciseChanged: before.exerciseVersion !== after.exerciseVersion,
    markerChanged: before.marker !== after.marker,
  };
}
