import type { Bench } from '@contactum/core';

interface PluggedLead {
  readonly from: string;
  readonly to: string;
}

/** What tests use of the stand-in of a scanner. */
export interface ScannerStandIn {
  readonly Gateway: new (options: {
    readonly address: string;
    readonly server: string;
    readonly token: string;
    readonly until: AbortSignal;
  }) => { run(): Promise<void> };
  readonly SimulatedBox: new (bench: Bench) => {
    plug(leads: readonly PluggedLead[]): void;
    work(steps: readonly object[]): void;
    listen(): Promise<number>;
    stop(): Promise<void>;
  };
  readonly startScanner: (options: {
    readonly board: string;
    readonly port: number;
    readonly pagePort: number;
  }) => Promise<{ readonly modbus: string; readonly page: string; stop(): Promise<void> }>;
}

export function loadScanner(): Promise<ScannerStandIn>;
