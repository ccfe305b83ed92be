import { bisector } from 'd3';
import {
  isMotor,
  isOverloadRelay,
  isSupply,
  kindOf,
  synchronousSpeed,
  type Device,
  type Frame,
  type Shape,
} from '@contactum/core';
import type { LiveBench } from './live.js';

/** Seconds that are kept of what a board has done. */
export const KEPT_SECONDS = 600;
/** Stretches that may be seen at once, seconds; the longest is what is kept. */
export const SPANS: readonly number[] = [5, 20, 60, 300, KEPT_SECONDS];
/** Longest pause between two samples of a value that does not change, seconds: so that a line has points. */
const PAUSE = 1;
/** Longest that a start is followed, seconds. */
const LONGEST_START = 60;

/** A device's row: where in a frame its value stands, and its words. */
export interface Row {
  readonly tag: string;
  readonly source: 'state' | 'lamp' | 'field';
  readonly words: Readonly<Record<string, string>>;
}

/** A value from its moment until the next. */
export interface Mark {
  readonly t: number;
  readonly value: string;
}

/** A number in time: of a motor, or of what protects it. */
export interface Channel {
  readonly tag: string;
  readonly name: string;
  /** Of a relay, whichever motor it protects. */
  readonly ofRelay?: true;
  readonly unit: string;
  /** Top of its scale. */
  readonly most: number;
  readonly of: (frame: Frame, shape: Shape) => number;
}

export interface Sample {
  readonly t: number;
  readonly value: number;
}

/** States in the words of a person at the bench. */
const WORDS: Readonly<Record<string, string>> = { none: 'not driven', 'single-phase': 'two lines only' };
const SUPPLY_WORDS: Readonly<Record<string, string>> = { closed: 'on', open: 'off' };

const rowsOf = (devices: readonly Device[]): Row[] =>
  devices.flatMap((device): Row[] => {
    const { told } = kindOf(device);
    if (told === 'nothing') return [];
    return [{ tag: device.tag, source: told, words: isSupply(device) ? SUPPLY_WORDS : WORDS }];
  });

const byTime = bisector(({ t }: Sample) => t);

export type Motor = Extract<Device, { type: 'motor-3' | 'motor-1' }>;

/** Rated torque of a motor's plate, N m. */
export const ratedTorque = ({ options: { plate } }: Motor): number =>
  (plate.kW * 1000) / ((plate.speed * 2 * Math.PI) / 60);

/** The motors among devices. */
export const motorsOf = (devices: readonly Device[]): Motor[] =>
  devices.filter((device): device is Motor => isMotor(device));

/** Speed, torque and current of each motor; the heat of each overload relay. */
function channelsOf(devices: readonly Device[]): Channel[] {
  const motors = motorsOf(devices);
  const motorIn = (frame: Frame, shape: Shape, tag: string) => frame.motors[shape.motors.indexOf(tag)];
  return [
    ...motors.flatMap((motor): Channel[] => {
      const { tag } = motor;
      const { plate } = motor.options;
      const synchronous = synchronousSpeed(plate.frequency, plate.speed) ?? plate.speed;
      return [
        {
          tag,
          name: 'Current',
          unit: 'A',
          most: plate.current * 7,
          of: (frame, shape) => motorIn(frame, shape, tag)?.amps ?? 0,
        },
        {
          tag,
          name: 'Speed',
          unit: 'rpm',
          most: synchronous * 1.05,
          of: (frame, shape) => Math.abs(motorIn(frame, shape, tag)?.rpm ?? 0),
        },
        {
          tag,
          name: 'Torque',
          unit: 'N m',
          most: ratedTorque(motor) * 3,
          of: (frame, shape) => Math.abs(motorIn(frame, shape, tag)?.torque ?? 0),
        },
      ];
    }),
    ...devices.filter(isOverloadRelay).map(({ tag }): Channel => ({
      tag,
      name: `Heat of ${tag}`,
      ofRelay: true,
      unit: '% of trip',
      most: 110,
      of: (frame, shape) => (frame.heats[shape.heaters.indexOf(tag)] ?? 0) * 100,
    })),
  ];
}

/** Writes down what a board does from the moment that it is opened; what is older than ten minutes is forgotten. */
export class Recorder {
  readonly rows: readonly Row[];
  readonly channels: readonly Channel[];
  /** The latest moment, seconds. */
  now = 0;
  /** The first moment that is still known. */
  begun = 0;
  private readonly marks: Mark[][];
  private readonly samples: Sample[][];

  constructor(devices: readonly Device[]) {
    this.rows = rowsOf(devices);
    this.channels = channelsOf(devices);
    this.marks = this.rows.map(() => []);
    this.samples = this.channels.map(() => []);
  }

  /** Takes what a frame says. Events have their exact times; the frame only closes what they have not said. */
  take(frame: Frame, shape: Shape): void {
    for (const { what, t, state } of frame.events) {
      const k = this.rows.findIndex(
        ({ tag, source }) => (source === 'field' ? `${tag}.driven` : tag) === what,
      );
      if (k >= 0) this.mark(k, t, state);
    }
    const values = {
      lamp: (tag: string) => frame.lamps[shape.lamps.indexOf(tag)] ?? 'dark',
      field: (tag: string) => frame.motors[shape.motors.indexOf(tag)]?.driven ?? 'none',
      state: (tag: string) => frame.states[shape.devices.indexOf(tag)] ?? '',
    };
    this.rows.forEach(({ tag, source }, k) => this.mark(k, frame.t, values[source](tag)));
    this.channels.forEach(({ of }, k) => this.sample(k, frame.t, of(frame, shape)));
    this.now = Math.max(this.now, frame.t);
    this.begun = Math.max(this.begun, this.now - KEPT_SECONDS);
  }

  private mark(k: number, t: number, value: string): void {
    const list = this.marks[k];
    if (!list || list.at(-1)?.value === value) return;
    list.push({ t, value });
    // The value with which what is kept begins stays.
    while (list.length > 2 && (list[1]?.t ?? t) < t - KEPT_SECONDS) list.shift();
  }

  private sample(k: number, t: number, value: number): void {
    const list = this.samples[k];
    if (!list) return;
    const [last, before] = [list.at(-1), list.at(-2)];
    // A level stretch is its two ends, and a point now and then.
    if (last && before && last.value === value && before.value === value && t - before.t < PAUSE) list.pop();
    list.push({ t, value });
    // Forgotten in one go now and then: to move a long list at each frame costs more than to keep it.
    if ((list[0]?.t ?? t) < t - 1.1 * KEPT_SECONDS) {
      const first = list.findIndex((one) => one.t >= t - KEPT_SECONDS);
      list.splice(0, Math.max(0, first - 1));
    }
  }

  /** Places of the channels that belong to a motor: its own, and those of the relays of its board. */
  channelsFor(motor: string): number[] {
    return this.channels.flatMap(({ tag, ofRelay }, k) => (ofRelay || tag === motor ? [k] : []));
  }

  /** The values of a row in time. */
  marksOf(k: number): readonly Mark[] {
    return this.marks[k] ?? [];
  }

  /** The samples of a channel between two moments, with the one before and the one after. */
  samplesOf(k: number, from: number, to: number): readonly Sample[] {
    const list = this.samples[k] ?? [];
    return list.slice(Math.max(0, byTime.left(list, from) - 1), byTime.right(list, to) + 1);
  }

  /** A channel's value at a moment. */
  valueAt(k: number, t: number): number {
    const list = this.samples[k] ?? [];
    return list[byTime.right(list, t) - 1]?.value ?? 0;
  }

  wordsOf(k: number, value: string): string {
    return this.rows[k]?.words[value] ?? value;
  }

  /** What every row did at a moment, in words. */
  wordsAt(t: number): string[] {
    return this.marks.map((list, k) => this.wordsOf(k, list.findLast((mark) => mark.t <= t)?.value ?? ''));
  }

  /** From when to when a motor last came up to speed, seconds; null where it has not been started yet. */
  lastStart(tag: string): { readonly from: number; readonly to: number } | null {
    const row = this.rows.findIndex((one) => one.tag === tag && one.source === 'field');
    const list = this.marks[row] ?? [];
    const k = list.findLastIndex(
      ({ value }, n) => value !== 'none' && (list[n - 1]?.value ?? 'none') === 'none',
    );
    const from = list[k]?.t;
    if (from === undefined || from < this.begun) return null;
    const stopped = list.slice(k + 1).find(({ value }) => value === 'none')?.t ?? this.now;
    const channel = this.channels.findIndex((one) => one.tag === tag && one.name === 'Speed');
    const run = this.samplesOf(channel, from, Math.min(stopped, from + LONGEST_START));
    const top = Math.max(...run.map(({ value }) => value));
    const upAt = run.find(({ t, value }) => t > from && value >= 0.98 * top)?.t ?? stopped;
    return { from, to: Math.min(stopped, Math.max(upAt + 0.25 * (upAt - from), from + 1)) };
  }
}

/** Fewer samples that look the same: of each stretch the lowest and the highest, in their order. */
export function thinned(samples: readonly Sample[], stretches: number): readonly Sample[] {
  const [first, last] = [samples[0], samples.at(-1)];
  if (!first || !last || samples.length <= 2 * stretches) return samples;
  const width = (last.t - first.t) / stretches;
  const kept: Sample[] = [];
  let [low, high, end] = [first, first, first.t + width];
  const keep = () => kept.push(...(low === high ? [low] : low.t < high.t ? [low, high] : [high, low]));
  for (const one of samples.slice(1)) {
    if (one.t > end) {
      keep();
      [low, high, end] = [one, one, one.t + width];
    }
    if (one.value < low.value) low = one;
    if (one.value > high.value) high = one;
  }
  keep();
  return kept;
}

/** Records a board from now on; returns what ends it. */
export function record(recorder: Recorder, { store }: LiveBench): () => void {
  let last: Frame | null = null;
  const take = () => {
    const { frame, shape } = store.getState();
    if (!frame || !shape || frame === last) return;
    last = frame;
    recorder.take(frame, shape);
  };
  take();
  return store.subscribe(take);
}
