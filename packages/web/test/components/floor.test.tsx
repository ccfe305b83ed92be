import { beforeEach, expect, test } from '@jest/globals';
import { act, screen, waitFor, within } from '@testing-library/react';
import { referenceBench, shapeOf, type Bench } from '@contactum/core';
import type { BenchWord, FloorBench, FloorNews, FloorSays } from '@contactum/contract';
import { exercise } from '../../../core/test/help.js';
import { FloorPage } from '../../src/floor/FloorPage.js';
import { FakeSocket, withSockets } from './socket.js';
import { answer, sent, show } from './stage.js';

const pump = exercise('brine-pump-three-wire');
const board = referenceBench(pump);

/** The line to a floor. */
class FloorSocket extends FakeSocket {
  static all: FloorSocket[] = [];
  readonly said: FloorSays[] = [];

  constructor(url: string) {
    super(url);
    FloorSocket.all.push(this);
  }

  send(text: string): void {
    this.said.push(JSON.parse(text) as FloorSays);
  }
}
withSockets(FloorSocket);

const line = () => FloorSocket.all.at(-1)!;
const tell = (news: FloorNews) => line().tell(news);
const said = (kind: FloorSays['kind']) => line().said.filter((one) => one.kind === kind);

const minutesAgo = (n: number) => new Date(Date.now() - n * 60_000).toISOString();
const bench = (attemptId: string, student: string, more: Partial<FloorBench> = {}): FloorBench => ({
  attemptId,
  searchId: null,
  student,
  exercise: pump.title,
  exerciseId: pump.id,
  startedAt: minutesAgo(20),
  status: {
    step: 'wire',
    supplyOn: false,
    incidents: 0,
    lastIncident: '',
    leads: 4,
    edits: 4,
    shown: 0,
    functions: 6,
    running: '',
    asks: false,
  },
  here: true,
  asksAt: null,
  word: null,
  progress: 3,
  of: 12,
  progressAt: minutesAgo(1),
  ...more,
});
const word = (id: string, text: string, more: Partial<BenchWord> = {}): BenchWord => ({
  id,
  by: 'Ebba Skerry',
  text,
  at: minutesAgo(1),
  isStudents: true,
  isToClass: false,
  ...more,
});

const CLASS = { id: 'c1', name: 'Pan Fitters 1A', archived: false, atWork: 2 };
let wired: Bench;

beforeEach(() => {
  FloorSocket.all = [];
  wired = { ...board, wires: pump.reference.slice(0, 4) };
  answer('GET /classes', { body: [{ ...CLASS, id: 'c0', name: 'Pan Fitters 1B', atWork: 0 }, CLASS] });
  answer('GET /attempts/*', () => ({ body: { bench: wired, functions: [] } }));
});

async function open(benches: readonly FloorBench[]) {
  const shown = show(<FloorPage />, { path: '/floor/:classId?', at: '/floor' });
  await waitFor(() => expect(FloorSocket.all).toHaveLength(1));
  await act(async () => Promise.resolve());
  tell({ kind: 'benches', benches });
  return shown;
}
const names = () =>
  screen.getAllByRole('article').map((one) => within(one).getAllByText(/./)[0]!.textContent);

test('the class that is at work is opened; an empty floor says how benches come to it', async () => {
  await open([]);
  expect(line().url).toContain('/api/classes/c1/floor');
  expect(screen.getByText(/No board is open/)).toBeDefined();
});

test('who is in need of a look stands first, and filters say how many there are of each', async () => {
  const { user } = await open([
    bench('a', 'Anders Holm'),
    bench('b', 'Berit Lund', { here: false }),
    bench('c', 'Carl Vik', { progressAt: minutesAgo(9) }),
    bench('d', 'Dagny Moe', { asksAt: minutesAgo(1) }),
    bench('e', 'Eirik Dahl', { word: word('w', 'Where does 14 go?') }),
    bench('f', 'Frida Nes', {
      status: { ...bench('f', '').status!, supplyOn: true, incidents: 1, lastIncident: 'F1 has blown.' },
    }),
  ]);
  expect(names().map((name) => name!.split(' ')[0])).toEqual([
    ...['Frida', 'Dagny', 'Eirik'],
    ...['Carl', 'Anders', 'Berit'],
  ]);
  expect(screen.getByText(/no progress for 9 min/)).toBeDefined();
  for (const label of ['All 6', 'At work 5', 'Ask to energise 1', 'Messages 1', 'Stuck 1', 'Incidents 1'])
    expect(screen.getByText(label)).toBeDefined();
  await user.click(screen.getByText('Stuck 1'));
  expect(names()).toEqual(['Carl Vik']);
});

test('permission is given from the tile of whoever asks', async () => {
  const { user } = await open([bench('a', 'Anders Holm', { asksAt: minutesAgo(1) })]);
  await user.click(screen.getByRole('button', { name: /^Permit, asked/ }));
  expect(said('permit')).toEqual([{ kind: 'permit', attemptId: 'a' }]);
  tell({ kind: 'changed', benches: [{ attemptId: 'a', asksAt: null }] });
  await waitFor(() => expect(screen.queryByRole('button', { name: /^Permit, asked/ })).toBeNull());
});

test('a board over a student’s shoulder: proved, and asked for anew after an edit that keeps the number of leads', async () => {
  const { user } = await open([bench('a', 'Anders Holm')]);
  await user.click(screen.getByRole('button', { name: /Anders Holm/ }));
  expect(said('watch').at(-1)).toEqual({ kind: 'watch', attemptId: 'a' });
  const shoulder = await screen.findByRole('region', { name: 'Bench of Anders Holm' });
  // The proof is the board's own.
  const proof = within(shoulder).getByRole('region', { name: 'Proof' });
  await waitFor(() => expect(proof.textContent).toMatch(/does|short|functions|safe/i));
  await waitFor(() => expect(sent('GET', '/attempts/a/board').length).toBeGreaterThan(0));
  const before = sent('GET', '/attempts/a/board').length;
  // A lead that would short the supply takes the place of another one.
  wired = { ...wired, wires: [...wired.wires.slice(0, 3), { from: 'G1:L1', to: 'G1:L2' }] };
  tell({
    kind: 'changed',
    benches: [{ attemptId: 'a', status: { ...bench('a', '').status!, edits: 6 } }],
  });
  await waitFor(() => expect(sent('GET', '/attempts/a/board').length).toBeGreaterThan(before));
  await waitFor(() => expect(proof.textContent).toContain('Would short as the supply comes on'));
  await user.click(within(proof).getByRole('button', { name: 'Show proof' }));
  await waitFor(() => expect(proof.querySelectorAll('li[data-stands="broken"]').length).toBeGreaterThan(0));
  await user.click(within(shoulder).getByRole('button', { name: 'Close this bench' }));
  expect(said('watch').at(-1)).toEqual({ kind: 'watch', attemptId: null });
});

test('messages go to one bench or to the class, and come back to whoever looks on', async () => {
  const { user } = await open([bench('a', 'Anders Holm', { word: word('w1', '95 or 97?') })]);
  await user.type(screen.getByLabelText('Message the class'), 'Ten minutes left.{Enter}');
  expect(said('word')).toEqual([{ kind: 'word', attemptId: null, text: 'Ten minutes left.' }]);
  await user.click(screen.getByRole('button', { name: /Anders Holm/ }));
  tell({ kind: 'words', attemptId: 'a', words: [word('w1', '95 or 97?')] });
  const log = await screen.findByRole('log');
  expect(log.textContent).toContain('95 or 97?');
  await user.type(screen.getByLabelText('Message this bench'), 'The one that opens.{Enter}');
  expect(said('word').at(-1)).toEqual({ kind: 'word', attemptId: 'a', text: 'The one that opens.' });
  tell({ kind: 'word', attemptId: 'a', word: word('w2', 'The one that opens.', { isStudents: false }) });
  // Told twice, by two processes, it stands once.
  tell({ kind: 'word', attemptId: 'a', word: word('w2', 'The one that opens.', { isStudents: false }) });
  expect(within(log).getAllByText('The one that opens.')).toHaveLength(1);
  await user.click(screen.getByRole('button', { name: 'No answer needed' }));
  expect(said('heard')).toEqual([{ kind: 'heard', attemptId: 'a' }]);
});

test('the lead is asked for, used by a typed line, and given back', async () => {
  const { user } = await open([bench('a', 'Anders Holm')]);
  await user.click(screen.getByRole('button', { name: /Anders Holm/ }));
  await user.click(await screen.findByRole('button', { name: 'Ask for the lead' }));
  expect(screen.getByRole('button', { name: /the student must agree/ })).toBeDefined();
  tell({ kind: 'lead', attemptId: 'a', yes: true });
  const typed = await screen.findByLabelText('Type a lead for this bench');
  await user.type(typed, 'KM1 13 > S2 13{Enter}');
  expect(said('hand')).toEqual([
    { kind: 'hand', attemptId: 'a', hand: { do: 'line', line: 'KM1 13 > S2 13' } },
  ]);
  await user.click(screen.getByRole('button', { name: 'Give the lead back' }));
  expect(said('leave-lead')).toHaveLength(1);
  expect(await screen.findByRole('button', { name: 'Ask for the lead' })).toBeDefined();
});

test('a fault is put into the bench and taken out again', async () => {
  const { user } = await open([bench('a', 'Anders Holm')]);
  await user.click(screen.getByRole('button', { name: /Anders Holm/ }));
  const inject = await screen.findByRole('button', { name: 'Inject' });
  expect(inject).toHaveProperty('disabled', true);
  await user.click(screen.getByRole('combobox', { name: 'A fault for this bench' }));
  const [first] = await waitFor(() => {
    const found = [...document.querySelectorAll('.ant-select-item-option')];
    expect(found.length).toBeGreaterThan(3);
    return found;
  });
  await user.click(first!);
  await user.click(inject);
  await user.click(screen.getByRole('button', { name: 'Clear fault' }));
  expect(said('fault')).toMatchObject([{ clear: false }, { clear: true }]);
});

test('a line that is lost says so, and goes on with the bench that was looked at', async () => {
  const { user } = await open([bench('a', 'Anders Holm')]);
  await user.click(screen.getByRole('button', { name: /Anders Holm/ }));
  act(() => line().close());
  expect(await screen.findByText(/connection lost, trying again/)).toBeDefined();
  await waitFor(() => expect(FloorSocket.all).toHaveLength(2));
  await waitFor(() => expect(said('watch')).toEqual([{ kind: 'watch', attemptId: 'a' }]));
  expect(screen.queryByText(/connection lost/)).toBeNull();
});

test('what runs is seen as it runs', async () => {
  const { user, container } = await open([bench('a', 'Anders Holm')]);
  await user.click(screen.getByRole('button', { name: /Anders Holm/ }));
  await screen.findByRole('region', { name: 'Bench of Anders Holm' });
  await waitFor(() => expect(container.querySelector('.shoulder-board svg')).not.toBeNull());
  const shape = shapeOf(wired);
  tell({
    kind: 'frame',
    attemptId: 'a',
    frame: {
      t: 1,
      states: shape.devices.map(() => ''),
      lamps: [],
      motors: [],
      supplyOn: true,
      running: true,
      events: [],
      incidents: [],
      closed: '',
      locked: false,
      lifted: [],
    } as never,
  });
  tell({
    kind: 'changed',
    benches: [{ attemptId: 'a', status: { ...bench('a', '').status!, supplyOn: true, running: 'KM1 in' } }],
  });
  expect(await screen.findByText('● supply on')).toBeDefined();
  expect(screen.getByText('KM1 in')).toBeDefined();
});
