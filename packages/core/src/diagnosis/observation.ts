import { SUPPLY_OPEN } from '../catalogue/index.js';
import type { TerminalRef } from '../bench/index.js';
import {
  isSupplySwitch,
  describeStimulus,
  type Circuit,
  type MechanicalState,
  type Stimulus,
} from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import type { Fault } from '../faults/index.js';
import {
  Simulation,
  isAsExpected,
  momentOf,
  observerOf,
  type Expected,
  type Observer,
  type Range,
} from '../simulation/index.js';
import { JOINED_OHMS } from '../tolerances.js';

/** Where an instrument lies. */
export type Meter =
  | { readonly mode: 'volts' | 'ohms'; readonly between: readonly [TerminalRef, TerminalRef] }
  | { readonly mode: 'amps'; readonly at: TerminalRef };

/** What is looked at: what is done to a fresh board, and what lies on it; without what was found. */
export interface Test {
  /** Off and isolated. */
  readonly dead?: boolean | undefined;
  readonly steps: readonly Stimulus[];
  readonly meter?: Meter | undefined;
  /** The one thing to look at, by its name in scripts; everything that shows where it names none. */
  readonly look?: string | undefined;
}

/** What an instrument showed. */
export type Read = Range | 'open' | 'closed';

/** What was seen or read on a board. */
export interface BoardObservation extends Test {
  readonly see?: Readonly<Record<string, Expected>> | undefined;
  readonly read?: Read | undefined;
}

/** The name by which scripts observe what a meter shows. */
export const observableOf = (meter: Meter): string =>
  meter.mode === 'amps' ? `amps(${meter.at})` : `${meter.mode}(${meter.between.join(', ')})`;

/** The fresh state of a board whose supplies are off. */
export function deadState({ initial, mechanisms }: Circuit): MechanicalState {
  const state = initial.slice();
  for (const one of mechanisms) if (isSupplySwitch(one)) state[one.index]! |= SUPPLY_OPEN;
  return state;
}

/** A fresh board with some faults, off and isolated or with its supply on. */
export const freshBoard = (sound: Solver, faults: readonly Fault[], dead = false): Simulation =>
  new Simulation(sound, dead ? deadState(sound.circuit) : undefined, false, faults);

/**
 * Everything observed by name on a board; names are resolved once. Throws on a name that the board does not
 * have.
 */
export class Eye {
  private readonly observers = new Map<string, Observer>();

  constructor(private readonly circuit: Circuit) {}

  /** What a name shows now. */
  read(simulation: Simulation, what: string): string | number {
    let observer = this.observers.get(what);
    if (!observer) {
      const outcome = observerOf(this.circuit, what);
      if ('problem' in outcome) throw new Error(outcome.problem);
      this.observers.set(what, (observer = outcome.observer));
    }
    return observer.read(momentOf(simulation));
  }

  /** True where a board, now, shows what was observed. */
  agrees(simulation: Simulation, { see = {}, meter, read }: BoardObservation): boolean {
    for (const [what, expected] of Object.entries(see))
      if (!isAsExpected(this.read(simulation, what), expected)) return false;
    if (!meter || read === undefined) return true;
    return isRead(Number(this.read(simulation, observableOf(meter))), read);
  }
}

/** True where a value is what an instrument showed. */
export function isRead(value: number, read: Read): boolean {
  if (read === 'open') return !Number.isFinite(value);
  if (read === 'closed') return value <= JOINED_OHMS;
  return isAsExpected(value, read);
}

const METERS = { volts: 'volts', ohms: 'ohms', amps: 'amperes' } as const;

/** A test in plain words. */
export function describeTest({ dead = false, steps, meter, look }: Test): string {
  const done = steps.map(describeStimulus).join(', ');
  const first = dead ? `off and isolated${done ? `, ${done}` : ''}` : done || 'with the supply on';
  if (look !== undefined) return `read the setting ${look}`;
  if (!meter) return `${first}: look`;
  const place = meter.mode === 'amps' ? `into ${meter.at}` : `from ${meter.between.join(' to ')}`;
  return `${first}: ${METERS[meter.mode]} ${place}`;
}
