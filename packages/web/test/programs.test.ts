import { describe, expect, test } from '@jest/globals';
import {
  contactOf,
  programProblems,
  programText,
  readableBits,
  type Connection,
  type Program,
  type TraceEvent,
} from '@contactum/core';
import { programXml } from '@contactum/core/exchange';
import { readProgramFile } from '../src/programs/read-file.js';
import { bitsOn, timingSince } from '../src/programs/bits.js';
import {
  addAction,
  addRung,
  commentRung,
  insertBranch,
  insertContact,
  moveRung,
  placeTerminal,
  removeChosen,
  replaceAction,
  replaceContact,
  workable,
} from '../src/programs/rung-parts.js';

const program: Program = {
  contactum: 'program/1',
  title: 'Pump',
  variables: [
    { name: 'Stop', at: 'I0.0' },
    { name: 'Start', at: 'I0.1' },
    { name: 'Pump', at: 'Q0.0' },
    { name: 'Lamp', at: 'Q0.1' },
    { name: 'Memo', initial: true },
    { name: 'Delay', timer: 'TON', preset: 5 },
    { name: 'Tail', timer: 'TOF', preset: 5 },
    { name: 'Runs', counter: 'CTU', preset: 3 },
  ],
  rungs: [{ comment: 'runs', when: [{ no: 'Stop' }, { no: 'Start' }], then: [{ coil: 'Pump' }] }],
};

const whenOf = (one: Program) => one.rungs[0]!.when;

describe('what can be done with a rung', () => {
  test('contacts read every bit and the outputs of blocks; coils work what may be written', () => {
    expect(readableBits(program)).toEqual([
      'Stop',
      'Start',
      'Pump',
      'Lamp',
      'Memo',
      'Delay.Q',
      'Tail.Q',
      'Runs.Q',
    ]);
    expect(workable(program, 'coil')).toEqual(['Pump', 'Lamp', 'Memo']);
    expect(workable(program, 'timer')).toEqual(['Delay', 'Tail']);
    expect(workable(program, 'counter')).toEqual(['Runs']);
  });

  test('a contact goes in behind the chosen one, and is chosen then', () => {
    const { program: next, chosen } = insertContact(program, { rung: 0, path: [0] });
    expect(whenOf(next)).toEqual([{ no: 'Stop' }, { no: 'Stop' }, { no: 'Start' }]);
    expect(chosen).toEqual({ rung: 0, path: [1] });
    const first = insertContact(program, { rung: 0 });
    expect(first.chosen).toEqual({ rung: 0, path: [0] });
    expect(whenOf(first.program)).toHaveLength(3);
  });

  test('a branch stands beside a contact; one more beside a contact that is alone in its branch', () => {
    const one = insertBranch(program, { rung: 0, path: [1] });
    expect(whenOf(one.program)[1]).toEqual({ any: [[{ no: 'Start' }], [{ no: 'Start' }]] });
    expect(one.chosen).toEqual({ rung: 0, path: [1, 1, 0] });
    const two = insertBranch(one.program, one.chosen as { rung: number; path: readonly number[] });
    expect(whenOf(two.program)[1]).toEqual({
      any: [[{ no: 'Start' }], [{ no: 'Start' }], [{ no: 'Start' }]],
    });
    expect(two.chosen).toEqual({ rung: 0, path: [1, 2, 0] });
    // Taken away again the rung is as it was.
    const back = removeChosen(removeChosen(two.program, two.chosen), one.chosen);
    expect(back).toEqual(program);
  });

  test('a new rung and a new coil write what no other does', () => {
    const added = addRung(program, 0)!;
    expect(added.program.rungs[1]).toEqual({ when: [], then: [{ coil: 'Lamp' }] });
    const more = addAction(added.program, 1)!;
    expect(more.program.rungs[1]!.then).toEqual([{ coil: 'Lamp' }, { coil: 'Memo' }]);
    expect(more.chosen).toEqual({ rung: 1, action: 1 });
    expect(programProblems(more.program)).toEqual([]);
    expect(addAction({ ...program, variables: [{ name: 'Stop', at: 'I0.0' }] }, 0)).toBeNull();
  });

  test('kinds and variables are exchanged where they stand', () => {
    const inverted = replaceContact(program, { rung: 0, path: [0] }, contactOf('nc', 'Memo'));
    expect(whenOf(inverted)).toEqual([{ nc: 'Memo' }, { no: 'Start' }]);
    const set = replaceAction(program, { rung: 0, action: 0 }, { set: 'Memo' });
    expect(set.rungs[0]!.then).toEqual([{ set: 'Memo' }]);
  });

  test('the last coil goes with its rung; a comment that is emptied is none; rungs move within the program', () => {
    expect(removeChosen(program, { rung: 0, action: 0 }).rungs).toEqual([]);
    expect(commentRung(program, 0, '').rungs[0]).not.toHaveProperty('comment');
    const two = addRung(program, 0)!.program;
    expect(moveRung(two, 1, -1).rungs).toEqual([two.rungs[1], two.rungs[0]]);
    expect(moveRung(two, 0, -1)).toBe(two);
    expect(moveRung(two, 1, 1)).toBe(two);
  });
});

test('what glows follows what the bench tells, and nothing glows while the controller does not run', () => {
  const told = (...list: [what: string, state: string][]): TraceEvent[] =>
    list.map(([what, state], k) => ({ t: k, what, state }));
  expect([...bitsOn(program, 'A1', told(['A1.I0.0', 'on']))]).toEqual([]);
  const running = told(
    ['A1', 'run'],
    ['A1.I0.0', 'on'],
    ['A1.I0.1', 'on'],
    ['A1.I0.1', 'off'],
    ['A1.Q0.0', 'on'],
    ['A1.Delay', 'timing'],
    ['A1.Tail', 'timing'],
    ['KM1', 'in'],
  );
  // A bit that begins on is on until something else is told; an off-delay is on while it runs.
  expect([...bitsOn(program, 'A1', running)]).toEqual(['Stop', 'Pump', 'Memo', 'Tail.Q']);
  expect([...bitsOn(program, 'A1', [...running, ...told(['A1.Delay', 'done'], ['A1.Memo', 'off'])])]).toEqual(
    ['Stop', 'Pump', 'Delay.Q', 'Tail.Q'],
  );
  expect([...bitsOn(program, 'A1', [...running, ...told(['A1', 'stop'])])]).toEqual([]);
});

describe('a terminal that is let go over a rung', () => {
  const place = (at: string, name: string, ...refs: string[]): Connection => ({
    at,
    to: `${name} contact`,
    name,
    isWired: true,
    refs: refs as Connection['refs'],
  });
  const wired = {
    controller: 'A1',
    connections: [
      place('I0.0', 'S1', 'S1:22'),
      place('I0.4', 'KM1', 'KM1:14'),
      place('Q0.0', 'KM1', 'KM1:A1'),
      place('Q0.2', 'KM2', 'KM2:A1'),
    ],
  };

  test('an input becomes a contact behind the others, by the variable that stands there', () => {
    const placed = placeTerminal(program, wired, 0, 'S1:22');
    expect(whenOf(placed!.program)).toEqual([{ no: 'Stop' }, { no: 'Start' }, { no: 'Stop' }]);
    expect(placed!.chosen).toEqual({ rung: 0, path: [2] });
    expect(placed!.program.variables).toEqual(program.variables);
  });

  test('a variable is made where none stands', () => {
    const { program: next } = placeTerminal(program, wired, 0, 'KM1:14')!;
    expect(next.variables.at(-1)).toMatchObject({ at: 'I0.4', name: 'KM1' });
    expect(whenOf(next).at(-1)).toEqual({ no: 'KM1' });
    expect(programProblems(next)).toEqual([]);
  });

  test('an output that nothing writes becomes a coil, one that something writes a contact', () => {
    const coil = placeTerminal(program, wired, 0, 'KM2:A1')!;
    expect(coil.program.rungs[0]!.then).toEqual([{ coil: 'Pump' }, { coil: 'KM2' }]);
    expect(coil.chosen).toEqual({ rung: 0, action: 1 });
    expect(whenOf(placeTerminal(program, wired, 0, 'A1:Q0.0')!.program).at(-1)).toEqual({ no: 'Pump' });
  });

  test('what no lead joins to the controller changes nothing', () => {
    expect(placeTerminal(program, wired, 0, 'M1:U')).toBeNull();
    expect(placeTerminal(program, wired, 3, 'S1:22')).toBeNull();
  });
});

describe('a program from a file', () => {
  const file = (name: string, text: string) => new File([text], name);

  test('is read by the ending of its name, and is the same in each form', async () => {
    const files = [
      file('pump.st', programText(program)),
      file('pump.XML', programXml(program)),
      file('pump.json', JSON.stringify(program)),
    ];
    for (const one of files) {
      const read = await readProgramFile(one);
      if (!read.ok) throw new Error(read.problem);
      expect(read.program.rungs[0]!.when).toEqual(whenOf(program));
      expect(read.program.variables.map(({ name }) => name)).toEqual(
        program.variables.map(({ name }) => name),
      );
    }
  });

  test('what has no ladder form is told with its line, what is no document with its place', async () => {
    const loop = 'PROGRAM P\nVAR\n A : BOOL;\nEND_VAR\nWHILE A DO\nEND_WHILE\nEND_PROGRAM';
    expect(await readProgramFile(file('loop.st', loop))).toMatchObject({
      ok: false,
      problem: expect.stringMatching(/^Line 5/),
    });
    expect(await readProgramFile(file('no.json', '{'))).toMatchObject({ ok: false });
    const double = { ...program, variables: [...program.variables, { name: 'Stop' }] };
    const read = await readProgramFile(file('two.json', JSON.stringify(double)));
    expect(read).toMatchObject({ ok: false, problem: expect.stringContaining('variables[8]') });
  });
});

test('a timer that runs is told with the moment at which it began, until it is done or the controller stops', () => {
  const at = (t: number, what: string, state: string): TraceEvent => ({ t, what, state });
  const begun = [at(0, 'A1', 'run'), at(2, 'A1.Delay', 'timing'), at(3, 'A1.Memo', 'timing')];
  expect([...timingSince(program, 'A1', begun)]).toEqual([['Delay', 2]]);
  expect([...timingSince(program, 'A1', [...begun, at(7, 'A1.Delay', 'done')])]).toEqual([]);
  expect([...timingSince(program, 'A1', [...begun, at(4, 'A1', 'stop')])]).toEqual([]);
  expect([...timingSince(program, 'A2', begun)]).toEqual([]);
});
