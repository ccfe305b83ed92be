import type { DeadTest } from '../exercise.js';
import type { RuleVerdict } from '../rules/index.js';
import { atTime, describeOhms, type Reading, type WorkEvent, type WorkFindings } from './work.js';
import { JOINED_OHMS } from '../../tolerances.js';

/** True where an ohmmeter shows what a dead test expects. */
export function isOhmsExpected(ohms: number, expect: DeadTest['expect']): boolean {
  const [least, most] = ohmsLimits(expect);
  return ohms >= least && ohms <= most;
}

/**
 * From which to which reading an ohmmeter shows what a dead test expects; where nothing joins the two there
 * is no end to it.
 */
export function ohmsLimits(expect: DeadTest['expect']): readonly [least: number, most: number] {
  if (expect === 'open') return [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY];
  if (expect === 'closed') return [0, JOINED_OHMS];
  return [expect.min ?? 0, expect.max ?? Number.MAX_VALUE];
}

/** True where a reading is one that a table asks for. */
export function isReadingOf(
  { between, hold }: Pick<DeadTest, 'between' | 'hold'>,
  reading: Pick<Reading, 'between' | 'held'>,
): boolean {
  const ends = (pair: readonly string[]) => [...pair].sort().join();
  return (
    ends(between) === ends(reading.between) && [...hold].sort().join() === [...reading.held].sort().join()
  );
}

const testName = ({ between, hold }: DeadTest): string =>
  `${between.join(' to ')}${hold.length > 0 ? ` with ${hold.join(' and ')} held` : ''}`;

/** Most tests named one by one. */
const NAMED = 4;

/** Every reading that is asked for, made dead on the wiring that was then energised, and right there. */
export function judgeDeadTest(
  tests: readonly DeadTest[],
  log: readonly WorkEvent[],
  { energised, readings }: WorkFindings,
): Pick<RuleVerdict, 'broken' | 'kept'> {
  const until = energised[0]?.at ?? log.length;
  const changed = log.slice(0, until).findLastIndex(({ kind }) => kind === 'edit');
  const made = readings.filter((reading) => reading.dead && reading.at < until);
  const valid = made.filter((reading) => reading.at > changed);
  const missing: string[] = [];
  const ignored: string[] = [];
  for (const test of tests) {
    const last = valid.findLast((reading) => isReadingOf(test, reading));
    if (!last) missing.push(testName(test));
    else if (!isOhmsExpected(last.ohms, test.expect))
      ignored.push(`${testName(test)} read ${describeOhms(last.ohms)}`);
  }
  const wrong = missing.length + ignored.length;
  if (wrong === 0) return { broken: null };
  const stale =
    missing.length > 0 && valid.length < made.length ? 'the wiring was changed after a dead test; ' : '';
  const more = missing.length > NAMED ? ` and ${missing.length - NAMED} more` : '';
  const parts = [
    ...(missing.length > 0 ? [`not tested: ${missing.slice(0, NAMED).join(', ')}${more}`] : []),
    ...(ignored.length > 0 ? [`energised although ${ignored.join(', ')}`] : []),
  ];
  const when = energised.length > 0 ? `; energised${atTime(energised[0])}` : '';
  return { broken: { found: `${stale}${parts.join('; ')}${when}` }, kept: 1 - wrong / tests.length };
}
