import { createStore } from 'zustand/vanilla';
import type { MeterRequest } from '@contactum/core';
import type { Probe } from '../bench/store.js';
import { PROBES } from '../bench/views/reading.js';

/** What lies where on the page of a search, and what is chosen. */
interface SearchState {
  readonly mode: MeterRequest['mode'];
  readonly probes: Readonly<Partial<Record<Probe, string>>>;
  /** The probe that the next terminal takes. */
  readonly probing: Probe | null;
  /** A lead, by its place in the bench. */
  readonly lead: number | null;
  readonly message: string | null;
}

export const createSearchStore = () =>
  createStore<SearchState>(() => ({ mode: 'volts', probes: {}, probing: 'red', lead: null, message: null }));
export type SearchStore = ReturnType<typeof createSearchStore>;

/** Puts the armed probe, or the first, on a terminal, and arms the next. */
export function putProbe(store: SearchStore, ref: string, which?: Probe): void {
  store.setState(({ mode, probes, probing }) => {
    const list = PROBES[mode];
    const probe = which ?? probing ?? list[0];
    if (!probe) return {};
    const next = list[(list.indexOf(probe) + 1) % list.length] ?? null;
    return { probes: { ...probes, [probe]: ref }, probing: next };
  });
}
