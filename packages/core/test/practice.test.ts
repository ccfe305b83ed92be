import { describe, expect, test } from '@jest/globals';
import {
  deadTestsOf,
  grade,
  judgePractice,
  openingBoard,
  laidLead,
  referenceBench,
  replayWork,
  type DeadTest,
  type Exercise,
  type Practice,
  type Wire,
  type WorkEvent,
} from '@contactum/core';
import { exercise } from './help.js';

const estop = exercise('brine-pump-emergency-stop');
const reference = referenceBench(estop);

/**
 * A log of the whole board wired rightly in its first seconds, then what is written shortly: \`12 read
 * G1:PE M1:PE\`, \`20 on\`.
 */
function log(text: string, wires: readonly Wire[] = estop.reference): WorkEvent[] {
  const wiring = wires.map((wire, k): WorkEvent => ({
    t: k / 10,
    kind: 'edit',
    edit: { do: 'connect', lead: laidLead(k + 1), wire },
  }));
  const acts = text
    .split(/[,;]\s*/)
    .filter(Boolean)
    .map((line): WorkEvent => {
      const [time = '', verb = '', a = '', b = ''] = line.trim().split(' ');
      const t = Number(time);
      switch (verb) {
        case 'on':
        case 'off':
          return { t, kind: 'supply', on: verb === 'on' };
        case 'permission':
        case 'hand-in':
          return { t, kind: verb };
        case 'read':
          return { t, kind: 'reading', from: a, to: b };
        case 'add':
          return {
            t,
            kind: 'edit',
            edit: { do: 'connect', lead: laidLead(wires.length + 1), wire: { from: a, to: b } as Wire },
          };
        default:
          return { t, kind: 'act', stimulus: { [verb]: a } as never };
      }
    });
  return [...wiring, ...acts];
}

const TESTS =
  '10 read G1:PE M1:PE, 11 read G1:L2 G1:L1, 12 read G1:L1 G1:N, 13 press S2, 14 read G1:L1 G1:N, 15 release S2';
const RUN = '30 on, 31 press S2, 31.2 release S2, 34 press S1, 34.3 release S1, 36 off';
const SHORT = '16 add G1:L1 G1:L2';

const verdict = (practice: Practice, events: WorkEvent[]) =>
  judgePractice(practice, events, { board: openingBoard(estop), reference }).map(({ id, broken, kept }) => ({
    id,
    right: broken === null,
    kept: kept ?? 0,
    found: broken?.found ?? '',
  }));

describe('work practice is found by working the board again, and taken from nobody’s word', () => {
  const asked = estop.practice as Practice;
  const dead: Practice = { deadTest: asked.deadTest };
  const cases: [string, Practice, WorkEvent[], boolean, number, RegExp][] = [
    ['every reading of the table, then on', dead, log(`${TESTS}, ${RUN}`), true, 0, /^$/],
    [
      'any other reading is none of the table',
      dead,
      log(`10 read Q1:1 Q1:2, ${RUN}`),
      false,
      0,
      /^not tested: G1:PE to M1:PE, G1:L1 to G1:L2, .* with S2 held; energised at 0 min 30 s$/,
    ],
    [
      'a button that was not held',
      dead,
      log(`${TESTS.replace('13 press S2, ', '').replace(', 15 release S2', '')}, ${RUN}`),
      false,
      0.75,
      /^not tested: G1:L1 to G1:N with S2 held/,
    ],
    ['read with the supply on', dead, log(`5 on, ${TESTS}, 20 off, ${RUN}`), false, 0, /^not tested/],
    [
      'the wiring changed after the test',
      dead,
      log(`${TESTS}, 16 add F2:97 F2:98, ${RUN}`),
      false,
      0,
      /^the wiring was changed after a dead test; not tested/,
    ],
    [
      'a fault that the reading showed, energised all the same',
      dead,
      log(`9 add G1:L1 G1:L2, ${TESTS}, ${RUN}`),
      false,
      0.75,
      /^energised although G1:L1 to G1:L2 read /,
    ],
    ['with permission', { permission: true }, log(`20 permission, ${RUN}`), true, 0, /^$/],
    [
      'permission before the last change',
      { permission: true },
      log(`7 permission, 9 add F2:97 F2:98, ${RUN}`),
      false,
      0,
      /^energised without permission once, first at 0 min 30 s$/,
    ],
    [
      'a short is found although nobody reports it',
      { incidents: 0 },
      log(`${SHORT}, ${RUN}`),
      false,
      0.25,
      /^2 incidents: phase-to-phase at 0 min 30 s, breaker-trip/,
    ],
    ['a sound board has none', { incidents: 0 }, log(RUN), true, 0, /^$/],
    ['within what is allowed', { incidents: 2 }, log(`${SHORT}, 30 on, 40 off`), true, 0, /^$/],
    [
      'who never energises has shown nothing',
      { permission: true },
      log(TESTS),
      false,
      0,
      /^the board was never energised$/,
    ],
    ['in time', { minutes: 10 }, log('590 hand-in'), true, 0, /^$/],
    ['half over time keeps half', { minutes: 10 }, log('900 hand-in'), false, 0.5, /^15 minutes were used$/],
  ];
  test.each(cases)('%s', (_name, practice, events, right, kept, found) => {
    const [one] = verdict(practice, events);
    expect(one).toMatchObject({ right, kept });
    expect(one?.found).toMatch(found);
  });

  test('a clock that is set back changes nothing', () => {
    const events = log(`${TESTS}, 20 permission, ${RUN}`);
    const back = events.map((event, k) => ({ ...event, t: event.t - (k > 26 ? 3600 : 0) }));
    expect(verdict(asked, back).map(({ right }) => right)).toEqual(
      verdict(asked, events).map(({ right }) => right),
    );
    expect(verdict(asked, events).every(({ right }) => right)).toBe(true);
  });

  test('readings are those of the wiring at their moment', () => {
    const { readings, energised } = replayWork(openingBoard(estop), log(`${TESTS}, ${RUN}`));
    expect(readings.map(({ ohms }) => ohms)).toEqual([0, Infinity, Infinity, expect.any(Number)]);
    expect(readings[3]).toMatchObject({ held: ['S2'], dead: true });
    expect(energised).toHaveLength(1);
    // Every row of the shipped table is what the reference reads.
    for (const { between, hold, expect: wanted } of asked.deadTest as readonly DeadTest[]) {
      const held = hold.map((tag) => `10 press ${tag}, `).join('');
      const [reading] = replayWork(openingBoard(estop), log(`${held}11 read ${between.join(' ')}`)).readings;
      if (wanted === 'open') expect(reading?.ohms).toBe(Infinity);
      else if (wanted === 'closed') expect(reading?.ohms).toBeLessThan(1);
      else expect(reading?.ohms).toBeGreaterThan(wanted.min ?? 0);
    }
  });

  test('without a table the frames’ earth and the supply’s conductors are asked for', () => {
    const tests = deadTestsOf({ deadTest: true }, reference);
    expect(tests).toContainEqual({ between: ['G1:PE', 'M1:PE'], hold: [], expect: 'closed' });
    expect(tests).toContainEqual({ between: ['G1:L1', 'G1:N'], hold: [], expect: 'open' });
    expect(tests).toHaveLength(7);
  });

  test('power first, where the exercise asks for an order', () => {
    const connect = (t: number, from: Wire['from'], to: Wire['to']): WorkEvent => ({
      t,
      kind: 'edit',
      edit: { do: 'connect', lead: laidLead(t + 1), wire: { from, to } },
    });
    const power = (t: number) => connect(t, 'Q1:2', 'KM1:1');
    const control = (t: number) => connect(t, 'S1:22', 'S2:13');
    expect(verdict({ wiringOrder: 'power-first' }, [power(0), control(1)])).toMatchObject([
      { id: 'wiring-order', right: true },
    ]);
    expect(verdict({ wiringOrder: 'power-first' }, [control(0), power(1)])).toMatchObject([
      { id: 'wiring-order', right: false },
    ]);
    expect(verdict({ wiringOrder: 'control-first' }, [control(0), power(1)])).toMatchObject([
      { id: 'wiring-order', right: true },
    ]);
    // Found together on a physical board: nobody has seen which was first.
    const found = (event: ReturnType<typeof control>) => ({ ...event, source: 'scan' as const });
    expect(verdict({ wiringOrder: 'power-first' }, [found(control(0)), found(power(1))])).toMatchObject([
      { id: 'wiring-order', right: true },
    ]);
    const seen = [{ ...control(0), source: 'board' as const }, power(1)];
    expect(verdict({ wiringOrder: 'power-first' }, seen)).toMatchObject([{ right: false }]);
  });

  test('an honest careless student never gets fewer points than a silent one', () => {
    const marks = (events: WorkEvent[]) =>
      grade(estop, { ...estop.bench, wires: estop.reference }, { log: events, faults: false });
    const careful = marks(log(`${TESTS}, 20 permission, ${RUN}`));
    const careless = marks(log(RUN));
    const silent = marks(log(''));
    expect([careful.score, careful.max]).toEqual([100, 100]);
    expect(careless.score).toBeLessThan(careful.score);
    expect(careless.score).toBeGreaterThan(silent.score);
    const asIfNothing: Exercise = { ...estop, practice: undefined };
    expect(grade(asIfNothing, { ...estop.bench, wires: estop.reference }, { faults: false }).max).toBe(100);
  });
});
