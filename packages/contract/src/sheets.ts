import { z } from 'zod';
import type { BenchSheet, SheetEntries } from '@contactum/core';
import { sheetEntriesSchema } from '@contactum/core/documents';

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
  /** Taken although the student has another attempt under way, or none left. */
  anyway: z.boolean().default(false),
});
export type SheetRequest = z.infer<typeof sheetRequest>;

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
  /** Who signs for it: who entered a sheet, changed points or set the exercise. */
  readonly instructor: string;
}

export interface Logbook {
  readonly student: { readonly id: string; readonly name: string };
  readonly lines: readonly LogbookLine[];
}
