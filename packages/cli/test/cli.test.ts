import { join } from 'node:path';
import { spawnSync } from 'node:child_process';
import { expect, test } from '@jest/globals';
import type { Exercise } from '@contactum/core';
import { shippedExercise } from '@contactum/core/exercises';
import { command, ownFolder } from './help.js';
import { readCases } from '../../core/test/help.js';

const { folder, file } = ownFolder('cli');

/** Runs a command with --json: exactly one JSON value and nothing else. */
async function json(...argv: string[]): Promise<{ status: number; value: Record<string, unknown> }> {
  const { status, out, error } = await command(...argv, '--json');
  expect(error).toBe('');
  return { status, value: JSON.parse(out) as Record<string, unknown> };
}

const cases = Object.fromEntries(readCases().map((one) => [one.name.replace('.json', ''), one]));
const benchOf = (name: string) => file(`${name}.bench.json`, cases[name]?.bench);

test('run, prove, compare and grade answer with their JSON and the exit status of what they found', async () => {
  const script = file('seal.script.json', cases['run-seal-ref']?.script);
  expect(await json('run', benchOf('run-seal-ref'), script)).toMatchObject({
    status: 0,
    value: { ok: true, mismatches: [], incidents: [] },
  });
  const wrong = await json('run', benchOf('run-seal-momentary'), script);
  expect(wrong).toMatchObject({ status: 1, value: { ok: false } });
  expect((wrong.value.mismatches as unknown[])[0]).toEqual({
    step: 2,
    what: 'KM1',
    expected: 'in',
    actual: 'out',
  });

  const proof = await json('prove', benchOf('prove-rev-none'));
  expect(proof).toMatchObject({ status: 1, value: { complete: true } });
  expect(
    (proof.value.properties as { id: string; holds: boolean; trace: unknown[] }[]).find(
      ({ id }) => id === 'no-short',
    ),
  ).toMatchObject({
    holds: false,
    trace: [{ together: [{ press: 'S2' }, { press: 'S3' }] }],
  });

  const reference = file('reference.bench.json', cases['compare-seal-stop-bypassed']?.reference);
  const differs = await json(
    'compare',
    reference,
    benchOf('compare-seal-stop-bypassed'),
    '--observe',
    'KM1,M1.driven',
  );
  expect(differs).toMatchObject({
    status: 1,
    value: {
      equivalent: false,
      counterexample: {
        steps: [{ press: 'S2' }, { press: 'S1' }],
        expected: { KM1: 'out' },
        actual: { KM1: 'in' },
      },
    },
  });

  const exercise = file('seal.exercise.json', cases['grade-seal-ref']?.exercise);
  expect(await json('grade', exercise, benchOf('grade-seal-ref'))).toMatchObject({
    status: 0,
    value: {
      contactum: 'report/1',
      score: 100,
      max: 100,
      passed: true,
      equivalence: { equivalent: true, counterexample: null },
    },
  });
  expect(await json('check', exercise)).toEqual({ status: 0, value: { ok: true, kind: 'exercise' } });
  expect((await command('grade', exercise, benchOf('grade-seal-ref'))).out).toContain('100 of 100, passed');
});

test('measure reads volts, amps and ohms, after a script where one is given', async () => {
  const bench = benchOf('prove-seal-ref');
  const running = file('running.script.json', {
    contactum: 'script/1',
    steps: [{ press: 'S2' }, { release: 'S2' }, { wait: 3 }],
  });
  const volts = (await json('measure', bench, '--mode', 'volts', '--between', 'G1:L1', 'G1:L2')).value as {
    value: number;
    unit: string;
    angle: number;
  };
  expect(volts).toMatchObject({ unit: 'V' });
  expect(volts.value).toBeCloseTo(400, 2);
  expect(volts.angle).toBeCloseTo(30, 6);
  expect((await json('measure', bench, '--mode', 'amps', '--at', 'M1:U')).value).toEqual({
    value: 0,
    unit: 'A',
    angle: null,
  });
  const amps = (await json('measure', bench, '--mode', 'amps', '--at', 'M1:U', '--script', running))
    .value as {
    value: number;
  };
  expect(amps.value).toBeGreaterThan(1.5);
  expect(amps.value).toBeLessThan(3.4);
  expect((await json('measure', bench, '--mode', 'ohms', '--between', 'S1:21', 'S1:22')).value).toMatchObject(
    {
      value: 0,
      unit: 'Ω',
    },
  );
  // Dead board: what the supply held in has dropped out, and nothing joins the two ends (no number: null).
  expect(
    (await json('measure', bench, '--mode', 'ohms', '--between', 'KM1:13', 'KM1:14', '--script', running))
      .value,
  ).toEqual({ value: null, unit: 'Ω', angle: null });
});

test('export writes a SPICE deck of the contact state that a script leaves', async () => {
  const script = file('held.script.json', { contactum: 'script/1', steps: [{ press: 'S2' }] });
  const deck = await command('export', benchOf('prove-seal-ref'), '--to', 'spice', '--script', script);
  expect(deck).toMatchObject({ status: 0, error: '' });
  expect(deck.out).toMatch(/^\* Seal-in, overload at the line end\n/);
  expect(deck.out).toContain('.end');
  // The main poles are closed while Start is held, and only then.
  expect(deck.out).toMatch(/n_km1_1 n_km1_2 /);
  expect((await command('export', benchOf('prove-seal-ref'), '--to', 'spice')).out).not.toMatch(
    /n_km1_1 n_km1_2 /,
  );
  expect(await command('export', benchOf('prove-seal-ref'), '--to', 'pictures')).toMatchObject({
    status: 2,
    error: expect.stringContaining('arguments: --to is spice, drawing, svg, dxf'),
  });
});

test('export draws the circuit as plain geometry, and as a picture', async () => {
  const bench = benchOf('drawing-iec-seal-other');
  const drawing = (await json('export', bench, '--to', 'drawing', '--form', 'us')).value;
  expect(drawing).toMatchObject({ contactum: 'drawing/1', form: 'us' });
  const [power, control] = drawing.sheets as { circuit: string; symbols: object[]; paths: object[] }[];
  expect([power?.circuit, control?.circuit]).toEqual(['power', 'control']);
  expect(control?.symbols).toContainEqual(
    expect.objectContaining({ device: 'KM1', part: '13-14', symbol: 'contact-no' }),
  );
  expect((await command('export', bench, '--to', 'svg')).out).toMatch(/^<svg [^]*<\/svg>/);
  expect((await command('export', bench, '--to', 'drawing', '--form', 'din')).error).toBe(
    'arguments: --form is iec, us',
  );
});

test('repair lists the fewest edits and says when there are none within its bound', async () => {
  const exercise = shippedExercise('brine-pump-three-wire') as Exercise;
  const folderOf = file('pump.exercise.json', exercise);
  const board = (wires: readonly object[]) => file('board.json', { ...exercise.bench, wires });
  const wrong = board(
    exercise.reference.map((wire) => (wire.to === 'KM1:13' ? { ...wire, from: 'F2:96' } : wire)),
  );
  const words = await command('repair', folderOf, wrong);
  expect(words.status).toBe(0);
  expect(words.out).toMatch(/^one edit repairs the wiring; \d+ ways?:/);
  expect(words.out).toMatch(/move F2:96 to KM1:13 so that it joins (S1:22|S2:13) to KM1:13/);
  const json = JSON.parse((await command('repair', folderOf, wrong, '--json')).out) as {
    found: boolean;
    edits: object[];
    repairs: object[][];
  };
  expect(json).toMatchObject({ found: true, edits: [{ move: { from: 'F2:96', to: 'KM1:13' } }] });
  expect(json.repairs[0]).toEqual(json.edits);
  expect(
    JSON.parse((await command('repair', folderOf, board(exercise.reference), '--json')).out),
  ).toMatchObject({
    found: true,
    edits: [],
  });
  const none = await command('repair', folderOf, board(exercise.reference.slice(0, 12)), '--most', '1');
  expect(none).toMatchObject({ status: 1, out: 'no repair was found within 1 edits' });
  expect(await command('repair', folderOf, wrong, '--most', 'many')).toMatchObject({
    status: 2,
    error: 'arguments: --most is a whole number from 0 to 5',
  });
});

test('unusable input: exit 2 and one line that names file and JSON path', async () => {
  const bench = benchOf('prove-seal-ref');
  const table: [string[], RegExp][] = [
    [[], /^usage: /],
    [['shake', bench], /^arguments: unknown command "shake"/],
    [['run', bench], /^arguments: run takes BENCH SCRIPT$/],
    [['run', join(folder, 'none.json'), bench], /none\.json: \(document\): there is no such file$/],
    [['check', file('text.json', '{ "contactum": ')], /text\.json: \(document\): is not JSON/],
    [
      ['check', file('kind.json', { contactum: 'bench/9' })],
      /kind\.json: contactum: unknown kind or version "bench\/9"$/,
    ],
    [
      ['prove', file('type.json', { contactum: 'bench/1', devices: [{ tag: 'A', type: 'turbine' }] })],
      /type\.json: devices\[0\]\.type: unknown type "turbine"$/,
    ],
    [
      ['run', bench, file('press.json', { contactum: 'script/1', steps: [{ press: 'S7' }] })],
      /press\.json: steps\[0\]\.press: "S7" is not a device of this bench$/,
    ],
    [['compare', bench, bench, '--observe', 'KM9'], /^--observe: observe\[0\]: "KM9" is nothing/],
    [
      ['measure', bench, '--mode', 'volts', '--between', 'G1:L1', 'G1:L9'],
      /^arguments: "G1:L9" is not a terminal/,
    ],
    [['measure', bench, '--mode', 'watts'], /^arguments: --mode is volts, ohms or amps$/],
    [['run', bench, bench, '--loud'], /^arguments: unknown option '--loud'/],
  ];
  for (const [argv, line] of table) {
    const { status, out, error } = await await command(...argv);
    expect({ argv, status, out }).toEqual({ argv, status: 2, out: '' });
    expect(error).toMatch(line);
    expect(error).not.toContain('\n');
  }
});

test('the installed command runs from its bundle', async () => {
  const bin = join(import.meta.dirname, '..', 'bin', 'contactum.mjs');
  const done = spawnSync(process.execPath, [bin, 'check', benchOf('prove-seal-ref'), '--json'], {
    encoding: 'utf8',
  });
  expect({ status: done.status, out: done.stdout, error: done.stderr }).toEqual({
    status: 0,
    out: '{"ok":true,"kind":"bench"}\n',
    error: '',
  });
});

test('input that is nested, named or numbered oddly is refused in one line, and nothing is read through a prototype', async () => {
  const bench = benchOf('run-seal-ref');
  let count = 0;
  const script = (steps: unknown[]) =>
    file(`odd-${(count += 1)}.script.json`, { contactum: 'script/1', steps });
  const deep = `{"contactum":"script/1","steps":[${'{"together":['.repeat(5000)}${']}'.repeat(5000)}]}`;
  const odd: [string, RegExp][] = [
    [script([{ constructor: 'S1' }]), /steps\[0\]: must be a stimulus or an expectation/],
    [script([{ set: 'M1.constructor', to: 1 }]), /steps\[0\]\.set: a motor-3 has no setting "constructor"/],
    [script([{ set: 'F2.__proto__', to: 1 }]), /steps\[0\]\.set: /],
    [script([{ expect: { 'KM1\nout': 'in' } }]), /steps\[0\]\.expect/],
    [
      script([{ press: 'S2', first: ['S9'] }]),
      /steps\[0\]\.first\[0\]: "S9" is nothing that moves on this bench/,
    ],
    [script([{ wait: 1e12 }]), /steps\[0\]\.wait: must be at most 86400/],
    [file('deep.script.json', deep), /steps: is nested more than 64 levels deep/],
  ];
  for (const [path, words] of odd) {
    const { status, out, error } = await await command('run', bench, path, '--json');
    expect({ status, out, lines: error.trim().split('\n').length }).toEqual({ status: 2, out: '', lines: 1 });
    expect(error).toMatch(words);
  }
});

test('faults lists every single fault with what it does, and diagnose what agrees with observations', async () => {
  const pump = file('pump.exercise.json', shippedExercise('coil-and-contact'));
  const listed = (await json('faults', pump)).value as unknown as {
    fault: object;
    title: string;
    symptoms: string[];
    incidents: string[];
    readings: number;
  }[];
  expect(listed.length).toBeGreaterThan(15);
  expect(listed.find(({ title }) => title === 'coil of K1 open')).toMatchObject({
    fault: { 'coil-open': 'K1' },
    symptoms: ['follows', 'drops'],
    incidents: [],
  });
  const observations = (list: object[]) =>
    file('seen.observations.json', { contactum: 'observations/1', observations: list });
  const seen = [
    { steps: [{ press: 'S1' }], see: { K1: 'out' } },
    {
      steps: [{ press: 'S1' }],
      meter: { mode: 'volts', between: ['K1:A1', 'K1:A2'] },
      read: { min: 22, max: 26 },
    },
    { dead: true, steps: [], meter: { mode: 'ohms', between: ['K1:A1', 'K1:A2'] }, read: 'open' },
  ];
  const found = await json('diagnose', pump, '--observations', observations(seen));
  expect(found).toMatchObject({
    status: 0,
    value: {
      sound: false,
      candidates: [{ fault: { 'coil-open': 'K1' }, title: 'coil of K1 open', places: [] }],
      of: listed.length,
      next: null,
    },
  });
  const open = (await json('diagnose', pump, '--observations', observations(seen.slice(0, 1)))).value as {
    next: { splits: number[]; title: string; steps: object[] };
    candidates: unknown[];
  };
  expect(open.next.splits.length).toBeGreaterThan(1);
  expect(Object.keys(open.next)).toEqual(expect.arrayContaining(['steps', 'title', 'splits']));
  // A bench of its own that should be right: one without the lamp's lead explains a dark lamp by itself.
  const board = shippedExercise('coil-and-contact') as Exercise;
  const own = file('own.bench.json', {
    ...board.bench,
    wires: board.reference.filter(({ to }) => to !== 'H1:X1'),
  });
  const dark = await json(
    'diagnose',
    pump,
    own,
    '--observations',
    observations([{ steps: [{ press: 'S1' }], see: { K1: 'in', H1: 'dark' } }]),
  );
  expect(dark.value).toMatchObject({ sound: true });
  const pairs = await json(
    'diagnose',
    pump,
    '--observations',
    observations([{ steps: [{ press: 'S1' }], see: { K1: 'out', H1: 'lit' } }]),
    '--pairs',
  );
  const both = pairs.value as { of: number; candidates: { fault: object; faults?: object[] }[] };
  expect(both.of).toBeGreaterThan(listed.length);
  expect(both.candidates.every(({ faults }) => faults?.length === 2)).toBe(true);
  // Nothing that a single fault does: it says so, and what next.
  const two = file('two.observations.json', {
    contactum: 'observations/1',
    observations: [
      { steps: [], see: { K1: 'in' } },
      { steps: [{ press: 'S1' }], see: { H1: 'dark' } },
    ],
  });
  const unexplained = await command('diagnose', pump, '--observations', two);
  expect(unexplained.out).toMatch(/^no single fault explains all of it: .* with --pairs$/m);
  expect(unexplained.out).not.toContain('nothing further');
  expect((await command('diagnose', pump)).error).toBe('arguments: diagnose needs --observations FILE');
  expect(
    await command('diagnose', pump, '--observations', observations([{ steps: [], see: { K7: 'in' } }])),
  ).toMatchObject({
    status: 2,
    error: expect.stringContaining(
      'observations[0].see["K7"]: "K7" is nothing that can be observed on this bench',
    ) as unknown,
  });
  expect((await command('check', observations(seen))).status).toBe(0);
});

test('explain says why a coil, a lamp or a motor is as it is after a script', async () => {
  const bench = benchOf('prove-seal-ref');
  const known = (await command('explain', bench, '--of', 'KM9')).error;
  expect(known).toMatch(/^arguments: "KM9" has no coil, lamp or motor in .*; there are KM1/);
  expect((await command('explain', bench)).error).toBe('arguments: explain needs --of DEVICE');
  const idle = await json('explain', bench, '--of', 'KM1');
  expect(idle).toMatchObject({ status: 0, value: { of: 'KM1', state: 'out', path: null } });
  expect((idle.value.blocks as string[]).length).toBeGreaterThan(0);
  const said = await command('explain', bench, '--of', 'KM1');
  expect(said.out.trim()).toBe(idle.value.sentence);
});
