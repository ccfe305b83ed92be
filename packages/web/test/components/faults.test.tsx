import { beforeEach, expect, jest, test } from '@jest/globals';
import { act, screen, waitFor, within } from '@testing-library/react';
import {
  SearchBench,
  describeEntry,
  describeFault,
  gradeSearch,
  hiddenFaults,
  judgeVerdict,
  likeness,
  readFault,
  referenceCircuitOf,
  type Exercise,
  type SearchEntry,
  type SearchEvent,
} from '@contactum/core';
import { shippedSearches } from '@contactum/core/exercises';
import type { NotebookLine, SearchView } from '@contactum/contract';
import { exercise } from '../../../core/test/help.js';
import { FaultDeskPage } from '../../src/faults/FaultDeskPage.js';
import { SearchPage } from '../../src/faults/SearchPage.js';
import { FakeSocket, withSockets } from './socket.js';
import { INSTRUCTOR as instructor, answer, sent, show } from './stage.js';

const pump = exercise('brine-pump-three-wire');
const [search] = shippedSearches() as [Exercise, ...Exercise[]];
const [set] = search.sets!;
const circuit = referenceCircuitOf(search);
const hidden = set!.faults.map(readFault);

/** The line to a live bench: the bench itself, with the faults in it. */
class BenchSocket extends FakeSocket {
  static last: BenchSocket | null = null;
  readonly entries: SearchEntry[] = [];
  private readonly board = new SearchBench(circuit.bench, hidden);
  private readonly log: SearchEvent[] = [];

  constructor(url: string) {
    super(url);
    BenchSocket.last = this;
  }

  protected override opened(): void {
    super.opened();
    this.tell({ kind: 'shape', shape: this.board.shape, notes: [] });
    this.frame();
  }

  send(text: string): void {
    const { n, entry } = JSON.parse(text) as { n: number; entry: SearchEntry };
    this.entries.push(entry);
    this.board.advanceTo(this.board.clock + 1);
    const event: SearchEvent = { t: this.board.clock, ...entry };
    const told = this.board.do(event);
    this.log.push(event);
    const line: NotebookLine = {
      t: event.t,
      kind: event.kind,
      text: describeEntry(event, told, this.board.bench),
      ...(event.kind === 'verdict' ? { verdict: this.judge(event.fault) } : {}),
    } as NotebookLine;
    // Over a line, an answer comes later.
    queueMicrotask(() => {
      this.tell({ kind: 'answer', n, answer: told, line });
      this.frame();
    });
  }

  private judge(fault: Parameters<typeof readFault>[0]) {
    const { cause, place } = judgeVerdict(
      readFault(fault),
      hiddenFaults(hidden, this.log),
      likeness(circuit),
    );
    return cause ? 'right' : place ? 'place' : 'wrong';
  }

  private frame(): void {
    const frame = this.board.frame();
    const { locked, liftedLeads: lifted } = this.board;
    this.tell({ kind: 'frame', frame: { ...frame, closed: [...frame.closed].join(''), locked, lifted } });
  }
}

withSockets(BenchSocket);

const { behaviours, id, title, family, brief } = search;
const view: SearchView = {
  id: 's1',
  attemptId: 'a1',
  assessmentId: null,
  state: 'open',
  exercise: { id, title, family, brief, bench: search.bench, behaviours } as never,
  bench: circuit.bench,
  order: set!,
  tools: ['volts', 'ohms', 'amps', 'lift', 'exchange'],
  tellsCauses: true,
  startedAt: '2026-12-01T09:00:00Z',
  report: null,
};

beforeEach(() => {
  answer('GET /searches/s1', { body: view });
});

const open = async () => {
  const shown = show(<SearchPage />, { path: '/search/:id', at: '/search/s1' });
  await screen.findByText('The operator says');
  await waitFor(() => expect(screen.queryByLabelText('Opening the bench')).toBeNull());
  return shown;
};
const pick = async (user: Awaited<ReturnType<typeof open>>['user'], label: string, text: string) => {
  // Long lists draw only what is in sight.
  await user.type(screen.getByRole('combobox', { name: label }), text);
  await user.click((await screen.findAllByTitle(text)).at(-1)!);
};

test('a search opens with its work order, and nothing that tells what is wrong', async () => {
  const { container } = await open();
  expect(screen.getByText(set!.complaint)).toBeDefined();
  for (const one of behaviours)
    expect(screen.getAllByText(new RegExp(one.title.slice(0, 20))).length > 0).toBe(true);
  for (const fault of hidden) expect(container.textContent).not.toContain(describeFault(fault));
});

test('what is done at the bench stands in the notebook with its time, readings apart', async () => {
  const { user } = await open();
  await user.click(screen.getByRole('button', { name: /Supply is off: switch on/ }));
  expect(await screen.findByRole('button', { name: /Supply is on: switch off/ })).toBeDefined();
  await user.click(screen.getByRole('tab', { name: 'Notebook' }));
  const notes = () => [...document.querySelectorAll('ol.notes li')].map((one) => one.textContent);
  expect(notes()[0]).toMatch(/^0:0\d /);
  await user.click(screen.getByRole('button', { name: 'Readings only' }));
  expect(screen.getByText(/Nothing recorded yet/)).toBeDefined();
});

test('the lock is put on with the supply off, and holds it off', async () => {
  const { user } = await open();
  await user.click(screen.getByRole('button', { name: /Lock off$/ }));
  expect(await screen.findByRole('button', { name: /Locked off/ })).toBeDefined();
  expect(screen.getByRole('button', { name: /switch on/ })).toHaveProperty('disabled', true);
  expect(BenchSocket.last!.entries).toContainEqual({ kind: 'lock', on: true });
});

test('a verdict names a place and a cause; a wrong one says so, and in the notebook', async () => {
  const { user } = await open();
  await user.click(screen.getByRole('tab', { name: 'Verdict' }));
  const give = screen.getByRole('button', { name: 'Give the verdict' });
  expect(give).toHaveProperty('disabled', true);
  const other = search.bench.devices.find(
    ({ tag, type }) => type === 'pushbutton' && !describeFault(hidden[0]!).includes(tag),
  )!;
  await pick(user, 'Which device or lead', other.tag);
  await user.click(screen.getByRole('combobox', { name: 'What is wrong with it' }));
  const options = () =>
    [...document.querySelectorAll('.ant-select-dropdown')].at(-1)!.querySelectorAll<HTMLElement>('[title]');
  await waitFor(() => expect(options().length).toBeGreaterThan(0));
  await user.click(options()[0]!);
  await waitFor(() => expect(give).toHaveProperty('disabled', false));
  await user.click(give);
  expect(await screen.findByText(/^That is not it/)).toBeDefined();
  await user.click(screen.getByRole('tab', { name: 'Notebook' }));
  expect(screen.getByText(/✗ that is not it/)).toBeDefined();
});

test('causes that are left are worked out when they are asked for, and are marked as old after that', async () => {
  answer('GET /searches/s1/causes', { body: { of: 40, left: ['KM1 13-14 does not close'], next: null } });
  const { user } = await open();
  await user.click(screen.getByRole('tab', { name: 'Notebook' }));
  await user.click(screen.getByRole('button', { name: 'Work them out' }));
  expect(await screen.findByText('1 of 40 causes left')).toBeDefined();
  expect(screen.getByRole('button', { name: 'Up to date' })).toBeDefined();
  await user.click(screen.getByRole('button', { name: /switch on/ }));
  expect(await screen.findByRole('button', { name: 'Work out again' })).toBeDefined();
  expect(document.querySelector('.cause-list')?.getAttribute('data-old')).toBe('yes');
});

test('a lost line says so and is opened again', async () => {
  await open();
  const first = BenchSocket.last!;
  act(() => first.close());
  expect(await screen.findByText(/connection to the bench is lost/)).toBeDefined();
  await waitFor(() => expect(BenchSocket.last).not.toBe(first));
  await waitFor(() => expect(screen.queryByText(/connection to the bench is lost/)).toBeNull());
});

test('practice that has ended shows its marks, each step and what would have told more', async () => {
  const report = gradeSearch(search, {
    faults: set!.faults,
    log: [
      { t: 1, kind: 'act', stimulus: { close: search.bench.devices[0]!.tag } },
      { t: 9, kind: 'verdict', fault: set!.faults[0]! },
    ],
    minutes: set!.minutes,
  });
  answer('GET /searches/s1', { body: { ...view, attemptId: null, state: 'marked', report } });
  show(<SearchPage />, { path: '/search/:id', at: '/search/s1' });
  const told = await screen.findByRole('region', { name: 'The search' });
  expect(told.textContent).toContain(report.search!.faults[0]!);
  expect(within(told).getAllByRole('row')).toHaveLength(report.search!.notes.length + 1);
  expect(screen.getByText(report.passed ? 'Found, restored and proved' : 'Not done')).toBeDefined();
});

test('the fault desk works out every fault, finds by device, and makes an exercise of a set', async () => {
  jest.spyOn(Math, 'random').mockReturnValue(0.25);
  answer('GET /exercises', {
    body: [{ id: pump.id, title: pump.title, task: 'wire', assigned: [], set: [] }],
  });
  answer(`GET /exercises/${pump.id}`, { body: { exercise: pump } });
  answer('POST /searches/exercises', { status: 201, body: { id: 'mine' } });
  const { user } = show(<FaultDeskPage person={instructor} />, {
    path: '/faults',
    at: `/faults?board=${pump.id}`,
  });
  const list = await screen.findByRole('list', { name: 'Faults' });
  const all = within(list).getAllByRole('button').length;
  expect(all).toBeGreaterThan(30);
  await pick(user, 'Device', 'KM1');
  await waitFor(() => expect(within(list).getAllByRole('button').length).toBeLessThan(all));
  for (const one of within(list).getAllByRole('button')) expect(one.textContent).toContain('KM1');
  const seal = within(list).getAllByRole('button', { name: /KM1:13-14/ })[0]!;
  await user.click(seal);
  const detail = screen.getByRole('region', { name: 'What the chosen fault does' });
  expect(within(detail).getByText('The operator sees')).toBeDefined();
  // What it changes, worked out by the board itself.
  await waitFor(() =>
    expect(within(detail).getAllByRole('button', { name: /Play/ }).length).toBeGreaterThan(0),
  );
  await user.click(within(detail).getByRole('button', { name: 'Add to my set' }));
  await user.click(screen.getByRole('tab', { name: 'My set (1)' }));
  const complaint = screen.getByLabelText('Complaint of work order 1');
  await user.clear(complaint);
  await user.type(complaint, 'It stops when I let go.');
  await user.click(screen.getByRole('button', { name: 'Save as a fault-finding exercise' }));
  await waitFor(() =>
    expect(sent('POST', '/searches/exercises')).toMatchObject([
      { body: { of: pump.id, sets: [{ complaint: 'It stops when I let go.', minutes: 20 }] } },
    ]),
  );
  jest.restoreAllMocks();
});
