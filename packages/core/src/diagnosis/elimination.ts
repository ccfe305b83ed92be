import { SearchBench, searchAgain, type SearchAnswer, type SearchEvent } from '../live/index.js';
import type { Bench } from '../bench/index.js';
import { compile } from '../circuit/index.js';
import { possibleFaults, readFault, writeFault, type Fault } from '../faults/index.js';
import type { Candidate } from './table.js';

/** What was seen and answered at one entry of a search. */
interface Seen {
  readonly event: SearchEvent;
  readonly answer: SearchAnswer;
  /** What the board showed before it. */
  readonly before: string;
}

/** A search, and by which of its entries each of some candidates was ruled out. */
export interface Elimination {
  readonly candidates: readonly Candidate[];
  readonly seen: readonly Seen[];
  /**
   * By candidate: twice the place of the entry before which it looks otherwise; one more where it answers
   * otherwise; NEVER where it does neither.
   */
  readonly until: Int32Array;
}

/** A candidate that nothing has ruled out. */
const NEVER = 0x7fffffff;

/** How far two readings of one value may be from each other: this part, and these volts, amperes or ohms. */
const SAME_PART = 0.04;
const SAME_BY = { V: 1.5, A: 0.05, Ω: 0.5 } as const;

/** True where two answers are the same to whoever reads them. */
function isSameAnswer(one: SearchAnswer, other: SearchAnswer): boolean {
  if (one.kind === 'look' && other.kind === 'look') return one.value === other.value;
  if (one.kind !== 'read' || other.kind !== 'read') return one.kind === other.kind;
  const [a, b] = [one.reading, other.reading];
  if (!('value' in a) || !('value' in b)) return JSON.stringify(a) === JSON.stringify(b);
  if (a.value === b.value) return true;
  if (!Number.isFinite(a.value) || !Number.isFinite(b.value)) return false;
  return Math.abs(a.value - b.value) <= SAME_PART * Math.abs(a.value) + SAME_BY[a.unit];
}

/**
 * Everything that could be wrong with a board on which some faults are hidden: as many at once as they are,
 * and coming and going as they do.
 */
export function suspectsBeside(bench: Bench, hidden: readonly Fault[]): Candidate[] {
  const singles = possibleFaults(compile(bench));
  const whens = [...new Map(hidden.map(({ when }) => [JSON.stringify(when ?? null), when])).values()];
  const all = whens.flatMap((when) => singles.map((fault): Fault => (when ? { ...fault, when } : fault)));
  if (hidden.length < 2) return all.map((fault) => [fault]);
  // Of several at once each is searched for as if the others were known.
  return hidden.flatMap((_, k) =>
    all.map((fault): Candidate => [...hidden.filter((__, n) => n !== k), fault]),
  );
}

/**
 * The moment at which the first fault came in by the instructor's hand; the beginning where the board had
 * one then.
 */
function begun(hidden: readonly Fault[], log: readonly SearchEvent[]): number {
  return hidden.length > 0 ? 0 : log.findIndex(({ kind }) => kind === 'inject');
}

/** The faults of a search: those it began with, and those that the instructor put in. */
export function hiddenFaults(faults: readonly Fault[], log: readonly SearchEvent[]): Fault[] {
  return [...faults, ...log.flatMap((event) => (event.kind === 'inject' ? [readFault(event.fault)] : []))];
}

/**
 * Works every candidate through what was really done, until it shows something else; yields the part that
 * is done.
 */
export function* eliminate(
  bench: Bench,
  faults: readonly Fault[],
  log: readonly SearchEvent[],
  candidates: readonly Candidate[] = suspectsBeside(bench, hiddenFaults(faults, log)),
): Generator<number, Elimination> {
  const seen = [...searchAgain(new SearchBench(bench, faults), log)];
  const from = begun(faults, log);
  const until = new Int32Array(candidates.length).fill(NEVER);
  for (const [k, candidate] of candidates.entries()) {
    // A fault that came in later comes in at that moment, whatever it is.
    const own = log.flatMap((event, n): SearchEvent[] => {
      if (event.kind !== 'inject' && event.kind !== 'clear') return [event];
      if (faults.length > 0 || n !== from) return [{ t: event.t, kind: 'look', what: '' }];
      return [{ t: event.t, kind: 'inject', fault: writeFault(candidate[0]!) }];
    });
    const board = new SearchBench(bench, faults.length > 0 ? candidate : []);
    let n = 0;
    for (const { answer, before } of searchAgain(board, own)) {
      const truth = seen[n]!;
      const isHidden = truth.event.kind === 'inject' || truth.event.kind === 'clear';
      const looksAlike = before === truth.before;
      if (!looksAlike || (!isHidden && !isSameAnswer(truth.answer, answer))) {
        until[k] = 2 * n + Number(looksAlike);
        break;
      }
      n += 1;
    }
    yield (k + 1) / candidates.length;
  }
  return { candidates, seen, until };
}

/**
 * Places of the candidates that are still possible when the board has been looked at before an entry; or
 * when that was answered too.
 */
export const possibleAt = ({ until }: Elimination, entry: number, answered = false): number[] =>
  [...until.keys()].filter((k) => until[k]! > 2 * entry + Number(answered));
