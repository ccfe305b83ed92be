interface Place {
  readonly host: string;
  readonly port: number;
}
interface Known extends Place {
  readonly password: string;
}

export function makePrimary(options: {
  readonly data: string;
  readonly port: number;
  readonly password: string;
  readonly archive?: string | null;
}): void;
export function makeStandby(options: {
  readonly data: string;
  readonly port: number;
  readonly from: Place;
  readonly password: string;
  readonly archive?: string | null;
}): Promise<void>;
export function setSynchronous(of: Known, on: boolean): Promise<void>;
export function promote(options: { readonly data: string; readonly password: string }): Promise<void>;
export function rebuild(options: {
  readonly data: string;
  readonly from: Place;
  readonly password: string;
}): Promise<'rewound' | 'copied anew'>;
export function statusOf(of: Known): Promise<{
  readonly standby: boolean;
  readonly waits: string;
  readonly followers: readonly { readonly name: string; readonly state: string; readonly sync: string }[];
}>;
export function baseBackup(options: {
  readonly of: Place;
  readonly data: string;
  readonly into: string;
  readonly password: string;
}): string;
export function restoreTo(options: {
  readonly archive: string;
  readonly moment: Date;
  readonly data: string;
  readonly port: number;
  readonly password: string;
}): Promise<void>;
export function switchLog(of: Known): Promise<void>;
export function start(data: string): void;
export function stop(data: string, mode?: 'fast' | 'immediate'): void;
export function isRunning(data: string): boolean;
