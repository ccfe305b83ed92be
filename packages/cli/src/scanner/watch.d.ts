import { type Pass, type TerminalRef } from '@contactum/core';
/** A joint that came or went, by one terminal of each net. */
export interface Change {
  readonly kind: 'joined' | 'parted';
  readonly between: readonly [TerminalRef, TerminalRef];
}
/** Tells what changes on a board after it was scanned, pass by pass. */
export declare class Watch {
  private readonly names;
  private readonly count;
  private known;
  /** By pair, lower number first: for how many passes it was otherwise than known. */
  private readonly otherwise;
  constructor(names: readonly TerminalRef[], joined: readonly (readonly TerminalRef[])[]);
  private pairs;
  /** What is joined now, as far as it is sure. */
  get joined(): readonly (readonly TerminalRef[])[];
  /** What has changed for sure with one more pass. */
  take(pass: Pass): Change[];
  private changes;
}
