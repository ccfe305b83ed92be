import type { Bench, Fault, Frame, MeterReading, MeterRequest, Shape, Stimulus } from '@contactum/core';

/**
 * Messages between whoever shows a live bench and whatever runs it: a worker of the browser, or the server.
 */

/** What is asked of a running bench. */
export type BenchCommand =
  /**
   * A board to run from rest; handles that stay put (selectors, tripped relays, breakers) stay as they
   * were.
   */
  | {
      readonly kind: 'load';
      readonly bench: Bench;
      readonly supplyOn: boolean;
      readonly fresh: boolean;
      readonly faults?: readonly Fault[] | undefined;
    }
  | { readonly kind: 'do'; readonly stimulus: Stimulus }
  /** Ohms between two terminals, read with the supply off. */
  | { readonly kind: 'ohms'; readonly from: string; readonly to: string }
  /** An instrument laid on; answered in the order of asking. */
  | { readonly kind: 'measure'; readonly request: MeterRequest };

/** What a running bench tells. */
export type BenchReport =
  | { readonly kind: 'shape'; readonly shape: Shape }
  | { readonly kind: 'frame'; readonly frame: Frame }
  | { readonly kind: 'ohms'; readonly value: number }
  | { readonly kind: 'measured'; readonly reading: MeterReading };
