import type { FaultEffect, ReferenceCircuit } from '@contactum/core';

/** What the thread that works out faults is asked, and what it tells. */
export type FaultsCommand = { readonly referenceCircuit: ReferenceCircuit };

export type FaultsReport =
  | { readonly kind: 'progress'; readonly part: number }
  | { readonly kind: 'done'; readonly effects: readonly FaultEffect[] };
