import { useMemo } from 'react';
import type { Act } from '../board/Handle.js';
import type { LiveBench } from './live.js';

/**
 * Hands on a running bench: what is done goes to its worker, what a device is doing comes from its last
 * frame.
 */
export function useAct(live: LiveBench): Act {
  return useMemo(
    () => ({
      give: live.act,
      stateOf: (tag) => {
        const { shape, frame } = live.store.getState();
        return frame?.states[shape?.devices.indexOf(tag) ?? -1] ?? '';
      },
    }),
    [live],
  );
}
