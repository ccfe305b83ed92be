import { expose } from 'comlink';
import {
  faultEffects,
  faultStory,
  type Fault,
  type FaultEffect,
  type FaultStory,
  type ReferenceCircuit,
} from '@contactum/core';

/** How much of the work is told at once, per unit. */
const STEP = 0.02;

const faults = {
  /** What every fault of a board does; tells how far it is, per unit. */
  async effects(
    referenceCircuit: ReferenceCircuit,
    hear: (part: number) => Promise<void>,
  ): Promise<readonly FaultEffect[]> {
    const work = faultEffects(referenceCircuit);
    let told = 0;
    for (;;) {
      const step = work.next();
      if (step.done) return step.value;
      if (step.value - told < STEP) continue;
      told = step.value;
      // The page hears of it only when this thread lets go.
      await hear(told);
    }
  },

  /** Where one fault is, and what it changes. */
  story: (referenceCircuit: ReferenceCircuit, fault: Fault): FaultStory =>
    faultStory(referenceCircuit, fault),
};

export type FaultsThread = typeof faults;

expose(faults);
