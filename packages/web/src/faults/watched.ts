import type { WatchedSearch } from '@contactum/contract';
import { createLiveStore, onlySeen, type LiveBench } from '../bench/live.js';

/** A bench that is only looked at: shown anew each time that the server tells of it. */
export function watchedBench(): LiveBench & { readonly show: (search: WatchedSearch) => void } {
  const store = createLiveStore();
  const bytes = (figures: string) => Uint8Array.from(figures, Number);
  return {
    ...onlySeen(store),
    show: ({ shape, frame: { live, closed, ...frame } }) => {
      // The painter is made anew for another board alone.
      const known = store.getState().shape;
      const same = known?.terminals.join() === shape.terminals.join();
      store.setState({
        shape: same ? known : shape,
        frame: { ...frame, live: bytes(live), closed: bytes(closed) },
        supplyOn: frame.supplyOn,
      });
    },
  };
}
