import type { Bench, Wire, Wiring } from '../bench/index.js';
import type { RungContact } from '../program/index.js';
import type { Step } from '../simulation/index.js';

/** One change of a wiring. */
export type RepairEdit =
  { readonly remove: Wire } | { readonly add: Wire } | { readonly move: Wire; readonly to: Wire };

/** One change to a contact of a rung. */
export type RungEdit =
  | { readonly rung: number; readonly replace: RungContact; readonly by: RungContact }
  | { readonly rung: number; readonly remove: RungContact }
  /** In series with a contact of its branch, or with everything in the rung. */
  | { readonly rung: number; readonly series: RungContact; readonly to?: RungContact }
  | { readonly rung: number; readonly parallel: RungContact; readonly to: RungContact };

/** Changes of a program that make its board right. */
export interface ProgramRepair {
  /** Designation of the controller. */
  readonly controller: string;
  /** All repairs of the fewest edits that were found; none where nothing was. */
  readonly repairs: readonly (readonly RungEdit[])[];
  /** Every single edit of a contact was tried. */
  readonly singles: boolean;
  /** Every pair of edits in one rung was tried. */
  readonly pairs: boolean;
  readonly tried: number;
}

export interface Repair {
  /** A wiring that passes was found (none was needed where `edits` is empty). */
  readonly found: boolean;
  /** All repairs of the fewest edits; the first is shown first. */
  readonly repairs: readonly (readonly RepairEdit[])[];
  /** More of the same length may exist than are listed. */
  readonly more: boolean;
  /** Edits up to which every repair was looked for. */
  readonly searched: number;
  /** Wirings that were looked at. */
  readonly tried: number;
  /** The search was stopped before it had looked at everything. */
  readonly stopped: boolean;
  /** Changes of the program that would do, where the student writes one and it is not right. */
  readonly program?: ProgramRepair;
}

/** What is to be repaired, and what a right wiring does. */
export interface RepairTask {
  /** The board with the wiring to repair; leads that were fitted stay. */
  readonly bench: Wiring;
  /** The same board rightly wired. */
  readonly reference: Bench;
  readonly behaviours: readonly (readonly Step[])[];
  readonly observe: readonly string[];
  /** The program is the student's: alone, the leads being fitted, or as the leads are. */
  readonly program?: 'alone' | 'too';
}

export interface RepairOptions {
  /** Most edits; 3 by default. */
  readonly most?: number;
  /** Most repairs to list. */
  readonly list?: number;
  /** Called now and then; the search stops when it returns true. */
  readonly stop?: () => boolean;
  /** Told now and then: edits up to which it looks, and wirings that it has looked at. */
  readonly watch?: (progress: { readonly edits: number; readonly tried: number }) => void;
  /** Most wirings to look at. */
  readonly effort?: number;
  /** Most wirings to look at for further repairs once one is found. */
  readonly listing?: number;
}
