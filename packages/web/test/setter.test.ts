import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { isExpectation, type Exercise, type Step, type Stimulus } from '@contactum/core';
import { shippedExercises } from '@contactum/core/exercises';
import type { Draft } from '@contactum/contract';
import { exercise } from '../../core/test/help.js';
import { columnsOf, readExpected, rowsOf, stepsOf, writeExpected } from '../src/setter/rows.js';
import { createSetterStore, type SetterStore } from '../src/setter/store.js';
import { observablesOf, stimuliOf, valuesOf } from '../src/setter/words.js';

const pump = exercise('brine-pump-three-wire');
const behaviours = shippedExercises().flatMap((one) =>
  one.behaviours.map((behaviour) => ({ one, id: `${one.id} ${behaviour.id}`, steps: behaviour.steps ?? [] })),
);

describe('a behaviour as rows', () => {
  test('every shipped behaviour is the same steps again', () => {
    for (const { id, steps } of behaviours) expect([id, stepsOf(rowsOf(steps))]).toEqual([id, merged(steps)]);
  });

  test('columns are what is observed, then what the rows expect, each once', () => {
    const rows = rowsOf([
      { expect: { KM1: 'out' } },
      { press: 'S2' },
      { expect: { KM1: 'in', H1: 'lit' } },
      { release: 'S2' },
    ]);
    expect(rows.map(({ stimulus }) => stimulus)).toEqual([null, { press: 'S2' }, { release: 'S2' }]);
    expect(columnsOf(rows, ['M1.driven', 'KM1'])).toEqual(['M1.driven', 'KM1', 'H1']);
  });

  test('every expected value is read as it is written', () => {
    const values = behaviours.flatMap(({ steps }) =>
      steps.flatMap((step) => (isExpectation(step) ? Object.values(step.expect) : [])),
    );
    expect(values.some((value) => typeof value === 'object')).toBe(true);
    for (const value of values) expect(readExpected(writeExpected(value))).toEqual(value);
  });

  test.each([
    ['', undefined],
    ['  ', undefined],
    [' in ', 'in'],
    ['1350..1500', { min: 1350, max: 1500 }],
    ['2.5 ..', { min: 2.5 }],
    ['.. 10', { max: 10 }],
    ['..', undefined],
    ['400', 400],
    ['star', 'star'],
  ])('“%s” is read', (text, value) => {
    expect(readExpected(text)).toEqual(value);
  });
});

const isReading = (what: string) => /^(volts|ohms|amps)\(/.test(what);

/** Steps whose expectations that stand side by side are one. */
function merged(steps: readonly Step[]): Step[] {
  const list: Step[] = [];
  for (const step of steps) {
    const last = list.at(-1);
    if (isExpectation(step) && last && isExpectation(last))
      list[list.length - 1] = { expect: { ...last.expect, ...step.expect } };
    else list.push(step);
  }
  return list;
}

describe('lists to choose from', () => {
  const text = (stimulus: Stimulus) => JSON.stringify(stimulus);

  test('offer everything that shipped behaviours do, but for how long they wait and who is first in a race', () => {
    const missing = behaviours.flatMap(({ one, id, steps }) => {
      const offered = new Set(stimuliOf(one.bench).map(({ stimulus }) => text(stimulus)));
      return steps.flatMap((step) =>
        isExpectation(step) || 'wait' in step || 'first' in step || offered.has(text(step))
          ? []
          : [`${id}: ${text(step)}`],
      );
    });
    expect(missing).toEqual([]);
  });

  test('offer everything that shipped behaviours observe but readings of a meter, with the word that is expected', () => {
    const missing = behaviours.flatMap(({ one, id, steps }) => {
      const offered = new Set(observablesOf(one.bench));
      return steps.flatMap((step) =>
        isExpectation(step)
          ? Object.entries(step.expect).flatMap(([what, value]) =>
              isReading(what) ||
              (offered.has(what) && (typeof value !== 'string' || valuesOf(one.bench, what).includes(value)))
                ? []
                : [`${id}: ${what} ${String(value)}`],
            )
          : [],
      );
    });
    expect(missing).toEqual([]);
  });

  test('say the same thing once, and nothing of what is not there', () => {
    for (const one of shippedExercises()) {
      const labels = stimuliOf(one.bench).map(({ label }) => label);
      expect(new Set(labels).size).toBe(labels.length);
      const seen = observablesOf(one.bench);
      expect(new Set(seen).size).toBe(seen.length);
    }
    expect(valuesOf(pump.bench, 'KM9')).toEqual([]);
    expect(valuesOf(pump.bench, 'M1.connection')).toContain('delta');
  });
});

describe('a draft', () => {
  const real = globalThis.fetch;
  let puts: { document: Exercise; seq: number }[];
  let replies: (() => Response | Promise<Response>)[];
  let store: SetterStore;

  const titled = (title: string) => (one: Exercise) => ({ ...one, title });
  const state = () => store.getState();
  const later = (ms = 800) => jest.advanceTimersByTimeAsync(ms);
  const refuse = (status: number, error: object) => () => new Response(JSON.stringify({ error }), { status });

  beforeEach(() => {
    jest.useFakeTimers();
    [puts, replies] = [[], []];
    globalThis.fetch = ((_: string, init: RequestInit) => {
      const body = JSON.parse(String(init.body)) as { document: Exercise; seq: number };
      puts.push(body);
      return Promise.resolve(
        (replies.shift() ?? (() => new Response(JSON.stringify({ seq: body.seq + 1 }))))(),
      );
    }) as typeof fetch;
    store = createSetterStore({ id: 'd1', document: pump, seq: 3 } as unknown as Draft);
  });
  afterEach(() => {
    store.actions.close();
    jest.useRealTimers();
    globalThis.fetch = real;
  });

  test('is kept a moment after the last change, each time after the one before', async () => {
    store.actions.change(titled('one'));
    await later(400);
    store.actions.change(titled('two'));
    await later(400);
    expect(puts).toEqual([]);
    expect(state().kept).toBe('changed');
    await later();
    expect(puts.map(({ document, seq }) => [document.title, seq])).toEqual([['two', 3]]);
    expect(state().kept).toBe('kept');
    store.actions.change(titled('three'));
    await later();
    expect(puts.at(-1)!.seq).toBe(4);
  });

  test('what is changed while it is being kept is kept after that', async () => {
    let answer: (response: Response) => void = () => undefined;
    replies = [() => new Promise((resolve) => (answer = resolve))];
    store.actions.change(titled('one'));
    await later();
    expect(state().kept).toBe('keeping');
    store.actions.change(titled('two'));
    answer(new Response(JSON.stringify({ seq: 4 })));
    await later();
    expect(puts.map(({ document, seq }) => [document.title, seq])).toEqual([
      ['one', 3],
      ['two', 4],
    ]);
  });

  test('every change is one step back and forth; another change ends the way forth', () => {
    store.actions.change(titled('one'));
    store.actions.change(titled('two'));
    store.actions.undo();
    expect(state().exercise.title).toBe('one');
    store.actions.redo();
    expect(state().exercise.title).toBe('two');
    store.actions.undo();
    store.actions.undo();
    store.actions.undo();
    expect(state().exercise).toBe(pump);
    store.actions.change(titled('three'));
    store.actions.redo();
    expect(state().exercise.title).toBe('three');
    // What comes out the same is no step.
    store.actions.change((one) => one);
    store.actions.undo();
    expect(state().exercise).toBe(pump);
  });

  test('a device that is gone is chosen no more', () => {
    store.actions.choose(['KM1', 'S1']);
    store.actions.change((one) => ({
      ...one,
      bench: { ...one.bench, devices: one.bench.devices.filter(({ tag }) => tag !== 'S1') },
    }));
    expect(state().chosen).toEqual(['KM1']);
  });

  test('what the server refuses is named; what it cannot be reached for is sent again', async () => {
    const problems = [{ path: 'title', message: 'must not be empty' }];
    replies = [refuse(400, { type: 'invalid', message: 'No.', problems })];
    store.actions.change(titled(''));
    await later();
    expect([state().kept, state().problems]).toEqual(['refused', problems]);
    await later(10_000);
    expect(puts).toHaveLength(1);
    replies = [
      () => {
        throw new TypeError('no network');
      },
    ];
    store.actions.change(titled('right'));
    await later();
    expect(state().kept).toBe('offline');
    await later(5_000);
    expect([state().kept, state().problems, puts.length]).toEqual(['kept', [], 3]);
  });

  test('a draft that was changed elsewhere is not written over', async () => {
    replies = [refuse(409, { type: 'conflict', message: 'It was changed elsewhere.' })];
    store.actions.change(titled('one'));
    await later();
    expect(state().kept).toBe('stale');
    store.actions.change(titled('two'));
    await later(10_000);
    expect(puts).toHaveLength(1);
  });

  test('a page that is left keeps what was changed last', async () => {
    store.actions.change(titled('one'));
    store.actions.close();
    await later(0);
    expect(puts.map(({ document }) => document.title)).toEqual(['one']);
    store.actions.change(titled('two'));
    await later(10_000);
    expect(puts).toHaveLength(1);
  });
});
