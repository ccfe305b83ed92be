import type { Bench, TerminalRef } from '../../bench/index.js';
import { anatomy, type TerminalRole } from '../../catalogue/index.js';
import { LiveBench } from '../../live/index.js';
import type { DeadTest, Practice } from '../exercise.js';
import type { RuleVerdict } from '../rules/index.js';
import { atTime, describeOhms, type Reading, type WorkEvent, type WorkFindings } from './work.js';
import { READING_SPREAD } from '../../tolerances.js';

/** Ohms up to which two terminals are joined by wires and contacts alone. */
const JOINED = 1;

/** What the dead test of a board asks for: the exercise's table, or the frames' earth and the supply's conductors as the reference has them. */
export function deadTestsOf({ deadTest }: Practice, reference: Bench): readonly DeadTest[] {
  if (deadTest === undefined || deadTest === false) return [];
  return deadTest === true ? usualTests(reference) : deadTest;
}

/** Each frame to the supply's earth, and every two live conductors of a supply to each other. */
function usualTests(reference: Bench): DeadTest[] {
  const live = new LiveBench();
  live.load(reference);
  const bodies = reference.devices.map((device) => ({ tag: device.tag, ...anatomy(device) }));
  const ends = ({ tag, terminals }: (typeof bodies)[number], ...roles: TerminalRole[]) =>
    terminals.filter(({ role }) => roles.includes(role)).map(({ name }): TerminalRef => `${tag}:${name}`);
  const supplies = bodies.filter(({ sources }) => sources.length > 0);
  const [earth] = supplies.flatMap((one) => ends(one, 'earth'));
  const frames = bodies.filter(({ motor }) => motor !== undefined).flatMap((one) => ends(one, 'earth'));
  const pairs = [
    ...(earth === undefined ? [] : frames.map((frame): DeadTest['between'] => [earth, frame])),
    ...supplies.flatMap((one) => {
      const conductors = ends(one, 'feed', 'return');
      return conductors.flatMap((a, k) => conductors.slice(k + 1).map((b): DeadTest['between'] => [a, b]));
    }),
  ];
  return pairs.map((between) => ({ between, hold: [], expect: expectedOf(live.ohms(...between)) }));
}

/** A value that a meter of moderate accuracy would call the same. */
function expectedOf(ohms: number): DeadTest['expect'] {
  if (!Number.isFinite(ohms)) return 'open';
  return ohms <= JOINED ? 'closed' : { min: (1 - READING_SPREAD) * ohms, max: (1 + READING_SPREAD) * ohms };
}

const isAsExpected = (ohms: number, expect: DeadTest['expect']): boolean =>
  expect === 'open'
    ? !Number.isFinite(ohms)
    : expect === 'closed'
      ? ohms <= JOINED
      : ohms >= (expect.min ?? 0) && ohms <= (expect.max ?? Number.MAX_VALUE);

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
    else if (!isAsExpected(last.ohms, test.expect))
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
