import { applyEdit, type Wiring } from '../../bench/index.js';
import { LONGEST_PAUSE, LiveBench } from '../../live/index.js';
import type { Incident } from '../../simulation/index.js';
import { noteHeld, type Reading, type WorkEvent, type WorkFindings } from './work.js';

/**
 * Works a board, as the attempt found it, again through everything that was logged, on a bench of one's
 * own.
 */
export function replayWork(opening: Wiring, log: readonly WorkEvent[]): WorkFindings {
  const live = new LiveBench();
  const energised: { t: number; at: number; permitted: boolean }[] = [];
  const incidents: Incident[] = [];
  const readings: Reading[] = [];
  const held = new Set<string>();
  let bench = opening;
  let permitted = false;
  let before = 0;
  // A wiring is put on the bench when something is done with it: of a hundred edits in a row the last one
  // counts.
  let isLoaded = false;
  log.forEach((event, at) => {
    if (!isLoaded && event.kind !== 'edit') {
      live.load(bench);
      isLoaded = true;
    }
    live.advance(Math.min(LONGEST_PAUSE, Math.max(0, event.t - before)));
    before = Math.max(before, event.t);
    switch (event.kind) {
      case 'edit': {
        const result = applyEdit(bench, event.edit);
        if (!result.ok) throw new Error(`log[${at}]: ${result.reason}`);
        bench = result.bench;
        permitted = false;
        isLoaded = false;
        held.clear();
        break;
      }
      case 'supply':
        if (event.on && !live.isSupplied) energised.push({ t: event.t, at, permitted });
        live.switchSupplies(event.on);
        break;
      case 'act': {
        noteHeld(held, event.stimulus);
        live.work(event.stimulus);
        break;
      }
      case 'reading':
        readings.push({
          t: event.t,
          at,
          between: [event.from, event.to],
          held: [...held].sort(),
          ohms: live.ohms(event.from, event.to),
          dead: !live.isSupplied,
        });
        break;
      case 'permission':
        permitted = true;
        break;
      case 'hand-in':
    }
    // What a board suffered while somebody worked it is told at the time of the log.
    for (const incident of live.news().incidents) incidents.push({ ...incident, t: event.t });
  });
  return { energised, incidents, readings };
}
