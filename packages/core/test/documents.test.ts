import { describe, expect, test } from '@jest/globals';
import {
  applyEdit,
  compile,
  fittedBoard,
  foldEdits,
  invertEdit,
  laidLead,
  scriptProblems,
  wireOf,
  type Bench,
  type Edit,
} from '@contactum/core';
import { readBench, readDocument, readExercise, readScript } from '@contactum/core/documents';
import fc from 'fast-check';
import { exercise, exercises, must } from './help.js';

const coil = { voltage: 230, kind: 'ac' };
const km = { tag: 'KM1', type: 'contactor', options: { coil } };
const document = (more: object) => ({ contactum: 'bench/1', title: '', devices: [km], wires: [], ...more });

describe('a bad bench is refused with the JSON path of what is wrong', () => {
  const bad: [string, unknown, string][] = [
    ['no object', 7, '(document): must be an object, is 7'],
    ['another kind', { contactum: 'bench/2', devices: [] }, 'contactum: must be "bench/1", is "bench/2"'],
    ['unknown key', document({ colour: 'red' }), 'colour: unknown key'],
    [
      'unknown type',
      document({ devices: [{ tag: 'X', type: 'turbine' }] }),
      'devices[0].type: unknown type "turbine"',
    ],
    [
      'unknown option',
      document({ devices: [{ ...km, options: { coil, poles: 4 } }] }),
      'devices[0].options.poles: unknown key',
    ],
    [
      'negative volts',
      document({ devices: [{ ...km, options: { coil: { voltage: -230, kind: 'ac' } } }] }),
      'devices[0].options.coil.voltage: must be above 0, is -230',
    ],
    [
      'no coil',
      document({ devices: [{ tag: 'KM1', type: 'contactor', options: {} }] }),
      'devices[0].options.coil: is missing',
    ],
    [
      'contact in other words',
      document({ devices: [{ ...km, options: { coil, aux: ['open 13-14'] } }] }),
      'devices[0].options.aux[0]: must be written like "NO 13-14" or "NC 21-22", is "open 13-14"',
    ],
    [
      'auxiliary on a main terminal',
      document({ devices: [{ ...km, options: { coil, aux: ['NO 1-14'] } }] }),
      'devices[0].options.aux[0]: terminal 1 already belongs to the contactor',
    ],
    [
      'a tag twice',
      document({ devices: [km, km] }),
      'devices[1].tag: "KM1" is already the tag of devices[0]',
    ],
    [
      'unknown terminal',
      document({ wires: [{ from: 'KM1:A1', to: 'KM1:15' }] }),
      'wires[0].to: "KM1:15" is not a terminal of this bench',
    ],
    [
      'terminal without a colon',
      document({ wires: [{ from: 'KM1', to: 'KM1:13' }] }),
      'wires[0].from: must be written TAG:TERMINAL, is "KM1"',
    ],
    [
      'a wire to itself',
      document({ wires: [{ from: 'KM1:13', to: 'KM1:13' }] }),
      'wires[0]: a wire from KM1:13 to itself',
    ],
    [
      'interlock of nothing',
      document({ interlocks: [{ kind: 'mechanical', between: ['KM1', 'KM9'] }] }),
      'interlocks[0].between[1]: "KM9" is not a contactor of this bench',
    ],
    [
      'dial out of range',
      document({
        devices: [{ tag: 'F2', type: 'overload', options: { range: [1, 2] }, settings: { dial: 3 } }],
      }),
      'devices[0].settings.dial: must lie in the range 1 to 2 A, is 3',
    ],
    [
      'motor above its synchronous speed',
      document({
        devices: [
          {
            tag: 'M1',
            type: 'motor-3',
            options: { plate: { kW: 1, voltage: 400, speed: 3100, current: 2 } },
          },
        ],
      }),
      'devices[0].options.plate.speed: must lie below the synchronous speed of a 50 Hz motor, is 3100 rpm',
    ],
  ];
  for (const [name, value, message] of bad) {
    test(name, () => {
      const read = readBench(value);
      expect(
        read.ok ? 'read' : read.problems.map((problem) => `${problem.path}: ${problem.message}`)[0],
      ).toBe(message);
    });
  }
});

test('defaults are filled in where a document is silent', () => {
  const board = must(
    readBench({
      contactum: 'bench/1',
      devices: [
        { tag: 'G1', type: 'supply-3n' },
        { tag: 'F2', type: 'overload', options: { range: [4, 6.3] } },
      ],
    }),
  );
  expect(board.devices[0]?.options).toEqual({ lineVoltage: 400, frequency: 50, prospectiveCurrent: 3000 });
  expect(board.devices[1]?.settings).toEqual({ dial: 4, reset: 'manual' });
  expect(must(readBench(JSON.parse(JSON.stringify(board))))).toEqual(board);
});

describe('scripts', () => {
  test('a step is read by its verb', () => {
    const read = readScript({
      contactum: 'script/1',
      steps: [{ press: 'S2' }, { lose: 'G1', phase: 'L4' }, { shove: 'S1' }],
    });
    expect(read.ok ? [] : read.problems.map(({ path }) => path)).toEqual(['steps[1].phase', 'steps[2]']);
  });

  test('what does not fit the bench is named', () => {
    const steps = must(
      readScript({
        contactum: 'script/1',
        steps: [
          { press: 'KM1' },
          { turn: 'S9', to: 'on' },
          { set: 'F2.dial', to: 99 },
          { expect: { 'KM1:33-34': 'open', 'M1.speed': 'fast', H9: 'lit' } },
        ],
      }),
    ).steps;
    const problems = scriptProblems(compile(exercise('brine-pump-three-wire').bench), steps);
    expect(problems.map(({ path, message }) => `${path}: ${message}`)).toEqual([
      'steps[0].press: a contactor (KM1) cannot be given "press"',
      'steps[1].turn: "S9" is not a device of this bench',
      'steps[2].to: must lie in the range 2.5 to 4 A, is 99',
      'steps[3].expect["KM1:33-34"]: KM1 has no contact 33-34',
      'steps[3].expect["M1.speed"]: must be a number or a range',
      'steps[3].expect["H9"]: "H9" is nothing that can be observed on this bench',
    ]);
  });
});

test('an exercise must fit its own board', () => {
  const good = JSON.parse(JSON.stringify(exercise('brine-pump-three-wire'))) as Record<string, unknown>;
  expect(readDocument(good)).toEqual({ ok: true, value: { kind: 'exercise' } });
  const read = readExercise({
    ...good,
    observe: ['KM7', 'M1.speed'],
    reference: [{ from: 'KM1:A1', to: 'KM1:99' }],
  });
  expect(read.ok ? [] : read.problems.map(({ path }) => path)).toEqual(['reference[0].to']);
  const observed = readExercise({ ...good, observe: ['KM7', 'M1.speed'] });
  expect(observed.ok ? [] : observed.problems.map(({ path }) => path)).toEqual(['observe[0]', 'observe[1]']);
  expect(readDocument({})).toMatchObject({
    ok: false,
    problems: [{ path: 'contactum', message: 'is missing' }],
  });
});

/** Random edits that a person could make, as a recipe over indices. */
const recipes = fc.array(
  fc.record({
    kind: fc.constantFrom('connect', 'cut', 'move', 'set'),
    a: fc.nat(),
    b: fc.nat(),
    c: fc.nat(),
  }),
  { maxLength: 40 },
);

test('edits invert: whatever was done can be undone to the very bench it began with', () => {
  const board = exercises()[0]?.bench as Bench;
  const refs = compile(board).terminals;
  const at = (k: number) => refs[k % refs.length] as (typeof refs)[number];
  const empty = fittedBoard({ ...board, wires: [{ from: at(0), to: at(1) }] });
  fc.assert(
    fc.property(recipes, (recipe) => {
      let bench = empty;
      const log: Edit[] = [];
      for (const { kind, a, b, c } of recipe) {
        const chosen = bench.wires[a % Math.max(bench.wires.length, 1)];
        const lead = chosen?.id ?? laidLead(1);
        const wire = chosen && wireOf(chosen);
        const dial =
          (bench.devices.find(({ tag }) => tag === 'F2')?.settings as { dial: number } | undefined)?.dial ??
          0;
        let edit: Edit | null = null;
        if (kind === 'connect')
          edit = {
            do: 'connect',
            lead: laidLead(log.length + 1),
            wire: { from: at(a), to: at(b), colour: 'red' },
          };
        else if (kind === 'set')
          edit = { do: 'set', device: 'F2', setting: 'dial', from: dial, to: 2.5 + (c % 15) / 10 };
        else if (wire && kind === 'cut') edit = { do: 'cut', lead, wire };
        else if (wire) edit = { do: 'move', lead, from: wire, to: { ...wire, to: at(c) } };
        const applied = edit && applyEdit(bench, edit);
        if (!edit || !applied?.ok) continue;
        bench = applied.bench;
        log.push(edit);
      }
      expect(foldEdits(empty, log)).toEqual(bench);
      expect(foldEdits(bench, log.map(invertEdit).reverse())).toEqual(empty);
    }),
    { numRuns: 60 },
  );
});

test('an edit that does not fit is refused and changes nothing', () => {
  const board = exercise('brine-pump-three-wire').bench;
  const fitted = fittedBoard({ ...board, wires: [{ from: 'G1:L1', to: 'Q1:1' }] });
  const refused = (edit: Edit) => {
    const result = applyEdit(fitted, edit);
    return result.ok ? null : result.reason;
  };
  expect(refused({ do: 'connect', lead: 'w1', wire: { from: 'KM1:13', to: 'KM1:13' } })).toBe(
    'a lead needs two different terminals',
  );
  expect(refused({ do: 'connect', lead: 'w1', wire: { from: 'KM1:13', to: 'KM9:1' } })).toBe(
    'there is no device KM9 on this board',
  );
  expect(refused({ do: 'cut', lead: 'w3', wire: { from: 'KM1:13', to: 'KM1:14' } })).toBe(
    'lead w3 is not KM1:13 to KM1:14',
  );
  expect(refused({ do: 'set', device: 'F2', setting: 'dial', from: 3.4, to: 40 })).toBe(
    'F2 dial goes from 2.5 to 4 A',
  );
  expect(refused({ do: 'cut', lead: 'f1', wire: { from: 'G1:L1', to: 'Q1:1' } })).toBe(
    'G1:L1 to Q1:1 was fitted by the instructor and stays',
  );
  expect(refused({ do: 'connect', lead: 'f2', wire: { from: 'G1:L2', to: 'Q1:3' } })).toBe(
    'f2 is no name for a lead that is laid',
  );
  const laid = applyEdit(fitted, { do: 'connect', lead: 'w2', wire: { from: 'G1:L2', to: 'Q1:3' } });
  expect(
    laid.ok && applyEdit(laid.bench, { do: 'connect', lead: 'w2', wire: { from: 'G1:L3', to: 'Q1:5' } }),
  ).toEqual({ ok: false, reason: 'there is a lead w2 already' });
});
