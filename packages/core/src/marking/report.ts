import type { Counterexample, Property, Tolerance } from '../proof/index.js';
import type { Incident, Mismatch, Step } from '../simulation/index.js';

export type Part = 'behaviour' | 'safety' | 'rules' | 'workmanship';

/** Why points were lost: what was found, and a script that shows it where one can. */
export interface Evidence {
  readonly found: string;
  /** Shortest steps that show it on a fresh bench; absent where it shows in the wiring itself. */
  readonly steps?: readonly Step[];
  readonly mismatches?: readonly Mismatch[];
  /** Terminals or devices to look at. */
  readonly where?: readonly string[];
}

export interface Criterion {
  readonly id: string;
  readonly part: Part;
  readonly title: string;
  readonly points: number;
  readonly max: number;
  /** Null where nothing was lost. */
  readonly evidence: Evidence | null;
}

export interface ReportIncident extends Incident {
  /** Behaviour during whose trial it happened. */
  readonly behaviour: string;
}

/** What a marking run found. */
export interface Report {
  readonly contactum: 'report/1';
  readonly exercise: string;
  /** Fingerprint of the exercise that was marked by: another one may ask for something else. */
  readonly exerciseVersion: string;
  readonly marker: string;
  readonly score: number;
  readonly max: number;
  /** Score from which a safe attempt passes. */
  readonly pass: number;
  readonly passed: boolean;
  readonly criteria: readonly Criterion[];
  readonly properties: readonly Property[];
  readonly proof: { readonly complete: boolean; readonly states: number; readonly situations: number };
  readonly equivalence: { readonly equivalent: boolean; readonly complete: boolean; readonly pairs: number; readonly counterexample: Counterexample | null };
  readonly incidents: readonly ReportIncident[];
  /** What single faults take from the board's safety; null where it was not asked for or nothing is wired. */
  readonly tolerance: Tolerance | null;
}

/** Version of the marker: a report made by another one may judge otherwise. */
export const MARKER_VERSION = 'contactum-marker/3';
