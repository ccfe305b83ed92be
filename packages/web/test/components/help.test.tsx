import { expect, test } from '@jest/globals';
import { act, screen, waitFor } from '@testing-library/react';
import { createStore } from 'zustand/vanilla';
import type { AttemptView, HintsView, Person } from '@contactum/contract';
import { createLinkStore } from '../../src/board/link.js';
import { Hints } from '../../src/bench/Hints.js';
import { FirstSteps } from '../../src/bench/FirstSteps.js';
import { createLiveStore, onlySeen } from '../../src/bench/live.js';
import type { BenchStore } from '../../src/bench/store.js';
import type { Kit } from '../../src/bench/use-workplace.js';
import { KeyHelp } from '../../src/help/KeyHelp.js';
import { FourSteps } from '../../src/setter/FourSteps.js';
import { answer, sent, show } from './stage.js';

const ada: Person = { id: 'p1', login: 'ada', name: 'Ada', role: 'student' };
const saved = createStore(() => ({ unsaved: 0 })) as unknown as BenchStore;
const viewOf = (hints: AttemptView['exercise']['hints']) =>
  ({ attempt: { id: 'a1' }, exercise: { hints } }) as unknown as AttemptView;

test('a hint says its price before it is taken, and points at its place afterwards', async () => {
  const costs = { symptom: 1, net: 2, lead: 4 };
  const at = '2026-11-30T10:00:00Z';
  const symptom = { degree: 'symptom', text: '“Runs” is not right.', places: [], cost: 1, at } as const;
  const net = {
    degree: 'net',
    text: 'Look at everything that KM1 A2 is joined to.',
    places: ['KM1:A2'],
    cost: 2,
    at,
  } as const;
  const begun: HintsView = { costs, taken: [symptom], next: 'net' };
  answer('GET /attempts/a1/hints', { body: begun });
  answer('POST /attempts/a1/hints', { status: 201, body: { costs, taken: [symptom, net], next: 'lead' } });
  const link = createLinkStore();
  const { user } = show(<Hints view={viewOf(costs)} store={saved} link={link} />);
  await user.click(screen.getByRole('button', { name: /Hint/ }));
  await user.click(await screen.findByRole('button', { name: 'Where to look (costs 2 points)' }));
  expect(await screen.findByText(/Look at everything that KM1 A2/)).toBeTruthy();
  expect(sent('POST', '/attempts/a1/hints').map(({ body }) => body)).toEqual([{ degree: 'net' }]);
  await waitFor(() => expect(link.getState().why).toEqual({ tag: 'KM1', refs: ['KM1:A2'] }));
  expect(screen.getByRole('button', { name: 'What to change (costs 4 points)' })).toBeTruthy();
});

test('an exercise without hints has no button for them', () => {
  show(<Hints view={viewOf(null)} store={saved} link={createLinkStore()} />);
  expect(screen.queryByRole('button')).toBeNull();
});

test('first steps go away one by one as they are done, and do not come back', async () => {
  const live = onlySeen(createLiveStore());
  const store = createStore(() => ({ bench: { wires: [] as unknown[] } }));
  const kit = { live, store } as unknown as Kit;
  const { unmount } = show(<FirstSteps kit={kit} person={ada} />);
  expect(screen.getByText(/1 of 3: Lay a lead/)).toBeTruthy();
  act(() => store.setState({ bench: { wires: [{}] } }));
  expect(await screen.findByText(/2 of 3: Switch on/)).toBeTruthy();
  act(() => live.store.setState({ supplyOn: true }));
  expect(await screen.findByText(/3 of 3: Press a button/)).toBeTruthy();
  act(() => live.store.setState({ events: [{ t: 1, what: 'S1', state: 'pressed' }] }));
  await waitFor(() => expect(screen.queryByLabelText('First steps')).toBeNull());
  unmount();
  show(<FirstSteps kit={kit} person={ada} />);
  expect(screen.queryByLabelText('First steps')).toBeNull();
});

test('first steps can be skipped', async () => {
  const kit = {
    live: onlySeen(createLiveStore()),
    store: createStore(() => ({ bench: { wires: [] } })),
  } as unknown as Kit;
  const { user } = show(<FirstSteps kit={kit} person={{ ...ada, id: 'p2' }} />);
  await user.click(screen.getByRole('button', { name: 'Skip' }));
  await waitFor(() => expect(screen.queryByLabelText('First steps')).toBeNull());
});

test('an instructor is led from a template to an assigned exercise, and left alone after that', async () => {
  answer('GET /drafts', { body: [{ id: 'd1', title: 'Mine', updatedAt: '2026-11-30T10:00:00Z' }] });
  answer('GET /exercises', { body: [] });
  const first = show(<FourSteps />);
  expect(await screen.findByText('Open the draft')).toBeTruthy();
  expect(screen.getByText('✓ Create')).toBeTruthy();
  first.unmount();
  answer('GET /exercises', { body: [{ id: 'own-1', origin: 'own', set: [] }] });
  const second = show(<FourSteps />);
  expect((await screen.findByText('Open the exercise')).closest('a')?.getAttribute('href')).toBe(
    '/exercises/own-1',
  );
  second.unmount();
  answer('GET /exercises', { body: [{ id: 'own-1', origin: 'own', set: [{}] }] });
  show(<FourSteps />);
  await waitFor(() => expect(sent('GET', '/exercises').length).toBeGreaterThan(2));
  expect(screen.queryByText('Open the exercise')).toBeNull();
});

test('a question mark shows the keys, but not while something is typed', async () => {
  const { user } = show(
    <>
      <KeyHelp />
      <input aria-label="typed" />
    </>,
  );
  await user.type(screen.getByLabelText('typed'), '?');
  expect(screen.queryByText('Keys and pointer', { selector: '.ant-modal-title' })).toBeNull();
  await user.click(document.body);
  await user.keyboard('?');
  expect(await screen.findByText('undo and redo')).toBeTruthy();
});
