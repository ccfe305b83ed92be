import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  Simulation,
  Solver,
  compile,
  groundOf,
  netlistOf,
  referenceBench,
  repair,
  repairTask,
  rightWirings,
  type Bench,
  type Exercise,
  type RepairEdit,
  type Wire,
} from '@contactum/core';
import { inputsToChange, readingsAtRest, readingsForChange, type Readings } from '../src/repair/inputs.js';
import { Search } from '../src/repair/search.js';
import { firstFullest } from '../src/repair/wiring.js';
import { exercise, seeded } from './help.js';

const pump = exercise('brine-pump-controller');

/** What inputs may show, as words: one letter for each input that the program reads, on or off. */
function wordsOf({ fits, coils }: Readings): string[] {
  return fits.flatMap((isFit, pattern) =>
    isFit ? [coils.map((_, bit) => (((pattern >> bit) & 1) === 1 ? '1' : '0')).join('')] : [],
  );
}

describe('what the inputs of a controller may show', () => {
  const circuit = compile(referenceBench(pump));
  const stateAfter = (...steps: readonly Parameters<Simulation['work']>[0][]) => {
    const simulation = new Simulation(new Solver(circuit));
    for (const step of steps) simulation.work(step);
    return simulation.state.slice();
  };
  const states = (readings: readonly Readings[]) => readings.flatMap(wordsOf);

  // The program (inputs in the order of its terminals): Stop and the overload relay as they are wired, which
  // both show a voltage at rest, and Start.
  const start = circuit.coils.find(({ mechanism }) => circuit.mechanisms[mechanism]!.name === 'I0.1')!;

  test('at rest nothing may start the pump, and while it runs nothing may stop it', () => {
    expect(start.tag).toBe('A1');
    const atRest = states(readingsAtRest(circuit, stateAfter()));
    const running = states(readingsAtRest(circuit, stateAfter({ press: 'S2' }, { release: 'S2' })));
    // Every pattern leaves the pump off or on; with all voltages there Start alone decides.
    expect(atRest.length).toBeGreaterThan(0);
    expect(running.length).toBeGreaterThan(0);
    const all = '1'.repeat(atRest[0]!.length);
    expect(atRest).not.toContain(all);
    expect(running).toContain(all);
    // What the reference shows there is among it.
    for (const steps of [[], [{ press: 'S2' } as const], [{ press: 'S1' } as const]]) {
      const state = stateAfter(...steps);
      for (const one of readingsAtRest(circuit, state)) {
        const pattern = one.coils.reduce(
          (sum, coil, bit) => sum + (state[circuit.coils[coil]!.mechanism] === 0 ? 0 : 1 << bit),
          0,
        );
        expect(one.fits[pattern]).toBe(true);
      }
    }
  });

  test('an output changes from rest under exactly the patterns that do not leave it', () => {
    const state = stateAfter();
    const [rest] = readingsAtRest(circuit, state);
    const [change] = readingsForChange(circuit, state);
    expect(change!.fits).toEqual(rest!.fits.map((isFit) => !isFit));
  });

  test('a program that is not run, or reads nothing, asks nothing of its inputs', () => {
    const off = stateAfter({ open: 'G2' });
    expect(readingsAtRest(circuit, off).filter((one) => one.isRunning(off))).toEqual([]);
    const empty = compile(exercise('salt-harrow-controller').bench);
    expect(readingsAtRest(empty, empty.initial)).toEqual([]);
  });

  test('whoever comes to a pattern that fits changes one of the inputs that are named (property)', () => {
    const made = fc.array(fc.boolean(), { minLength: 16, maxLength: 16 });
    fc.assert(
      fc.property(made, fc.nat(15), (fits, pattern) => {
        fc.pre(!fits[pattern]);
        const named = inputsToChange({ coils: [5, 6, 7, 8], fits, isRunning: () => true }, pattern);
        fits.forEach((isFit, to) => {
          if (isFit) expect(named.some((bit) => (((to ^ pattern) >> bit) & 1) === 1)).toBe(true);
        });
        // And each that is named belongs to a change of which nothing can be left out.
        for (const bit of named) {
          const isNeeded = fits.some(
            (isFit, to) =>
              isFit &&
              (((to ^ pattern) >> bit) & 1) === 1 &&
              fits.every((other, less) => {
                const [all, some] = [to ^ pattern, less ^ pattern];
                return !other || some === all || (some & all) !== some;
              }),
          );
          expect(isNeeded).toBe(true);
        }
      }),
    );
  });
});

describe('which lead that comes is which that goes', () => {
  /** Every way, in the order in which they are tried, and the first that gives the most. */
  function byTrying(fitting: readonly (readonly number[])[]): number[] {
    let best: readonly number[] = [];
    let most = -1;
    const choose = (so: readonly number[]): void => {
      if (so.length === fitting.length) {
        const count = so.filter((n) => n >= 0).length;
        if (count > most) [best, most] = [so, count];
        return;
      }
      for (const n of fitting[so.length]!) if (!so.includes(n)) choose([...so, n]);
      choose([...so, -1]);
    };
    choose([]);
    return [...best];
  }

  test('as many as can be, the first of all ways (property, against trying every way)', () => {
    const options = fc.uniqueArray(fc.nat(4), { maxLength: 5 }).map((list) => list.sort((x, y) => x - y));
    fc.assert(
      fc.property(fc.array(options, { maxLength: 5 }), (fitting) => {
        expect(firstFullest(fitting, 5)).toEqual(byTrying(fitting));
      }),
    );
  });

  test('also of forty, of which the last have no choice', () => {
    const all = Array.from({ length: 40 }, (_, n) => n);
    const fitting = all.map((k) => (k < 20 ? all : all.slice(0, 20)));
    const found = firstFullest(fitting, 40);
    expect(new Set(found).size).toBe(40);
    expect(found.slice(20).every((n) => n < 20)).toBe(true);
  });
});

/** An exercise's board with other leads, and the right program. */
const boardWith = (one: Exercise, wires: readonly Wire[]): Bench => ({
  ...referenceBench(one),
  wires: [...one.bench.wires, ...wires],
});

test.each(['brine-pump-controller', 'brine-pump-controller-us', 'salt-harrow-controller'])(
  '%s: a board that is rightly wired otherwise needs no repair',
  (id) => {
    const one = exercise(id);
    for (const { title, wires } of rightWirings(groundOf(one), seeded(1))) {
      const { found, repairs } = repair(repairTask(one, boardWith(one, wires)), { most: 0 });
      expect({ title, found, repairs }).toEqual({ title, found: true, repairs: [[]] });
    }
  },
);

test('where Start and Stop have changed places the lead that seals in may follow: one edit, not two', () => {
  const swap = (ref: string) => (ref === 'A1:I0.0' ? 'A1:I0.1' : ref === 'A1:I0.1' ? 'A1:I0.0' : ref);
  const exchanged = pump.reference.map(
    (wire) => ({ ...wire, from: swap(wire.from), to: swap(wire.to) }) as Wire,
  );
  const result = repair(repairTask(pump, boardWith(pump, exchanged)));
  expect(result).toMatchObject({ found: true, stopped: false, searched: 1 });
  expect(result.repairs).toMatchObject([
    [{ move: { from: 'KM1:14', to: 'A1:I0.3' }, to: { from: 'KM1:14', to: 'A1:I0.0' } }],
  ]);
});

/** An exercise's board on which some leads end where others should. */
function exchangedEnds(one: Exercise, count: number, seed: number): Bench {
  const random = seeded(seed);
  const chosen = one.reference
    .map((_, k) => [random(), k] as const)
    .sort(([x], [y]) => x - y)
    .slice(0, count)
    .map(([, k]) => k);
  const ends = chosen.map((k) => one.reference[k]!.to);
  const wires = one.reference.map((wire) => ({ ...wire }));
  chosen.forEach((k, place) => (wires[k]!.to = ends[(place + 1) % count]!));
  return boardWith(
    one,
    wires.filter(({ from, to }) => from !== to),
  );
}

const towards = (one: Exercise, bench: Bench): readonly RepairEdit[] =>
  new Search(repairTask(one, bench), {
    list: 1,
    stop: () => false,
    watch: () => undefined,
    effort: 10,
    listing: 10,
  }).towardsReference();

const isOf =
  (gone: Wire) =>
  ({ from, to }: Wire): boolean =>
    from === gone.from && to === gone.to;

function after(wires: readonly Wire[], edits: readonly RepairEdit[]): Wire[] {
  const left = [...wires];
  for (const edit of edits) {
    if ('add' in edit) left.push(edit.add);
    else {
      const [gone] = left.splice(left.findIndex(isOf('move' in edit ? edit.move : edit.remove)), 1);
      expect(gone).toBeDefined();
      if ('move' in edit) left.push(edit.to);
    }
  }
  return left;
}

/** By terminal: the first that is joined to it by leads. */
function joined(bench: Bench): number[] {
  const { netOf } = netlistOf(bench);
  const { terminals } = compile(bench);
  return terminals.map((ref) => terminals.findIndex((other) => netOf.get(other) === netOf.get(ref)));
}

test.each([2, 3, 4])('edits that lead to the reference join what it joins (%i ends exchanged)', (count) => {
  for (const id of ['brine-pump-three-wire', 'salt-harrow-controller', 'blower-star-delta-timer'])
    for (let seed = 1; seed <= 8; seed += 1) {
      const one = exercise(id);
      const bench = exchangedEnds(one, count, seed);
      const edits = towards(one, bench);
      expect(edits.length).toBeLessThanOrEqual(count);
      expect(joined({ ...bench, wires: after(bench.wires, edits) })).toEqual(joined(referenceBench(one)));
    }
});

test('they are also found where nearly every lead is wrong', () => {
  const one = exercise('salt-harrow-controller');
  const count = one.reference.length - 4;
  expect(towards(one, exchangedEnds(one, count, 7)).length).toBeGreaterThan(count / 2);
});
