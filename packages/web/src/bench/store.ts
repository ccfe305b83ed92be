import { createStore } from 'zustand/vanilla';
import { applyEdit, foldEdits, invertEdit, type Bench, type Edit, type TerminalRef, type Wire } from '@contactum/core';
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
  /** Tested dead since the wiring was last changed. */
  readonly tested: boolean;
  /** When the wiring was last changed; what was permitted before does not hold any more. */
  readonly editedAt: number;
  /** Entries not yet acknowledged by the server. */
  readonly unsaved: number;
  readonly saveError: string | null;
  /** The log on the server is another one than ours: this page must be opened again. */
  readonly stale: boolean;
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
  readonly patch: (state: Partial<BenchState>) => void;
  /** Resolves once everything is acknowledged; rejects where it cannot be. */
  readonly noteDeadTest: (from: TerminalRef, to: TerminalRef) => void;
  readonly noteIncident: (incident: string) => void;
  readonly flush: () => Promise<void>;
  readonly close: () => void;
}

/** Conductor area that goes with the colour of the power or control circuit, mm2 (common practice, no source). */
const areaOf = (colour: string): number => (colour === 'red' || colour === 'light blue' || colour === 'blue' ? 1 : 2.5);

const RETRY_MS = [500, 1000, 2000, 4000, 8000];

export type BenchStore = ReturnType<typeof createBenchStore>;

/** The store of one attempt. Every edit is shown at once and sent in order; nothing is dropped while the server is away. */
export function createBenchStore(view: AttemptView, supplyIsOn: () => boolean) {
  const locked = view.exercise.bench.wires.length;
  const edits = view.log.flatMap((entry) => (entry.kind === 'edit' ? [entry.edit] : []));
  const store = createStore<BenchState>(() => ({
    bench: foldEdits(view.exercise.bench, edits, locked),
    locked,
    ...history(edits),
    from: null,
    selected: null,
    moving: null,
    cursor: null,
    colour: 'black',
    message: null,
    tested: testedDead(view.log),
    editedAt: Math.max(0, ...view.log.flatMap((entry) => (entry.kind === 'edit' ? [Date.parse(entry.at)] : []))),
    unsaved: 0,
    saveError: null,
    stale: false,
  }));

  let seq = view.log.at(-1)?.seq ?? 0;
  let closed = false;
  const queue: LogEntryRequest[] = [];
  let sending: Promise<void> | null = null;

  const send = async (): Promise<void> => {
    let attempt = 0;
    for (let entry = queue[0]; entry && !closed; entry = queue[0]) {
      try {
        await ask('POST', `/attempts/${view.attempt.id}/log`, entry);
        queue.shift();
        attempt = 0;
        store.setState({ unsaved: queue.length, saveError: null });
      } catch (error) {
        const refused = error instanceof ApiError && error.status >= 400 && error.status < 500 && error.status !== 429;
        store.setState({ saveError: (error as Error).message });
        if (refused) {
          store.setState({ stale: true });
          throw error;
        }
        await new Promise((resolve) => setTimeout(resolve, RETRY_MS[Math.min(attempt, RETRY_MS.length - 1)]));
        attempt += 1;
      }
    }
  };

  const enqueue = (entry: LogEntryRequest['entry']): void => {
    seq += 1;
    queue.push({ seq, entry });
    store.setState({ unsaved: queue.length });
    sending ??= send().finally(() => {
      sending = null;
    });
    sending.catch(() => undefined);
  };

  const say = (text: string): void => store.setState({ message: { kind: 'wrong', text } });

  /** Applies an edit unless the supply is on; returns whether it was done. */
  const perform = (edit: Edit): boolean => {
    const { bench, stale } = store.getState();
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
    store.setState({ bench: applied.bench, message: null, tested: false, editedAt: Date.now() });
    enqueue({ kind: 'edit', edit: edit as never });
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
      if (wire && wire.colour !== colour) edit({ do: 'move', index, from: wire, to: { ...wire, colour, area: areaOf(colour) } });
    },
    set(device, setting, to) {
      const settings = store.getState().bench.devices.find(({ tag }) => tag === device)?.settings as Record<string, number> | undefined;
      const from = settings?.[setting];
      if (from !== undefined && from !== to) edit({ do: 'set', device, setting, from, to });
    },
    undo() {
      const { undo } = store.getState();
      const last = undo.at(-1);
      if (last && perform(invertEdit(last))) store.setState(({ redo }) => ({ undo: undo.slice(0, -1), redo: [...redo, last], selected: null, from: null, moving: null }));
    },
    redo() {
      const { redo } = store.getState();
      const next = redo.at(-1);
      if (next && perform(next)) store.setState(({ undo }) => ({ redo: redo.slice(0, -1), undo: [...undo, next], selected: null, from: null, moving: null }));
    },
    noteSupply: (on) => enqueue({ kind: 'supply', on }),
    noteDeadTest: (from, to) => {
      enqueue({ kind: 'dead-test', from, to });
      store.setState({ tested: true });
    },
    noteIncident: (incident) => enqueue({ kind: 'incident', incident }),
    patch: (state) => store.setState(state),
    async flush() {
      if (sending) await sending;
      const { saveError, stale } = store.getState();
      if (stale) throw new Error(saveError ?? 'This board has been changed elsewhere.');
    },
    close() {
      closed = true;
    },
  };
  return { ...store, actions };
}

const testedDead = (log: AttemptView['log']): boolean => log.findLastIndex(({ kind }) => kind === 'dead-test') > log.findLastIndex(({ kind }) => kind === 'edit');

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
  typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1))) : value;

export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
