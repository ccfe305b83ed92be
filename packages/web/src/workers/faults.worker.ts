import { faultEffects } from '@contactum/core';
import type { FaultsCommand, FaultsReport } from '@contactum/contract';

/**
 * Works out what every fault of a board does, and tells how far it is; it is ended by whoever needs it no
 * more.
 */

const post = (report: FaultsReport) => self.postMessage(report);

self.onmessage = ({ data }: MessageEvent<FaultsCommand>) => {
  const work = faultEffects(data.referenceCircuit);
  let told = 0;
  for (;;) {
    const step = work.next();
    if (step.done) {
      post({ kind: 'done', effects: step.value });
      return;
    }
    if (step.value - told < 0.02) continue;
    told = step.value;
    post({ kind: 'progress', part: told });
  }
};
