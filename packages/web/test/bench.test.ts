import { describe, expect, test } from '@jest/globals';
import { laidLead, planBoard, wiredBoard, type TerminalRef } from '@contactum/core';
import { exercise } from '../../core/test/help.js';
import { hangingPath, terminalNear, terminalTowards } from '../src/board/geometry.js';
import { companions, threeLeads } from '../src/bench/three-phase.js';
import { completions, readTyped } from '../src/bench/typed.js';

const pump = exercise('brine-pump-three-wire');
const bench = wiredBoard(pump.bench, pump.reference);

describe('typed wiring', () => {
  const last = laidLead(pump.reference.length);
  const table: [string, object][] = [
    ['KM1 13 > S2 13', { kind: 'connect', leads: [{ from: 'KM1:13', to: 'S2:13' }] }],
    [
      'km1:13->s2.13 light blue',
      { kind: 'connect', leads: [{ from: 'KM1:13', to: 'S2:13' }], colour: 'light blue' },
    ],
    [
      'KM1 13 > S2 13 BU',
      { kind: 'connect', leads: [{ from: 'KM1:13', to: 'S2:13' }], colour: 'light blue' },
    ],
    [
      'G1 L1 L2 L3 > Q1 1 3 5 black',
      {
        kind: 'connect',
        leads: [
          { from: 'G1:L1', to: 'Q1:1' },
          { from: 'G1:L2', to: 'Q1:3' },
          { from: 'G1:L3', to: 'Q1:5' },
        ],
        colour: 'black',
      },
    ],
    [
      's1 22 > s2 13 > km1 13; KM1 14 > S2 14',
      {
        kind: 'connect',
        leads: [
          { from: 'S1:22', to: 'S2:13' },
          { from: 'S2:13', to: 'KM1:13' },
          { from: 'KM1:14', to: 'S2:14' },
        ],
      },
    ],
    [
      'G1 L1 L2 > Q1 1 3 5',
      {
        kind: 'wrong',
        text: '2 terminals and 3 terminals stand on the sides of a >: write as many on each.',
      },
    ],
    ['G1 L1 L9 > Q1 1 3', { kind: 'wrong', text: '“G1 L9” is not a terminal of this board.' }],
    [
      'S1 22 > S2 13; KM1 14 >',
      { kind: 'wrong', text: 'Write two terminals with > between them, as in KM1 13 > S2 13.' },
    ],
    [
      'cut G1 L1 L2 > Q1 1 3',
      { kind: 'wrong', text: 'Write two terminals with > between them, as in KM1 13 > S2 13.' },
    ],
    ['cut G1 N > KM1 A2', { kind: 'cut', lead: last }],
    ['move KM1 A2 > G1 N to G1 PE', { kind: 'move', lead: last, end: 'to', to: 'G1:PE' }],
    ['move G1 N > KM1 A2 to KM1 22', { kind: 'move', lead: last, end: 'from', to: 'KM1:22' }],
    ['undo', { kind: 'undo' }],
    ['off', { kind: 'supply', on: false }],
    ['let go s2', { kind: 'do', stimulus: { release: 'S2' } }],
    ['KM1 99 > S2 13', { kind: 'wrong', text: '“KM1 99” is not a terminal of this board.' }],
    ['KM1 13', { kind: 'wrong', text: 'Write two terminals with > between them, as in KM1 13 > S2 13.' }],
    ['cut KM1 13 > KM1 22', { kind: 'wrong', text: 'There is no lead from KM1 13 to KM1 22.' }],
    ['press S9', { kind: 'wrong', text: 'There is no S9 on this board.' }],
  ];
  for (const [line, command] of table) test(line, () => expect(readTyped(bench, line)).toEqual(command));
});

describe('leads of three lines', () => {
  test('one lead of a motor, a contactor or a supply brings the other two, in its own order', () => {
    const of = (from: string, to: string) =>
      threeLeads(bench, { from: from as TerminalRef, to: to as TerminalRef }).map(
        (one) => `${one.from}>${one.to}`,
      );
    expect(of('M1:U', 'F2:2')).toEqual(['M1:U>F2:2', 'M1:V>F2:4', 'M1:W>F2:6']);
    expect(of('G1:L2', 'Q1:3')).toEqual(['G1:L2>Q1:3', 'G1:L3>Q1:5', 'G1:L1>Q1:1']);
    // Two lines exchanged by hand stay the hand's own choice: the others follow round.
    expect(of('KM1:2', 'F2:3')).toEqual(['KM1:2>F2:3', 'KM1:4>F2:5', 'KM1:6>F2:1']);
    for (const [from, to] of [
      ['KM1:13', 'S2:13'],
      ['G1:PE', 'M1:PE'],
      ['KM1:1', 'KM1:2'],
    ] as const)
      expect(of(from, to)).toEqual([`${from}>${to}`]);
  });

  test('they are offered only where nothing is joined yet', () => {
    const ends = { from: 'F2:2', to: 'M1:U' } as const;
    expect(companions({ ...bench, wires: [] }, ends)).toHaveLength(2);
    expect(companions({ ...bench, wires: [{ from: 'G1:PE', to: 'M1:V' }] }, ends)).toEqual([]);
  });
});

test('a typed line is completed with terminals of the board', () => {
  expect(completions(bench, 'KM1 1')).toEqual(
    ['KM1 1', 'KM1 13', 'KM1 14'].filter((text) => text !== 'KM1 1'),
  );
  expect(completions(bench, 'KM1 13 > s2')).toEqual(['KM1 13 > S2 13', 'KM1 13 > S2 14']);
  expect(completions(bench, 'cut km1:a')).toEqual(['cut KM1 A1', 'cut KM1 A2']);
  expect(completions(bench, '')).toEqual([]);
  for (const text of completions(bench, 'G1 L1 > q1 ')) expect(readTyped(bench, text).kind).toBe('connect');
});

describe('the plan of a board', () => {
  const plan = planBoard(bench);

  test('every terminal has a place of its own, at an edge of its device and inside the board', () => {
    const seen = new Set<string>();
    for (const place of plan.devices) {
      for (const { x, y, ref } of place.terminals) {
        expect(seen.has(`${x},${y}`)).toBe(false);
        seen.add(`${x},${y}`);
        expect({
          ref,
          inside:
            x > place.x &&
            x < place.x + place.width &&
            (Math.abs(y - place.y) < 5 || Math.abs(y - place.y - place.height) < 5) &&
            x < plan.width &&
            y < plan.height,
        }).toEqual({
          ref,
          inside: true,
        });
      }
    }
    // Far enough apart to be told apart by a finger: 24 px at the design size.
    const points = [...plan.terminal.values()];
    for (const [k, one] of points.entries())
      for (const other of points.slice(k + 1))
        expect(Math.hypot(one.x - other.x, one.y - other.y)).toBeGreaterThan(28);
  });

  test('the arrow keys reach every terminal from every other one', () => {
    const from = [...plan.terminal.keys()][0] ?? '';
    const reached = new Set([from]);
    for (const ref of reached)
      for (const [dx, dy] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ] as const)
        reached.add(terminalTowards(plan, ref, dx, dy));
    expect(reached.size).toBe(plan.terminal.size);
  });

  test('the pointer takes the nearest terminal within reach, and a lead ends where it is put', () => {
    const s2 = plan.terminal.get('S2:13');
    if (!s2) throw new Error('no S2:13');
    expect(terminalNear(plan, { x: s2.x + 6, y: s2.y - 5 }, 15)?.ref).toBe('S2:13');
    expect(terminalNear(plan, { x: s2.x + 20, y: s2.y + 20 }, 15)).toBeNull();
    expect(hangingPath({ x: 1, y: 2 }, { x: 30, y: 40 })).toMatch(/^M1\.0 2\.0C.* 30\.0 40\.0$/);
  });
});
