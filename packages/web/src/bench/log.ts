import {
  applyEdit,
  foldEdits,
  invertEdit,
  leadNumber,
  noteHeld,
  openingBoard,
  type Edit,
  type AttemptEntry,
} from '@contactum/core';
import type { AttemptView, LogEntryRequest } from '@contactum/contract';

/** What a log tells a page that opens it. */

export interface ReadingTaken {
  readonly between: readonly [string, string];
  readonly held: readonly string[];
}

export const editsIn = (requests: readonly { readonly entry: AttemptEntry }[]): Edit[] =>
  requests.flatMap(({ entry }) => (entry.kind === 'edit' ? [entry.edit] : []));

/** The highest number of a lead that was ever laid. */
export const lastLaid = (edits: readonly Edit[]): number =>
  Math.max(0, ...edits.map((edit) => (edit.do === 'connect' ? leadNumber(edit.lead) : 0)));

/**
 * Entries that were kept because the server had not acknowledged them: those that still follow what it has,
 * and how many do not fit any more.
 */
export function unsentOf(
  view: AttemptView,
  text: string | null,
): { requests: LogEntryRequest[]; lost: number } {
  let kept: LogEntryRequest[];
  try {
    kept = text === null ? [] : (JSON.parse(text) as LogEntryRequest[]);
  } catch {
    return { requests: [], lost: 0 };
  }
  let bench = foldEdits(openingBoard(view.exercise), editsIn(view.log));
  let last = view.log.at(-1)?.seq ?? 0;
  const requests: LogEntryRequest[] = [];
  // What was stored although its answer was lost is on the server already.
  const waiting = kept.filter(({ seq }) => seq > last);
  const isWhole = ({ entry }: LogEntryRequest): boolean =>
    entry.kind !== 'edit' ||
    entry.edit.do === 'set' ||
    entry.edit.do === 'program' ||
    typeof entry.edit.lead === 'string';
  for (const request of waiting) {
    const { seq, entry } = request;
    // A page of another version has kept it.
    if (!isWhole(request)) break;
    const applied = entry.kind === 'edit' ? applyEdit(bench, entry.edit) : null;
    if (seq !== last + 1 || applied?.ok === false) break;
    if (applied?.ok) bench = applied.bench;
    requests.push(request);
    last = seq;
  }
  return { requests, lost: waiting.length - requests.length };
}

/** What a log leaves on the board as it is wired: the buttons that are held, and the readings taken. */
export function workedSoFar(requests: readonly LogEntryRequest[]): {
  held: Set<string>;
  readings: ReadingTaken[];
} {
  const held = new Set<string>();
  let readings: ReadingTaken[] = [];
  for (const { entry } of requests) {
    if (entry.kind === 'edit') {
      held.clear();
      readings = [];
    } else if (entry.kind === 'act') noteHeld(held, entry.stimulus);
    else if (entry.kind === 'reading') readings.push(readingOf(entry.from, entry.to, held));
  }
  return { held, readings };
}

export const readingOf = (from: string, to: string, held: ReadonlySet<string>): ReadingTaken => ({
  between: [from, to],
  held: [...held].sort(),
});

/** Undo and redo as they stood: an entry that takes back the one before it was an undo. */
export function history(edits: readonly Edit[]): { undo: Edit[]; redo: Edit[] } {
  const undo: Edit[] = [];
  let redo: Edit[] = [];
  for (const edit of edits) {
    const top = undo.at(-1);
    const next = redo.at(-1);
    if (top && sameEdit(edit, invertEdit(top))) redo.push(undo.pop() as Edit);
    else if (next && sameEdit(edit, next)) undo.push(redo.pop() as Edit);
    else {
      undo.push(edit);
      redo = [];
    }
  }
  return { undo, redo };
}

const sameEdit = (a: Edit, b: Edit): boolean => JSON.stringify(a, sorted) === JSON.stringify(b, sorted);
const sorted = (_key: string, value: unknown): unknown =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
    ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
    : value;
