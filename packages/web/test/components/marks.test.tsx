import { expect, test } from '@jest/globals';
import { screen, within } from '@testing-library/react';
import type { FloorBench, MarkBook, MarkCell, Person, Result, SheetView } from '@contactum/contract';
import { createStore } from 'zustand/vanilla';
import { BenchTile } from '../../src/floor/BenchTile.js';
import type { FloorStore } from '../../src/floor/floor-line.js';
import { MarkBookPage } from '../../src/marks/MarkBookPage.js';
import { FunctionsPart } from '../../src/sheets/FunctionsPart.js';
import { Physical } from '../../src/slip/Physical.js';
import { answer, show } from './stage.js';

const result = (recorded: number, more: Partial<Result> = {}): Result => ({
  score: recorded,
  recorded,
  max: 100,
  passed: recorded >= 70,
  changed: false,
  reason: recorded >= 70 ? null : `${recorded} points; 70 are needed`,
  ...more,
});
const cell = (more: Partial<MarkCell>): MarkCell => ({
  attemptId: 'a',
  attempts: 1,
  state: 'marked',
  late: false,
  result: null,
  unconfirmed: null,
  ...more,
});
const book: MarkBook = {
  id: 'c1',
  name: 'Pan Fitters 1A',
  term: '',
  assignments: [
    {
      id: 's1',
      exerciseId: 'brine-pump',
      title: 'Brine pump',
      dueAt: null,
      counts: 'best',
      mode: 'practice',
      spread: null,
    },
  ],
  students: [
    ['Passed', cell({ result: result(100, { changed: true }), late: true, attempts: 2 })],
    ['Failed', cell({ result: result(69, { score: 94.2 }) })],
    ['Unconfirmed', cell({ attemptId: 'u', unconfirmed: result(40) })],
    ['Broken', cell({ state: 'failed' })],
    ['Working', cell({ state: 'open' })],
    ['Waiting', cell({ state: 'handed-in' })],
    ['Nothing', null],
  ].map(([name, one]) => ({ id: String(name), name: String(name), cells: [one as MarkCell | null] })),
  losses: [[]],
};

test('each cell of the mark book says in words how an attempt stands; an unconfirmed one is no mark', async () => {
  answer('GET /classes', {
    body: [
      {
        id: 'c1',
        name: 'Pan Fitters 1A',
        term: '',
        students: 7,
        assignments: 1,
        instructors: [],
        archived: false,
      },
    ],
  });
  answer('GET /classes/c1/marks', { body: book });
  show(<MarkBookPage />, { at: '/marks/c1', path: '/marks/:classId' });
  const rowOf = async (name: string): Promise<HTMLElement> =>
    (await screen.findByRole('link', { name })).closest('tr') as HTMLElement;
  expect((await rowOf('Passed')).textContent).toMatch(/✓ 100 of 100, 2 attempts, changed, late/);
  expect((await rowOf('Failed')).textContent).toMatch(/✕ 69 of 100 not passed \(94.2 earned\)/);
  const unconfirmed = await rowOf('Unconfirmed');
  expect(unconfirmed.textContent).toMatch(/\? unconfirmed 40 of 100/);
  expect(unconfirmed.textContent).not.toMatch(/passed/);
  expect(
    within(unconfirmed)
      .getByText(/unconfirmed/, { selector: 'a' })
      .getAttribute('href'),
  ).toBe('/slip/u');
  for (const [name, words] of [
    ['Broken', 'could not be marked'],
    ['Working', 'wiring'],
    ['Waiting', 'being marked'],
    ['Nothing', 'not begun'],
  ] as const)
    expect((await rowOf(name)).textContent).toContain(words);
});

test('what was entered at a bench says who stands for it, and how far the clock of the device was off', async () => {
  const findings = {
    deviations: [],
    contradictions: [],
    suspects: [],
    next: null,
    made: 3,
    of: 10,
    wiringEntered: false,
    remarks: '',
  };
  const view: SheetView = {
    entries: { dead: {}, functions: {}, settings: {}, checks: {}, isolatedBy: 'Ebba Skerry' },
    enteredBy: 'Ebba Skerry',
    sentAt: '2026-11-20T09:00:00Z',
    confirmedBy: 'Ines Brack',
    confirmedAt: '2026-11-20T10:00:00Z',
    clockBehind: 7260,
    photo: null,
  };
  answer('GET /attempts/a/sheet', { body: view });
  const shown = show(<Physical attemptId="a" findings={findings} />);
  const text = await screen.findByText(/Entered by Ebba Skerry/);
  expect(text.textContent).toMatch(/no permission was signed\./);
  expect(text.textContent).toMatch(/Confirmed by Ines Brack/);
  expect(text.textContent).toMatch(/was 2 h behind the server's/);
  shown.unmount();
  answer('GET /attempts/b/sheet', {
    body: { ...view, confirmedBy: '', confirmedAt: null, clockBehind: -300, enteredBy: 'Jory Osier' },
  });
  show(<Physical attemptId="b" findings={findings} />);
  const other = await screen.findByText(/Entered by Jory Osier/);
  expect(other.textContent).not.toMatch(/Confirmed/);
  expect(other.textContent).toMatch(/was 5 min ahead of the server's/);
});

test('an instructor signs the permission with their own name; a student has nothing to sign there', async () => {
  const sheet = { functions: [], points: {} } as unknown as Parameters<typeof FunctionsPart>[0]['sheet'];
  const entries = { dead: {}, functions: {}, settings: {}, checks: {} };
  const entered: unknown[] = [];
  const person = (role: Person['role']): Person => ({ id: 'p', login: 'p', name: 'Ines Brack', role });
  const part = (role: Person['role'], more = {}) => (
    <FunctionsPart
      sheet={sheet}
      entries={{ ...entries, ...more }}
      enter={(change) => entered.push(change)}
      person={person(role)}
    />
  );
  const own = show(part('instructor'));
  await own.user.click(screen.getByRole('checkbox', { name: /I, Ines Brack, have seen the dead tests/ }));
  own.unmount();
  const signed = show(part('instructor', { permittedBy: 'Ines Brack' }));
  expect(screen.queryByText(/Nobody energises/)).toBeNull();
  await signed.user.click(screen.getByRole('checkbox'));
  expect(entered).toEqual([{ permittedBy: 'Ines Brack' }, { permittedBy: undefined }]);
  signed.unmount();
  show(part('student'));
  expect(screen.queryByRole('checkbox')).toBeNull();
  expect(screen.getByText(/Ask your instructor before anything is energised/)).toBeDefined();
});

test('a tile of the Floor says who, at which step, what runs, what happened, and what is asked', async () => {
  const bench: FloorBench = {
    attemptId: 'a',
    searchId: null,
    student: 'Ebba Skerry',
    exercise: 'Brine pump',
    exerciseId: 'brine-pump',
    startedAt: new Date().toISOString(),
    status: {
      step: 'ask',
      supplyOn: false,
      incidents: 2,
      lastIncident: 'Fuse has blown: F1.',
      leads: 12,
      edits: 14,
      shown: 0,
      functions: 6,
      running: '',
      asks: true,
    },
    here: true,
    asksAt: new Date().toISOString(),
    word: {
      id: '1',
      by: 'Ebba Skerry',
      text: 'Which way round?',
      at: '',
      isStudents: true,
      isToClass: false,
    },
    progress: 4,
    of: 20,
    progressAt: new Date().toISOString(),
  };
  const store = createStore(() => ({
    link: 'open' as const,
    order: ['a'],
    benches: { a: bench },
    lead: null,
    words: [],
    refused: null,
  })) as unknown as FloorStore;
  const done: unknown[] = [];
  const { user } = show(
    <BenchTile
      id="a"
      store={store}
      chosen={false}
      onLook={(id) => done.push(['look', id])}
      onPermit={(id) => done.push(['permit', id])}
    />,
  );
  const tile = screen.getByRole('article');
  expect(tile.getAttribute('data-state')).toBe('asks');
  expect(tile.textContent).toContain('Asks to energise');
  expect(tile.textContent).toContain('12 leads4 of 20 complete');
  expect(tile.textContent).toContain('“Which way round?”');
  expect(tile.textContent).toContain('! 2: Fuse has blown: F1.');
  await user.click(screen.getByRole('button', { name: /Permit/ }));
  await user.click(screen.getByRole('button', { name: /Ebba Skerry/ }));
  expect(done).toEqual([
    ['permit', 'a'],
    ['look', 'a'],
  ]);
});
