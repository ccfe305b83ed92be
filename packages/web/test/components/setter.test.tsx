import { beforeEach, expect, test } from '@jest/globals';
import { screen, waitFor, within } from '@testing-library/react';
import type { Exercise } from '@contactum/core';
import type { Draft } from '@contactum/contract';
import { exercise } from '../../../core/test/help.js';
import { SetterHome } from '../../src/setter/SetterHome.js';
import { SetterPage } from '../../src/setter/SetterPage.js';
import { answer, sent, show } from './stage.js';

const pump = exercise('brine-pump-three-wire');
let draft: Draft;

beforeEach(() => {
  draft = {
    id: 'd1',
    exerciseId: null,
    seq: 1,
    document: pump,
    updatedAt: '2026-12-01T09:00:00Z',
    before: null,
  } as unknown as Draft;
  answer('GET /drafts/d1', () => ({ body: draft }));
  answer('PUT /drafts/d1', ({ body }) => ({ body: { seq: (body as { seq: number }).seq + 1 } }));
  answer('POST /drafts/d1/cost', { body: { seconds: 0.2, most: 30 } });
  answer('GET /drafts', { body: [{ id: 'd1', title: 'Harrow, second try', updatedAt: draft.updatedAt }] });
});

const open = () => show(<SetterPage />, { path: '/setter/:id', at: '/setter/d1' });
const kept = () => sent('PUT', '/drafts/d1').map(({ body }) => (body as { document: Exercise }).document);

test('a template is made as it is chosen, and a draft begun with it', async () => {
  answer('POST /drafts', { status: 201, body: { id: 'd2' } });
  const { user } = show(<SetterHome />);
  expect(await screen.findByText('Harrow, second try')).toBeDefined();
  const create = await screen.findByRole('button', { name: 'Create exercise' });
  await waitFor(() => expect(create).toHaveProperty('disabled', false));
  const told = screen.getByText(/Its reference proves clean and earns every point/);
  const [devices, leads] = told.textContent!.match(/\d+/g)!.map(Number);
  await user.click(create);
  await waitFor(() => expect(sent('POST', '/drafts')).toHaveLength(1));
  const { document } = sent('POST', '/drafts')[0]!.body as { document: Exercise };
  expect([document.bench.devices.length, document.reference.length]).toEqual([devices, leads]);
});

test('an exercise can be begun with an empty board', async () => {
  answer('POST /drafts', { status: 201, body: { id: 'd2' } });
  const { user } = show(<SetterHome />);
  await user.click(await screen.findByRole('button', { name: 'Start with an empty board' }));
  await waitFor(() => expect(sent('POST', '/drafts')).toHaveLength(1));
  const { document } = sent('POST', '/drafts')[0]!.body as { document: Exercise };
  expect(document.bench.devices).toEqual([]);
});

test('a draft that is whole opens at its check: the reference stands up, and it is published with a line about it', async () => {
  answer('POST /drafts/d1/publish', { body: { ok: true, version: 1, exerciseId: 'mine' } });
  const { user } = open();
  expect(await screen.findByText(/The reference stands up to everything/)).toBeDefined();
  expect(await screen.findByText(/Marking one attempt takes less than a second/)).toBeDefined();
  await user.click(screen.getByRole('button', { name: 'Publish' }));
  const dialog = await screen.findByRole('dialog');
  expect(dialog.textContent).toContain('It becomes an exercise of the college');
  await user.type(within(dialog).getByLabelText('What is new'), 'second station');
  await user.click(within(dialog).getByRole('button', { name: 'Publish' }));
  await waitFor(() =>
    expect(sent('POST', '/drafts/d1/publish')).toMatchObject([{ body: { note: 'second station' } }]),
  );
});

test('a reference that does not do what is asked is refused, with the lead that is missing named by what it does', async () => {
  draft = { ...draft, document: { ...pump, reference: pump.reference.slice(0, -3) } };
  open();
  expect(await screen.findByText(/It cannot be set as it is/)).toBeDefined();
  expect(screen.getByRole('button', { name: 'Publish' })).toHaveProperty('disabled', true);
  expect(document.querySelectorAll('.objections li[data-refuses="yes"]').length).toBeGreaterThan(0);
});

test('behaviours as tables: a wrong value shows what the reference does instead, and is taken back', async () => {
  const { user } = open();
  await user.click(await screen.findByRole('tab', { name: /^3 Behaviours/ }));
  const [first] = pump.behaviours;
  const table = await screen.findByRole('region', { name: first!.title });
  expect(table.querySelector('[data-wrong]')).toBeNull();
  const cell = within(table)
    .getAllByRole('combobox')
    .find((one) => (one as HTMLInputElement).value === 'in')!;
  await user.clear(cell);
  await user.type(cell, 'out');
  await user.tab();
  await waitFor(() => expect(table.querySelector('[data-wrong="yes"]')?.textContent).toContain('is in'));
  expect(screen.getAllByLabelText('not so on the reference')).toHaveLength(1);
  await waitFor(() => expect(kept().length).toBeGreaterThan(0));
  expect(JSON.stringify(kept().at(-1)!.behaviours[0]!.steps)).toContain('"out"');
  await user.click(screen.getByRole('button', { name: /^Undo/ }));
  await waitFor(() => expect(table.querySelector('[data-wrong]')).toBeNull());
  await waitFor(() => expect(kept().at(-1)).toEqual(pump));
});

test('a step is added from what can be done to this board', async () => {
  const { user } = open();
  await user.click(await screen.findByRole('tab', { name: /^3 Behaviours/ }));
  const [first] = pump.behaviours;
  const table = await screen.findByRole('region', { name: first!.title });
  const rows = within(table).getAllByRole('row').length;
  await user.type(within(table).getByRole('combobox', { name: 'Add a step' }), 'wait 2');
  await user.click(await screen.findByTitle('wait 2 s'));
  await waitFor(() => expect(within(table).getAllByRole('row')).toHaveLength(rows + 1));
  await user.click(within(table).getByRole('button', { name: `Remove step ${rows}` }));
  await waitFor(() => expect(within(table).getAllByRole('row')).toHaveLength(rows));
});

test('behaviours are proposed from the reference, after a question where there are some already', async () => {
  const { user } = open();
  await user.click(await screen.findByRole('tab', { name: /^3 Behaviours/ }));
  await user.click(await screen.findByRole('button', { name: 'Propose from the reference' }));
  await user.click(await screen.findByRole('button', { name: 'Propose' }));
  expect(await screen.findByText(/behaviours proposed from the reference/)).toBeDefined();
  await waitFor(() => expect(kept().length).toBeGreaterThan(0));
  const proposed = kept().at(-1)!;
  expect(proposed.behaviours.length).toBeGreaterThan(1);
  // What is proposed holds on the reference that it was taken from.
  expect(screen.queryAllByLabelText('not so on the reference')).toEqual([]);
});

test('a title that the server refuses is named where it stands', async () => {
  answer('PUT /drafts/d1', {
    status: 400,
    body: {
      error: {
        type: 'invalid',
        message: 'No.',
        problems: [{ path: 'document.title', message: 'is taken already' }],
      },
    },
  });
  const { user } = open();
  await user.type(await screen.findByLabelText('Title'), ' 2');
  expect(await screen.findByText('✕ Not saved')).toBeDefined();
  expect(screen.getByText('title: is taken already')).toBeDefined();
});

test('a draft that was changed in another window says so, and is not written over', async () => {
  answer('PUT /drafts/d1', { status: 409, body: { error: { type: 'conflict', message: 'Changed.' } } });
  const { user } = open();
  await user.type(await screen.findByLabelText('Title'), ' 2');
  expect(await screen.findByText(/Changed in another window/)).toBeDefined();
  expect(screen.getByRole('button', { name: 'Reload' })).toBeDefined();
});

test('a dry run marks wirings; each opens on the board with what it loses; a change makes the run old', async () => {
  const { user } = open();
  expect(await screen.findByText(/The reference stands up to everything/)).toBeDefined();
  await user.click(screen.getByRole('button', { name: 'Mark sixty wirings, right and wrong' }));
  const told = await screen.findByText(/(\d+) wirings marked: every mark says what it should/);
  await screen.findByRole('button', { name: 'Run it again, with others' });
  const count = Number(/^\d+/.exec(told.textContent ?? '')?.[0]);
  const trials = () => [...document.querySelectorAll<HTMLElement>('.trials button')];
  expect(trials()).toHaveLength(count);
  // Each is there once, and says whether it passes.
  expect(new Set(trials().map(({ textContent }) => textContent)).size).toBe(count);
  for (const one of trials()) expect(one.textContent).toMatch(/passes$|fails$/);
  await user.click(screen.getByRole('radio', { name: 'right' }));
  expect(trials().map(({ textContent }) => /right, and full marks/.test(textContent ?? ''))).toEqual(
    trials().map(() => true),
  );
  await user.click(screen.getByRole('radio', { name: 'wrong' }));
  const seal = trials().find(({ textContent }) => textContent?.startsWith('✓No seal-in'))!;
  await user.click(seal);
  const view = screen.getByRole('region', { name: 'A wiring of the dry run' });
  expect(view.textContent).toMatch(/[\d.]+ of 100, does not pass: wrong, and does not pass/);
  expect(view.querySelectorAll('.trial-losses li').length).toBeGreaterThan(0);
  await user.clear(screen.getByLabelText('Title'));
  await user.type(screen.getByLabelText('Title'), 'Pump of ours');
  expect(await screen.findByText('The exercise has changed since this run.')).toBeDefined();
});
