import { createStore } from 'zustand/vanilla';
import {
  applyEdit,
  foldEdits,
  invertEdit,
  noteHeld,
  type Bench,
  type Edit,
  type Stimulus,
  type TerminalRef,
  type Wire,
} from '@contactum/core';
import type { AttemptView, LogEntryRequest } from '@contactum/contract';
import { ApiError, ask } from '../api/client.js';

/** What a student does to one board: the wiring, what is selected, and what is stored of it. */
export interface BenchState {
  readonly bench: Bench;
  /** The first wires were fitted by the instructor. */
  readonly locked: number;
  readonly undo: readonly Edit[];
  readonly redo: readonly Edit[];
  /** Terminal from which a lead is being laid. */
  readonly from: TerminalRef | null;
  readonly selected: number | null;
  /** A lead's end that has been taken off its terminal and not put down yet. */
  readonly moving: { readonly index: number; readonly end: 'from' | 'to' } | null;
  /** Terminal that the keyboard stands on. */
  readonly cursor: TerminalRef | null;
  readonly colour: string;
  readonly message: { readonly kind: 'info' | 'wrong'; readonly text: string } | null;
  /** Readings taken since the wiring was last changed, with the buttons that were held. */
  readonly readings: readonly ReadingTaken[];
  /** Number of the entry that last changed the wiring; what was permitted before does not hold any more. */
  readonly editedSeq: number;
  /** Entries not yet acknowledged by the server. */
  readonly unsaved: number;
  readonly saveError: string | null;
  /** The session is over: nothing can be sent until somebody signs in. */
  readonly signedOut: boolean;
  /** The log on the server is another one than ours: this page must be opened again. */
  readonly stale: boolean;
  /** Another tab works on this board; this one shows it. */
  readonly following: boolean;
}

export interface ReadingTaken {
  readonly between: readonly [string, string];
  readonly held: readonly string[];
}

export interface BenchActions {
  readonly connect: (from: TerminalRef, to: TerminalRef) => void;
  readonly cut: (index: number) => void;
  readonly moveEnd: (index: number, end: 'from' | 'to', to: TerminalRef) => void;
  readonly recolour: (index: number, colour: string) => void;
  readonly set: (device: string, setting: string, to: number) => void;
  readonly undo: () => void;
  readonly redo: () => void;
  /** Notes in the log that the supply was switched. */
  readonly noteSupply: (on: boolean) => void;
  /** Notes in the log what was worked by hand, and a reading of the ohmmeter. */
  readonly noteAct: (stimulus: Stimulus) => void;
  readonly noteReading: (from: TerminalRef, to: TerminalRef) => void;
  readonly patch: (state: Partial<BenchState>) => void;
  /** Sends what waits again, after signing in. */
  readonly resume: () => void;
  /** Shows what another tab has entered. */
  readonly follow: (request: LogEntryRequest) => void;
  /** Resolves once everything is acknowledged; rejects where it cannot be. */
  readonly flush: () => Promise<void>;
  readonly close: () => void;
}

/** Conductor area that goes with the colour of the power or control circuit, mm2 (common practice, no source). */
const areaOf = (colour: string): number =>
  colour === 'red' || colour === 'light blue' || colour === 'blue' ? 1 : 2.5;

const RETRY_MS = [500, 1000, 2000, 4000, 8000];

export type BenchStore = ReturnType<typeof createBenchStore>;

export interface StoreOptions {
  /** Where entries are kept that the server has not acknowledged; survives the page. */
  readonly keep?: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;
  /** Another tab works on this board. */
  readonly following?: boolean;
  /** Told every entry as it is made. */
  readonly onEntry?: (request: LogEntryRequest) => void;
}

/** The entry of a log as it was sent. */
function requestOf({ seq, ...logged }: AttemptView['log'][number]): LogEntryRequest {
  switch (logged.kind) {
    case 'edit':
      return { seq, entry: { kind: 'edit', edit: logged.edit as never } };
    case 'supply':
      return { seq, entry: { kind: 'supply', on: logged.on } };
    case 'act':
      return { seq, entry: { kind: 'act', stimulus: logged.stimulus } };
    case 'reading':
      return { seq, entry: { kind: 'reading', from: logged.from, to: logged.to } };
  }
}

/** Name under which the entries of an attempt are kept. */
export const unsentKey = (attemptId: string): string => `contactum.unsent.${attemptId}`;

/** The store of one attempt. Every edit is shown at once and sent in order; nothing is dropped while the server is away, or the page closed. */
export function createBenchStore(
  view: AttemptView,
  supplyIsOn: () => boolean,
  { keep, following = false, onEntry }: StoreOptions = {},
) {
  const locked = view.exercise.bench.wires.length;
  const key = unsentKey(view.attempt.id);
  const kept = following ? { requests: [], lost: 0 } : unsentOf(view, keep?.getItem(key) ?? null, locked);
  const requests = [...view.log.map(requestOf), ...kept.requests];
  const edits = requests.flatMap(({ entry }) => (entry.kind === 'edit' ? [entry.edit] : []));
  const { held, readings } = workedSoFar(requests);
  const store = createStore<BenchState>(() => ({
    bench: foldEdits(view.exercise.bench, edits, locked),
    locked,
    ...history(edits),
    from: null,
    selected: null,
    moving: null,
    cursor: null,
    colour: 'black',
    message:
      kept.lost > 0
        ? {
            kind: 'wrong',
            text: `${kept.lost} changes kept in this browser do not fit the board any more and were left out.`,
          }
        : null,
    readings,
    editedSeq: requests.findLast(({ entry }) => entry.kind === 'edit')?.seq ?? 0,
    unsaved: kept.requests.length,
    saveError: null,
    signedOut: false,
    stale: false,
    following,
  }));

  let seq = requests.at(-1)?.seq ?? 0;
  let closed = false;
  const queue: LogEntryRequest[] = [...kept.requests];
  let sending: Promise<void> | null = null;

  const keepUnsent = (): void => {
    if (!keep || following) return;
    try {
      if (queue.length === 0) keep.removeItem(key);
      else keep.setItem(key, JSON.stringify(queue));
    } catch {
      // A full or forbidden store: the page warns before it is closed.
    }
  };

  const send = async (): Promise<void> => {
    let attempt = 0;
    for (let entry = queue[0]; entry && !closed; entry = queue[0]) {
      try {
        await ask('POST', `/attempts/${view.attempt.id}/log`, entry);
        queue.shift();
        keepUnsent();
        attempt = 0;
        store.setState({ unsaved: queue.length, saveError: null, signedOut: false });
      } catch (error) {
        const status = error instanceof ApiError ? error.status : 0;
        store.setState({ saveError: (error as Error).message });
        if (status === 401) {
          store.setState({ signedOut: true });
          throw error;
        }
        if (status >= 400 && status < 500 && status !== 429) {
          store.setState({ stale: true });
          throw error;
        }
        await new Promise((resolve) => setTimeout(resolve, RETRY_MS[Math.min(attempt, RETRY_MS.length - 1)]));
        attempt += 1;
      }
    }
  };

  const begin = (): void => {
    sending ??= send().finally(() => {
      sending = null;
    });
    sending.catch(() => undefined);
  };

  const enqueue = (entry: LogEntryRequest['entry']): void => {
    if (store.getState().following) return;
    seq += 1;
    const request = { seq, entry };
    queue.push(request);
    keepUnsent();
    onEntry?.(request);
    store.setState({ unsaved: queue.length });
    // Without a session nothing goes out; it waits for the sign-in.
    if (!store.getState().signedOut) begin();
  };
  if (queue.length > 0) begin();

  const say = (text: string): void => store.setState({ message: { kind: 'wrong', text } });

  /** Applies an edit unless the supply is on; returns whether it was done. */
  const perform = (edit: Edit): boolean => {
    const { bench, stale, following: isFollowing } = store.getState();
    if (isFollowing) {
      say('Another tab works on this board; this one follows it.');
      return false;
    }
    if (stale) {
      say('This board has been changed elsewhere. Open it again.');
      return false;
    }
    if (supplyIsOn()) {
      say('The supply is on. Switch it off before you change the wiring.');
      return false;
    }
    const applied = applyEdit(bench, edit, locked);
    if (!applied.ok) {
      say(capital(applied.reason));
      return false;
    }
    enqueue({ kind: 'edit', edit: edit as never });
    held.clear();
    store.setState({ bench: applied.bench, message: null, readings: [], editedSeq: seq });
    return true;
  };

  const edit = (change: Edit): void => {
    if (perform(change)) store.setState(({ undo }) => ({ undo: [...undo, change], redo: [] }));
  };

  const wireAt = (index: number): Wire | undefined => store.getState().bench.wires[index];

  const actions: BenchActions = {
    connect(from, to) {
      const { bench, colour } = store.getState();
      const wire: Wire = { from, to, colour, area: areaOf(colour) };
      store.setState({ from: null });
      edit({ do: 'connect', index: bench.wires.length, wire });
    },
    cut(index) {
      const wire = wireAt(index);
      if (!wire) return;
      store.setState({ selected: null, moving: null });
      edit({ do: 'cut', index, wire });
    },
    moveEnd(index, end, to) {
      const wire = wireAt(index);
      store.setState({ moving: null });
      if (wire && wire[end] !== to) edit({ do: 'move', index, from: wire, to: { ...wire, [end]: to } });
    },
    recolour(index, colour) {
      const wire = wireAt(index);
      if (wire && wire.colour !== colour)
        edit({ do: 'move', index, from: wire, to: { ...wire, colour, area: areaOf(colour) } });
    },
    set(device, setting, to) {
      const settings = store.getState().bench.devices.find(({ tag }) => tag === device)?.settings as
        Record<string, number> | undefined;
      const from = settings?.[setting];
      if (from !== undefined && from !== to) edit({ do: 'set', device, setting, from, to });
    },
    undo() {
      const { undo } = store.getState();
      const last = undo.at(-1);
      if (last && perform(invertEdit(last)))
        store.setState(({ redo }) => ({
          undo: undo.slice(0, -1),
          redo: [...redo, last],
          selected: null,
          from: null,
          moving: null,
        }));
    },
    redo() {
      const { redo } = store.getState();
      const next = redo.at(-1);
      if (next && perform(next))
        store.setState(({ undo }) => ({
          redo: redo.slice(0, -1),
          undo: [...undo, next],
          selected: null,
          from: null,
          moving: null,
        }));
    },
    noteSupply: (on) => enqueue({ kind: 'supply', on }),
    noteAct: (stimulus) => {
      noteHeld(held, stimulus);
      enqueue({ kind: 'act', stimulus });
    },
    noteReading: (from, to) => {
      enqueue({ kind: 'reading', from, to });
      store.setState((now) => ({ readings: [...now.readings, readingOf(from, to, held)] }));
    },
    patch: (state) => store.setState(state),
    resume() {
      store.setState({ signedOut: false, saveError: null });
      if (queue.length > 0) begin();
    },
    follow(request) {
      if (!store.getState().following || request.seq <= seq) return;
      seq = request.seq;
      if (request.entry.kind !== 'edit') return;
      const change = request.entry.edit as Edit;
      const applied = applyEdit(store.getState().bench, change, locked);
      if (applied.ok)
        store.setState(({ undo }) => ({
          bench: applied.bench,
          editedSeq: request.seq,
          undo: [...undo, change],
          selected: null,
          from: null,
          moving: null,
        }));
      else store.setState({ stale: true });
    },
    async flush() {
      if (sending) await sending;
      const { saveError, stale, signedOut } = store.getState();
      if (stale || signedOut) throw new Error(saveError ?? 'This board has been changed elsewhere.');
    },
    close() {
      closed = true;
    },
  };
  return { ...store, actions };
}

/** Entries that were kept because the server had not acknowledged them: those that still follow what it has, and how many do not fit any more. */
function unsentOf(
  view: AttemptView,
  text: string | null,
  locked: number,
): { requests: LogEntryRequest[]; lost: number } {
  let kept: LogEntryRequest[];
  try {
    kept = text === null ? [] : (JSON.parse(text) as LogEntryRequest[]);
  } catch {
    return { requests: [], lost: 0 };
  }
  const edits = view.log.flatMap((entry) => (entry.kind === 'edit' ? [entry.edit] : []));
  let bench = foldEdits(view.exercise.bench, edits, locked);
  let last = view.log.at(-1)?.seq ?? 0;
  const requests: LogEntryRequest[] = [];
  // What was stored although its answer was lost is on the server already.
  const waiting = kept.filter(({ seq }) => seq > last);
  for (const request of waiting) {
    const { seq, entry } = request;
    const applied = entry.kind === 'edit' ? applyEdit(bench, entry.edit, locked) : null;
    if (seq !== last + 1 || applied?.ok === false) break;
    if (applied?.ok) bench = applied.bench;
    requests.push(request);
    last = seq;
  }
  return { requests, lost: waiting.length - requests.length };
}

/** What a log leaves on the board as it is wired: the buttons that are held, and the readings taken. */
function workedSoFar(requests: readonly LogEntryRequest[]): { held: Set<string>; readings: ReadingTaken[] } {
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

const readingOf = (from: string, to: string, held: ReadonlySet<string>): ReadingTaken => ({
  between: [from, to],
  held: [...held].sort(),
});

/** Undo and redo as they stood: an entry that takes back the one before it was an undo. */
function history(edits: readonly Edit[]): { undo: Edit[]; redo: Edit[] } {
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

export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
