import { afterEach, describe, expect, jest, test } from '@jest/globals';
import fc from 'fast-check';
import { anatomy, fittedBoard, foldEdits, planBoard, type TerminalRef } from '@contactum/core';
import type { AttemptView, LogEntryRequest } from '@contactum/contract';
import { exercise } from '../../core/test/help.js';
import type { LiveBench } from '../src/bench/live.js';
import { createBenchStore, unsentKey, type BenchStore } from '../src/bench/store.js';
import { WiringHand } from '../src/bench/wiring-hand.js';

const pump = exercise('brine-pump-three-wire');
const view = (log: AttemptView['log'] = []): AttemptView => ({
  attempt: { id: 'a', number: 1, state: 'open', startedAt: '', handedInAt: null, result: null },
  className: '',
  sitting: null,
  closesAt: null,
  mode: 'practice',
  exercise: {
    ...pump,
    behaviours: [],
    practice: null,
    deadTests: [],
    leads: 'ducts',
    tellsProgress: true,
    drawn: false,
    tellsProof: false,
    hints: null,
  },
  log,
  permittedAt: null,
  permittedAfter: -1,
});

const realFetch = globalThis.fetch;
const stores: BenchStore[] = [];
afterEach(() => {
  globalThis.fetch = realFetch;
  stores.splice(0).forEach(({ actions }) => actions.close());
});

/** A page's store, closed when its test is over. */
function opened(...given: Parameters<typeof createBenchStore>): BenchStore {
  const store = createBenchStore(...given);
  stores.push(store);
  return store;
}

/** A server that keeps what it acknowledges, and fails as it is told to. */
function server(fail: (n: number) => 'down' | number | null = () => null) {
  const kept: LogEntryRequest[] = [];
  let calls = 0;
  globalThis.fetch = jest.fn((_url: unknown, init?: { body?: unknown }) => {
    calls += 1;
    const how = fail(calls);
    if (how === 'down') return Promise.reject(new TypeError('no network'));
    if (how !== null)
      return Promise.resolve(
        new Response(JSON.stringify({ error: { type: 'conflict', message: 'changed elsewhere' } }), {
          status: how,
        }),
      );
    const entry = JSON.parse(String(init?.body)) as (typeof kept)[number];
    kept.push(entry);
    return Promise.resolve(new Response(JSON.stringify({ seq: entry.seq }), { status: 201 }));
  }) as unknown as typeof fetch;
  return kept;
}

const edits = (kept: ReturnType<typeof server>) =>
  kept.flatMap(({ entry }) => (entry.kind === 'edit' ? [entry.edit] : []));

describe('the store of one attempt', () => {
  test('edits, undo and redo are shown at once and stored in order: the log folds to the board', async () => {
    const kept = server();
    const { actions, getState } = opened(view(), () => false);
    actions.connect('G1:L1', 'Q1:1');
    actions.connect('G1:L2', 'Q1:5');
    actions.moveEnd({ lead: 'w2', end: 'to' }, 'Q1:3');
    actions.recolour('w1', 'brown');
    actions.set('F2', 'dial', 3.1);
    actions.undo();
    actions.undo();
    actions.redo();
    actions.cut('w2');
    await actions.flush();
    expect(kept.map(({ seq }) => seq)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9]);
    expect(foldEdits(fittedBoard(pump.bench), edits(kept))).toEqual(getState().bench);
    expect(getState().bench.wires).toEqual([
      { id: 'w1', fitted: false, from: 'G1:L1', to: 'Q1:1', colour: 'brown', area: 2.5 },
    ]);
    expect(getState()).toMatchObject({ unsaved: 0, saveError: null, stale: false });
  });

  test('opened again, what was undone can still be redone', async () => {
    const kept = server();
    const first = opened(view(), () => false);
    first.actions.connect('G1:L1', 'Q1:1');
    first.actions.connect('G1:L2', 'Q1:3');
    first.actions.undo();
    await first.actions.flush();
    const log = kept.map((one) => ({ ...one, at: '' }));
    const again = opened(view(log), () => false);
    expect([again.getState().undo.length, again.getState().redo.length]).toEqual([1, 1]);
    again.actions.redo();
    await again.actions.flush();
    expect(again.getState().bench.wires).toHaveLength(2);
    expect(kept.at(-1)?.seq).toBe(4);
  });

  test('while the network is down nothing is dropped, and it says so', async () => {
    const kept = server((n) => (n <= 2 ? 'down' : null));
    const { actions, getState, subscribe } = opened(view(), () => false);
    const told: (string | null)[] = [];
    subscribe(({ saveError }) => told.push(saveError));
    actions.connect('G1:L1', 'Q1:1');
    actions.connect('G1:L2', 'Q1:3');
    await actions.flush();
    expect(kept.map(({ seq }) => seq)).toEqual([1, 2]);
    expect(told.some((text) => text?.includes('cannot be reached'))).toBe(true);
    expect(getState()).toMatchObject({ unsaved: 0, saveError: null });
  });

  test('a board changed elsewhere is not written over', async () => {
    const kept = server((n) => (n === 2 ? 409 : null));
    const { actions, getState } = opened(view(), () => false);
    actions.connect('G1:L1', 'Q1:1');
    actions.connect('G1:L2', 'Q1:3');
    await expect(actions.flush()).rejects.toThrow('changed elsewhere');
    expect(getState().stale).toBe(true);
    actions.connect('G1:L3', 'Q1:5');
    expect(getState().bench.wires).toHaveLength(2);
    expect(kept).toHaveLength(1);
  });

  test('with the supply on, and where a terminal is joined to itself, nothing is changed and a reason is given', () => {
    server();
    const live = opened(view(), () => true);
    live.actions.connect('G1:L1', 'Q1:1');
    expect(live.getState().bench.wires).toEqual([]);
    expect(live.getState().message?.text).toMatch(/^The supply is on\./);
    const dead = opened(view(), () => false);
    dead.actions.connect('Q1:1', 'Q1:1');
    expect(dead.getState().message?.text).toBe('A lead needs two different terminals');
  });

  /** A browser's own storage. */
  const storage = () => {
    const held = new Map<string, string>();
    return {
      getItem: (key: string) => held.get(key) ?? null,
      setItem: (key: string, value: string) => void held.set(key, value),
      removeItem: (key: string) => void held.delete(key),
    };
  };

  test('what the server has not acknowledged outlives the page, and is sent when it is opened again', async () => {
    const keep = storage();
    server(() => 'down');
    const first = opened(view(), () => false, { keep });
    first.actions.connect('G1:L1', 'Q1:1');
    first.actions.connect('G1:L2', 'Q1:3');
    first.actions.close();
    const kept = server();
    const again = opened(view(), () => false, { keep });
    expect(again.getState()).toMatchObject({
      unsaved: 2,
      bench: { wires: [{ to: 'Q1:1' }, { to: 'Q1:3' }] },
    });
    await again.actions.flush();
    expect(kept.map(({ seq }) => seq)).toEqual([1, 2]);
    expect(keep.getItem(unsentKey('a'))).toBeNull();
    // One of them had reached the server although its answer was lost.
    keep.setItem(unsentKey('a'), JSON.stringify(kept));
    const log = kept.slice(0, 1).map((one) => ({ ...one, at: '' }));
    const third = opened(view(log), () => false, { keep });
    expect(third.getState()).toMatchObject({ unsaved: 1, message: null });
    expect(third.getState().bench.wires).toHaveLength(2);
  });

  test('what is kept and fits the board no more is left out, and said', () => {
    const keep = storage();
    server();
    const cut = {
      seq: 1,
      entry: { kind: 'edit', edit: { do: 'cut', lead: 'w1', wire: { from: 'G1:L1', to: 'Q1:1' } } },
    };
    keep.setItem(unsentKey('a'), JSON.stringify([cut]));
    expect(opened(view(), () => false, { keep }).getState()).toMatchObject({
      unsaved: 0,
      message: { text: expect.stringMatching(/^1 changes kept/) as unknown },
    });
    const byPlace = { do: 'connect', index: 0, wire: { from: 'G1:L1', to: 'Q1:1' } };
    keep.setItem(unsentKey('a'), JSON.stringify([{ seq: 1, entry: { kind: 'edit', edit: byPlace } }]));
    expect(opened(view(), () => false, { keep }).getState()).toMatchObject({
      unsaved: 0,
      message: { text: expect.stringMatching(/^1 changes kept/) as unknown },
    });
    keep.setItem(unsentKey('a'), '{ damaged');
    expect(opened(view(), () => false, { keep }).getState()).toMatchObject({
      unsaved: 0,
      message: null,
    });
  });

  test('a session that is over is said as what it is; signing in again sends the rest', async () => {
    let over = true;
    const kept = server(() => (over ? 401 : null));
    const { actions, getState } = opened(view(), () => false, { keep: storage() });
    actions.connect('G1:L1', 'Q1:1');
    await expect(actions.flush()).rejects.toThrow();
    expect(getState()).toMatchObject({ signedOut: true, stale: false, unsaved: 1 });
    actions.connect('G1:L2', 'Q1:3');
    over = false;
    actions.resume();
    await actions.flush();
    expect(kept.map(({ seq }) => seq)).toEqual([1, 2]);
    expect(getState()).toMatchObject({ signedOut: false, unsaved: 0 });
  });

  test('a second tab follows the first and changes nothing itself', () => {
    server();
    const follower = opened(view(), () => false, { following: true });
    opened(view(), () => false, { onEntry: follower.actions.follow }).actions.connect('G1:L1', 'Q1:1');
    expect(follower.getState().bench.wires).toMatchObject([{ from: 'G1:L1', to: 'Q1:1' }]);
    follower.actions.connect('G1:L2', 'Q1:3');
    expect(follower.getState()).toMatchObject({
      unsaved: 0,
      message: { text: 'Another tab works on this board; this one follows it.' },
    });
    expect(follower.getState().bench.wires).toHaveLength(1);
  });

  test('readings count with the buttons that were held, until the wiring is changed', () => {
    server();
    const { actions, getState } = opened(view(), () => false);
    actions.noteAct({ press: 'S2' });
    actions.noteReading('G1:L1', 'G1:N');
    expect(getState().readings).toEqual([{ between: ['G1:L1', 'G1:N'], held: ['S2'] }]);
    actions.connect('G1:L1', 'Q1:1');
    expect(getState().readings).toEqual([]);
    actions.noteReading('G1:L1', 'G1:N');
    expect(getState().readings[0]?.held).toEqual([]);
  });

  /** What a person does at a board, as a recipe over places. */
  const hands = fc.array(
    fc.record({
      what: fc.constantFrom(
        'lay',
        'lay',
        'cut',
        'move',
        'recolour',
        'set',
        'undo',
        'undo',
        'redo',
        'supply',
        'press',
      ),
      a: fc.nat({ max: 200 }),
      b: fc.nat({ max: 200 }),
    }),
    { maxLength: 30 },
  );

  test('whatever is done, the log folds to the board, and opened again it is the same and can be undone to its beginning', async () => {
    const terminals = pump.bench.devices.flatMap((device) =>
      anatomy(device).terminals.map(({ name }): TerminalRef => `${device.tag}:${name}`),
    );
    const at = (k: number): TerminalRef => terminals[k % terminals.length] as TerminalRef;
    await fc.assert(
      fc.asyncProperty(hands, async (list) => {
        const kept = server();
        const { actions, getState } = opened(view(), () => false);
        for (const { what, a, b } of list) {
          const { wires } = getState().bench;
          const lead = wires[a % Math.max(wires.length, 1)]?.id;
          if (what === 'lay') actions.connect(at(a), at(b));
          else if (what === 'undo') actions.undo();
          else if (what === 'redo') actions.redo();
          else if (what === 'set') actions.set('F2', 'dial', 2.5 + (a % 15) / 10);
          else if (what === 'supply') actions.noteSupply(a % 2 === 0);
          else if (what === 'press') actions.noteAct({ press: 'S2' });
          else if (lead && what === 'cut') actions.cut(lead);
          else if (lead && what === 'move')
            actions.moveEnd({ lead, end: a % 2 === 0 ? 'from' : 'to' }, at(b));
          else if (lead) actions.recolour(lead, 'red');
        }
        await actions.flush();
        const { bench, editedSeq } = getState();
        expect(kept.map(({ seq }) => seq)).toEqual(kept.map((_, k) => k + 1));
        expect(foldEdits(fittedBoard(pump.bench), edits(kept))).toEqual(bench);
        const log = kept.map((one) => ({ ...one, at: '' }));
        const again = opened(view(log), () => false);
        expect(again.getState()).toMatchObject({ bench, editedSeq });
        // Undone to the last, either page has the board of the beginning.
        for (let k = 0; k < 60; k += 1) [actions, again.actions].forEach(({ undo }) => undo());
        expect(getState().bench).toEqual(fittedBoard(pump.bench));
        expect(again.getState().bench).toEqual(fittedBoard(pump.bench));
        await again.actions.flush();
        await actions.flush();
      }),
      { numRuns: 40 },
    );
  });
});

describe('a hand with a lead in it', () => {
  const place = () => {
    server();
    const store = opened(view(), () => false);
    const supply = { supplyOn: false };
    const live = { store: { getState: () => supply } } as unknown as LiveBench;
    const told: string[] = [];
    const hand = new WiringHand(store, live, planBoard(pump.bench), (text) => told.push(text));
    return { store, supply, hand, told };
  };

  test('takes up at one terminal, puts down at another, and lets go where it took up', () => {
    const { store, hand, told } = place();
    hand.touch('G1:L1');
    expect([hand.anchor, store.getState().from]).toEqual(['G1:L1', 'G1:L1']);
    hand.touch('G1:L1');
    expect(hand.anchor).toBeNull();
    hand.touch('G1:L1');
    hand.touch('Q1:1');
    expect(store.getState().bench.wires).toMatchObject([{ id: 'w1', from: 'G1:L1', to: 'Q1:1' }]);
    expect(told.at(-1)).toBe('Lead from G1 L1 to Q1 1.');
  });

  test('holds a taken end by the other one, and moves it', () => {
    const { store, hand } = place();
    hand.touch('G1:L1');
    hand.touch('Q1:1');
    hand.take({ lead: 'w1', end: 'to' });
    expect(hand.anchor).toBe('G1:L1');
    hand.touch('Q1:3');
    expect(store.getState().bench.wires).toMatchObject([{ id: 'w1', from: 'G1:L1', to: 'Q1:3' }]);
    hand.take({ lead: 'w1', end: 'from' });
    hand.empty();
    expect([hand.anchor, store.getState().moving]).toEqual([null, null]);
  });

  test('does nothing on a live board, and says why', () => {
    const { store, supply, hand } = place();
    supply.supplyOn = true;
    hand.touch('G1:L1');
    expect([hand.anchor, store.getState().message?.text]).toEqual([
      null,
      'The supply is on. Switch it off before you change the wiring.',
    ]);
  });
});
