import { createStore } from 'zustand/vanilla';
import type {
  Bench,
  Explanation,
  Fault,
  Frame,
  Incident,
  MeterReading,
  MeterRequest,
  Shape,
  Stimulus,
  TraceEvent,
} from '@contactum/core';
import type { WireFrame } from '@contactum/contract';
import { startBenchThread } from '../workers/bench-thread.js';
import { heard } from '../workers/bridge.js';

/**
 * What the running bench shows. Painted straight to the drawing by subscribers; React reads only what
 * changes rarely.
 */
interface LiveState {
  readonly shape: Shape | null;
  readonly frame: Frame | null;
  readonly supplyOn: boolean;
  /** Every event since the page was opened, for the chart; the oldest are forgotten. */
  readonly events: readonly TraceEvent[];
  readonly incidents: readonly Incident[];
  /** Why the bench no longer runs; null while it does. */
  readonly problem: string | null;
}

export const KEPT_EVENTS = 2000;

export interface LiveBench {
  readonly store: ReturnType<typeof createLiveStore>;
  readonly load: (
    bench: Bench,
    options?: { supplyOn?: boolean; fresh?: boolean; faults?: readonly Fault[] | undefined },
  ) => void;
  /** Puts faults on the board from now on, whatever is loaded. */
  readonly setFaults: (faults: readonly Fault[]) => void;
  readonly act: (stimulus: Stimulus) => void;
  /** Holds an input or output of a controller on or off until the board is loaded anew; null lets it go. */
  readonly force: (tag: string, at: string, value: boolean | null) => void;
  /** Ohms between two terminals, read with the supply off; Infinity where nothing joins them. */
  readonly ohms: (from: string, to: string) => Promise<number>;
  /** What an instrument shows now. */
  readonly measure: (request: MeterRequest) => Promise<MeterReading>;
  /** Why a coil, a lamp or a motor is as it is now; null where nothing is told. */
  readonly explain: (tag: string) => Promise<Explanation | null>;
  readonly clearIncidents: () => void;
  readonly close: () => void;
}

export const createLiveStore = () =>
  createStore<LiveState>(() => ({
    shape: null,
    frame: null,
    supplyOn: false,
    events: [],
    incidents: [],
    problem: null,
  }));

/** A frame as the server tells it: without what only the board's own thread knows. */
export const frameTold = (
  shape: Shape,
  { t, states, lamps, motors, supplyOn, running, events, incidents, closed }: WireFrame,
): Frame => ({
  t,
  states,
  lamps,
  motors,
  supplyOn,
  running,
  events,
  incidents,
  live: new Uint8Array(shape.terminals.length),
  closed: Uint8Array.from(closed, Number),
  heats: shape.heaters.map(() => 0),
});

/** A bench that runs elsewhere and is only looked at: no hand reaches it. */
export const onlySeen = (store: LiveBench['store']): LiveBench => ({
  store,
  load: () => undefined,
  setFaults: () => undefined,
  act: () => undefined,
  force: () => undefined,
  ohms: () => Promise.resolve(Number.POSITIVE_INFINITY),
  measure: () => Promise.resolve({ refused: 'this bench is only looked at' }),
  explain: () => Promise.resolve(null),
  clearIncidents: () => undefined,
  close: () => undefined,
});

/** Starts a thread for one board. */
export function startLiveBench(): LiveBench {
  const store = createLiveStore();
  const { ask, end } = startBenchThread(({ message }) => store.setState({ problem: message }));
  let hidden: readonly Fault[] = [];
  let loaded: Bench | null = null;
  /** What is wrong with one thing that was done is told as what has happened to the thread is. */
  const tell = <R>(question: Parameters<typeof ask<R>>[0]) => {
    ask(question).catch((error: unknown) => store.setState({ problem: (error as Error).message }));
  };
  const take = (frame: Frame): void => {
    const { events, incidents } = store.getState();
    store.setState({
      frame,
      supplyOn: frame.supplyOn,
      events: frame.events.length > 0 ? [...events, ...frame.events].slice(-KEPT_EVENTS) : events,
      incidents: frame.incidents.length > 0 ? [...incidents, ...frame.incidents] : incidents,
    });
  };
  tell((thread) => thread.follow(heard(take)));
  const put = (bench: Bench, options: { supplyOn: boolean; fresh: boolean; faults: readonly Fault[] }) =>
    tell(async (thread) => {
      const shape = await thread.load(bench, options);
      if (shape) store.setState({ shape });
    });
  return {
    store,
    load: (bench, { supplyOn = false, fresh = false, faults = hidden } = {}) => {
      loaded = bench;
      if (fresh) store.setState({ events: [], incidents: [] });
      put(bench, { supplyOn, fresh, faults });
    },
    setFaults: (faults) => {
      hidden = faults;
      const { supplyOn } = store.getState();
      if (loaded) put(loaded, { supplyOn, fresh: false, faults });
    },
    act: (stimulus) => tell((thread) => thread.act(stimulus)),
    force: (tag, at, value) => tell((thread) => thread.force(tag, at, value)),
    ohms: (from, to) => ask((thread) => thread.ohms(from, to)),
    measure: (request) => ask(async (thread): Promise<MeterReading> => await thread.measure(request)),
    explain: (tag) => ask((thread) => thread.explain(tag)),
    clearIncidents: () => store.setState({ incidents: [] }),
    close: end,
  };
}
