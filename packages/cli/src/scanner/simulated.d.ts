import { type Bench, type Stimulus, type TerminalRef, type Wire } from '@contactum/core';
/** A lead that is plugged on the simulated board. */
export interface Plugged extends Wire {
  /** In one pass it joins, in the next perhaps not. */
  readonly loose?: boolean;
  /** Joined through some ohms. */
  readonly poor?: boolean;
}
export interface BoxSettings {
  /** Part of single readings that are wrong. */
  readonly noise: number;
  /** Milliseconds of one pass. */
  readonly passMs: number;
  /** Milliseconds by which each answer comes late. */
  readonly lag: number;
  /** The box has died: it answers nothing. */
  readonly dead: boolean;
  /** A supply is present on the board: it is not driven. */
  readonly supply: boolean;
}
/**
 * A simulated board behind a simulated scanner: leads are plugged, devices worked by hand, and read by real
 * Modbus TCP. It stands in for a box in tests and where there is none.
 */
export declare class SimulatedBox {
  readonly bench: Bench;
  private readonly now;
  private leads;
  private steps;
  private settings;
  private pass;
  private passAt;
  private registers;
  private asked;
  private beatAt;
  private server;
  private readonly names;
  private readonly random;
  constructor(bench: Bench, seed?: number, now?: () => number);
  get state(): {
    terminals: readonly `${string}:${string}`[];
    leads: readonly Plugged[];
    steps: readonly Stimulus[];
    settings: BoxSettings;
    permit: {
      asked: boolean;
      closed: boolean;
    };
  };
  /** What a box without noise finds joined now. */
  joinedNow(): readonly (readonly TerminalRef[])[];
  /** Plugs these leads in place of those that are plugged. Throws what is wrong with them. */
  plug(leads: readonly Plugged[]): void;
  /** What a hand has done to the dead board since it lay at rest. */
  work(steps: readonly Stimulus[]): void;
  set(settings: Partial<BoxSettings>): void;
  get isPermitClosed(): boolean;
  /** A new pass where the last one is over. */
  private look;
  private nothing;
  private classes;
  private sets;
  private answer;
  /** Serves on a port of loopback, or on any that is free; resolves with the port. */
  listen(wanted?: number, host?: string): Promise<number>;
  stop(): Promise<void>;
}
