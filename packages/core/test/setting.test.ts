import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  DEVICE_TYPES,
  TrialMarker,
  addDevice,
  alignDevices,
  bySurprise,
  completed,
  copyDevices,
  dryRun,
  freshDevice,
  groundOf,
  jointsOf,
  moveDevices,
  nextTag,
  nudgeDevices,
  placeAt,
  planBoard,
  proposeBehaviours,
  railsOf,
  readinessOf,
  referenceBench,
  removeDevices,
  renumber,
  replaceDevice,
  retag,
  rightWirings,
  run,
  seededNumbers,
  trialWirings,
  unplaced,
  versionChanges,
  zoneOf,
  type Device,
  type Exercise,
} from '@contactum/core';
import {
  TEMPLATE_DEFAULTS,
  exerciseFromTemplate,
  shippedExercises,
  templateProblems,
} from '@contactum/core/exercises';
import { readExercise } from '@contactum/core/documents';
import { everySecond, exercise, longList, longRuns } from './help.js';
import { choices } from './fuzz/templates.js';

const whole = (one: Exercise) => readExercise(JSON.parse(JSON.stringify(one)));

describe('templates', () => {
  test('whatever is chosen, the exercise is a document, its reference earns all its marks and proves clean', () => {
    fc.assert(
      fc.property(choices, (given) => {
        fc.pre(templateProblems(given).length === 0);
        const made = exerciseFromTemplate('made', given);
        expect(whole(made)).toMatchObject({ ok: true });
        const { ready, score, max, objections } = readinessOf(made);
        expect({ given, ready, objections, share: score / max }).toEqual({
          given,
          ready: true,
          objections: [],
          share: 1,
        });
        expect(made.behaviours.length).toBeGreaterThan(2);
        const { deadTest } = made.practice ?? {};
        expect(Array.isArray(deadTest) ? deadTest.length : 0).toBeGreaterThan(1);
      }),
      { numRuns: longRuns(8), seed: 12 },
    );
  });

  test('choices that cannot stand together are named', () => {
    expect(() => exerciseFromTemplate('x', { family: 'jogging', jog: 'button', stations: 2 })).toThrow(
      /^stations: /,
    );
    expect(() => exerciseFromTemplate('x', { family: 'reversing', interlocks: [] })).toThrow(/^interlocks: /);
    expect(templateProblems({ ...TEMPLATE_DEFAULTS, form: 'us', lineVoltage: 480 })).toHaveLength(1);
  });

  test('designations follow the habit', () => {
    const tags = (form: 'iec' | 'us') =>
      exerciseFromTemplate('x', {
        family: 'star-delta',
        form,
        ...(form === 'us' ? { control: 'transformer', controlVoltage: 120, lineVoltage: 480 } : {}),
      })
        .bench.devices.map(({ tag }) => tag)
        .join(' ');
    expect(tags('iec')).toBe('G1 Q1 F1 KM1 KM2 KM3 F2 KT1 S1 S2 M1');
    expect(tags('us')).toBe('1PS 1CB 1T 1FU 1M 2M 3M 1OL 1TR 1PB 2PB 1MTR');
  });
});

describe('behaviours proposed from a reference', () => {
  test.each(longList(everySecond(shippedExercises())).map((one) => [one.id, one] as const))(
    '%s: they hold on it, and every one moves something',
    (_, one) => {
      const behaviours = proposeBehaviours(one);
      expect(behaviours.length).toBeGreaterThan(0);
      expect(new Set(behaviours.map(({ id }) => id)).size).toBe(behaviours.length);
      const board = referenceBench(one);
      for (const { steps } of behaviours) expect(run(board, steps).mismatches).toEqual([]);
      expect(whole({ ...one, behaviours })).toMatchObject({ ok: true });
      expect(readinessOf({ ...one, behaviours })).toMatchObject({ ready: true });
    },
  );

  test('a star-delta starter is asked for star, its time on both sides, delta, and both stops', () => {
    const titles = proposeBehaviours(exercise('blower-star-delta-main-from-start')).map(({ title }) => title);
    expect(titles).toEqual(
      expect.arrayContaining([
        'On S2: KM1 in, KM2 in, motor forward, M1.connection star; it holds',
        'When KT1 has run out: KM2 out, KM3 in, M1.connection delta',
        'S1 stops what S2 has started',
        'S1 stops it after KT1 too, and it starts anew',
        'A trip of F2 stops it; it starts only after a reset',
        'Stays off when the supply comes back',
      ]),
    );
  });
});

describe('before it is set', () => {
  test('a reference that breaks its own behaviours or properties is refused, unless the failure is the lesson', () => {
    const harrow = exercise('salt-harrow-electrical-interlock');
    const bare: Exercise = {
      ...harrow,
      reference: [...harrow.reference, { from: 'KM1:21', to: 'KM1:22' }, { from: 'KM2:21', to: 'KM2:22' }],
    };
    const refused = readinessOf(bare);
    expect(refused.ready).toBe(false);
    const short = refused.objections.find(({ id }) => id === 'no-short');
    expect(short).toMatchObject({ part: 'safety', refuses: true });
    expect(short?.steps?.length).toBeGreaterThan(0);
    const lesson = readinessOf({ ...bare, lesson: ['no-short'], behaviours: proposeBehaviours(bare) });
    expect(lesson.objections.filter(({ refuses }) => refuses)).toEqual([]);
    // A lesson that the reference does not teach is no lesson.
    expect(readinessOf({ ...harrow, lesson: ['no-short'] }).ready).toBe(false);
  });

  test('what is missing is named', () => {
    const pump = exercise('brine-pump-three-wire');
    const ids = (one: Exercise) =>
      readinessOf(one)
        .objections.filter(({ refuses }) => refuses)
        .map(({ id }) => id);
    expect(ids({ ...pump, behaviours: [] })).toContain('behaviours');
    expect(ids({ ...pump, reference: [] })).toContain('reference');
    expect(ids({ ...pump, marks: { ...pump.marks, pass: 101 } })).toEqual(['pass']);
  });

  // All that ship are tried by `npm run fuzz`.
  test.each([
    'brine-pump-three-wire',
    'brine-pump-two-stations',
    'salt-harrow-electrical-interlock',
    'brine-pump-three-wire-us',
  ])('the dry run of %s says what a careful instructor says', (id) => {
    const one = exercise(id);
    const trials = [...dryRun(one)];
    expect(trials.filter(({ kind }) => kind === 'right').map(({ says }) => says)).toEqual(
      Array.from({ length: 5 }, () => 'right, and full marks'),
    );
    expect(trials.filter(({ kind }) => kind === 'wrong').length).toBeGreaterThanOrEqual(36);
    expect(bySurprise(trials).filter(({ surprise }) => surprise > 0.5)).toEqual([]);
    // What no order of working shows is told by what it protects.
    const past = trials.find(({ title }) => title.includes('all heaters by-passed'));
    expect(past).toMatchObject({
      passed: false,
      worse: ['“Every line of a motor, or every winding, is led through the overload relay”'],
    });
    expect(past?.says).toMatch(/^works as the reference does; worse than the reference at “Every line/);
    // The usual mistakes of the trade are among them, and fail.
    const failed = trials.filter(({ should, passed }) => should === 'fails' && !passed);
    expect(failed.length).toBeGreaterThan(25);
  });

  test.each(['salt-harrow-controller', 'sluice-gate-controller-jog', 'blower-controller-star-delta'])(
    'where the program is the student’s too, leads are tried with the right one: %s wired otherwise passes',
    (id) => {
      const one = exercise(id);
      const marker = new TrialMarker(one);
      const right = trialWirings(one, 3).filter(({ kind }) => kind === 'right');
      expect(right).toHaveLength(5);
      for (const wiring of right)
        expect(marker.mark(wiring)).toMatchObject({ title: wiring.title, says: 'right, and full marks' });
    },
  );

  test('wirings of a dry run are marked alike in whatever order, and by whichever of several markers', () => {
    const one = exercise('sluice-gate-jog-button');
    const wirings = trialWirings(one, 5, 12);
    const inOrder = [...dryRun(one, 5, 12)].map(({ of, ...trial }) => {
      expect(of).toBe(wirings.length);
      return trial;
    });
    const markers = [new TrialMarker(one), new TrialMarker(JSON.parse(JSON.stringify(one)) as Exercise)];
    const shared = wirings.toReversed().map((wiring, k) => markers[k % 2]!.mark(wiring));
    expect(shared.toReversed()).toEqual(inOrder);
  });

  test('marks that see nothing are the worst surprise', () => {
    const pump = exercise('brine-pump-three-wire');
    const blind: Exercise = {
      ...pump,
      behaviours: [
        { id: 'on', title: 'Comes on', points: 1, steps: [{ press: 'S2' }, { expect: { KM1: 'in' } }] },
      ],
      lesson: ['stop-drops', 'overload-drops', 'no-self-start', 'no-chatter'],
      rules: {},
    };
    const worst = bySurprise([...dryRun(blind)]);
    expect(worst[0]?.says).toMatch(/^wrong, and (passes|full marks)$/);
    expect(worst[0]?.recorded).toBe(worst[0]?.score);
    expect(worst.filter(({ surprise }) => surprise > 0.5).length).toBeGreaterThan(3);
  });

  test('right wirings have the reference’s joints or another right contact for one', () => {
    for (const one of shippedExercises().slice(0, 12)) {
      const ground = groundOf(one);
      const [first] = rightWirings(ground, seededNumbers(4));
      expect(jointsOf(one, first!.wires)).toBe(jointsOf(one, one.reference));
    }
  });
});

describe('a board that is built', () => {
  const empty: Exercise = {
    ...exercise('brine-pump-three-wire'),
    reference: [],
    behaviours: [],
    observe: [],
    faults: [],
    deadTest: undefined,
  };
  const onBoard = (devices: readonly Device[]): Exercise => ({
    ...empty,
    bench: { ...empty.bench, devices, wires: [], interlocks: [] },
  });

  test('every kind of device comes from the shelf complete', () => {
    const supply = freshDevice('supply-3n', 'G1', { devices: [] });
    const motor = freshDevice('motor-3', 'M1', { devices: [supply] });
    for (const type of DEVICE_TYPES) {
      const device = freshDevice(type, 'X9', { devices: [supply, motor] });
      const read = whole(onBoard([supply, motor, device]));
      expect({ type, read: read.ok ? 'ok' : read.problems }).toEqual({ type, read: 'ok' });
      if (read.ok) expect(read.value.bench.devices[2]).toEqual(device);
      expect(completed(device)).toEqual(device);
    }
  });

  test('whatever is added, moved, copied, renamed and taken away, the exercise fits together and its rails hold every device once', () => {
    const command = fc.tuple(
      fc.constantFrom(
        'add',
        'remove',
        'copy',
        'move',
        'nudge',
        'align',
        'retag',
        'renumber',
        'replace',
        'back',
      ),
      fc.nat(1000),
      fc.nat(1000),
    );
    fc.assert(
      fc.property(
        fc.constantFrom('salt-harrow-limit-switches', 'blower-star-delta-timer', 'brine-pump-emergency-stop'),
        fc.array(command, { maxLength: 12 }),
        (id, commands) => {
          let one = exercise(id);
          for (const [what, a, b] of commands) one = did(one, what, a, b);
          const read = whole(one);
          expect(read.ok ? [] : read.problems).toEqual([]);
          const standing = railsOf(one.bench.devices).flatMap(({ tags }) => tags);
          expect(standing.toSorted()).toEqual(one.bench.devices.map(({ tag }) => tag).toSorted());
        },
      ),
      { numRuns: longRuns(70), seed: 5 },
    );
  });

  test('renaming is told everywhere: the exercise is marked as before', () => {
    const harrow = exercise('salt-harrow-limit-switches');
    const renamed = renumber(harrow, 'us');
    expect(renamed.bench.devices.map(({ tag }) => tag)).toContain('1MTR');
    expect(readinessOf(renamed)).toMatchObject({ ready: true, score: 100 });
    expect(renumber(renamed, 'iec').reference.length).toBe(harrow.reference.length);
    expect(retag(harrow, 'KM1', 'KM2')).toBeNull();
  });

  test('let go over a device, a device stands before or behind it; below everything it stands on a new rail', () => {
    const pump = exercise('brine-pump-three-wire');
    const { devices } = pump.bench;
    for (const { device, x, y, width, height, zone } of planBoard({ devices }).devices) {
      const rails = railsOf(devices).filter((one) => one.zone === zone);
      const stands = (at: { x: number; y: number }) => {
        const place = placeAt(devices, zone, at);
        return (rails[zone === 'panel' ? place.rail : 0]?.tags ?? [])[place.index];
      };
      expect(stands({ x: x + 1, y: y + height / 2 })).toBe(device.tag);
      expect(stands({ x: x + width - 1, y: y + height / 2 })).not.toBe(device.tag);
    }
    expect(placeAt(devices, 'panel', { x: 0, y: 1e6 })).toEqual({ zone: 'panel', rail: 4, index: 0 });
    expect(zoneOf(freshDevice('lamp', 'H9', pump.bench))).toBe('door');
  });

  test('a rail takes what is put on it, in its order', () => {
    const pump = exercise('brine-pump-three-wire');
    const moved = moveDevices(pump, ['F2'], { zone: 'panel', rail: 0, index: 0 });
    expect(railsOf(moved.bench.devices)[0]?.tags[0]).toBe('F2');
    // A button belongs on the door: on the panel it stays where it is.
    expect(moveDevices(pump, ['S1'], { zone: 'panel', rail: 0, index: 0 })).toBe(pump);
    const down = nudgeDevices(moved, ['F2'], [0, 1]);
    expect(railsOf(down.bench.devices)[1]?.tags[0]).toBe('F2');
    expect(railsOf(nudgeDevices(down, ['F2'], [1, 0]).bench.devices)[1]?.tags[1]).toBe('F2');
  });
});

function did(one: Exercise, what: string, a: number, b: number): Exercise {
  const { devices } = one.bench;
  const device = devices[a % Math.max(1, devices.length)];
  const other = devices[b % Math.max(1, devices.length)];
  const type = DEVICE_TYPES[a % DEVICE_TYPES.length]!;
  if (what === 'add')
    return addDevice(one, freshDevice(type, nextTag(devices, type, b % 2 ? 'iec' : 'us'), one.bench));
  if (!device || !other) return one;
  // A board keeps its motor: what brakes or moves it names it.
  const isNamed = device.type === 'motor-3' || device.type === 'motor-1';
  switch (what) {
    case 'remove':
      return isNamed ? one : removeDevices(one, [device.tag]);
    case 'copy':
      return copyDevices(one, [device.tag, other.tag], 'iec').exercise;
    case 'move':
      return moveDevices(one, [device.tag], {
        zone: (['panel', 'door', 'field'] as const)[b % 3]!,
        rail: b % 4,
        index: a % 4,
      });
    case 'nudge':
      return nudgeDevices(one, [device.tag], b % 2 ? [a % 2 ? 1 : -1, 0] : [0, a % 2 ? 1 : -1]);
    case 'align':
      return alignDevices(one, [device.tag, other.tag]);
    case 'retag':
      return retag(one, device.tag, `Z${b}`) ?? one;
    case 'renumber':
      return renumber(one, b % 2 ? 'iec' : 'us');
    case 'replace':
      return device.type === 'contactor'
        ? replaceDevice(one, { ...device, options: { ...device.options, aux: ['NO 53-54'] } })
        : one;
    default:
      return unplaced(one);
  }
}

test('what changed between two versions is told, and whether marks rest on it', () => {
  const pump = exercise('brine-pump-three-wire');
  const [first, ...others] = pump.behaviours;
  const next: Exercise = {
    ...pump,
    title: 'Brine pump, again',
    reference: pump.reference.slice(1),
    behaviours: [{ ...first!, points: 9 }, ...others.slice(1)],
    marks: { ...pump.marks, pass: 80 },
    rules: { ...pump.rules, stopUpstream: true },
  };
  const told = versionChanges(pump, next);
  expect(told.map(({ of, kind, marks }) => `${of} ${kind} ${marks ? 'marks' : ''}`.trim())).toEqual(
    expect.arrayContaining([
      'text changed',
      'reference removed marks',
      'behaviours removed marks',
      'behaviours changed marks',
      'rules added marks',
      'marks changed marks',
    ]),
  );
  expect(told.find(({ of, kind }) => of === 'behaviours' && kind === 'changed')?.what).toContain(
    '5 to 9 points',
  );
  expect(versionChanges(pump, { ...pump })).toEqual([]);
});
