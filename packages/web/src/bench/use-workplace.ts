import { useCallback, useEffect, useMemo, useRef } from 'react';
import { useStore } from 'zustand';
import { type Bench, describeIncident, isSupply, type Stimulus, targetOf } from '@contactum/core';
import type { Act } from '../board/Handle.js';
import type { LiveBench } from './live.js';
import type { Recorder } from './recorder.js';
import type { BenchStore } from './store.js';
import { readTyped } from './typed.js';
import { useAct } from './use-act.js';

/** What a place has: the running bench, and the store of its wiring. */
export interface Kit {
  readonly live: LiveBench;
  readonly store: BenchStore;
}

/** The place of a student: what the board does is recorded from the moment that it is opened. */
export interface RecordedKit extends Kit {
  readonly recorder: Recorder;
}

/** The wiring that runs is the wiring that is drawn. */
export function useRunningWiring({ live, store }: Kit): void {
  const bench = useStore(store, (state) => state.bench);
  const loaded = useRef(bench);
  useEffect(() => {
    if (loaded.current === bench) return;
    loaded.current = bench;
    live.load(bench);
  }, [bench, live]);
}

/**
 * What the server knows of the supply follows what the bench says, however it was switched; incidents are
 * spoken.
 */
export function useSupplyNotes({ live, store }: Kit, say: (text: string) => void): void {
  useEffect(() => {
    let before = live.store.getState().supplyOn;
    return live.store.subscribe(({ supplyOn: now, incidents }, { incidents: known }) => {
      const last = incidents.at(-1);
      if (last && incidents !== known) say(describeIncident(last));
      if (now === before) return;
      before = now;
      store.actions.noteSupply(now);
      say(now ? 'The supply is on.' : 'The supply is off.');
      if (now) store.actions.patch({ from: null, moving: null, selected: null, message: null });
    });
  }, [live, store, say]);
}

/** The page must not be closed over what only this browser has. */
export function useUnsavedWarning({ store }: Kit): void {
  const unsaved = useStore(store, (state) => state.unsaved > 0);
  useEffect(() => {
    if (!unsaved) return undefined;
    const warn = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [unsaved]);
}

/**
 * What is done by hand goes into the log where the way of working is judged; the supply has an entry of its
 * own.
 */
export function useLoggedAct({ live, store }: Kit, judged: boolean): Act {
  const hand = useAct(live);
  return useMemo(
    () => ({
      ...hand,
      give: (stimulus: Stimulus) => {
        hand.give(stimulus);
        const target = targetOf(stimulus);
        const device = store.getState().bench.devices.find(({ tag }) => tag === target);
        if (judged && !(device && isSupply(device))) store.actions.noteAct(stimulus);
      },
    }),
    [hand, judged, store],
  );
}

/** Switches every supply of a board; one that has tripped is reset before it is switched on. */
export function switchSupplies({ devices }: Bench, act: Act, on: boolean): void {
  for (const device of devices) {
    if (!isSupply(device)) continue;
    const { tag } = device;
    if (on && act.stateOf(tag) === 'tripped') act.give({ reset: tag });
    act.give(on ? { close: tag } : { open: tag });
  }
}

/** Switches the supply of the workplace; what was told before it came on is past. */
export function useSupplySwitch({ live, store }: Kit, act: Act): (on: boolean) => void {
  return useCallback(
    (on: boolean) => {
      switchSupplies(store.getState().bench, act, on);
      if (on) live.clearIncidents();
    },
    [live, store, act],
  );
}

/** Does what a typed line says; false where it cannot. */
export function doTyped(
  line: string,
  { store }: Kit,
  act: Act,
  switchSupply: (on: boolean) => void,
): boolean {
  const { bench } = store.getState();
  const { actions } = store;
  const command = readTyped(bench, line);
  switch (command.kind) {
    case 'connect':
      if (command.colour) actions.patch({ colour: command.colour, auto: false });
      actions.connectAll(command.leads);
      return store.getState().bench !== bench;
    case 'cut':
      actions.cut(command.lead);
      return true;
    case 'move':
      actions.moveEnd(command, command.to);
      return true;
    case 'undo':
      actions.undo();
      return true;
    case 'redo':
      actions.redo();
      return true;
    case 'supply':
      switchSupply(command.on);
      return true;
    case 'do':
      act.give(command.stimulus);
      return true;
    case 'wrong':
      actions.patch({ message: { kind: 'wrong', text: command.text } });
      return false;
  }
}

/**
 * Resolves when the bench itself says that its supply is off, which the log must hold before it is closed.
 */
export function supplyOff(live: LiveBench): Promise<void> {
  if (!live.store.getState().supplyOn) return Promise.resolve();
  return new Promise((resolve) => {
    const unsubscribe = live.store.subscribe(({ supplyOn }) => {
      if (supplyOn) return;
      unsubscribe();
      // The page's own subscriber writes the log; it was there before this one.
      resolve();
    });
  });
}
