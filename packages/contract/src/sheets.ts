import { z } from 'zod';
import type { BenchSheet, SheetEntries } from '@contactum/core';
import { sheetEntriesSchema } from '@contactum/core/documents';
import type { AttemptState } from './responses.js';

/** Physical boards: what is taken to the bench, and what comes back from it. */

/** Largest photograph, characters of base64: about 300 kB. */
const PHOTO = 420_000;

export const sheetRequest = z.strictObject({
  id: z.uuid(),
  studentId: z.uuid(),
  entries: sheetEntriesSchema,
  photo: z
    .strictObject({
      type: z.enum(['image/jpeg', 'image/png', 'image/webp']),
      base64: z.base64().max(PHOTO),
    })
    .nullable()
    .default(null),
  /** What the device's own clock says at the moment of sending, so that its times can be set right. */
  clock: z.iso.datetime().optional(),
  /** Taken although the student has another attempt under way, or none left. */
  anyway: z.boolean().default(false),
});
export type SheetRequest = z.infer<typeof sheetRequest>;

/**
 * An instructor stands for a sheet that a student has entered, and says whether they gave the permission to
 * energise.
 */
export const confirmRequest = z.strictObject({ permitted: z.boolean() });
export type ConfirmRequest = z.infer<typeof confirmRequest>;

/** A student's sheet that no instructor has confirmed. */
export interface SheetWaiting {
  readonly attemptId: string;
  readonly student: string;
  readonly exercise: string;
  readonly className: string;
  readonly sentAt: string;
  readonly state: AttemptState;
}

/** What is taken to the bench: the sheet of a setting, and for whom. */
export interface SheetToTake {
  readonly settingId: string;
  readonly className: string;
  readonly exerciseId: string;
  readonly version: string;
  readonly sheet: BenchSheet;
  /** Terminals of the board, by device, for the list of leads as they lie. */
  readonly terminals: readonly string[];
  readonly students: readonly { readonly id: string; readonly name: string }[];
  readonly takenAt: string;
}

/** What became of a sheet that was sent. */
export interface SheetTaken {
  readonly id: string;
  readonly attemptId: string;
  readonly number: number;
}

/** A sheet as it was entered, beside its slip. */
export interface SheetView {
  readonly entries: SheetEntries;
  readonly enteredBy: string;
  readonly sentAt: string;
  /** Who stands for it; nobody before an instructor has confirmed a student's sheet. */
  readonly confirmedBy: string;
  readonly confirmedAt: string | null;
  /** Seconds that the device's clock was behind the server's; null where it did not say. */
  readonly clockBehind: number | null;
  readonly photo: string | null;
}

/** A line of a student's practical record. */
export interface LogbookLine {
  readonly attemptId: string;
  readonly exercise: string;
  readonly className: string;
  readonly term: string;
  readonly board: string;
  /** On the screen, or at a physical board. */
  readonly place: 'screen' | 'bench';
  readonly date: string;
  readonly hours: number;
  /** The points that are recorded. */
  readonly recorded: number | null;
  readonly max: number | null;
  readonly passed: boolean | null;
  /** Who signs for it: who confirmed a sheet, changed points or set the exercise. */
  readonly instructor: string;
}

export interface Logbook {
  readonly student: { readonly id: string; readonly name: string };
  readonly lines: readonly LogbookLine[];
}
