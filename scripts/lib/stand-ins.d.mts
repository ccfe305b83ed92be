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

/** What tests use of the stand-ins of a platform and a sign-on. */
export interface DoorStandIns {
  readonly Gradebook: new (options: { readonly tool: string; readonly port?: number }) => {
    readonly issuer: string;
    readonly registration: object;
    start(): Promise<unknown>;
    stop(): Promise<void>;
  };
  readonly SignOnStandIn: new (options: { readonly tool: string; readonly port?: number }) => {
    readonly issuer: string;
    readonly environment: Record<string, string>;
    start(): Promise<unknown>;
    stop(): Promise<void>;
  };
}

export function loadDoors(): Promise<DoorStandIns>;
