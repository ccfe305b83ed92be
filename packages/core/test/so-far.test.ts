import { describe, expect, test } from '@jest/globals';
import { Solver, compile, provedSoFar, referenceBench, walkThrough } from '@contactum/core';
import { exercise, exercises, longList, rewire, seeded } from './help.js';
import { wrongWiring } from './fuzz/wrong-wirings.js';

const pump = exercise('brine-pump-three-wire');
const board = referenceBench(pump);

describe('what a wiring can do so far', () => {
  test('nothing is wired: only the frame wants its earth, and nothing has been tested', () => {
    const { short, properties, functions } = provedSoFar({ ...board, wires: [] }, pump.behaviours);
    expect(short).toBeNull();
    expect(properties.filter(({ holds }) => !holds).map(({ id }) => id)).toEqual(['earth-bonded']);
    expect(properties.find(({ id }) => id === 'stop-drops')?.tested).toBe(false);
    expect(functions.every(({ differs }) => differs !== null)).toBe(true);
  });

  test('a reference does all that is asked, and whatever its exercise does not teach by breaking it holds', () => {
    for (const one of longList(exercises())) {
      if (one.reference.length === 0) continue;
      const { complete, short, properties, functions } = provedSoFar(referenceBench(one), one.behaviours);
      expect({ complete, short }).toEqual({ complete: true, short: null });
      expect(functions.filter(({ differs }) => differs !== null)).toEqual([]);
      const broken = properties.filter(({ holds }) => !holds).map(({ id }) => id);
      expect(broken.filter((id) => !one.lesson?.includes(id))).toEqual([]);
    }
  });

  test('what would meet as the supply comes on is said before anything is pressed', () => {
    const { short } = provedSoFar(rewire(board, '', 'G1:L1>G1:N'), []);
    expect(short).toMatch(/G1:L1 meets G1:N/);
    // Behind a button it is a property that is broken, with the order that shows it.
    const behind = provedSoFar(rewire(board, '', 'KM1:A1>G1:N'), []);
    expect(behind.short).toBeNull();
    const broken = behind.properties.find(({ id }) => id === 'no-short');
    expect(broken).toMatchObject({ holds: false, title: expect.any(String) });
    expect(broken?.trace.length).toBeGreaterThan(0);
  });

  test('a board that is too large to be proved while it is wired says so', () => {
    expect(provedSoFar(board, [], 3)).toMatchObject({ complete: false });
  });

  test('it tells nothing that the wiring itself does not: no terminal that no lead of it touches', () => {
    for (let seed = 1; seed <= 12; seed += 1) {
      const wrong = wrongWiring(pump, seeded(seed));
      const own = new Set(wrong.wires.flatMap(({ from, to }) => [from, to]));
      const { short, properties } = provedSoFar(wrong, []);
      const said = [short ?? '', ...properties.map(({ found }) => found)].join(' ');
      // Frames and supply conductors are named whether they are wired or not.
      const named = (said.match(/\b[A-Z]+\d+:[A-Z0-9]+/g) ?? []).filter((ref) => !/^(G1|M1):/.test(ref));
      expect(named.filter((ref) => !own.has(ref as never))).toEqual([]);
    }
  });
});

test('a walk-through says what holds what has changed, or keeps it out', () => {
  const steps = walkThrough(new Solver(compile(board)), [
    { press: 'S2' },
    { release: 'S2' },
    { press: 'S1' },
  ]);
  expect(steps[0]?.why[0]).toMatch(/^KM1 is in through .*S2 13-14 \(or its own 13-14\)\.$/);
  expect(steps[1]?.why).toEqual([]);
  expect(steps[2]?.why[0]).toMatch(/^KM1 does not pull in: /);
});
