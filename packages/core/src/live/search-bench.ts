import { deviceOf, type Bench } from '../bench/index.js';
import { isSetByHand, settableOn, isSupply } from '../catalogue/index.js';
import {
  splitSetting,
  compile,
  stimulusProblem,
  targetOf,
  type Circuit,
  type Stimulus,
} from '../circuit/index.js';
import {
  devicesOf,
  isMendedBy,
  unordered,
  writeFault,
  type Fault,
  type WrittenFault,
} from '../faults/index.js';
import { observerOf, momentOf } from '../simulation/index.js';
import { LiveBench } from './live-bench.js';
import type { MeterReading, MeterRequest } from './meter.js';
import { perceived } from './perceived.js';
import type { Frame, Shape } from './perception.js';
import { SETTLE_LIMIT } from '../tolerances.js';

/** One thing done at a board whose fault is searched for. */
export type SearchEntry =
  | { readonly kind: 'act'; readonly stimulus: Stimulus }
  | { readonly kind: 'read'; readonly request: MeterRequest }
  /** A dial is read: `F2.dial`. */
  | { readonly kind: 'look'; readonly what: string }
  /** The supply is locked off, or the lock is taken away. */
  | { readonly kind: 'lock'; readonly on: boolean }
  /** A lead, by its place in the bench, is taken off one end, or put back. */
  | { readonly kind: 'lift'; readonly wire: number }
  | { readonly kind: 'refit'; readonly wire: number }
  | { readonly kind: 'verdict'; readonly fault: WrittenFault }
  /** A device is exchanged for a new one; a lead is renewed as it should run. */
  | { readonly kind: 'exchange'; readonly tag: string }
  | { readonly kind: 'renew'; readonly wire: number }
  /** The instructor's hand. */
  | { readonly kind: 'inject'; readonly fault: WrittenFault }
  | { readonly kind: 'clear'; readonly fault: WrittenFault };

/** An entry with the moment at which it was done, seconds of the bench's own clock. */
export type SearchEvent = { readonly t: number } & SearchEntry;

/** What follows at once from an entry, for the person who made it. */
export type SearchAnswer =
  | { readonly kind: 'done' }
  | { readonly kind: 'refused'; readonly reason: string }
  | { readonly kind: 'read'; readonly reading: MeterReading }
  | { readonly kind: 'look'; readonly value: number; readonly unit: 'A' | 's' };

const DONE: SearchAnswer = { kind: 'done' };
const refused = (reason: string): SearchAnswer => ({ kind: 'refused', reason });

/**
 * A board with faults in it that somebody searches for: operated, measured, isolated, taken apart and
 * repaired. The same entries at the same moments give the same board; it begins off.
 */
export class SearchBench {
  readonly live = new LiveBench();
  /** The supply is locked off. */
  locked = false;
  private readonly circuit: Circuit;
  private readonly lifted = new Set<number>();

  constructor(
    readonly bench: Bench,
    faults: readonly Fault[],
  ) {
    this.circuit = compile(bench);
    this.live.load(bench, { fresh: true, faults });
  }

  /** Seconds of the bench's own clock. */
  get clock(): number {
    return this.live.clock;
  }

  /** Faults that are still in the board, what a hand has taken off left out. */
  get faults(): readonly Fault[] {
    return this.live.simulation?.faults.filter(({ byHand }) => byHand !== true) ?? [];
  }

  /** Leads that are taken off, by their places in the bench. */
  get liftedLeads(): readonly number[] {
    return [...this.lifted];
  }

  get isSupplied(): boolean {
    return this.live.isSupplied;
  }

  get shape(): Shape {
    return this.live.shape!;
  }

  advanceTo(t: number): void {
    if (t > this.live.clock) this.live.advance(t - this.live.clock);
  }

  /** What a person at the board perceives now, and no more. */
  frame(): Frame {
    return perceived(this.live.frame()!, this.live.shape!, this.circuit, this.live.simulation!.state);
  }

  /** Everything about the board now, for who knows what is wrong with it. */
  wholeFrame(): Frame {
    return this.live.frame()!;
  }

  /** What is seen now, as one text: the same for boards that look the same. */
  look(): string {
    const { states, lamps, motors } = perceived(
      this.live.peek()!,
      this.live.shape!,
      this.circuit,
      this.live.simulation!.state,
    );
    return [...states, ...lamps, ...motors.map(({ driven }) => driven)].join();
  }

  /** Does one thing, now. What makes no sense on this board is refused and changes nothing. */
  do(entry: SearchEntry): SearchAnswer {
    switch (entry.kind) {
      case 'act':
        return this.act(entry.stimulus);
      case 'read':
        return { kind: 'read', reading: this.live.measure(entry.request) };
      case 'look':
        return this.lookAt(entry.what);
      case 'lock':
        return this.lock(entry.on);
      case 'lift':
      case 'refit':
        return this.lift(entry.wire, entry.kind === 'lift');
      case 'verdict':
        return DONE;
      case 'exchange':
        return this.exchange(entry.tag);
      case 'renew':
        return this.renew(entry.wire);
      case 'inject':
      case 'clear':
        this.live.act(entry.kind === 'inject' ? { inject: entry.fault } : { clear: entry.fault });
        return DONE;
    }
  }

  private act(stimulus: Stimulus): SearchAnswer {
    const problem = stimulusProblem(this.circuit, stimulus);
    if (problem) return refused(problem.message);
    const target = targetOf(stimulus);
    const device = target === null ? undefined : deviceOf(this.bench, target);
    if ('set' in stimulus && !(device && isSetByHand(device, splitSetting(stimulus.set).name)))
      return refused('no hand sets this');
    if (this.locked && device && isSupply(device) && 'close' in stimulus)
      return refused('the supply is locked off');
    // Whoever sets a dial puts right what stood wrong on it.
    if ('set' in stimulus)
      this.clearWhere(({ kind, place }) => place === target && isMendedBy('set', { kind }));
    // A fuse that is replaced is a new one.
    if ('reset' in stimulus)
      this.clearWhere(({ kind, place }) => place === target && isMendedBy('reset', { kind }));
    this.live.act(stimulus);
    return DONE;
  }

  private lookAt(what: string): SearchAnswer {
    const outcome = observerOf(this.circuit, what);
    const { tag, name } = splitSetting(what);
    const device = deviceOf(this.bench, tag);
    const dial = device && settableOn(device).find(({ setting }) => setting === name);
    if ('problem' in outcome || !dial) return refused('there is no such dial');
    const value = Number(outcome.observer.read(momentOf(this.live.simulation!)));
    return { kind: 'look', value, unit: dial.unit === 'A' ? 'A' : 's' };
  }

  private lock(on: boolean): SearchAnswer {
    if (on && this.isSupplied) return refused('switch the supply off before it is locked');
    this.locked = on;
    return DONE;
  }

  private wirePlace(wire: number): string | null {
    const one = this.bench.wires[wire];
    return one ? `${one.from} ${one.to}` : null;
  }

  private lift(wire: number, off: boolean): SearchAnswer {
    const place = this.wirePlace(wire);
    if (place === null) return refused('there is no such lead');
    if (off === this.lifted.has(wire)) return refused(off ? 'it is off already' : 'it is on already');
    const hand = { 'open-wire': place, byHand: true };
    this.live.act(off ? { inject: hand } : { clear: hand });
    if (off) this.lifted.add(wire);
    else this.lifted.delete(wire);
    return DONE;
  }

  private exchange(tag: string): SearchAnswer {
    if (!deviceOf(this.bench, tag)) return refused('there is no such device');
    this.clearWhere((fault) => isInDevice(fault, tag));
    this.live.simulation?.renew(tag);
    return DONE;
  }

  private renew(wire: number): SearchAnswer {
    const place = this.wirePlace(wire);
    if (place === null) return refused('there is no such lead');
    this.clearWhere((fault) => isInLead(fault, place));
    return DONE;
  }

  private clearWhere(test: (fault: Fault) => boolean): void {
    for (const fault of this.faults) if (test(fault)) this.live.act({ clear: writeFault(fault) });
  }
}

/** True of a fault that is in a lead, not in a device. */
export const isWireFault = ({ kind }: Pick<Fault, 'kind'>): boolean => kind.endsWith('-wire');

/** True of a fault that is in a device. */
export const isInDevice = (fault: Fault, tag: string): boolean =>
  !isWireFault(fault) && devicesOf(fault).includes(tag);

/** True of a fault that is in the lead between two terminals, `"A:1 B:2"`. */
export const isInLead = (fault: Fault, ends: string): boolean =>
  isWireFault(fault) && unordered(fault.place) === unordered(ends);

/** True where two faults are in the same device or lead. */
export const isSamePlace = (one: Fault, other: Fault): boolean =>
  isWireFault(other) ? isInLead(one, other.place) : devicesOf(other).some((tag) => isInDevice(one, tag));

/** Works a board again through everything that was logged; each entry is shown with what followed from it. */
export function* searchAgain(
  bench: SearchBench,
  log: readonly SearchEvent[],
): Generator<{ readonly event: SearchEvent; readonly answer: SearchAnswer; readonly before: string }> {
  for (const event of log) {
    bench.advanceTo(event.t);
    const before = bench.look();
    yield { event, answer: bench.do(event), before };
  }
  bench.advanceTo(bench.clock + SETTLE_LIMIT);
}

/** A board as it is seen: leads where they really end, dials as they really stand. */
export function seenOn(bench: Bench, faults: readonly Fault[]): Bench {
  return faults.reduce((seen, { kind, place, to, dial, delay }): Bench => {
    if (kind === 'wrong-wire' && to !== undefined) {
      const [from = '', end = ''] = place.split(' ');
      const wires = seen.wires.map((wire) =>
        wire.from === from && wire.to === end
          ? { ...wire, to: to as typeof wire.to }
          : wire.from === end && wire.to === from
            ? { ...wire, from: to as typeof wire.from }
            : wire,
      );
      return { ...seen, wires };
    }
    if (!kind.endsWith('-misset')) return seen;
    const devices = seen.devices.map((device) =>
      device.tag === place
        ? ({
            ...device,
            settings: { ...device.settings, ...(dial ? { dial } : {}), ...(delay ? { delay } : {}) },
          } as typeof device)
        : device,
    );
    return { ...seen, devices };
  }, bench);
}
