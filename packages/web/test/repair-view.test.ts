import { expect, test } from '@jest/globals';
import type { Bench, RepairEdit, Wire } from '@contactum/core';
import { describeEdit, repaired, withRepair } from '../src/slip/repair-view.js';
import { practiceSentences, ruleSentences } from '@contactum/core';

const wire = (text: string): Wire => {
  const [from, to] = text.split('>');
  return { from, to } as Wire;
};
const bench: Bench = {
  contactum: 'bench/1',
  title: '',
  devices: [],
  interlocks: [],
  wires: ['A:1>B:1', 'A:1>B:1', 'B:2>C:1'].map(wire),
};

test('a repair is drawn over the wiring that is there, and leaves it as it was', () => {
  const edits: RepairEdit[] = [
    { remove: wire('A:1>B:1') },
    { move: wire('B:2>C:1'), to: wire('B:2>C:2') },
    { add: wire('C:1>D:1') },
  ];
  const before = structuredClone(bench);
  const { bench: drawn, edits: marks } = withRepair(bench, edits);
  expect(drawn.wires.map(({ from, to }) => `${from}>${to}`)).toEqual([
    'A:1>B:1',
    'A:1>B:1',
    'B:2>C:1',
    'B:2>C:2',
    'C:1>D:1',
  ]);
  // Of two leads between the same terminals one goes.
  expect([...marks]).toEqual([
    [0, 'gone'],
    [2, 'gone'],
    [3, 'new'],
    [4, 'new'],
  ]);
  expect(repaired(bench, edits).wires).toEqual(['A:1>B:1', 'B:2>C:2', 'C:1>D:1'].map(wire));
  expect(withRepair(bench, null).edits.size).toBe(0);
  expect(bench).toEqual(before);
  expect(edits.map(describeEdit)).toEqual([
    'Remove A 1 – B 1',
    'Move B 2 – C 1: its end at C 1 goes to C 2',
    'Add C 1 – D 1',
  ]);
  expect(describeEdit({ move: wire('A:1>B:1'), to: wire('A:2>B:1') })).toBe(
    'Move A 1 – B 1: its end at A 1 goes to A 2',
  );
});

test('only what an exercise asks for is told', () => {
  expect(ruleSentences({})).toEqual([]);
  expect(
    ruleSentences({
      fusedControl: false,
      stopUpstream: true,
      interlocks: ['electrical', 'mechanical'],
      timerSetting: { max: 8 },
      freeContacts: 1,
    }),
  ).toEqual([
    'Stop lies before Start.',
    'Contactors that must not be in together are interlocked by auxiliary contacts and mechanically.',
    'Timers are set to at most 8 s.',
    'One auxiliary contact stays free.',
  ]);
  expect(practiceSentences(undefined)).toEqual([]);
  expect(practiceSentences({ deadTest: true, incidents: 2 })).toEqual([
    'Test the wiring dead before you first switch on.',
    'At most 2 incidents while working.',
  ]);
});
