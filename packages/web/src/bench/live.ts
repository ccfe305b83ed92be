import { createStore } from 'zustand/vanilla';
import type {
  Bench,
  Fault,
  Frame,
  Incident,
  MeterReading,
  MeterRequest,
  Shape,
  Stimulus,
  TraceEvent,
} from '@contactum/core';
import type { BenchCommand, BenchReport, WireFrame } from '@contactum/contract';

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
  /** Ohms between two terminals, read with the supply off; Infinity where nothing joins them. */
  readonly ohms: (from: string, to: string) => Promise<number>;
  /** What an instrument shows now. */
  readonly measure: (request: MeterRequest) => Promise<MeterReading>;
  readonly clearIncidents: () => void;
  readonly close: () => void;
}

export const createLiveStore = () =>
  createStore<LiveState>(() => ({ shape: null, frame: null, supplyOn: false, events: [], incidents: [] }));

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
  ohms: () => Promise.resolve(Number.POSITIVE_INFINITY),
  measure: () => Promise.resolve({ refused: 'this bench is only looked at' }),
  clearIncidents: () => undefined,
  close: () => undefined,
});

/** Starts a worker for one board. */
export function startLiveBench(): LiveBench {
  const worker = new Worker(new URL('../workers/bench.worker.ts', import.meta.url), { type: 'module' });
  const store = createLiveStore();
  const readings: ((value: number) => void)[] = [];
  const measured: ((reading: MeterReading) => void)[] = [];
  let hidden: readonly Fault[] = [];
  let loaded: Bench | null = null;
  const send = (message: BenchCommand) => worker.postMessage(message);
  worker.onmessage = ({ data }: MessageEvent<BenchReport>) => {
    if (data.kind === 'shape') {
      store.setState({ shape: data.shape });
      return;
    }
    if (data.kind === 'ohms') {
      readings.shift()?.(data.value);
      return;
    }
    if (data.kind === 'measured') {
      measured.shift()?.(data.reading);
      return;
    }
    const { frame } = data;
    const { events, incidents } = store.getState();
    store.setState({
      frame,
      supplyOn: frame.supplyOn,
      events: frame.events.length > 0 ? [...events, ...frame.events].slice(-KEPT_EVENTS) : events,
      incidents: frame.incidents.length > 0 ? [...incidents, ...frame.incidents] : incidents,
    });
  };
  return {
    store,
    load: (bench, { supplyOn = false, fresh = false, faults = hidden } = {}) => {
      loaded = bench;
      if (fresh) store.setState({ events: [], incidents: [] });
      send({ kind: 'load', bench, supplyOn, fresh, faults });
    },
    setFaults: (faults) => {
      hidden = faults;
      const { supplyOn } = store.getState();
      if (loaded) send({ kind: 'load', bench: loaded, supplyOn, fresh: false, faults });
    },
    act: (stimulus) => send({ kind: 'do', stimulus }),
    ohms: (from, to) =>
      new Promise((resolve) => {
        readings.push(resolve);
        send({ kind: 'ohms', from, to });
      }),
    measure: (request) =>
      new Promise((resolve) => {
        measured.push(resolve);
        send({ kind: 'measure', request });
      }),
    clearIncidents: () => store.setState({ incidents: [] }),
    close: () => worker.terminate(),
  };
}
