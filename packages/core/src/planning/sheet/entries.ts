import type { Wire } from '../../bench/index.js';

/** What a meter showed: ohms, or that nothing joins the two. */
export type OhmsRead = number | 'open' | 'closed';

/** Ohms that were read: none where the two are joined, no end to them where nothing joins them. */
export const ohmsOf = (read: OhmsRead): number =>
  read === 'open' ? Number.POSITIVE_INFINITY : read === 'closed' ? 0 : read;

/**
 * What was seen at one row of a functional test: as it should be, or what was seen instead, by what is
 * watched.
 */
export type RowSeen = 'as expected' | Readonly<Record<string, string>>;

/**
 * What was found at a physical board, as it was entered. Everything may be left out: what is not entered
 * was not tested.
 */
export interface SheetEntries {
  /** When the board was begun and when it was done; ISO 8601. */
  readonly begun?: string | undefined;
  readonly ended?: string | undefined;
  /** Isolated, locked off and proved dead before it was touched: who says so. */
  readonly isolatedBy?: string | undefined;
  /** Who gave the permission to energise. */
  readonly permittedBy?: string | undefined;
  readonly incidents?: number | undefined;
  /** By place in the dead-test table. */
  readonly dead: Readonly<Record<string, OhmsRead>>;
  /** By function, by row. */
  readonly functions: Readonly<Record<string, Readonly<Record<string, RowSeen>>>>;
  /** By `TAG.setting`, in its unit. */
  readonly settings: Readonly<Record<string, number>>;
  /** By `part/id`: kept, or broken. */
  readonly checks: Readonly<Record<string, boolean>>;
  readonly remarks?: string | undefined;
  /** The leads as they really lie, where somebody has entered them. */
  readonly asWired?: readonly Wire[] | undefined;
}

export const NOTHING_ENTERED: SheetEntries = { dead: {}, functions: {}, settings: {}, checks: {} };
