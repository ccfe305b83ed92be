import { expect, test } from '@jest/globals';
import { checkSeed } from './fuzz/check.js';

/** Thousands more run with `npm run fuzz -- --minutes N`. */
const BOARDS = 150;
/** Of a hundred traces, how many may show in time what they claim only until a fuse has cleared it. */
const CLEARED = 2;

test(`a plain checker finds the same in ${BOARDS} wrong wirings, and what is claimed replays (seeds 1 to ${BOARDS})`, () => {
  const results = Array.from({ length: BOARDS }, (_, k) => checkSeed(k + 1));
  const findings = results.flatMap((result) => result.findings);
  expect(findings.filter(({ what }) => what !== 'trace')).toEqual([]);
  const traces = results.reduce((sum, result) => sum + result.traces, 0);
  expect(traces).toBeGreaterThan(BOARDS / 2);
  expect(findings.length).toBeLessThanOrEqual((traces * CLEARED) / 100);
  expect(results.filter(({ skipped }) => skipped).length).toBeLessThan(BOARDS / 20);
});
