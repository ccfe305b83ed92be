import { applyEdit, type Edit, type Wiring } from '../bench/index.js';
import type { Stimulus } from '../circuit/index.js';
import type { Fault } from '../faults/index.js';
import { describeIncident, type Incident } from '../simulation/index.js';
import { LiveBench } from './live-bench.js';
import type { Frame, Shape } from './perception.js';
import { Proving, type Provable } from './proving.js';

/**
 * Where an edit comes from that nobody made on the screen: `board`, a lead that was seen to come or go on a
 * physical board; `scan`, one of several that were found at once, in whatever order they were laid.
 */
export type EditSource = 'board' | 'scan';

/** One thing done at the bench, as it is sent, stored and worked again. */
export type WorkEntry =
  | { readonly kind: 'edit'; readonly edit: Edit; readonly source?: EditSource | undefined }
  | { readonly kind: 'supply'; readonly on: boolean }
  | { readonly kind: 'act'; readonly stimulus: Stimulus }
  /** The ohmmeter laid on two terminals. */
  | { readonly kind: 'reading'; readonly from: string; readonly to: string };

/** How far somebody has come at a board, by what was done at it. */
export interface Standing {
  readonly step: 'wire' | 'dead-test' | 'energise' | 'prove' | 'hand-in';
  readonly supplyOn: boolean;
  /** Short circuits, trips and what else went wrong since it was opened. */
  readonly incidents: number;
  readonly lastIncident: string | null;
  readonly leads: number;
  /** Functions that it has shown since its wiring was last changed, of how many. */
  readonly shown: number;
  readonly functions: number;
  /** What is in, lit or driven now, shortly. */
  readonly running: string;
}

export interface Followed {
  /** The board as it was opened, with the leads that were there. */
  readonly opening: Wiring;
  readonly behaviours: readonly Provable[];
  /** Dead tests are asked for. */
  readonly testsDead: boolean;
}

/**
 * While something changes by itself it is looked at this often, seconds; and at most so long after one act.
 */
const SLICE = 0.1;
const WATCHED = 15;
/**
 * Longest time that is worked through between two acts, seconds: what is to happen to a board has happened
 * by then.
 */
export const LONGEST_PAUSE = 600;

/**
 * A bench that somebody works elsewhere, followed by its log: the same entries, at the same times, on a
 * board of one's own. So what is told of it is what it did, whatever the browser in which it is worked may
 * say.
 */
export class FollowedBench {
  private readonly live = new LiveBench();
  private readonly proving: Proving;
  private readonly incidents: Incident[] = [];
  private bench: Wiring;
  private faults: readonly Fault[] = [];
  private read = false;
  private isLoaded = false;
  /** Seconds of the log. */
  private t = 0;

  constructor(private readonly followed: Followed) {
    this.bench = followed.opening;
    this.proving = new Proving(followed.behaviours);
  }

  /** Does what was done at a moment of the log, seconds. Throws where an edit does not fit the board. */
  take(t: number, entry: WorkEntry): void {
    // Of a hundred edits in a row the last one is put on the bench.
    if (entry.kind !== 'edit') this.advanceTo(t);
    this.t = Math.max(this.t, t);
    switch (entry.kind) {
      case 'edit': {
        const result = applyEdit(this.bench, entry.edit);
        if (!result.ok) throw new Error(result.reason);
        this.bench = result.bench;
        this.isLoaded = false;
        this.read = false;
        this.proving.restart();
        return;
      }
      case 'supply':
        this.live.switchSupplies(entry.on);
        break;
      case 'act':
        this.proving.act(entry.stimulus);
        this.live.act(entry.stimulus);
        break;
      case 'reading':
        this.read = true;
    }
    this.perceive();
  }

  /** Lets time pass up to a moment of the log, seconds. */
  advanceTo(t: number): void {
    this.load();
    let left = Math.min(LONGEST_PAUSE, Math.max(0, t - this.t));
    this.t = Math.max(this.t, t);
    for (let watched = 0; left > 0; watched += SLICE) {
      const isRunning = this.live.peek()?.running ?? false;
      const step = isRunning && watched < WATCHED ? Math.min(SLICE, left) : left;
      this.live.advance(step);
      left -= step;
      this.perceive();
    }
  }

  /** Faults that an instructor has put in. */
  setFaults(faults: readonly Fault[]): void {
    this.faults = faults;
    const supplyOn = this.live.isSupplied;
    this.isLoaded = false;
    this.load(supplyOn);
  }

  get shape(): Shape | null {
    return this.live.shape;
  }

  /** What would be perceived at it now. */
  get frame(): Frame | null {
    return this.live.peek();
  }

  get standing(): Standing {
    this.load();
    const { behaviours, testsDead } = this.followed;
    const shown = this.proving.shown.size;
    const supplyOn = this.live.isSupplied;
    const last = this.incidents.at(-1);
    return {
      step: stepOf(shown, behaviours.length, supplyOn, testsDead && this.read),
      supplyOn,
      incidents: this.incidents.length,
      lastIncident: last ? describeIncident(last) : null,
      leads: this.bench.wires.length,
      shown,
      functions: behaviours.length,
      running: runningOf(this.frame, this.shape),
    };
  }

  private load(supplyOn = false): void {
    if (this.isLoaded) return;
    this.live.load(this.bench, { supplyOn, faults: this.faults });
    this.isLoaded = true;
  }

  private perceive(): void {
    const { shape } = this.live;
    const frame = this.live.frame();
    if (!frame || !shape) return;
    this.incidents.push(...frame.incidents);
    this.proving.perceive(frame, shape);
  }
}

function stepOf(shown: number, functions: number, supplyOn: boolean, hasRead: boolean): Standing['step'] {
  if (functions > 0 && shown === functions) return 'hand-in';
  if (supplyOn) return shown > 0 ? 'prove' : 'energise';
  if (shown > 0) return 'prove';
  return hasRead ? 'dead-test' : 'wire';
}

/** What a person sees at work: motors first. */
function runningOf(frame: Frame | null, shape: Shape | null): string {
  if (!frame || !shape) return '';
  const told = (tags: readonly string[], wordOf: (k: number) => string | undefined): string[] =>
    tags.flatMap((tag, k) => {
      const word = wordOf(k);
      return word === undefined ? [] : [`${tag} ${word}`];
    });
  const among = (word: string | undefined, words: readonly string[]): string | undefined =>
    word !== undefined && words.includes(word) ? word : undefined;
  return [
    ...told(shape.motors, (k) => among(frame.motors[k]?.driven, ['forward', 'reverse', 'single-phase'])),
    ...told(shape.devices, (k) => among(frame.states[k], ['in', 'timing', 'tripped', 'chattering'])),
    ...told(shape.lamps, (k) => among(frame.lamps[k], ['lit'])),
  ]
    .join(', ')
    .slice(0, 200);
}
