import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { referenceBench } from '@contactum/core';
import { shippedExercises } from '@contactum/core/exercises';
import { command as run, ownFolder } from './help.js';

const { folder, file } = ownFolder('programs');

/** The programs that ship, each with the board on which it runs. */
const shipped = shippedExercises().flatMap((one) =>
  referenceBench(one).devices.flatMap((device) =>
    device.type === 'plc' && device.settings.program ? [[one.id, one, device.settings.program] as const] : [],
  ),
);

describe('programs in the formats of others', () => {
  test.each(shipped)('%s: out of its bench and back', async (id, one, program) => {
    const bench = file(`${id}.bench.json`, referenceBench(one));
    for (const format of ['st', 'iec61131']) {
      const there = join(folder, `${id}.${format}`);
      const back = join(folder, `${id}.${format}.json`);
      expect(await run('export', bench, '--to', format, '--out', there)).toMatchObject({ status: 0 });
      const read = await run('import', there, '--as', format, '--out', back, '--json');
      expect(read).toMatchObject({ status: 0, error: '' });
      expect(JSON.parse(readFileSync(back, 'utf8'))).toEqual(program);
      expect(await run('check', back, '--json')).toMatchObject({
        status: 0,
        out: '{"ok":true,"kind":"program"}',
      });
    }
  });

  test('what has no ladder form is refused with its line, and nothing is written', async () => {
    const text = file('loop.st', 'VAR X : BOOL; END_VAR\nX := TRUE;\nWHILE X DO X := FALSE; END_WHILE;\n');
    const out = join(folder, 'loop.json');
    const answer = await run('import', text, '--as', 'st', '--out', out);
    expect(answer.status).toBe(2);
    expect(answer.error).toContain('loop.st: line 3: WHILE has no ladder form');
    expect(() => readFileSync(out)).toThrow();
  });

  test('a bit that two coils write is told, a variable at an input that is written is refused', async () => {
    const variables = [
      { name: 'Stop', at: 'I0.0' },
      { name: 'Pump', at: 'Q0.0' },
    ];
    const rung = { when: [{ no: 'Stop' }], then: [{ coil: 'Pump' }] };
    const twice = file('twice.json', { contactum: 'program/1', variables, rungs: [rung, rung] });
    const told = await run('check', twice, '--json');
    expect(JSON.parse(told.out)).toEqual({
      ok: true,
      kind: 'program',
      warnings: [{ path: 'rungs[1].then[0]', what: 'double-coil' }],
    });
    const wrong = { when: [], then: [{ coil: 'Stop' }] };
    const refused = await run(
      'check',
      file('input.json', { contactum: 'program/1', variables, rungs: [wrong] }),
    );
    expect(refused.status).toBe(2);
    expect(refused.error).toContain('rungs[0].then[0].coil: "Stop" stands at an input and cannot be written');
  });

  test('a bench without a program has none to export', async () => {
    const board = shippedExercises().find(({ id }) => id === 'brine-pump-three-wire')!;
    const answer = await run('export', file('none.bench.json', referenceBench(board)), '--to', 'st');
    expect(answer.status).toBe(2);
    expect(answer.error).toContain('there must be one controller with a program, there are 0');
  });
});

describe('a program and its board on paper', () => {
  const pump = shippedExercises().find(({ id }) => id === 'brine-pump-controller')!;
  const writtenPump = shippedExercises().find(({ id }) => id === 'brine-pump-controller-program')!;

  test('inputs, outputs and cross references as lines of commas', async () => {
    const board = file('io.bench.json', referenceBench(pump));
    const { status, out } = await run('export', board, '--to', 'io');
    expect(status).toBe(0);
    const lines = out.replaceAll('\r', '').split('\n');
    expect(lines[0]).toBe('Variable,Address,Device,Terminal,Lead,Comment');
    expect(lines.find((line) => line.startsWith('Start,'))).toContain('S2 NO 13-14 (Start),A1 I0.1');
    expect(lines.filter((line) => line.startsWith('Pump,'))).toEqual([
      expect.stringContaining('Q0.0'),
      'Pump,Q0.0,1,–,KM1',
    ]);
  });

  test('a board without a controller has none', async () => {
    const relays = shippedExercises().find(({ id }) => id === 'brine-pump-three-wire')!;
    const board = file('relays.bench.json', referenceBench(relays));
    expect(await run('export', board, '--to', 'io')).toMatchObject({
      status: 2,
      error: expect.stringContaining('there is no programmable controller'),
    });
  });

  test('a program by itself is a PDF', async () => {
    const program = file('alone.json', writtenPump.program!.A1);
    const there = join(folder, 'alone.pdf');
    expect(await run('export', program, '--to', 'pdf', '--out', there)).toMatchObject({ status: 0 });
    expect(readFileSync(there).subarray(0, 5).toString()).toBe('%PDF-');
  });

  test('the rung whose change would do is named', async () => {
    const exercise = file('written.json', writtenPump);
    const right = referenceBench(writtenPump);
    const wrong = JSON.parse(JSON.stringify(right).replace('{"no":"Runs"}', '{"no":"Pump"}')) as unknown;
    const { status, out } = await run('repair', exercise, file('wrong.json', wrong));
    expect(status).toBe(0);
    expect(out).toContain('Rung 1: NO Runs instead of NO Pump');
    const told = await run('repair', exercise, file('wrong.json', wrong), '--json');
    expect(JSON.parse(told.out)).toMatchObject({
      found: false,
      edits: [],
      program: { controller: 'A1', singles: true },
    });
  });
});
