import type { Evidence } from './evidence.js';
import type { Counterexample, Property, Tolerance, Tried } from '../proof/index.js';
import type { SearchFindings } from './search/findings.js';
import type { HintDegree } from './exercise.js';
import type { Incident } from '../simulation/index.js';

export const PARTS = ['behaviour', 'safety', 'rules', 'workmanship'] as const;
export type Part = (typeof PARTS)[number];

export interface Criterion {
  readonly id: string;
  readonly part: Part;
  readonly title: string;
  readonly points: number;
  readonly max: number;
  /** An attempt does not pass without it. */
  readonly essential?: boolean;
  /** Null where nothing was lost. */
  readonly evidence: Evidence | null;
}

export interface ReportIncident extends Incident {
  /** Behaviour during whose trial it happened. */
  readonly behaviour: string;
}

/** A property as it is reported; one whose failure is the exercise's lesson costs nothing. */
export interface ReportProperty extends Property {
  readonly lesson?: true;
}

/** What was found on a physical board beside its marks. */
export interface PhysicalFindings {
  /**
   * Everything that was entered and is not what a right board shows: its place on the sheet, and what was
   * found.
   */
  readonly deviations: readonly { readonly place: string; readonly found: string }[];
  /** Where the wiring that was entered and what was read on the board cannot both be true. */
  readonly contradictions: readonly {
    readonly place: string;
    readonly entered: string;
    readonly simulated: string;
  }[];
  /** What explains everything that was entered, wiring mistakes first; none where nothing was wrong. */
  readonly suspects: readonly string[];
  /** The reading that tells most of what is left apart. */
  readonly next: string | null;
  /** How many of the readings, rows and checks of the sheet were made. */
  readonly made: number;
  readonly of: number;
  /** Whether safety, rules and workmanship were judged on the wiring that was entered. */
  readonly wiringEntered: boolean;
  readonly remarks: string;
}

/** What a marking run found. */
export interface Report {
  readonly contactum: 'report/1';
  readonly exercise: string;
  /** Fingerprint of the exercise that was marked by: another one may ask for something else. */
  readonly exerciseVersion: string;
  readonly marker: string;
  /** What was earned. */
  readonly score: number;
  /**
   * What mark books, certificates and statistics take: the score where it has passed, else at most one
   * point under the pass mark.
   */
  readonly recorded: number;
  /** The sum of the exercise's four marks. */
  readonly max: number;
  /** Hints that were taken, and what they cost: taken off the score. */
  readonly hints?: { readonly taken: readonly HintDegree[]; readonly cost: number };
  /** Part of the behaviour's points that was earned, 0 to 1: safety, rules and workmanship count at it. */
  readonly share: number;
  /** Why it is not passed, in one line; null where it is. */
  readonly reason: string | null;
  /** Score from which a safe attempt passes. */
  readonly pass: number;
  readonly passed: boolean;
  readonly criteria: readonly Criterion[];
  readonly properties: readonly ReportProperty[];
  readonly proof: Tried;
  readonly equivalence: {
    readonly equivalent: boolean;
    readonly complete: boolean;
    readonly pairs: number;
    readonly counterexample: Counterexample | null;
  };
  readonly incidents: readonly ReportIncident[];
  /** What single faults take from the board's safety; null where it was not asked for or nothing is wired. */
  readonly tolerance: Tolerance | null;
  /** Of a search for faults: what was done, and what was known at each moment. */
  readonly search?: SearchFindings;
  /** Of a physical board: marked by what was entered at it. */
  readonly physical?: PhysicalFindings;
}

/** Version of the marker: a report made by another one may judge otherwise. */
export const MARKER_VERSION = 'contactum-marker/6';
