import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Problem } from '@contactum/core';
import type { Exercise } from '@contactum/core';
import type { Draft, MarkingCost } from '@contactum/contract';
import { ApiError, ask } from '../api/client.js';

/** How keeping a draft stands. */
export type Kept = 'kept' | 'keeping' | 'changed' | 'refused' | 'stale' | 'offline';

interface SetterState {
  readonly exercise: Exercise;
  readonly undo: readonly Exercise[];
  readonly redo: readonly Exercise[];
  /** Devices that are chosen on the board. */
  readonly chosen: readonly string[];
  readonly kept: Kept;
  /** What the server does not take, and where it stands. */
  readonly problems: readonly Problem[];
}

/** Most steps back. */
const MOST_UNDO = 200;
/** How long nothing is changed before a draft is kept, milliseconds. */
const PAUSE_MS = 700;
const AGAIN_MS = 4_000;

export type SetterStore = StoreApi<SetterState> & { readonly actions: SetterActions };

/** An exercise in the making: every change is one step that can be taken back, and is kept by itself. */
export function createSetterStore(draft: Draft): SetterStore {
  const store = createStore<SetterState>(() => ({
    exercise: draft.document,
    undo: [],
    redo: [],
    chosen: [],
    kept: 'kept',
    problems: [],
  }));
  return { ...store, actions: new SetterActions(store, draft.id, draft.seq) };
}

class SetterActions {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private keeping: Promise<void> | null = null;
  private closed = false;

  constructor(
    private readonly store: StoreApi<SetterState>,
    private readonly id: string,
    private seq: number,
  ) {}

  private get state(): SetterState {
    return this.store.getState();
  }

  /** Changes the exercise; what comes out the same is no change. */
  readonly change = (to: Exercise | ((exercise: Exercise) => Exercise), chosen?: readonly string[]): void => {
    const { exercise, undo } = this.state;
    const next = typeof to === 'function' ? to(exercise) : to;
    if (next === exercise) {
      if (chosen) this.store.setState({ chosen });
      return;
    }
    this.show(next, { undo: [...undo, exercise].slice(-MOST_UNDO), redo: [] }, chosen);
  };

  private show(
    exercise: Exercise,
    history: Pick<SetterState, 'undo' | 'redo'>,
    chosen = this.state.chosen,
  ): void {
    const tags = new Set(exercise.bench.devices.map(({ tag }) => tag));
    this.store.setState({
      exercise,
      ...history,
      chosen: chosen.filter((tag) => tags.has(tag)),
      kept: this.state.kept === 'stale' ? 'stale' : 'changed',
    });
    this.keepSoon(PAUSE_MS);
  }

  readonly choose = (chosen: readonly string[]): void => this.store.setState({ chosen });

  readonly undo = (): void => {
    const { exercise, undo, redo } = this.state;
    const before = undo.at(-1);
    if (before) this.show(before, { undo: undo.slice(0, -1), redo: [...redo, exercise] });
  };

  readonly redo = (): void => {
    const { exercise, undo, redo } = this.state;
    const next = redo.at(-1);
    if (next) this.show(next, { undo: [...undo, exercise], redo: redo.slice(0, -1) });
  };

  private keepSoon(after: number): void {
    clearTimeout(this.timer);
    if (!this.closed) this.timer = setTimeout(() => void this.keep(), after);
  }

  /** Keeps the draft as it is now; resolves when nothing is left to keep, or it was refused. */
  readonly keep = async (): Promise<void> => {
    clearTimeout(this.timer);
    if (this.keeping) await this.keeping;
    if (this.state.kept === 'kept' || this.state.kept === 'stale') return;
    this.keeping = this.send().finally(() => (this.keeping = null));
    await this.keeping;
  };

  /** What marking one attempt at the exercise as it is kept takes on the server. */
  readonly cost = async (): Promise<MarkingCost> => {
    await this.keep();
    return ask<MarkingCost>('POST', `/drafts/${this.id}/cost`, {});
  };

  private async send(): Promise<void> {
    const { exercise } = this.state;
    this.store.setState({ kept: 'keeping' });
    try {
      const { seq } = await ask<{ seq: number }>('PUT', `/drafts/${this.id}`, {
        document: exercise,
        seq: this.seq,
      });
      this.seq = seq;
      const isNow = this.state.exercise === exercise;
      this.store.setState({ kept: isNow ? 'kept' : 'changed', problems: [] });
      if (!isNow) this.keepSoon(PAUSE_MS);
    } catch (error) {
      this.failed(error);
    }
  }

  private failed(error: unknown): void {
    const status = error instanceof ApiError ? error.status : 0;
    if (status === 409) {
      this.store.setState({ kept: 'stale', problems: [] });
      return;
    }
    const problems = error instanceof ApiError ? (error.problems ?? []) : [];
    const refused = status >= 400 && status < 500;
    this.store.setState({
      kept: refused ? 'refused' : 'offline',
      problems: problems.length > 0 ? problems : [{ path: '', message: (error as Error).message }],
    });
    if (!refused) this.keepSoon(AGAIN_MS);
  }

  readonly close = (): void => {
    if (this.state.kept === 'changed') void this.keep();
    this.closed = true;
    clearTimeout(this.timer);
  };
}
