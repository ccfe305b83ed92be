import { LiveBench } from '@contactum/core';
import type { BenchCommand, BenchReport } from '@contactum/contract';

/** Runs one bench in real time and tells the page what a person would see, at most 30 times a second. */

const FRAME_MS = 1000 / 30;
/** Longest stretch that is caught up after the page was asleep, seconds. */
const LONGEST_STEP = 1;
/** Frames that are still told after everything has come to rest. */
const QUIET_AFTER = 10;
const live = new LiveBench();
let lastTick = performance.now();
let idleFrames = 0;

const post = (report: BenchReport) => self.postMessage(report);

function tell(): void {
  const frame = live.frame();
  if (!frame) return;
  idleFrames = frame.running ? 0 : idleFrames + 1;
  post({ kind: 'frame', frame });
}

/** Brings the bench up to the present moment. */
function catchUp(): void {
  const now = performance.now();
  live.advance(Math.min((now - lastTick) / 1000, LONGEST_STEP));
  lastTick = now;
}

self.onmessage = ({ data }: MessageEvent<BenchCommand>) => {
  catchUp();
  switch (data.kind) {
    case 'load':
      live.load(data.bench, data);
      if (live.shape) post({ kind: 'shape', shape: live.shape });
      break;
    case 'ohms':
      post({ kind: 'ohms', value: live.ohms(data.from, data.to) });
      return;
    case 'measure':
      post({ kind: 'measured', reading: live.measure(data.request) });
      return;
    case 'do':
      live.act(data.stimulus);
  }
  idleFrames = 0;
  tell();
};

setInterval(() => {
  catchUp();
  if (idleFrames < QUIET_AFTER) tell();
}, FRAME_MS);
