import { describe, expect, test } from '@jest/globals';
import {
  Simulation,
  Solver,
  compare,
  compile,
  describeProof,
  describeStimulus,
  observerOf,
  prove,
  proveCircuit,
  readFault,
  referenceBench,
  run,
  triedBy,
  withFault,
  type Bench,
  type PropertyId,
  type Stimulus,
} from '@contactum/core';
import { readBench } from '@contactum/core/documents';
import { largeBoard } from '../../../scripts/lib/large-board.mjs';
import { groupedBoard } from './fuzz/groups.js';
import { answersAsSolved, anyhowAsSolved } from './fuzz/solved.js';
import { bench, exercise, exercises, rewire, seeded, longRuns } from './help.js';

const pump = referenceBench(exercise('brine-pump-three-wire'));
const harrow = referenceBench(exercise('salt-harrow-electrical-interlock'));
/** Reversing starters behind one Stop. */
function starters(count: number): Bench {
  const read = readBench(largeBoard(count));
  if (!read.ok) throw new Error('the large board is not one');
  return read.value;
}

const NO_INTERLOCK = rewire(
  harrow,
  'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1',
  'S2:14>KM1:A1 S3:14>KM2:A1',
);

function failures(board: Bench): PropertyId[] {
  const proof = prove(board);
  expect(proof.complete).toBe(true);
  return proof.properties.filter(({ holds }) => !holds).map(({ id }) => id);
}

const control = (more: object[] = []) => [
  { tag: 'G1', type: 'supply-1n', options: { voltage: 230 } },
  {
    tag: 'KM1',
    type: 'contactor',
    options: { coil: { voltage: 230, kind: 'ac' }, aux: ['NO 13-14', 'NC 21-22'] },
  },
  { tag: 'S1', type: 'pushbutton', duty: 'stop', options: { contacts: ['NC 21-22'] } },
  { tag: 'S2', type: 'pushbutton', duty: 'start', options: { contacts: ['NO 13-14'] } },
  ...more,
];
const SEAL = 'G1:L>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N S2:13>KM1:13 KM1:14>S2:14';

describe('right boards hold everything, but for what they are to teach', () => {
  for (const one of exercises())
    test(one.id, () => expect(failures(referenceBench(one))).toEqual(one.lesson ?? []));
});

describe('wrong boards fail in what is wrong with them, and in nothing else', () => {
  const wrong: [string, Bench, PropertyId[]][] = [
    ['no earth', rewire(pump, 'G1:PE>M1:PE'), ['earth-bonded']],
    ['earth on the neutral', rewire(pump, 'G1:PE>M1:PE', 'G1:N>M1:PE'), ['earth-bonded']],
    ['seal-in before Stop', rewire(pump, 'S2:13>KM1:13', 'F2:96>KM1:13'), ['stop-drops']],
    ['overload contact bridged', rewire(pump, '', 'F2:95>F2:96'), ['overload-drops']],
    ['Start bridged', rewire(pump, '', 'S2:13>S2:14'), ['no-self-start']],
    ['coil between two phases', rewire(pump, 'KM1:A2>G1:N', 'KM1:A2>G1:L2'), ['coil-voltage', 'isolates']],
    ['a dead short in the control circuit', rewire(pump, '', 'KM1:A1>G1:N'), ['no-short']],
    ['no interlock', NO_INTERLOCK, ['no-short']],
    // Pressed at one instant both armatures start; the one that loses its coil on the way may still be
    // carried in.
    [
      'interlock on one side only',
      rewire(harrow, 'S3:14>KM1:21 KM1:22>KM2:A1', 'S3:14>KM2:A1'),
      ['no-short'],
    ],
    [
      'coil through its own NC contact',
      bench(control(), 'G1:L>S2:13 S2:14>KM1:21 KM1:22>KM1:A1 KM1:A2>G1:N'),
      ['no-chatter'],
    ],
    [
      'two coils in series',
      bench(
        control([{ tag: 'KM2', type: 'contactor', options: { coil: { voltage: 230, kind: 'ac' } } }]),
        'G1:L>S2:13 S2:14>KM1:A1 KM1:A2>KM2:A1 KM2:A2>G1:N',
      ),
      ['coil-voltage'],
    ],
    [
      '24 V coil on 230 V',
      bench(
        control([
          {
            tag: 'K1',
            type: 'relay',
            options: { contacts: ['NO 13-14'], coil: { voltage: 24, kind: 'ac' } },
          },
        ]),
        `${SEAL} S2:14>K1:A1 K1:A2>G1:N`,
      ),
      ['coil-voltage'],
    ],
  ];
  for (const [name, board, ids] of wrong) test(name, () => expect(failures(board)).toEqual(ids));
});

describe('what each kind of interlock is worth', () => {
  const mechanical = {
    ...NO_INTERLOCK,
    interlocks: [{ kind: 'mechanical' as const, between: ['KM1', 'KM2'] }],
  };
  test('a mechanical interlock alone prevents the short', () => expect(failures(mechanical)).toEqual([]));

  test('push-button interlock alone holds while the contactors are whole, since a dropped armature leaves before another arrives', () => {
    const devices = harrow.devices.map((device) =>
      device.tag === 'S2' || device.tag === 'S3'
        ? { ...device, options: { contacts: ['NO 13-14', 'NC 21-22'] } }
        : device,
    ) as Bench['devices'];
    const board = rewire(
      { ...NO_INTERLOCK, devices },
      'S2:14>KM1:A1 S3:14>KM2:A1',
      'S2:14>S3:21 S3:22>KM1:A1 S3:14>S2:21 S2:22>KM2:A1',
    );
    expect(failures(board)).toEqual([]);
  });
});

describe('emergency stop, selectors, limit switches', () => {
  const estop = { tag: 'S0', type: 'estop', duty: 'emergency-stop', options: { contacts: ['NC 11-12'] } };
  const estopSeal = 'G1:L>S0:11 S0:12>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N S2:13>KM1:13 KM1:14>S2:14';

  test('an emergency stop upstream of everything holds and starts nothing when released', () => {
    const proof = prove(bench(control([estop]), estopSeal));
    expect(proof.properties.find(({ id }) => id === 'estop-holds')?.holds).toBe(true);
    expect(failures(bench(control([estop]), estopSeal))).toEqual([]);
  });

  test('one that is by-passed by the seal-in does not', () => {
    const board = bench(
      control([estop]),
      'G1:L>S0:11 S0:12>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N G1:L>KM1:13 KM1:14>S2:14',
    );
    expect(failures(board)).toEqual(['stop-drops', 'estop-holds']);
  });

  test('a maintained selector starts by itself when the supply returns', () => {
    const selector = {
      tag: 'S3',
      type: 'selector',
      options: { contacts: [{ terminals: '13-14', closedIn: ['on'] }] },
    };
    const proof = prove(bench(control([selector]), 'G1:L>S3:13 S3:14>KM1:A1 KM1:A2>G1:N'));
    const start = proof.properties.find(({ id }) => id === 'no-self-start');
    expect(start?.holds).toBe(false);
    expect(start?.trace).toHaveLength(3);
    expect(start?.trace).toContainEqual({ turn: 'S3', to: 'on' });
    expect(start?.trace.at(-1)).toEqual({ close: 'G1' });
  });

  test('a property with nothing to judge is left out', () => {
    const ids = prove(
      bench(
        [
          { tag: 'G1', type: 'supply-dc' },
          { tag: 'H1', type: 'lamp', options: { voltage: 24, kind: 'dc' } },
        ],
        'G1:+>H1:X1 H1:X2>G1:-',
      ),
    ).properties.map(({ id }) => id);
    expect(ids).toEqual(['no-short']);
  });
});

describe('races', () => {
  const jog = { tag: 'S3', type: 'pushbutton', duty: 'jog', options: { contacts: ['NO 13-14', 'NC 21-22'] } };
  const jogBoard = bench(
    control([jog]),
    'G1:L>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N S2:13>S3:21 S3:22>KM1:13 KM1:14>S2:14 S2:13>S3:13 S3:14>S2:14',
  );

  test('a jog button’s NC contact that recloses before the contactor has dropped out', () => {
    const race = prove(jogBoard).properties.find(({ id }) => id === 'no-race');
    expect(race?.holds).toBe(false);
    expect(race?.trace.map(describeStimulus)).toEqual(['press S3', 'release S3 (S3 before KM1)']);
    expect(failures(jogBoard)).toEqual(['no-race']);
  });

  test('jogging through a control relay has none', () => {
    const relay = {
      tag: 'K1',
      type: 'relay',
      options: { contacts: ['NO 13-14', 'NO 23-24'], coil: { voltage: 230, kind: 'ac' } },
    };
    const board = bench(
      control([relay, { ...jog, options: { contacts: ['NO 13-14'] } }]),
      'G1:L>S1:21 S1:22>S2:13 S2:14>K1:A1 K1:A2>G1:N S2:13>K1:13 K1:14>S2:14 S2:13>K1:23 K1:24>KM1:A1 S2:13>S3:13 S3:14>KM1:A1 KM1:A2>G1:N',
    );
    expect(failures(board)).toEqual([]);
  });
});

describe('equivalence', () => {
  const coilEnd = rewire(pump, 'F1:2>F2:95 F2:96>S1:21 KM1:A2>G1:N', 'F1:2>S1:21 KM1:A2>F2:95 F2:96>G1:N');
  const observe = ['KM1', 'M1.driven'];

  test('overload before Stop and after the coil are the same to whoever works the board', () => {
    expect(compare(pump, coilEnd, { observe })).toMatchObject({ equivalent: true, complete: true });
  });

  test('sealing through a power pole of the same phase is the same', () => {
    const pole = rewire(
      pump,
      'Q1:2>F1:1 F1:2>F2:95 S2:13>KM1:13 KM1:14>KM1:A1',
      'Q1:2>F2:95 S1:22>KM1:13 KM1:14>KM1:A1',
    );
    expect(compare(pump, pole, { observe })).toMatchObject({ equivalent: true });
  });

  test('the main contactor from Start or through star, and either kind of timer, are the same', () => {
    const observe = ['KM1', 'KM2', 'KM3', 'M1.driven', 'M1.connection'];
    const [fromStart, throughStar, timer] = ['main-from-start', 'main-through-star', 'timer'].map((school) =>
      referenceBench(exercise(`blower-star-delta-${school}`)),
    ) as [Bench, Bench, Bench];
    for (const other of [throughStar, timer])
      expect(compare(fromStart, other, { observe })).toMatchObject({ equivalent: true, complete: true });
    expect(compare(fromStart, rewire(throughStar, 'KM3:A2>G1:N'), { observe })).toMatchObject({
      equivalent: false,
    });
  });

  test('a shortest counterexample, and it can be replayed on both boards', () => {
    const momentary = rewire(pump, 'KM1:14>KM1:A1');
    const { equivalent, counterexample } = compare(pump, momentary, { observe });
    expect(equivalent).toBe(false);
    expect(counterexample?.steps).toEqual([{ press: 'S2' }, { release: 'S2' }]);
    const replay = (board: Bench) =>
      run(board, [
        ...(counterexample?.steps ?? []),
        { expect: counterexample?.expected as Record<string, string> },
      ]).ok;
    expect([replay(pump), replay(momentary)]).toEqual([true, false]);
  });

  test('a motor that turns the other way is not the same', () => {
    const swapped = rewire(pump, 'G1:L1>Q1:1 G1:L2>Q1:3', 'G1:L1>Q1:3 G1:L2>Q1:1');
    expect(compare(pump, swapped, { observe }).counterexample).toMatchObject({
      steps: [{ press: 'S2' }],
      expected: { 'M1.driven': 'forward' },
      actual: { 'M1.driven': 'reverse' },
    });
  });
});

test('every violation’s trace shows it when it is run in time', () => {
  const short = prove(NO_INTERLOCK).properties.find(({ id }) => id === 'no-short');
  expect(run(NO_INTERLOCK, short?.trace ?? []).incidents.map(({ kind }) => kind)).toEqual([
    'phase-to-phase',
    'breaker-trip',
  ]);
  const bypassed = rewire(pump, 'S2:13>KM1:13', 'F2:96>KM1:13');
  const stop = prove(bypassed).properties.find(({ id }) => id === 'stop-drops');
  expect(
    run(bypassed, [...(stop?.trace ?? []), { expect: { S1: 'pressed', 'M1.driven': 'forward' } }]).ok,
  ).toBe(true);
});

test('in random states the kept decisions say what the whole solution says (seeds 1 to 12, all boards)', () => {
  const boards = [
    ...exercises().map(referenceBench),
    NO_INTERLOCK,
    rewire(pump, 'KM1:A2>G1:N', 'KM1:A2>G1:L2'),
    rewire(harrow, 'KM1:A2>G1:N', 'KM1:A2>KM2:A2'),
  ];
  const all = boards.map((board, n) =>
    answersAsSolved(board, { states: longRuns(150), random: seeded(n + 1) }),
  );
  expect(all.flatMap(({ findings }) => findings)).toEqual([]);
  for (const count of ['shorts', 'asked'] as const)
    expect(all.reduce((sum, one) => sum + one[count], 0)).toBeGreaterThan(longRuns(10));
});

test('and so on boards of several groups with crossed leads, their breakers worked (seeds 1 to 150)', () => {
  const seeds = Array.from({ length: longRuns(150) }, (_, k) => k + 1);
  const all = seeds.flatMap((seed) => {
    const board = groupedBoard(seed);
    return board
      ? [answersAsSolved(board, { states: 60, hands: 'switchgear too', random: seeded(seed) })]
      : [];
  });
  expect(all.flatMap(({ findings }) => findings)).toEqual([]);
  for (const count of ['shorts', 'asked'] as const)
    expect(all.reduce((sum, one) => sum + one[count], 0)).toBeGreaterThan(longRuns(100));
});

test('and on boards with a DC supply, joined to earth and to conductors of the mains anyhow (seeds 1 to 20)', () => {
  const boards = exercises().map((one) => {
    const board = referenceBench(one);
    const { sources, earthed, terminals } = compile(board);
    const isDc = sources.some(({ frequency }) => frequency === 0);
    return { board, earths: isDc ? earthed.map((k) => terminals[k]!) : [] };
  });
  const all = boards.flatMap(({ board, earths }, n) => {
    const ends = [...new Set(board.wires.flatMap(({ from, to }) => [from, to]))];
    if (earths.length === 0) return [];
    return Array.from({ length: longRuns(20) }, (_, k) => {
      const random = seeded(100 * n + k + 1);
      const any = () => ends[Math.floor(random() * ends.length)]!;
      const earth = earths[k % earths.length]!;
      const more = Array.from({ length: 1 + (k % 3) }, () => [any(), earth]);
      if (k % 4 === 0) more.push([any(), any()]);
      const leads = more.filter(([from, to]) => from !== to).map((pair) => pair.join('>'));
      return answersAsSolved(rewire(board, '', leads.join(' ')), { states: 40, random });
    });
  });
  expect(all.length).toBeGreaterThan(longRuns(100));
  expect(all.flatMap(({ findings }) => findings)).toEqual([]);
  for (const count of ['shorts', 'asked'] as const)
    expect(all.reduce((sum, one) => sum + one[count], 0)).toBeGreaterThan(longRuns(100));
});

test('and on boards of all exercises, wired anyhow (seeds 1 to 1000)', () => {
  const all = Array.from({ length: longRuns(1000) }, (_, k) => anyhowAsSolved(k + 1, 30));
  expect(all.flatMap(({ board, findings }) => findings.map((text) => `${board}: ${text}`))).toEqual([]);
  for (const count of ['shorts', 'asked'] as const)
    expect(all.reduce((sum, one) => sum + one[count], 0)).toBeGreaterThan(longRuns(1000));
});

// What was found once: one conductor of a DC supply alone, which holds nothing; and a secondary through which
// a motor's winding drives a current, with both ends of the primary on one line.
test.each([
  ['salt-harrow-controller', 'G2:+>A1:L+', 'F2:6>S1:22 KM2:4>KM1:3 A1:Q0.3>S1:21'],
  ['sluice-gate-controller-jog', 'G2:->A1:M F2:96>A1:I0.3', 'G2:->F2:3 F2:3>Q1:2'],
  [
    'brine-pump-24-v-dc-control',
    'G1:L1>Q1:1 KM1:2>F2:1 G2:+>F1:1 F2:96>S1:21',
    'M1:W>Q1:1 KM1:2>S1:22 F3:1>G2:-',
  ],
  ['brine-pump-two-stations-us', '1CB:4>1M:3 1CB:4>1T:H2', '1CB:2>1T:H2 1M:4>1PB:21'],
  ['brine-pump-three-wire-us', '1PS:L1>1CB:1 1PS:L3>1CB:5', '1M:4>1CB:1 1M:14>1M:5'],
  ['brine-pump-controller-us', '1PS:L1>1CB:1 1M:6>1OL:5', '1OL:4>1CB:1 1M:A1>1OL:5'],
])('and on %s without %s and with %s', (id, cut, add) => {
  const board = rewire(referenceBench(exercise(id)), cut, add);
  const { findings, asked } = answersAsSolved(board, {
    states: 600,
    hands: 'switchgear too',
    random: seeded(3),
  });
  expect(findings).toEqual([]);
  expect(asked).toBeGreaterThan(600);
});

test('a line that meets neutral over the plus of a DC supply is a short circuit', () => {
  const board = referenceBench(exercise('brine-pump-controller-convert'));
  for (const leads of ['S1:22>G1:N G1:L3>A1:I0.3', 'S2:14>G1:N G1:L3>A1:I0.0']) {
    const over = rewire(board, '', leads);
    const short = prove(over).properties.find(({ id }) => id === 'no-short')!;
    expect(short).toMatchObject({ holds: false, found: expect.stringMatching(/G1:L3 meets G1:N/) });
    expect(run(over, short.trace).incidents.map(({ kind }) => kind)).toContain('phase-to-neutral');
  }
});

test('an earth fault on a DC control circuit that meets earth nowhere else rests on no whole solution', () => {
  const board = referenceBench(exercise('salt-harrow-controller'));
  for (const end of ['A1:M', 'A1:I0.0', 'S2:13', 'KM1:14']) {
    const earthed = rewire(board, '', `${end}>G1:PE`);
    const { findings, resting } = answersAsSolved(earthed, { states: longRuns(200), random: seeded(9) });
    expect({ end, findings, resting }).toEqual({ end, findings: [], resting: [] });
  }
});

test('twelve motors on one supply, in two phases or three, leave the coils within the bounds of their lines', () => {
  const { findings, asked } = answersAsSolved(starters(12), {
    states: longRuns(60),
    hands: 'switchgear too',
    random: seeded(3),
  });
  expect(findings).toEqual([]);
  expect(asked).toBeGreaterThan(longRuns(60));
});

/** A random thing a person might do next; at most two buttons are held, as in the proof. */
function randomStimulus({ devices }: Bench, held: Set<string>, random: () => number): Stimulus {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const tags = (type: string) => devices.filter((device) => device.type === type).map(({ tag }) => tag);
  const choices: Stimulus[] = [
    ...tags('pushbutton').flatMap((tag): Stimulus[] =>
      held.has(tag)
        ? [{ release: tag }, { release: tag }]
        : held.size < 2
          ? [{ press: tag }, { press: tag }]
          : [],
    ),
    ...tags('estop').flatMap((tag): Stimulus[] => [{ press: tag }, { release: tag }]),
    ...[...tags('overload'), ...tags('overload')].flatMap((tag): Stimulus[] => [
      { trip: tag },
      { reset: tag },
    ]),
    ...[...tags('timer'), ...tags('star-delta-timer')].flatMap((tag): Stimulus[] => [
      { elapse: tag },
      { elapse: tag },
    ]),
    ...devices
      .filter(({ type }) => type.startsWith('supply'))
      .flatMap(({ tag }): Stimulus[] => [{ open: tag }, { close: tag }]),
  ];
  const stimulus = pick(choices);
  if ('press' in stimulus && tags('pushbutton').includes(stimulus.press)) held.add(stimulus.press);
  if ('release' in stimulus) held.delete(stimulus.release);
  return stimulus;
}

/** Works one or two boards by the same random script and returns what contradicts what was proved of them. */
function contradiction(
  boards: readonly Solver[],
  holds: ReadonlySet<PropertyId>,
  observe: readonly string[],
  seed: number,
  steps: number,
): string | null {
  const random = seeded(seed);
  const simulations = boards.map((solver) => new Simulation(solver));
  const [first] = simulations as [Simulation];
  const { circuit } = boards[0] as Solver;
  const held = new Set<string>();
  const story: string[] = [];
  const drives = () => first.solution.motors.some(({ driven }) => driven !== 'none');
  const isHeld = (duty: string) =>
    circuit.bench.devices.some(
      (device) => device.duty === duty && first.state[circuit.mechanismOf.get(device.tag) as number] === 1,
    );
  const tripped = () =>
    circuit.mechanisms.some(({ kind, index }) => kind === 'trip' && first.state[index] === 1);
  const starts = ['start', 'forward', 'reverse', 'jog'];
  // Two held starts can throw each other out for as long as they are exactly alike, which the simulation's
  // are; the proof asks whether any order comes to rest.
  let tied = false;
  for (let k = 0; k < steps; k += 1) {
    const stimulus = randomStimulus(circuit.bench, held, random);
    const before = drives();
    story.push(describeStimulus(stimulus));
    for (const simulation of simulations) {
      simulation.apply(stimulus);
      simulation.settle();
    }
    tied ||= starts.filter(isHeld).length > 1;
    const say = (what: string) => `seed ${seed}: ${story.join(', ')}: ${what}`;
    if (holds.has('stop-drops') && isHeld('stop') && drives()) return say('driven with Stop held');
    if (holds.has('estop-holds') && isHeld('emergency-stop') && drives())
      return say('driven with the emergency stop set');
    if (holds.has('overload-drops') && tripped() && drives()) return say('driven with the overload tripped');
    const returns = 'close' in stimulus || 'reset' in stimulus || 'release' in stimulus;
    if (holds.has('no-self-start') && returns && !before && drives() && !starts.some(isHeld))
      return say('started by itself');
    const wrong = first.incidents.find(
      ({ kind }) =>
        (holds.has('no-short') && /^phase-|^dc-short/.test(kind)) ||
        (holds.has('coil-voltage') && kind === 'coil-overvoltage') ||
        (holds.has('no-chatter') && kind === 'chatter' && !tied),
    );
    if (wrong) return say(wrong.kind);
    const seen = simulations.map((simulation, n) =>
      observe.map((what) => String(observed(boards[n] as Solver, simulation, what))).join(),
    );
    if (seen.some((values) => values !== seen[0])) return say(`not equivalent: ${seen.join(' and ')}`);
  }
  return null;
}

function observed(solver: Solver, simulation: Simulation, what: string): string | number {
  const found = observerOf(solver.circuit, what);
  if ('problem' in found) throw new Error(found.problem);
  return found.observer.read({
    solver,
    state: simulation.state,
    electrical: simulation.solution,
    simulation,
  });
}

test('3 000 random scripts never contradict what was proved, nor an equivalence that was claimed (seeds 1 to 3 000)', () => {
  const coilEnd = rewire(pump, 'F1:2>F2:95 F2:96>S1:21 KM1:A2>G1:N', 'F1:2>S1:21 KM1:A2>F2:95 F2:96>G1:N');
  const otherSeal = rewire(pump, 'S2:13>KM1:13 KM1:14>KM1:A1', 'S1:22>KM1:13 KM1:14>S2:14');
  const wrong = [
    rewire(pump, 'S2:13>KM1:13', 'F2:96>KM1:13'),
    NO_INTERLOCK,
    rewire(harrow, 'G1:PE>M1:PE'),
    rewire(pump, '', 'S2:13>S2:14'),
  ];
  const groups: { boards: Bench[]; observe: readonly string[] }[] = [
    ...exercises().map((one) => ({ boards: [referenceBench(one)], observe: one.observe })),
    ...wrong.map((board) => ({ boards: [board], observe: [] })),
    { boards: [pump, coilEnd], observe: ['KM1', 'M1.driven'] },
    { boards: [pump, otherSeal], observe: ['KM1', 'M1.driven'] },
  ];
  const kits = groups.map(({ boards, observe }) => {
    if (boards[1])
      expect(compare(boards[0] as Bench, boards[1], { observe })).toMatchObject({ equivalent: true });
    return {
      solvers: boards.map((board) => new Solver(compile(board))),
      observe,
      holds: new Set(prove(boards[0] as Bench).properties.flatMap(({ id, holds }) => (holds ? [id] : []))),
    };
  });
  const found: string[] = [];
  for (let seed = 1; seed <= longRuns(3_000); seed += 1) {
    const { solvers, observe, holds } = kits[seed % kits.length] as (typeof kits)[number];
    const one = contradiction(solvers, holds, observe, seed, 9);
    if (one) found.push(one);
  }
  expect(found).toEqual([]);
}, 240_000);

describe('parts of a board', () => {
  test('reversing starters behind one Stop are worked one by one, and each costs the same', () => {
    const [two, six] = [2, 6].map((count) => prove(starters(count), { hands: 'controls' }));
    expect(two!.parts).toHaveLength(2);
    expect(six!.parts).toHaveLength(6);
    expect(six!.situations).toBe(3 * two!.situations);
    expect(six!.properties.map(({ id, holds, tested }) => [id, holds, tested])).toEqual(
      two!.properties.map(({ id, holds, tested }) => [id, holds, tested]),
    );
    // What a part depends on: the supply and Stop, which it shares, and its own.
    expect(six!.parts![0]!.devices).toEqual(['G1', 'S0', 'KM11', 'KM12', 'F12', 'S11', 'S12']);
    expect(describeProof(triedBy(six!))).toMatch(/the 6 parts of this board/);
  });

  test('what a part breaks is shown on the whole board, by as few stimuli as a search of it finds', () => {
    const three = starters(3);
    const parted = prove(three, { hands: 'controls' });
    const whole = prove(three, { hands: 'controls', asOne: true });
    for (const [k, { id, holds, trace }] of whole.properties.entries())
      expect([id, parted.properties[k]!.holds, parted.properties[k]!.trace.length]).toEqual([
        id,
        holds,
        trace.length,
      ]);
    const lost = parted.properties.find(({ holds }) => !holds)!;
    const { incidents, ok } = run(three, [...lost.trace, { expect: { 'M1.driven': 'forward' } }]);
    expect([lost.id, ok, incidents]).toEqual(['overload-drops', true, []]);
  });

  test('equal starters are searched once; one that differs in anything is searched by itself', () => {
    const alike = (bench: Bench) =>
      prove(bench, { hands: 'controls' }).parts!.map(({ isLikeAnother }) => isLikeAnother ?? false);
    const four = starters(4);
    expect(alike(four)).toEqual([false, true, true, true]);
    // A seal-in on Start itself; another dial; a button past the overload relay.
    expect(alike(rewire(four, 'S31:13>KM31:13', 'S31:14>KM31:13'))).toEqual([false, true, false, true]);
    const dial = {
      ...four,
      devices: four.devices.map((device) =>
        device.tag === 'F22' ? { ...device, options: { range: [1.6, 2.5] } } : device,
      ),
    } as Bench;
    expect(alike(dial)).toEqual([false, false, true, true]);
    expect(alike(rewire(four, 'S41:13>S42:13', 'F42:95>S42:13'))).toEqual([false, true, true, false]);
    const fault = withFault(compile(four), readFault({ 'contact-stuck-closed': 'KM21:21-22' }));
    if ('problem' in fault) throw new Error(fault.problem);
    const { parts } = proveCircuit(new Solver(fault.circuit), { hands: 'controls' });
    expect(parts!.map(({ isLikeAnother = false }) => isLikeAnother)).toEqual([false, false, true, true]);
  });

  test('what runs in a part that was not searched itself is told of its own motor', () => {
    const three = starters(3);
    const solver = new Solver(compile(three));
    const driven = proveCircuit(solver, { hands: 'controls' }).running.map((state) =>
      solver.at(state).motors.map((motor) => motor.driven),
    );
    const whole = proveCircuit(solver, { hands: 'controls', asOne: true }).running.map((state) =>
      solver.at(state).motors.map((motor) => motor.driven),
    );
    const one = (list: readonly (readonly string[])[]) =>
      list
        .filter((motors) => motors.filter((field) => field !== 'none').length === 1)
        .map((motors) => motors.join())
        .sort();
    expect(one(driven)).toEqual(one(whole));
    expect(one(driven)).toHaveLength(6);
  });

  test('where a weak supply lets the parts feel each other they are worked together, and that is said', () => {
    const two = starters(2);
    const weak = {
      ...two,
      devices: two.devices.map((device) =>
        device.type === 'supply-3n'
          ? { ...device, options: { ...device.options, prospectiveCurrent: 150 } }
          : device,
      ),
    } as typeof two;
    const proof = prove(weak, { hands: 'controls' });
    expect(proof.parts).toBeUndefined();
    expect(proof.meet).toContain('KM11');
    expect(describeProof(triedBy(proof))).toMatch(/depends on what else is on/);
  });

  test('a comparison looks part by part, and finds the one starter that does something else', () => {
    const six = starters(6);
    const same = compare(six, six);
    const one = compare(starters(1), starters(1));
    expect(same).toMatchObject({ equivalent: true, complete: true });
    expect(same.pairs).toBeLessThan(7 * one.pairs);
    // The fourth starter's seal-in hangs on Start itself.
    const wrong = rewire(six, 'S41:13>KM41:13', 'S41:14>KM41:13');
    const { equivalent, counterexample } = compare(six, wrong);
    expect(equivalent).toBe(false);
    expect(counterexample).toMatchObject({
      steps: [{ press: 'S41' }, { release: 'S41' }],
      expected: { KM41: 'in' },
      actual: { KM41: 'out' },
    });
    // What both boards do is seen on the whole of them.
    const asOne = compare(starters(2), rewire(starters(2), 'S21:13>KM21:13', 'S21:14>KM21:13'), {
      asOne: true,
    });
    expect(asOne.counterexample!.steps).toHaveLength(counterexample!.steps.length);
  });
});
