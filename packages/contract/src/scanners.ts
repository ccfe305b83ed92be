import { z } from 'zod';
import type { BoardReading, TerminalRef } from '@contactum/core';
import { actSchema } from '@contactum/core/documents';
import { terminal } from './requests.js';

/** Scanners of physical boards, which a gateway at the bench connects to the server. */

const name = z.string().trim().min(1, 'must not be empty').max(60);
export const scannerRequest = z.strictObject({ name });

const pair = z.tuple([terminal, terminal]);
const joined = z.array(z.array(terminal).min(2).max(512)).max(256);

/** What a gateway says: nothing but what it has read of its board. */
export const gatewaySays = z.strictObject({
  kind: z.literal('reading'),
  /** Counts what changes; a gateway that starts again goes on with a higher one. */
  number: z.int().min(0),
  serial: z.string().max(32),
  terminals: z.array(terminal).max(512),
  joined,
  doubtful: z
    .array(
      z.strictObject({
        between: pair,
        share: z.number().min(0).max(1),
        kind: z.enum(['flickers', 'one way']),
      }),
    )
    .max(100),
  poor: z.array(pair).max(100),
  /** Faults of the box, in its words; while there is one nothing is read. */
  faults: z.array(z.string().max(200)).max(20),
  /** The permit relay is closed, as the box says. */
  permitClosed: z.boolean(),
  /** The last time that it was asked to read anew, once it has. */
  fresh: z.int().min(0).optional(),
});
export type GatewaySays = z.infer<typeof gatewaySays>;

/**
 * What a gateway is told: whether the permit relay may be closed while its board is as that reading found it, and
 * how often it was asked to read anew; or why what it said was not taken.
 */
export type ToGateway =
  | { readonly kind: 'permit'; readonly reading: number | null; readonly fresh: number }
  | { readonly kind: 'refused'; readonly why: string };

/** A scanner as somebody finds it in a list. */
export interface ScannerBox {
  readonly id: string;
  readonly name: string;
  readonly serial: string | null;
  /** Its gateway is connected now. */
  readonly online: boolean;
  readonly lastSeen: string | null;
  readonly terminals: number;
  /** Who works at its board; the name for instructors alone. */
  readonly usedBy: { readonly attemptId: string; readonly student: string | null } | null;
  readonly faults: readonly string[];
  readonly permit: { readonly isGiven: boolean; readonly isClosed: boolean };
}

/** A scanner that was just made: its token is told once. */
export interface ScannerMade extends ScannerBox {
  readonly token: string;
}

export const connectRequest = z.strictObject({ attemptId: z.uuid() });
/** A reading with devices worked: what a hand has done since the board lay at rest. */
export const workedRequest = z.strictObject({ steps: z.array(actSchema).max(40) });

/** A physical board as it is read now, for who works at it. */
export interface BoardNow {
  readonly online: boolean;
  readonly number: number;
  readonly terminals: readonly TerminalRef[];
  readonly joined: readonly (readonly TerminalRef[])[];
  readonly doubtful: GatewaySays['doubtful'];
  readonly poor: GatewaySays['poor'];
  readonly faults: readonly string[];
  /** Readings with devices worked since a lead was last changed. */
  readonly readings: readonly BoardReading[];
  /** Whether the permit relay was allowed to close, and is closed. */
  readonly permit: { readonly isGiven: boolean; readonly isClosed: boolean };
}
