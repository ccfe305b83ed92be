import type { Shape } from '@contactum/core';
import type { WireFrame } from '@contactum/contract';
import { createLiveStore, frameTold, onlySeen, type LiveBench } from '../bench/live.js';

/** What is seen of a student's running bench: shown frame by frame as it is told; nothing runs here. */
export function createSeen(): {
  readonly live: LiveBench;
  readonly show: (attemptId: string, frame: WireFrame) => void;
  readonly know: (shape: Shape) => void;
  readonly clear: () => void;
} {
  const store = createLiveStore();
  return {
    live: onlySeen(store),
    know: (shape) => store.setState({ shape }),
    clear: () => store.setState({ shape: null, frame: null, supplyOn: false, events: [], incidents: [] }),
    show: (_, told) => {
      const { shape } = store.getState();
      if (shape) store.setState({ frame: frameTold(shape, told), supplyOn: told.supplyOn });
    },
  };
}
