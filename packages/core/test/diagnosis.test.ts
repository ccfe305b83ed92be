import { describe, expect, test } from '@jest/globals';
import {
  DEGREES,
  REPORTED_SYMPTOMS,
  Search,
  SearchBench,
  describeFaults,
  diagnosing,
  faultEffects,
  faultKey,
  finished,
  gradeSearch,
  isSamePlace,
  pickFaults,
  possibleAt,
  possibleFaults,
  eliminate,
  readFault,
  referenceBench,
  runSteps,
  searchAgain,
  referenceCircuitOf,
  tabulate,
  type Candidate,
  type BoardObservation,
  type SearchEntry,
  type SearchEvent,
  type ReportedSymptom,
  type Stimulus,
} from '@contactum/core';
import { shippedSearches } from '@contactum/core/exercises';
import { droppedByFindings, droppedBySearch } from './fuzz/searches.js';
import { exercise, exercises, solverOf, longRuns } from './help.js';

const pump = exercise('brine-pump-three-wire');
const blower = exercise('blower-star-delta-main-from-start');
const lamps = exercise('find-seal-in');

const push = (tag: string): Stimulus[] => [{ press: tag }, { release: tag }];

/** Faults that explain some findings, in words; every single one of them really shows what was found. */
function causes(id: string, observations: readonly BoardObservation[]): string[] {
  const referenceCircuit = referenceCircuitOf(exercise(id));
  const { candidates } = finished(diagnosing(referenceCircuit, observations));
  const all = candidates.flatMap(({ faults, places }) => [faults, ...places]);
  for (const faults of all)
    for (const observation of observations) {
      const steps = [...observation.steps, ...(observation.see ? [{ expect: observation.see }] : [])];
      if (!observation.dead && !observation.meter)
        expect({
          faults: describeFaults(faults),
          ...runSteps(solverOf(referenceCircuit.bench), steps, { faults }).mismatches,
        }).toEqual({ faults: describeFaults(faults) });
    }
  return all.map(describeFaults);
}

describe('the symptoms of the trade: each listed cause is among the candidates, and each candidate causes the symptom (common practice, no source)', () => {
  const cases: [symptom: string, board: string, observations: BoardObservation[], causes: string[]][] = [
    [
      'nothing pulls in: supply, Start, stop or overload contact open, coil',
      'brine-pump-three-wire',
      [{ steps: [{ press: 'S2' }], see: { KM1: 'out', 'M1.driven': 'none' } }],
      [
        'G1:L1 lost',
        'fuse F1 blown',
        'S2:13-14 does not close',
        'S1:21-22 does not close',
        'F2:95-96 does not close',
        'coil of KM1 open',
        'neutral G1:N open',
        'armature of KM1 jammed out',
      ],
    ],
    [
      'pulls in but does not hold: seal-in contact or its wires',
      'brine-pump-three-wire',
      [
        { steps: [{ press: 'S2' }], see: { KM1: 'in' } },
        { steps: push('S2'), see: { KM1: 'out' } },
      ],
      ['KM1:13-14 does not close', 'wire S2:13 to KM1:13 broken', 'wire KM1:14 to KM1:A1 broken'],
    ],
    [
      'will not drop out: stop contact stuck closed, welded contactor',
      'brine-pump-three-wire',
      [{ steps: [...push('S2'), { press: 'S1' }], see: { KM1: 'in', 'M1.driven': 'forward' } }],
      ['S1:21-22 does not open', 'armature of KM1 jammed in'],
    ],
    [
      'hums, does not turn: a phase is missing',
      'brine-pump-three-wire',
      [{ steps: push('S2'), see: { KM1: 'in', 'M1.driven': 'single-phase' } }],
      [
        'G1:L2 lost',
        'G1:L3 lost',
        'wire Q1:4 to KM1:3 broken',
        'KM1:5-6 does not close',
        'winding M1:U open',
        'wire F2:2 to M1:U loose, 2000 Ω',
      ],
    ],
    [
      'turns the wrong way: two phases exchanged',
      'brine-pump-three-wire',
      [{ steps: push('S2'), see: { KM1: 'in', 'M1.driven': 'reverse' } }],
      ['G1:L1 and G1:L2 exchanged', 'G1:L2 and G1:L3 exchanged'],
    ],
    [
      'trips after a while: dial too low, a line lost',
      'brine-pump-three-wire',
      [
        {
          steps: [{ set: 'M1.load', to: 1 }, ...push('S2'), { wait: 900 }],
          see: { F2: 'tripped', KM1: 'out' },
        },
      ],
      ['F2 is set to 2.5 A', 'G1:L2 lost', 'wire F2:2 to M1:U broken'],
    ],
  ];
  for (const [symptom, board, observations, listed] of cases)
    test(symptom, () => expect(causes(board, observations)).toEqual(expect.arrayContaining(listed)));

  test('chatters: a coil in series with its own NC contact', () => {
    const board = referenceBench(exercise('salt-harrow-electrical-interlock'));
    const own = [{ 'wrong-wire': 'S2:14 KM2:21', to: 'KM1:21' }, { 'extra-wire': 'KM1:22 KM1:A1' }].map(
      readFault,
    );
    expect(
      runSteps(solverOf(board), [{ press: 'S2' }, { expect: { KM1: 'chattering' } }], { faults: own }).ok,
    ).toBe(true);
  });
});

test('observations narrow the causes down to one, and tell what to read next', () => {
  const referenceCircuit = referenceCircuitOf(blower);
  const observations: BoardObservation[] = [
    { steps: push('S2'), see: { KM1: 'in', KM2: 'in' } },
    { steps: [...push('S2'), { elapse: 'KT1' }], see: { KM2: 'out', KM3: 'out', 'M1.driven': 'none' } },
    {
      steps: [...push('S2'), { elapse: 'KT1' }],
      meter: { mode: 'volts', between: ['KM3:A1', 'G1:N'] },
      read: { min: 210, max: 250 },
    },
    { dead: true, steps: [], meter: { mode: 'ohms', between: ['KM3:A2', 'G1:N'] }, read: 'closed' },
  ];
  const at = observations.map((_, k) => finished(diagnosing(referenceCircuit, observations.slice(0, k + 1))));
  const left = at.map(({ candidates }) => candidates.length);
  expect([...left].sort((a, b) => b - a)).toEqual(left);
  expect(at.map(({ sound }) => sound)).toEqual([true, false, false, false]);
  // What is to be read next splits what is left, and all of it.
  for (const { next, candidates, sound } of at.slice(1, 3)) {
    const all = candidates.reduce((n, { places }) => n + 1 + places.length, Number(sound));
    expect(next?.splits.length).toBeGreaterThan(1);
    expect(next?.splits.reduce((a, b) => a + b, 0)).toBe(all);
  }
  expect(at[3]!.candidates.map(({ title }) => title)).toContain('coil of KM3 open');
  const ohms: BoardObservation = {
    dead: true,
    steps: [],
    meter: { mode: 'ohms', between: ['KM3:A1', 'KM3:A2'] },
    read: 'open',
  };
  const last = finished(diagnosing(referenceCircuit, [...observations, ohms]));
  expect(last.candidates.map(({ title }) => title)).toEqual(['coil of KM3 open']);
  expect(last.next).toBeNull();
});

test('two faults at once are found as a pair where no single one explains it; of pairs none is listed that a single one explains', () => {
  const referenceCircuit = referenceCircuitOf(exercise('coil-and-contact'));
  const truth: Candidate = [
    readFault({ 'contact-stuck-open': 'S1:13-14' }),
    readFault({ 'lamp-failed': 'H1' }),
  ];
  const solver = solverOf(referenceCircuit.bench);
  const observations: BoardObservation[] = [
    { steps: [{ press: 'S1' }], see: { K1: 'out', H1: 'dark' } },
    { steps: [{ press: 'S1' }], meter: { mode: 'volts', between: ['S1:14', 'G2:-'] }, read: { max: 1 } },
    {
      dead: true,
      steps: [{ press: 'S1' }],
      meter: { mode: 'ohms', between: ['S1:13', 'S1:14'] },
      read: 'open',
    },
    { dead: true, steps: [], meter: { mode: 'ohms', between: ['H1:X1', 'H1:X2'] }, read: 'open' },
  ];
  const { candidates, of } = finished(diagnosing(referenceCircuit, observations, { pairs: true }));
  const singles = possibleFaults(solver.circuit).length;
  expect(of).toBeGreaterThan(singles);
  const all = candidates.flatMap(({ faults, places }) => [faults, ...places]);
  const key = (faults: Candidate) => faults.map(faultKey).sort().join();
  expect(all.map(key)).toContain(key(truth));
  expect(all.every((faults) => faults.length === 2)).toBe(true);
});

test('a fault that is there at one time and not at another is told as one that comes and goes', () => {
  const referenceCircuit = referenceCircuitOf(pump);
  const see = (KM1: string): BoardObservation => ({ steps: push('S2'), see: { KM1 } });
  const { candidates, sound } = finished(
    diagnosing(referenceCircuit, [see('in'), see('out'), { steps: [{ press: 'S2' }], see: { KM1: 'in' } }]),
  );
  expect(sound).toBe(false);
  expect(candidates.every(({ comesAndGoes }) => comesAndGoes)).toBe(true);
  expect(candidates.flatMap(({ faults, places }) => [faults, ...places]).map(describeFaults)).toContain(
    'KM1:13-14 does not close',
  );
});

/**
 * Random searches: the true fault explains everything that was really seen, whatever is done (seeds 1 to
 * 100 and 251 to 350; with every candidate of a board: `npm run fuzz`).
 */
describe('the true fault is never dropped', () => {
  test('100 random sets of observations', () => {
    for (let seed = 1; seed <= longRuns(100); seed += 1) expect(droppedByFindings(seed, 3)).toBeNull();
  });

  test('100 random live searches: operated, measured, leads off and on, parts exchanged, several faults, faults that come and go', () => {
    for (let seed = 251; seed <= 250 + longRuns(100); seed += 1) expect(droppedBySearch(seed, 3)).toBeNull();
  });
});

describe('what each fault does', () => {
  const effects = finished(faultEffects(referenceCircuitOf(pump)));
  const of = (title: string) => effects.find((one) => one.title === title)!;

  test('behaviours that change, incidents, and what an operator would say', () => {
    const cases: [string, ReportedSymptom][] = [
      ['KM1:13-14 does not close', 'does-not-hold'],
      ['coil of KM1 open', 'pulls-in-nothing'],
      ['S1:21-22 does not open', 'will-not-stop'],
      ['G1:L3 lost', 'hums'],
      ['G1:L1 and G1:L2 exchanged', 'wrong-way'],
      ['S2:13-14 does not open', 'starts-by-itself'],
      ['F2 does not reset', 'will-not-reset'],
      ['F2 does not trip', 'does-not-trip'],
    ];
    for (const [title, reportedSymptom] of cases)
      expect({ title, reportedSymptoms: of(title).reportedSymptoms }).toEqual({
        title,
        reportedSymptoms: expect.arrayContaining([reportedSymptom]) as unknown,
      });
    expect(of('coil of KM1 shorted').incidents).toEqual(
      expect.arrayContaining(['phase-to-neutral', 'fuse-blown']),
    );
    expect(of('pole KM1:1-2 welded')).toMatchObject({ symptoms: [], reportedSymptoms: [] });
    expect(Object.keys(REPORTED_SYMPTOMS)).toContain('hums');
  });

  test('a searcher that goes by the best next test needs no more than one and a half times the bits there are', () => {
    for (const id of [
      'coil-and-contact',
      'brine-pump-three-wire',
      'sluice-gate-jog-relay',
      'plug-in-relay-hold',
    ]) {
      const all =
        id === 'brine-pump-three-wire' ? effects : finished(faultEffects(referenceCircuitOf(exercise(id))));
      const mean = all.reduce((sum, { readings }) => sum + readings, 0) / all.length;
      expect(mean / Math.log2(all.length)).toBeLessThanOrEqual(1.5);
    }
  });

  test('faults that are alike really show the same in everything, and others do not', () => {
    const referenceCircuit = referenceCircuitOf(pump);
    for (const [k, { alike, fault }] of effects.entries()) {
      for (const other of alike) expect(effects[other]!.alike).toContain(k);
      const [other] = alike;
      if (other === undefined) continue;
      const table = finished(tabulate(referenceCircuit, [[fault], [effects[other]!.fault]]));
      expect(new Search(table).groups([0, 1])).toHaveLength(1);
    }
  });

  test('faults of a degree: the same for the same seed, others for others, and each changes what the board does', () => {
    for (const degree of DEGREES) {
      const [one, again] = [pickFaults(effects, degree, 5), pickFaults(effects, degree, 5)];
      expect(one).toEqual(again);
      const different = new Set(
        Array.from({ length: 30 }, (_, seed) => describeFaults(pickFaults(effects, degree, seed)!.faults)),
      );
      expect(different.size).toBeGreaterThan(3);
      for (let seed = 0; seed < 30; seed += 1) {
        const { faults, complaint } = pickFaults(effects, degree, seed)!;
        expect(complaint.length).toBeGreaterThan(10);
        expect(faults).toHaveLength(degree === 4 ? 2 : 1);
        expect(faults.some(({ when }) => when !== undefined)).toBe(degree === 5);
        if (faults.length === 2) expect(isSamePlace(faults[0]!, faults[1]!)).toBe(false);
      }
    }
  });
});

describe('the searches that ship', () => {
  test('one for each family, at least five sets of rising degree, two at once and one that comes and goes among them', () => {
    // What fits in no family has no search of its own.
    const families = new Set(exercises().map(({ family }) => family));
    families.delete('other');
    expect(new Set(shippedSearches().map(({ family }) => family))).toEqual(families);
    for (const { sets = [] } of shippedSearches()) {
      expect(sets.length).toBeGreaterThanOrEqual(5);
      expect(sets.some(({ faults }) => faults.length === 2)).toBe(true);
      expect(sets.some(({ faults }) => faults.some(({ when }) => when !== undefined))).toBe(true);
    }
  });

  test('each set changes what its board does, at once or in time', () => {
    for (const one of shippedSearches()) {
      const solver = solverOf(referenceBench(one));
      for (const { id, faults } of one.sets ?? []) {
        const read = faults.map(readFault);
        const always = read.map((fault) => ({ ...fault, when: undefined }));
        const isSeen = one.behaviours.some(({ steps }) => !runSteps(solver, steps, { faults: always }).ok);
        expect({ exercise: one.id, set: id, isSeen }).toEqual({ exercise: one.id, set: id, isSeen: true });
      }
    }
  });
});

describe('a search is marked from its log worked again', () => {
  const fault = { 'open-wire': 'KM1:14 S2:14' };
  const lead = lamps.bench.wires.findIndex(({ from, to }) => from === 'KM1:14' && to === 'S2:14');
  const timed = (entries: readonly SearchEntry[], apart = 4): SearchEvent[] =>
    entries.map((entry, k) => ({ t: (k + 1) * apart, ...entry }));
  const act = (stimulus: Stimulus): SearchEntry => ({ kind: 'act', stimulus });
  const volts = (...at: [string, string]): SearchEntry => ({ kind: 'read', request: { mode: 'volts', at } });
  const ohms = (...at: [string, string]): SearchEntry => ({ kind: 'read', request: { mode: 'ohms', at } });
  const worked: SearchEntry[] = [act({ close: 'G1' }), act({ press: 'S2' }), act({ release: 'S2' })];
  const isolated: SearchEntry[] = [act({ open: 'G1' }), { kind: 'lock', on: true }, volts('F1:2', 'G1:N')];
  const proved: SearchEntry[] = [
    { kind: 'lock', on: false },
    act({ close: 'G1' }),
    ...push('S2').map(act),
    ...push('S1').map(act),
    ...push('S2').map(act),
    act({ trip: 'F2' }),
    ...push('S2').map(act),
    act({ reset: 'F2' }),
    ...push('S2').map(act),
    act({ open: 'G1' }),
    act({ close: 'G1' }),
    ...push('S2').map(act),
  ];
  const good: SearchEntry[] = [
    ...worked,
    volts('G1:L1', 'G1:N'),
    volts('KM1:13', 'G1:N'),
    ...isolated,
    ohms('KM1:14', 'S2:14'),
    { kind: 'verdict', fault: { 'open-wire': 'S2:14 KM1:14' } },
    { kind: 'renew', wire: lead },
    ...proved,
  ];
  const mark = (log: readonly SearchEntry[], minutes = 15, apart = 4) => {
    const report = gradeSearch(lamps, { faults: [fault], log: timed(log, apart), minutes });
    const lost = report.criteria.filter(({ evidence }) => evidence !== null).map(({ id }) => id);
    return {
      report,
      lost,
      found: (id: string) => report.criteria.find((one) => one.id === id)?.evidence?.found ?? '',
    };
  };

  test('found, restored and proved in order loses nothing; every reading is told with what it left', () => {
    const { report, lost } = mark(good);
    expect(lost).toEqual([]);
    expect(report).toMatchObject({ score: 100, max: 100, passed: true, reason: null });
    const { readings, notes } = report.search!;
    expect(readings).toHaveLength(3);
    expect(readings.every(({ before, after }) => after <= before)).toBe(true);
    expect(readings.at(-1)).toMatchObject({ after: 1 });
    expect(notes).toHaveLength(good.length);
  });

  test('each fault of the work is lost with its evidence', () => {
    const without = (drop: (entry: SearchEntry) => boolean) => good.filter((entry) => !drop(entry));
    const cases: [title: string, log: SearchEntry[], lost: string, found: RegExp][] = [
      ['no lock', without(({ kind }) => kind === 'lock'), 'isolation', /without the lock/],
      [
        'not proved dead',
        without(
          (entry) =>
            entry.kind === 'read' && entry.request.mode === 'volts' && entry.request.at[0] === 'F1:2',
        ),
        'isolation',
        /without being proved dead/,
      ],
      [
        'with the supply on',
        [
          ...worked,
          volts('G1:L1', 'G1:N'),
          { kind: 'verdict', fault },
          { kind: 'renew', wire: lead },
          ...proved.slice(2),
        ],
        'isolation',
        /with the supply on/,
      ],
      [
        'a wrong verdict first',
        [...good.slice(0, 5), { kind: 'verdict', fault: { 'coil-open': 'KM1' } }, ...good.slice(5)],
        'cause',
        /coil of KM1 open at 0 min/,
      ],
      ['no verdict', without(({ kind }) => kind === 'verdict'), 'place', /0 of 1 places/],
      ['not repaired', good.slice(0, 10), 'restored', /still in the board: wire KM1:14 to S2:14 broken/],
      ['not proved', good.slice(0, 11), 'restored', /0 of 5 functions/],
      [
        'a part exchanged for nothing',
        [...good.slice(0, 8), { kind: 'exchange', tag: 'KM1' }, ...good.slice(8)],
        'parts',
        /KM1 exchanged; \d causes were possible then/,
      ],
      [
        'readings that tell nothing',
        [...good.slice(0, 4), ...Array.from({ length: 8 }, () => volts('M1:U', 'G1:N')), ...good.slice(4)],
        'readings',
        /11 readings; an expert needs/,
      ],
      [
        'live readings that tell nothing',
        [...good.slice(0, 4), volts('M1:U', 'G1:N'), ...good.slice(4)],
        'live-work',
        /1 of 2 live readings told nothing new/,
      ],
      [
        'read before it was worked',
        [act({ close: 'G1' }), volts('KM1:13', 'G1:N'), ...good.slice(1)],
        'order',
        /before the board was worked/,
      ],
    ];
    for (const [title, log, id, found] of cases) {
      const marked = mark(log);
      expect({ title, lost: marked.lost }).toEqual({ title, lost: expect.arrayContaining([id]) as unknown });
      expect(marked.found(id)).toMatch(found);
      expect(marked.report.score).toBeLessThan(100);
    }
    expect(mark(good, 1, 10).found('time')).toMatch(/minutes were used/);
    expect(mark([]).report).toMatchObject({ score: 0, passed: false });
  });

  test('a dial that stood wrong is put right by setting it, with no hands on the board', () => {
    const one = exercise('find-star-delta');
    const misset = one.sets![3]!;
    const start = push('S2').map(act);
    const log: SearchEvent[] = [];
    let t = 0;
    const then = (seconds: number, ...entries: SearchEntry[]): void => {
      for (const entry of entries) log.push({ t: (t += seconds), ...entry });
    };
    then(3, act({ close: 'G1' }), ...start);
    then(4, volts('G1:L1', 'G1:N'), { kind: 'look', what: 'KT1.delay' });
    then(4, { kind: 'verdict', fault: { 'timer-misset': 'KT1', delay: 60 } }, act({ open: 'G1' }));
    then(4, act({ set: 'KT1.delay', to: 10 }));
    const { criteria, search } = gradeSearch(one, { faults: misset.faults, log, minutes: 20 });
    const points = Object.fromEntries(criteria.map(({ id, points: got, max }) => [id, got / max]));
    expect(points).toMatchObject({ cause: 1, place: 1, isolation: 1 });
    expect(search).toMatchObject({ left: [], expert: 9 });
    // What no hand sets is refused.
    const board = new SearchBench(one.bench, []);
    expect(board.do(act({ set: 'M1.load', to: 9 }))).toEqual({
      kind: 'refused',
      reason: 'no hand sets this',
    });
  });

  test('the same entries at the same moments give the same board, and what looks alike is perceived alike', () => {
    const seen = [{ 'open-wire': 'F2:96 S1:21' }, { 'contact-stuck-open': 'S1:21-22' }].map((one) => {
      const board = new SearchBench(lamps.bench, [readFault(one)]);
      return [...searchAgain(board, timed(worked))]
        .map(({ before }) => before)
        .concat(
          JSON.stringify(board.frame(), (_, value: unknown) =>
            value instanceof Uint8Array ? [...value] : value,
          ),
        );
    });
    expect(seen[0]).toEqual(seen[1]);
    const frame = new SearchBench(lamps.bench, [readFault({ 'blown-fuse': 'F1' })]).frame();
    expect([frame.live.some(Boolean), frame.heats.some(Boolean), frame.states.includes('blown')]).toEqual([
      false,
      false,
      false,
    ]);
  });

  test('a fault that the instructor puts in on the way is the one that is searched', () => {
    const log = timed([
      ...worked,
      { kind: 'inject', fault: { 'coil-open': 'KM1' } },
      act({ press: 'S1' }),
      act({ release: 'S1' }),
      ...push('S2').map(act),
    ]);
    const elimination = finished(eliminate(lamps.bench, [], log));
    const left = possibleAt(elimination, log.length).map((k) => describeFaults(elimination.candidates[k]!));
    expect(left).toContain('coil of KM1 open');
    expect(left.length).toBeLessThan(40);
  });
});
