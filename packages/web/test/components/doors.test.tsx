import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { act, screen, waitFor, within } from '@testing-library/react';
import {
  readingsFor,
  referenceBench,
  wiredTogether,
  compile,
  closedIn,
  Simulation,
  Solver,
  deadState,
} from '@contactum/core';
import type { AttemptView, BoardNow, ScannerBox } from '@contactum/contract';
import { exercise } from '../../../core/test/help.js';
import { PhysicalBoard } from '../../src/bench/physical-board.js';
import { createBenchStore } from '../../src/bench/store.js';
import { PhysicalPane } from '../../src/bench/views/PhysicalPane.js';
import type { ViewProps } from '../../src/bench/views/view-props.js';
import { Members } from '../../src/classes/Members.js';
import { Doors } from '../../src/doors/Doors.js';
import { PickPage } from '../../src/doors/PickPage.js';
import { TrainerBoardsPage } from '../../src/sheets/TrainerBoardsPage.js';
import { SignIn } from '../../src/shell/SignIn.js';
import { INSTRUCTOR as instructor, answer, sent, show } from './stage.js';

const box: ScannerBox = {
  id: 'b1',
  name: 'Bench 7',
  serial: 'BOX 7',
  online: true,
  lastSeen: '2026-11-30T09:00:00Z',
  terminals: 43,
  usedBy: { attemptId: 'a1', student: 'Ebba Skerry' },
  faults: [],
  permit: { isGiven: true, isClosed: true },
};

test('trainer boards: who works at one, its relay, and a token that is shown once', async () => {
  answer('GET /scanners', {
    body: [box, { ...box, id: 'b2', name: 'Bench 8', online: false, usedBy: null }],
  });
  answer('POST /scanners', { status: 201, body: { ...box, id: 'b3', name: 'Bench 9', token: 'the-token' } });
  answer('POST /scanners/b1/open', { status: 204 });
  answer('POST /scanners/b1/leave', { status: 204 });
  const { user } = show(<TrainerBoardsPage />);
  const row = (await screen.findByText('Bench 7')).closest('tr') as HTMLElement;
  expect(row.textContent).toContain('● being read');
  expect(row.textContent).toContain('43 terminals');
  expect(row.textContent).toContain('● closed');
  await user.click(within(row).getByRole('button', { name: 'Open the relay' }));
  await waitFor(() => expect(sent('POST', '/scanners/b1/open')).toHaveLength(1));
  await user.click(within(row).getByRole('button', { name: 'Disconnect' }));
  await waitFor(() => expect(sent('POST', '/scanners/b1/leave')).toHaveLength(1));
  const other = screen.getByText('Bench 8').closest('tr') as HTMLElement;
  expect(other.textContent).toContain('○ not connected');
  await user.type(screen.getByLabelText('Name of the board'), 'Bench 9');
  await user.click(screen.getByRole('button', { name: 'Add' }));
  expect(await screen.findByText('the-token')).toBeDefined();
  expect(sent('POST', '/scanners')).toMatchObject([{ body: { name: 'Bench 9' } }]);
});

test('the sign-in page offers the college’s sign-on; with passwords off an administrator’s door is left', async () => {
  answer('GET /session/door', { body: { stayDays: 0, passwords: false, signOn: 'Saltmarsh sign-on' } });
  const { user } = show(<SignIn />);
  const link = await screen.findByRole('link', { name: 'Sign in with Saltmarsh sign-on' });
  expect(link.getAttribute('href')).toContain('/api/sign-on?to=');
  await waitFor(() => expect(screen.queryByLabelText('Password')).toBeNull());
  expect(screen.queryByRole('button', { name: 'I have a class code' })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Administrator sign-in' }));
  expect(screen.getByLabelText('Password')).toBeDefined();
});

test('platforms: addresses to enter there, marks that were not taken, and what a new one is asked for', async () => {
  answer('GET /doors', {
    body: {
      loginUrl: 'https://board.example/api/lti/login',
      launchUrl: 'https://board.example/api/lti/launch',
      keysUrl: 'https://board.example/api/lti/keys',
      platforms: [],
      untold: [{ title: 'Brine pump', student: 'Iver Holm', problem: '503 from platform.example', tries: 4 }],
    },
  });
  const { user } = show(<Doors />);
  expect(await screen.findByText('https://board.example/api/lti/launch')).toBeDefined();
  expect(screen.getByText('503 from platform.example').closest('tr')?.textContent).toContain('Iver Holm');
  await user.click(screen.getByRole('button', { name: 'Add platform' }));
  const dialog = await screen.findByRole('dialog');
  await user.click(within(dialog).getByRole('button', { name: 'Save' }));
  expect(await within(dialog).findByText('Issuer is missing.')).toBeDefined();
  expect(sent('POST', '/doors/platforms')).toEqual([]);
});

test('what a course links to: what is assigned stands first, the rest is assigned when it is chosen', async () => {
  answer('GET /lti/links/l1', {
    body: {
      platform: 'College platform',
      className: 'Brine pumps',
      classId: 'c1',
      set: [{ id: 's1', title: 'Brine pump, momentary', exerciseId: 'one', task: 'wire' }],
      assessments: [{ id: 'x1', title: 'Practical test 1' }],
    },
  });
  const summary = { family: '', brief: '', devices: 1, task: 'wire', assigned: [], set: [] };
  answer('GET /exercises', {
    body: [
      { ...summary, id: 'one', title: 'Brine pump, momentary' },
      { ...summary, id: 'two', title: 'Sluice gate, reversing' },
    ],
  });
  answer('POST /lti/links/l1', { status: 403, body: { error: { type: 'forbidden', message: 'Not now.' } } });
  const { user } = show(<PickPage />, { path: '/pick/:id', at: '/pick/l1' });
  expect(await screen.findByRole('radio', { name: /Sluice gate, reversing/ })).toBeDefined();
  expect(screen.getAllByRole('radio')).toHaveLength(3);
  const button = screen.getByRole('button', { name: 'Choose what to add' });
  expect(button).toHaveProperty('disabled', true);
  await user.click(screen.getByRole('radio', { name: /Sluice gate, reversing/ }));
  await user.click(screen.getByRole('button', { name: 'Add “Sluice gate, reversing”' }));
  expect(await screen.findByText('Not now.')).toBeDefined();
  expect(sent('POST', '/lti/links/l1')).toMatchObject([{ body: { exerciseId: 'two' } }]);
  // An assessment is linked as a whole.
  await user.click(screen.getByRole('radio', { name: /Practical test 1 assessment/ }));
  await user.click(screen.getByRole('button', { name: 'Add “Practical test 1”' }));
  await waitFor(() =>
    expect(sent('POST', '/lti/links/l1').at(-1)).toMatchObject({ body: { assessmentId: 'x1' } }),
  );
});

test('the roster of a course is looked at before anybody is enrolled', async () => {
  answer('GET /classes/c1/roster', {
    body: [
      { name: 'Iver Holm', does: 'member' },
      { name: 'Mads Terkel', does: 'new' },
    ],
  });
  answer('POST /classes/c1/roster', { status: 201, body: [] });
  const roster = {
    id: 'c1',
    name: 'Brine pumps',
    term: '',
    archivedAt: null,
    joinCode: null,
    platform: 'College platform',
    instructors: [instructor],
    members: [],
    groups: [],
    asked: [],
  };
  const { user } = show(<Members roster={roster} />);
  await user.click(screen.getByRole('button', { name: 'Roster of the course' }));
  const dialog = await screen.findByRole('dialog');
  expect(await within(dialog).findByText('gets an account and is enrolled')).toBeDefined();
  expect(sent('POST', '/classes/c1/roster')).toEqual([]);
  await user.click(within(dialog).getByRole('button', { name: 'Enrol 1' }));
  await waitFor(() => expect(sent('POST', '/classes/c1/roster')).toHaveLength(1));
});

// ── a physical board ──────────────────────────────────────────────────────────────────────────────

const pump = exercise('brine-pump-three-wire');
const bare = { ...referenceBench(pump), wires: [] };

/** What a scanner without noise reads of the pump's board with some leads and devices worked. */
function joinedOn(wires: typeof pump.reference, steps: Parameters<Simulation['work']>[0][] = []) {
  const circuit = compile({ ...bare, wires });
  const simulation = new Simulation(new Solver(circuit), deadState(circuit));
  for (const step of steps) simulation.work(step);
  const sets = wiredTogether(circuit, closedIn(simulation.state));
  const nets = new Map<number, string[]>();
  circuit.terminals.forEach((ref, k) => nets.set(sets.find(k), [...(nets.get(sets.find(k)) ?? []), ref]));
  return [...nets.values()].filter((net) => net.length > 1) as BoardNow['joined'];
}

let number = 0;
const now = (joined: BoardNow['joined'], more: Partial<BoardNow> = {}): BoardNow => ({
  online: true,
  number: (number += 1),
  terminals: [],
  joined,
  doubtful: [],
  poor: [],
  faults: [],
  readings: [],
  permit: { isGiven: false, isClosed: false },
  ...more,
});

/** The live line of a board: what a test says is heard. */
class Line {
  static last: Line | null = null;
  static readonly OPEN = 1;
  readonly readyState = 1;
  onopen: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  onclose: (() => void) | null = null;
  constructor() {
    Line.last = this;
    setTimeout(() => this.onopen?.());
  }
  send(): void {}
  close(): void {}
}

const RealSocket = globalThis.WebSocket;
beforeEach(() => {
  globalThis.WebSocket = Line as unknown as typeof WebSocket;
});
afterEach(() => {
  globalThis.WebSocket = RealSocket;
});

const view = {
  attempt: { id: 'a1', number: 1, state: 'open', startedAt: '', handedInAt: null, result: null },
  exercise: { ...pump, behaviours: [], practice: null },
  log: [],
} as unknown as AttemptView;

test('a board that is read: leads come and go, a button that is pressed is none, doubts are named', async () => {
  let supply = false;
  const store = createBenchStore(view, () => supply, { unsent: true });
  const board = new PhysicalBoard(store, () => supply);
  answer('GET /scanners', { body: [{ ...box, usedBy: null }] });
  answer('POST /scanners/b1/connect', () => ({ body: now(joinedOn([])) }));
  const { user } = show(<PhysicalPane {...({ physical: board, view } as unknown as ViewProps)} />);
  await user.click(await screen.findByRole('button', { name: 'Connect' }));
  await screen.findByText('Bench 7');
  const hear = (given: BoardNow) => act(() => Line.last?.onmessage?.({ data: JSON.stringify(given) }));
  const leads = () => store.getState().bench.wires.length;
  hear(now(joinedOn(pump.reference.slice(0, 3))));
  expect(leads()).toBe(3);
  // By hand nothing is laid beside it.
  act(() => store.actions.connect('S1:22', 'S2:13'));
  expect(leads()).toBe(3);
  expect(store.getState().message?.text).toContain('are those of Bench 7');
  hear(now(joinedOn(pump.reference.slice(0, 3), [{ press: 'S2' }])));
  expect(leads()).toBe(3);
  expect(screen.getByText(/Operated by hand/).textContent).toContain('press S2');
  await user.click(screen.getByRole('button', { name: 'It is a lead' }));
  expect(leads()).toBe(4);
  // With the supply of the bench on, the wiring waits.
  supply = true;
  hear(now(joinedOn(pump.reference.slice(0, 2))));
  expect(leads()).toBe(4);
  expect(screen.getByText(/supply of the bench is on/)).toBeDefined();
  supply = false;
  act(() => board.look());
  hear(now(joinedOn(pump.reference.slice(0, 2)), { poor: [['KM1:1', 'F1:1']], faults: [] }));
  expect(leads()).toBe(2);
  expect(screen.getByText(/is the screw tight/)).toBeDefined();
  hear(now(joinedOn([]), { faults: ['the box is too warm'] }));
  expect(leads()).toBe(2);
  expect(screen.getByText('the box is too warm')).toBeDefined();
});

test('read with devices worked: a lead past the Stop button is found', async () => {
  const store = createBenchStore(view, () => false, { unsent: true });
  const board = new PhysicalBoard(store, () => false);
  const real = [...pump.reference, { from: 'S1:21', to: 'S1:22' } as (typeof pump.reference)[number]];
  const taken: BoardNow['readings'][number][] = [];
  answer('GET /scanners', { body: [{ ...box, usedBy: null }] });
  answer('POST /scanners/b1/connect', () => ({ body: now(joinedOn(real)) }));
  answer('POST /scanners/b1/worked', ({ body }) => {
    const { steps } = body as { steps: BoardNow['readings'][number]['steps'] };
    taken.push({ steps, joined: joinedOn(real, [...steps]) });
    return { status: 201, body: now(joinedOn(real, [...steps]), { readings: taken }) };
  });
  const { user } = show(<PhysicalPane {...({ physical: board, view } as unknown as ViewProps)} />);
  await user.click(await screen.findByRole('button', { name: 'Connect' }));
  await screen.findByText('Bench 7');
  const across = () =>
    store.getState().bench.wires.some(({ from, to }) => [from, to].sort().join(' ') === 'S1:21 S1:22');
  expect(across()).toBe(false);
  await user.click(screen.getByRole('button', { name: 'Read with devices operated' }));
  for (const steps of readingsFor(bare)) {
    await screen.findByText(steps.length === 0 ? /lies at rest/ : /Do this and keep it so/);
    await user.click(screen.getByRole('button', { name: 'Take reading' }));
  }
  expect(await screen.findByText('Every lead is told from the contacts beside it.')).toBeDefined();
  expect(across()).toBe(true);
});
