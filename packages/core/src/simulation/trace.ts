import type { Present } from './present.js';

export type IncidentKind =
  | 'phase-to-phase'
  | 'phase-to-neutral'
  | 'phase-to-earth'
  | 'dc-short'
  | 'coil-overvoltage'
  | 'coil-burnt'
  | 'lamp-burnt'
  | 'chatter'
  | 'overload-trip'
  | 'breaker-trip'
  | 'fuse-blown'
  | 'single-phasing'
  | 'stall'
  | 'plugging'
  | 'live-earth'
  | 'pushed-in-live';

/** Something that a real bench would suffer. */
export interface Incident {
  readonly t: number;
  readonly kind: IncidentKind;
  readonly where: readonly string[];
}

/** A change of what a device is doing. */
export interface TraceEvent {
  readonly t: number;
  readonly what: string;
  readonly state: string;
}

/** What a run has to tell: changes and incidents, in order of time. */
export class Trace {
  readonly events: TraceEvent[] = [];
  readonly incidents: Incident[] = [];
  /** Conditions that last and were told when they began. */
  private readonly lasting = new Set<string>();

  constructor(private readonly present: Present) {}

  note(what: string, state: string): void {
    this.events.push({ t: this.present.t, what, state });
  }

  incident(kind: IncidentKind, where: readonly string[]): void {
    this.incidents.push({ t: this.present.t, kind, where });
  }

  /** True when a condition begins; it may begin again when it has ended. */
  begins(condition: string, holds: boolean): boolean {
    if (!holds) {
      this.lasting.delete(condition);
      return false;
    }
    if (this.lasting.has(condition)) return false;
    this.lasting.add(condition);
    return true;
  }

  /** True while a condition lasts that was told. */
  lasts(condition: string): boolean {
    return this.lasting.has(condition);
  }
}
