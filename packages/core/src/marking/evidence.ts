import type { Mismatch, Step } from '../simulation/index.js';

/** One wrong thing of several in an answer, and a script that shows it. */
export interface EvidenceCell {
  readonly what: string;
  readonly answered: string;
  readonly right: string;
  readonly steps: readonly Step[];
}

/** Why points were lost: what was found, and a script that shows it where one can. */
export interface Evidence {
  readonly found: string;
  /** Shortest steps that show it on a fresh bench; absent where it shows in the wiring itself. */
  readonly steps?: readonly Step[];
  /** The same with another order of arrival, which ends otherwise. */
  readonly otherwise?: readonly Step[];
  /** Each wrong cell of an answer that has several. */
  readonly cells?: readonly EvidenceCell[];
  readonly mismatches?: readonly Mismatch[];
  /** What holds each device that is not as expected, or what keeps it out, at the end of the steps. */
  readonly why?: readonly string[];
  /** Terminals or devices to look at. */
  readonly where?: readonly string[];
}
