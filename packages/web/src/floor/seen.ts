import type { Shape } from '@contactum/core';
import type { WireFrame } from '@contactum/contract';
import { createLiveStore, type LiveBench } from '../bench/live.js';

/** What is seen of a student's running bench: shown frame by frame as it is told; nothing runs here. */
export function createSeen(): {
  readonly live: LiveBench;
  readonly show: (attemptId: string, frame: WireFrame) => void;
  readonly know: (shape: Shape) => void;
  readonly clear: () => void;
} {
  const store = createLiveStore();
  const live: LiveBench = {
    store,
    load: () => undefined,
    setFaults: () => undefined,
    act: () => undefined,
    ohms: () => Promise.resolve(Number.POSITIVE_INFINITY),
    measure: () => Promise.resolve({ refused: 'this bench is only looked at' }),
    clearIncidents: () => undefined,
    close: () => undefined,
  };
  return {
    live,
    know: (shape) => store.setState({ shape }),
    clear: () => store.setState({ shape: null, frame: null, supplyOn: false, events: [], incidents: [] }),
    show: (_, { t, states, lamps, motors, supplyOn, running, events, incidents, closed }) => {
      const { shape } = store.getState();
      if (!shape) return;
      store.setState({
        frame: {
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
        },
        supplyOn,
      });
    },
  };
}
