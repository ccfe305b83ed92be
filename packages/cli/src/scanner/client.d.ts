import {
  type Doubt,
  type JointClass,
  type ScannerHead,
  type SettlingOptions,
  type TerminalRef,
} from '@contactum/core';
import { type Change } from './watch.js';
/** What a scan of a board found. */
export interface Scan {
  readonly head: ScannerHead;
  readonly names: readonly TerminalRef[];
  readonly passes: number;
  readonly joined: readonly (readonly TerminalRef[])[];
  readonly doubtful: readonly (Omit<Doubt, 'between'> & {
    readonly between: readonly TerminalRef[];
  })[];
  /** Joined through 1 to 10 Ω, as under a screw that is not tight. */
  readonly poor: readonly (readonly [TerminalRef, TerminalRef])[];
}
/** A board scanner over Modbus TCP. */
export declare class Scanner {
  private readonly modbus;
  private names;
  private last;
  private constructor();
  /** @param address `HOST` or `HOST:PORT`. */
  static open(address: string): Promise<Scanner>;
  close(): Promise<void>;
  private read;
  head(): Promise<ScannerHead>;
  /** The terminals of the box, in its order; asked once. */
  terminals(): Promise<readonly TerminalRef[]>;
  /** Waits for a pass that was not read yet, and reads it; its classes too, where they are wanted. */
  nextPass(withClasses?: boolean): Promise<{
    rows: readonly (readonly boolean[])[];
    classes: JointClass[][];
    faults: readonly string[];
  }>;
  /** Reads passes until each pair is decided, or stays in doubt. */
  scan(options?: SettlingOptions): Promise<Scan>;
  /** Tells what changes on a board that was scanned, until the signal says to stop. */
  follow(
    { names, joined }: Pick<Scan, 'names' | 'joined'>,
    on: (change: Change) => void,
    until: AbortSignal,
  ): Promise<void>;
  /** Asks for the permit relay; it closes only while the heartbeat goes on. */
  permit(on: boolean): Promise<void>;
  beat(count: number): Promise<void>;
  isPermitted(): Promise<boolean>;
}
