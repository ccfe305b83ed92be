import { describe, expect, test } from '@jest/globals';
import { Simulation, Solver, compare, compile, describeStimulus, prove, referenceBench, run, type Bench, type PropertyId, type Stimulus } from '@contactum/core';
import { bench, exercise, exercises, rewire, seeded } from './help.js';

const pump = referenceBench(exercise('brine-pump-three-wire'));
const harrow = referenceBench(exercise('salt-harrow-electrical-interlock'));
const NO_INTERLOCK = rewire(harrow, 'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1', 'S2:14>KM1:A1 S3:14>KM2:A1');

function failures(board: Bench): PropertyId[] {
  const proof = prove(board);
  expect(proof.complete).toBe(true);
  return proof.properties.filter(({ holds }) => !holds).map(({ id }) => id);
}

const control = (more: object[] = []) => [
  { tag: 'G1', type: 'supply-1n', options: { voltage: 230 } },
  { tag: 'KM1', type: 'contactor', options: { coil: { voltage: 230, kind: 'ac' }, aux: ['NO 13-14', 'NC 21-22'] } },
  { tag: 'S1', type: 'pushbutton', duty: 'stop', options: { contacts: ['NC 21-22'] } },
  { tag: 'S2', type: 'pushbutton', duty: 'start', options: { contacts: ['NO 13-14'] } },
  ...more,
];
const SEAL = 'G1:L>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N S2:13>KM1:13 KM1:14>S2:14';

describe('right boards hold everything', () => {
  for (const one of exercises()) test(one.id, () => expect(failures(referenceBench(one))).toEqual([]));
});

describe('wrong boards fail in what is wrong with them, and in nothing else', () => {
  const wrong: [string, Bench, PropertyId[]][] = [
    ['no earth', rewire(pump, 'G1:PE>M1:PE'), ['earth-bonded']],
    ['earth on the neutral', rewire(pump, 'G1:PE>M1:PE', 'G1:N>M1:PE'), ['earth-bonded']],
    ['seal-in before Stop', rewire(pump, 'S2:13>KM1:13', 'F2:96>KM1:13'), ['stop-drops']],
    ['overload contact bridged', rewire(pump, '', 'F2:95>F2:96'), ['overload-drops']],
    ['Start bridged', rewire(pump, '', 'S2:13>S2:14'), ['no-self-start']],
    ['coil between two phases', rewire(pump, 'KM1:A2>G1:N', 'KM1:A2>G1:L2'), ['coil-voltage']],
    ['a dead short in the control circuit', rewire(pump, '', 'KM1:A1>G1:N'), ['no-short']],
    ['no interlock', NO_INTERLOCK, ['no-short']],
    // Pressed at one instant both armatures start; the one that loses its coil on the way may still be carried in.
    ['interlock on one side only', rewire(harrow, 'S3:14>KM1:21 KM1:22>KM2:A1', 'S3:14>KM2:A1'), ['no-short']],
    ['coil through its own NC contact', bench(control(), 'G1:L>S2:13 S2:14>KM1:21 KM1:22>KM1:A1 KM1:A2>G1:N'), ['no-chatter']],
    [
      'two coils in series',
      bench(control([{ tag: 'KM2', type: 'contactor', options: { coil: { voltage: 230, kind: 'ac' } } }]), 'G1:L>S2:13 S2:14>KM1:A1 KM1:A2>KM2:A1 KM2:A2>G1:N'),
      ['coil-voltage'],
    ],
    [
      '24 V coil on 230 V',
      bench(control([{ tag: 'K1', type: 'relay', options: { contacts: ['NO 13-14'], coil: { voltage: 24, kind: 'ac' } } }]), `${SEAL} S2:14>K1:A1 K1:A2>G1:N`),
      ['coil-voltage'],
    ],
  ];
  for (const [name, board, ids] of wrong) test(name, () => expect(failures(board)).toEqual(ids));
});

describe('what each kind of interlock is worth', () => {
  const mechanical = { ...NO_INTERLOCK, interlocks: [{ kind: 'mechanical' as const, between: ['KM1', 'KM2'] }] };
  test('a mechanical interlock alone prevents the short', () => expect(failures(mechanical)).toEqual([]));

  test('push-button interlock alone holds while the contactors are whole, since a dropped armature leaves before another arrives', () => {
    const devices = harrow.devices.map((device) =>
      device.tag === 'S2' || device.tag === 'S3' ? { ...device, options: { contacts: ['NO 13-14', 'NC 21-22'] } } : device,
    ) as Bench['devices'];
    const board = rewire({ ...NO_INTERLOCK, devices }, 'S2:14>KM1:A1 S3:14>KM2:A1', 'S2:14>S3:21 S3:22>KM1:A1 S3:14>S2:21 S2:22>KM2:A1');
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
    const board = bench(control([estop]), 'G1:L>S0:11 S0:12>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N G1:L>KM1:13 KM1:14>S2:14');
    expect(failures(board)).toEqual(['stop-drops', 'estop-holds']);
  });

  test('a maintained selector starts by itself when the supply returns', () => {
    const selector = { tag: 'S3', type: 'selector', options: { contacts: [{ terminals: '13-14', closedIn: ['on'] }] } };
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
  const jogBoard = bench(control([jog]), 'G1:L>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N S2:13>S3:21 S3:22>KM1:13 KM1:14>S2:14 S2:13>S3:13 S3:14>S2:14');

  test('a jog button’s NC contact that recloses before the contactor has dropped out', () => {
    const race = prove(jogBoard).properties.find(({ id }) => id === 'no-race');
    expect(race?.holds).toBe(false);
    expect(race?.trace.map(describeStimulus)).toEqual(['press S3', 'let go S3']);
    expect(failures(jogBoard)).toEqual(['no-race']);
  });

  test('jogging through a control relay has none', () => {
    const relay = { tag: 'K1', type: 'relay', options: { contacts: ['NO 13-14', 'NO 23-24'], coil: { voltage: 230, kind: 'ac' } } };
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
    const pole = rewire(pump, 'Q1:2>F1:1 F1:2>F2:95 S2:13>KM1:13 KM1:14>KM1:A1', 'Q1:2>F2:95 S1:22>KM1:13 KM1:14>KM1:A1');
    expect(compare(pump, pole, { observe })).toMatchObject({ equivalent: true });
  });

  test('a shortest counterexample, and it can be replayed on both boards', () => {
    const momentary = rewire(pump, 'KM1:14>KM1:A1');
    const { equivalent, counterexample } = compare(pump, momentary, { observe });
    expect(equivalent).toBe(false);
    expect(counterexample?.steps).toEqual([{ press: 'S2' }, { release: 'S2' }]);
    const replay = (board: Bench) => run(board, [...(counterexample?.steps ?? []), { expect: counterexample?.expected as Record<string, string> }]).ok;
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
  expect(run(NO_INTERLOCK, short?.trace ?? []).incidents.map(({ kind }) => kind)).toEqual(['phase-to-phase', 'breaker-trip']);
  const bypassed = rewire(pump, 'S2:13>KM1:13', 'F2:96>KM1:13');
  const stop = prove(bypassed).properties.find(({ id }) => id === 'stop-drops');
  expect(run(bypassed, [...(stop?.trace ?? []), { expect: { S1: 'pressed', 'M1.driven': 'forward' } }]).ok).toBe(true);
});

/** A random thing a person might do next. */
function randomStimulus(board: Bench, random: () => number): Stimulus {
  const tags = board.devices.filter(({ type }) => type === 'pushbutton').map(({ tag }) => tag);
  const tag = tags[Math.floor(random() * tags.length)] ?? '';
  const dice = random();
  if (dice < 0.4) return { press: tag };
  if (dice < 0.8) return { release: tag };
  if (dice < 0.86) return { trip: 'F2' };
  if (dice < 0.92) return { reset: 'F2' };
  return dice < 0.96 ? { open: 'G1' } : { close: 'G1' };
}

test('random scripts never contradict what was proved (seeds 1 to 120, three boards)', () => {
  for (const board of [pump, harrow, rewire(pump, 'S2:13>KM1:13', 'F2:96>KM1:13')]) {
    const proof = prove(board);
    const holds = (id: PropertyId) => proof.properties.find((property) => property.id === id)?.holds;
    const solver = new Solver(compile(board));
    for (let seed = 1; seed <= 40; seed += 1) {
      const random = seeded(seed);
      const simulation = new Simulation(solver);
      const story: string[] = [];
      for (let k = 0; k < 25; k += 1) {
        const stimulus = randomStimulus(board, random);
        story.push(describeStimulus(stimulus));
        simulation.apply(stimulus);
        simulation.settle();
        const state = (tag: string) => simulation.state[solver.circuit.mechanismOf.get(tag) as number];
        const driven = simulation.shafts[0]?.driven !== 'none';
        if (holds('stop-drops') && state('S1') === 1) expect({ seed, story, driven }).toMatchObject({ driven: false });
        if (holds('overload-drops') && state('F2') === 1) expect({ seed, story, driven }).toMatchObject({ driven: false });
      }
      if (holds('no-short')) expect({ seed, incidents: simulation.incidents.filter(({ kind }) => kind.startsWith('phase')) }).toEqual({ seed, incidents: [] });
    }
  }
});
