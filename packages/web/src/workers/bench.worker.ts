import { expose } from 'comlink';
import {
  LiveBench,
  type Bench,
  type Explanation,
  type Fault,
  type Frame,
  type MeterReading,
  type MeterRequest,
  type Shape,
  type SoFar,
  type Stimulus,
} from '@contactum/core';
import type * as Proof from './so-far.js';

/**
 * Runs one bench in real time and tells the page what a person would see, at most 30 times a second; or
 * proves wirings while they are made, in a thread beside it. One file, so that the second costs no second
 * download of what both are made of.
 */

const FRAME_MS = 1000 / 30;
/** Longest time that is caught up after the page was asleep, seconds. */
const LONGEST_STEP = 1;
/** Frames that are still told after everything has come to rest. */
const QUIET_AFTER = 10;
const live = new LiveBench();
let lastTick = performance.now();
let idleFrames = 0;
let hear: ((frame: Frame) => void) | null = null;
let isTicking = false;

function tell(): void {
  const frame = live.frame();
  if (!frame) return;
  idleFrames = frame.running ? 0 : idleFrames + 1;
  hear?.(frame);
}

/** Brings the bench up to the present moment. */
function catchUp(): void {
  const now = performance.now();
  live.advance(Math.min((now - lastTick) / 1000, LONGEST_STEP));
  lastTick = now;
}

const bench = {
  follow(told: (frame: Frame) => void): void {
    hear = told;
  },
  /** Puts a board on the bench; gives what it consists of. */
  load(board: Bench, options: { supplyOn: boolean; fresh: boolean; faults: readonly Fault[] }): Shape | null {
    if (!isTicking) startTicking();
    catchUp();
    live.load(board, options);
    idleFrames = 0;
    // The page takes the shape before the first frame of it.
    setTimeout(tell);
    return live.shape;
  },
  act(stimulus: Stimulus): void {
    catchUp();
    live.act(stimulus);
    idleFrames = 0;
    tell();
  },
  force(tag: string, at: string, value: boolean | null): void {
    catchUp();
    live.force(tag, at, value);
    idleFrames = 0;
    tell();
  },
  ohms(from: string, to: string): number {
    catchUp();
    return live.ohms(from, to);
  },
  async explain(tag: string): Promise<Explanation | null> {
    const { whyNow } = await import('./why-now.js');
    catchUp();
    return whyNow(live, tag);
  },
  measure(request: MeterRequest): Promise<MeterReading> {
    catchUp();
    return Promise.resolve(live.measure(request));
  },
};

/** What a wiring can do so far; its part of the program is fetched when it is first asked for. */
const soFar = async (...asked: Parameters<typeof Proof.provedSoFar>): Promise<SoFar> =>
  (await import('./so-far.js')).provedSoFar(...asked);

const thread = { ...bench, soFar };

export type BenchThread = typeof thread;

function startTicking(): void {
  isTicking = true;
  lastTick = performance.now();
  setInterval(() => {
    catchUp();
    if (idleFrames < QUIET_AFTER) tell();
  }, FRAME_MS);
}

expose(thread);
