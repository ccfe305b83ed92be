import type { Bench, Fault, Incident, Stimulus, TraceEvent } from '@contactum/core';

/** What the page asks of the worker that runs the bench. */
export type ToWorker =
  /** A board to run from rest; handles that stay put (selectors, tripped relays, breakers) stay as they were. */
  | {
      readonly kind: 'load';
      readonly bench: Bench;
      readonly supplyOn: boolean;
      readonly fresh: boolean;
      readonly fault?: Fault | undefined;
    }
  | { readonly kind: 'do'; readonly stimulus: Stimulus }
  /** Ohms between two terminals, read with the supply off. */
  | { readonly kind: 'ohms'; readonly from: string; readonly to: string };

/** Names in the order in which frames list their values. */
export interface Shape {
  readonly terminals: readonly string[];
  readonly contacts: readonly string[];
  readonly devices: readonly string[];
  readonly lamps: readonly string[];
  readonly motors: readonly string[];
}

export interface MotorFrame {
  /** rpm, negative in reverse. */
  readonly rpm: number;
  readonly amps: number;
  readonly driven: string;
}

/** What a person at the bench sees at one moment. */
export interface Frame {
  /** Seconds since the worker began. */
  readonly t: number;
  /** By terminal: 1 where it is live. */
  readonly live: Uint8Array;
  /** By contact: 1 where it is closed. */
  readonly closed: Uint8Array;
  readonly states: readonly string[];
  readonly lamps: readonly string[];
  readonly motors: readonly MotorFrame[];
  readonly events: readonly TraceEvent[];
  readonly incidents: readonly Incident[];
  readonly supplyOn: boolean;
  /** Something still changes by itself. */
  readonly running: boolean;
}

export type FromWorker =
  | { readonly kind: 'shape'; readonly shape: Shape }
  | { readonly kind: 'frame'; readonly frame: Frame }
  | { readonly kind: 'ohms'; readonly value: number };
