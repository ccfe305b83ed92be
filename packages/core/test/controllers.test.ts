import { describe, expect, test } from '@jest/globals';
import {
  candidateBench,
  compare,
  grade,
  observerOf,
  programWarnings,
  prove,
  readProgramText,
  referenceBench,
  run,
  compile,
  type Bench,
  type Exercise,
  type Program,
  type Report,
} from '@contactum/core';
import { readBench, readDocument, readExercise, readProgram } from '@contactum/core/documents';
import { exercise, must, rewire } from './help.js';

const pump = exercise('brine-pump-controller');
const written = exercise('brine-pump-controller-program');
const harrow = exercise('salt-harrow-controller');
const blower = exercise('blower-controller-star-delta');
const emergency = exercise('brine-pump-controller-emergency-stop');

const programOf = (text: string): Program => {
  const read = readProgramText(text);
  if (!read.ok) throw new Error(`${read.line}: ${read.message}`);
  return read.program;
};

const withProgram = (board: Bench, program: Program): Bench =>
  must(
    readBench({
      ...board,
      devices: board.devices.map((device) =>
        device.type === 'plc' ? { ...device, settings: { ...device.settings, program } } : device,
      ),
    }),
  );

function marked(one: Exercise, board: Bench): Report {
  const fitted = candidateBench(one, board);
  if ('problems' in fitted) throw new Error(JSON.stringify(fitted.problems));
  return grade(one, fitted.bench, { faults: false });
}

const lost = ({ criteria }: Report): string[] =>
  criteria.filter(({ points, max }) => points < max).map(({ id }) => id);

const VARIABLES = `VAR
  Stop AT %IX0.0 : BOOL; Start AT %IX0.1 : BOOL; Trip AT %IX0.2 : BOOL; Runs AT %IX0.3 : BOOL;
  Pump AT %QX0.0 : BOOL;
END_VAR`;

describe('usual mistakes with a controller do not pass', () => {
  test('an output without its common, or with another one: nothing ever starts', () => {
    for (const leads of ['', 'F1:2>A1:QC2']) {
      const report = marked(pump, rewire(referenceBench(pump), 'F1:2>A1:QC1', ...(leads ? [leads] : [])));
      expect(report.passed).toBe(false);
      expect(lost(report)).toEqual(expect.arrayContaining(['starts', 'stops', 'overload']));
    }
  });

  test('24 V on the common of the outputs pulls in no coil for 230 V', () => {
    const report = marked(pump, rewire(referenceBench(pump), 'F1:2>A1:QC1', 'G2:+>A1:QC1'));
    expect(report.passed).toBe(false);
    expect(lost(report)).toContain('starts');
  });

  test('the overload neither in the coil’s circuit nor at an input: a trip stops nothing', () => {
    const report = marked(pump, rewire(referenceBench(pump), 'F2:96>A1:I0.2', 'F2:95>A1:I0.2'));
    expect(report.passed).toBe(false);
    expect(report.properties.find(({ id }) => id === 'overload-drops')).toMatchObject({ holds: false });
  });

  test('sealed past Stop: Stop held stops nothing', () => {
    const program = programOf(`${VARIABLES} Pump := Trip AND ((Stop AND Start) OR Runs);`);
    const report = marked(written, withProgram(referenceBench(written), program));
    expect(report.passed).toBe(false);
    expect(report.properties.find(({ id }) => id === 'stop-drops')).toMatchObject({ holds: false });
  });

  test('sealed by its own output: it starts by itself, and the proof says by which steps', () => {
    const program = programOf(`${VARIABLES} Pump := Stop AND Trip AND (Start OR Pump);`);
    const board = withProgram(referenceBench(written), program);
    const report = marked(written, board);
    expect(report.passed).toBe(false);
    const found = report.properties.find(({ id }) => id === 'no-self-start');
    expect(found).toMatchObject({ holds: false });
    expect(run(board, [...found!.trace, { expect: { 'M1.driven': 'forward' } }]).ok).toBe(true);
    expect(lost(report)).toContain('feedback');
  });

  test('a bit that two coils write is accepted and told', () => {
    const program = programOf(`${VARIABLES} Pump := Stop AND Start; Pump := Stop AND Trip AND Runs;`);
    expect(programWarnings(program)).toEqual([{ path: 'rungs[1].then[0]', what: 'double-coil' }]);
    expect(readDocument(program)).toEqual({
      ok: true,
      value: { kind: 'program', warnings: [{ path: 'rungs[1].then[0]', what: 'double-coil' }] },
    });
    expect(marked(written, withProgram(referenceBench(written), program)).passed).toBe(false);
  });

  test('the interlock in the program alone is an interlock that fails with it', () => {
    const board = rewire(
      rewire(referenceBench(harrow), 'A1:Q0.0>KM2:21', 'A1:Q0.0>KM1:A1'),
      'A1:Q0.1>KM1:21',
      'A1:Q0.1>KM2:A1',
    );
    const report = marked(harrow, board);
    expect(report.passed).toBe(false);
    expect(lost(report)).toContain('hardwired-interlock');
  });

  test('a Stop wired NO, examined by NC: a broken lead would not stop', () => {
    const devices = pump.bench.devices.map((device) =>
      device.tag === 'S1' ? { ...device, options: { contacts: ['NC 21-22', 'NO 13-14'] } } : device,
    ) as unknown as Bench['devices'];
    const inverted = programOf(`${VARIABLES} Pump := NOT Stop AND Trip AND (Start OR Runs);`);
    const board = { ...pump.bench, devices };
    const one: Exercise = {
      ...written,
      bench: { ...withProgram(board, inverted), wires: [] },
      task: 'both',
      program: { A1: inverted },
      reference: referenceBench(pump).wires,
    };
    const wired = rewire(
      referenceBench(one),
      'A1:L+>S1:21 S1:21>S2:13 S1:22>A1:I0.0',
      'A1:L+>S1:13 S1:13>S2:13 S1:14>A1:I0.0',
    );
    const report = marked(one, wired);
    const broken = report.criteria.find(({ id }) => id === 'plc-stops-normally-closed');
    expect(broken).toMatchObject({ points: 0 });
    expect(broken?.evidence?.found).toContain('S1 reaches A1:I0.0 through an NO contact');
  });

  test('an emergency stop at an input alone is left to the program', () => {
    const board = rewire(
      rewire(referenceBench(emergency), 'F1:2>S5:11', 'F1:2>A1:QC1'),
      'S5:12>A1:QC1',
      'S5:12>A1:I0.5',
    );
    const report = marked(emergency, board);
    expect(report.passed).toBe(false);
    expect(lost(report)).toContain('estop-cuts-outputs');
  });
});

describe('what may be observed of a controller', () => {
  const board = referenceBench(blower);

  test('inputs, outputs, variables, timers and its own state', () => {
    const result = run(board, [
      { expect: { A1: 'run', 'A1.I0.0': 'on', 'A1.Stop': 'on', 'A1.Q0.0': 'off', 'A1:QC1-Q0.0': 'open' } },
      { press: 'S2' },
      { release: 'S2' },
      { wait: 3 },
      {
        expect: {
          'A1.Q0.2': 'on',
          'A1.Star': 'on',
          'A1.Starting.Q': 'off',
          'A1.Starting.ET': { min: 2.9, max: 3.2 },
        },
      },
      { elapse: 'A1.Starting' },
      { wait: 1 },
      { expect: { 'A1.Starting.Q': 'on', 'A1.Starting.ET': 6, KM2: 'in', 'M1.connection': 'delta' } },
      { turn: 'A1', to: 'stop' },
      { expect: { A1: 'stop', 'A1.Q0.0': 'off', KM1: 'out', 'A1.Starting.Q': 'off' } },
      { turn: 'A1', to: 'run' },
      { expect: { A1: 'run', KM1: 'out' } },
      { open: 'G2' },
      { expect: { A1: 'off', 'A1.I0.0': 'off' } },
    ]);
    expect(result.mismatches).toEqual([]);
  });

  test('what it does not have is refused by its name', () => {
    const circuit = compile(board);
    for (const what of ['A1.Q7.0', 'A1.Nothing', 'A1.Starting.CV', 'A1.Stop.Q'])
      expect(observerOf(circuit, what)).toHaveProperty('problem');
  });
});

describe('documents', () => {
  const program = (more: object) => readProgram({ contactum: 'program/1', ...more });
  const stop = { name: 'Stop', at: 'I0.0' };

  test.each([
    [{ variables: [stop], rungs: [{ when: [], then: [{ coil: 'Stop' }] }] }, 'rungs[0].then[0].coil'],
    [{ variables: [stop, { name: 'Halt', at: 'I0.0' }] }, 'variables[1].at'],
    [{ variables: [stop, { name: 'STOP' }] }, 'variables[1].name'],
    [{ variables: [{ name: '1st' }] }, 'variables[0].name'],
    [{ variables: [{ name: 'AND' }] }, 'variables[0].name'],
    [{ variables: [{ name: 'T1', timer: 'TON', preset: -1 }] }, 'variables[0]'],
    [
      { variables: [stop], rungs: [{ when: [{ any: [[{ no: 'Nil' }]] }], then: [{ timer: 'Stop' }] }] },
      'rungs[0].when[0].any[0][0].no',
    ],
    [
      {
        variables: [{ name: 'T1', timer: 'TON', preset: 1 }],
        rungs: [{ when: [{ no: 'T1' }], then: [{ timer: 'T1' }] }],
      },
      'rungs[0].when[0].no',
    ],
    [{ variables: [stop], rungs: [{ when: [], then: [] }] }, 'rungs[0].then'],
  ])('what is wrong with a program has its path: %#', (more, path) => {
    const read = program(more);
    expect(read.ok).toBe(false);
    if (!read.ok) expect(read.problems[0]?.path.startsWith(path)).toBe(true);
  });

  test('an address that the controller does not have is refused on its bench', () => {
    const board = referenceBench(pump);
    const devices = board.devices.map((device) =>
      device.type === 'plc'
        ? {
            ...device,
            settings: {
              ...device.settings,
              program: { contactum: 'program/1', variables: [{ name: 'Far', at: 'Q3.0' }] },
            },
          }
        : device,
    );
    const read = readBench({ ...board, devices });
    expect(read.ok).toBe(false);
    if (!read.ok) expect(read.problems[0]).toMatchObject({ message: 'there is no Q3.0 on this controller' });
  });

  test('a right program belongs to an exercise in which one is written, and to a controller', () => {
    const paths = (more: object) => {
      const read = readExercise({ ...written, ...more });
      return read.ok ? [] : read.problems.map(({ path }) => path);
    };
    expect(paths({})).toEqual([]);
    expect(paths({ program: undefined })).toEqual(['program']);
    expect(paths({ task: 'wire' })).toContain('program');
    expect(paths({ program: { KM1: written.program!.A1 } })).toContain('program.KM1');
  });
});

test('timers of two programs stand for each other although they have other names', () => {
  const board = referenceBench(blower);
  const renamed = JSON.parse(
    JSON.stringify(blower.program!.A1).replaceAll('Starting', 'RunUp').replaceAll('"Pause', '"Gap'),
  ) as Program;
  expect(compare(board, withProgram(board, renamed), { observe: blower.observe })).toMatchObject({
    equivalent: true,
    complete: true,
  });
  const shorter = JSON.parse(JSON.stringify(renamed).replace('{"no":"Gap.Q"}', '{"nc":"Gap.Q"}')) as Program;
  const found = compare(board, withProgram(board, shorter), { observe: blower.observe });
  expect(found.equivalent).toBe(false);
  // What tells them apart is worked by both, by waiting where a timer has no common name.
  const { steps, actual, expected } = found.counterexample!;
  expect(run(board, [...steps, { expect: { ...expected } as Record<string, string> }]).ok).toBe(true);
  expect(
    run(withProgram(board, shorter), [...steps, { expect: { ...actual } as Record<string, string> }]).ok,
  ).toBe(true);
});

test('the proof of a controller’s reversing board is complete, and every property of it holds', () => {
  const proof = prove(referenceBench(harrow));
  expect(proof.complete).toBe(true);
  expect(proof.properties.filter(({ holds }) => !holds)).toEqual([]);
});
