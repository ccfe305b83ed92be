import { beforeEach, expect, test } from '@jest/globals';
import { screen, waitFor, within } from '@testing-library/react';
import { grade, referenceBench, type Bench } from '@contactum/core';
import type { AttemptSummary, Person, RepairView, Slip } from '@contactum/contract';
import { exercise } from '../../../core/test/help.js';
import { SlipPage } from '../../src/slip/SlipPage.js';
import { INSTRUCTOR as instructor, STUDENT as student, answer, sent, show } from './stage.js';

const pump = exercise('brine-pump-three-wire');
/** The board without its seal-in: the motor runs as long as the button is held. */
const seal = (ref: string) => ref === 'KM1:13' || ref === 'KM1:14';
const jogging: Bench = {
  ...referenceBench(pump),
  wires: pump.reference.filter(({ from, to }) => !seal(from) && !seal(to)),
};

function slipOf(bench: Bench, more: Partial<Slip> = {}): Slip {
  const report = grade(pump, bench);
  const { score, recorded, max, passed, reason } = report;
  const result = { score, recorded, max, passed, reason, changed: false };
  return {
    attempt: {
      id: 'a1',
      number: 2,
      state: 'marked',
      startedAt: '2026-11-30T09:00:00Z',
      handedInAt: '2026-11-30T09:40:00Z',
      result,
    } as unknown as AttemptSummary,
    student: { id: 's', name: 'Ebba Skerry' },
    className: 'Pan Fitters 1A',
    classId: 'c1',
    exercise: { id: pump.id, title: pump.title, task: 'wire' },
    bench,
    failure: null,
    report,
    result,
    changes: [],
    remarks: [],
    markedAt: '2026-11-30T09:41:00Z',
    former: null,
    hints: [],
    permittedAt: null,
    mayRepair: true,
    reference: null,
    ...more,
  };
}

let slip: Slip;
const open = (person: Person) => show(<SlipPage person={person} />, { path: '/slip/:id', at: '/slip/a1' });

beforeEach(() => {
  slip = slipOf(jogging);
  answer('GET /attempts/a1/slip', () => ({ body: slip }));
});

test('a right board: passed, all criteria kept, nothing to play and nothing to change', async () => {
  slip = slipOf(referenceBench(pump));
  open(student);
  expect(await screen.findByText('Passed')).toBeDefined();
  const behaviour = screen.getByRole('region', { name: 'Behaviour' });
  expect(within(behaviour).queryByLabelText('lost')).toBeNull();
  expect(within(behaviour).getAllByLabelText('kept').length).toBeGreaterThan(1);
  expect(screen.queryByRole('button', { name: 'Replay' })).toBeNull();
  expect(screen.queryByRole('button', { name: /Change points/ })).toBeNull();
  expect(screen.getByText(/Does the same as the reference in all/)).toBeDefined();
});

test('a lost point says what was done and seen, and is played on the board that was handed in', async () => {
  const { user } = open(student);
  expect(await screen.findByText('Not passed')).toBeDefined();
  const row = screen.getAllByLabelText('lost')[0]!.closest('li')!;
  const lost = slip.report!.criteria.find(({ evidence }) => evidence?.steps)!;
  expect(row.textContent).toContain(lost.title);
  expect(row.textContent).toContain(lost.evidence!.found);
  // Why it is so, in the board's own words.
  expect(within(row).getByRole('list', { name: 'Why' }).textContent).not.toBe('');
  const board = await screen.findByRole('region', { name: 'The board as it was handed in' });
  expect(board.textContent).toContain('switch the supply on and work it yourself');
  await user.click(within(row).getByRole('button', { name: 'Replay' }));
  expect(row.dataset.shown).toBe('yes');
  const stage = await screen.findByRole('region', { name: 'The board as it was handed in' });
  expect(within(stage).getByRole('heading', { name: lost.title })).toBeDefined();
  expect(within(stage).getByRole('button', { name: 'Next step' })).toBeDefined();
  await user.click(within(stage).getByRole('button', { name: 'Close' }));
  expect(await screen.findByText(/Press Replay beside a lost point/)).toBeDefined();
});

test('the shortest sequence after which it differs from the reference is played', async () => {
  const { user } = open(student);
  const alert = (await screen.findByText('Does not do the same as the reference.')).closest('[role=alert]');
  await user.click(within(alert as HTMLElement).getByRole('button', { name: 'Replay' }));
  expect(await screen.findByRole('heading', { name: 'Where it differs from the reference' })).toBeDefined();
});

test('single faults: what each would take from the safety, and how many it survives', async () => {
  open(student);
  const table = await screen.findByRole('region', { name: 'Single faults' });
  const { faults, survived } = slip.report!.tolerance!;
  expect(table.textContent).toContain(`${survived} of ${faults.length} credible single faults`);
  for (const { title, lost } of faults.filter((one) => one.lost.length > 0)) {
    const item = within(table).getByText(title).closest('li')!;
    expect(within(item).getAllByRole('button')).toHaveLength(lost.length);
  }
});

test('an instructor changes points, with a reason that the student reads', async () => {
  answer('POST /attempts/a1/points', () => ({ status: 201, body: slip }));
  const { user } = open(instructor);
  const { title, max } = slip.report!.criteria.find(({ evidence }) => evidence)!;
  await user.click(await screen.findByRole('button', { name: `Change points of ${title}` }));
  const dialog = await screen.findByRole('dialog');
  expect(within(dialog).getByText(`Change points: ${title}`)).toBeDefined();
  await user.click(within(dialog).getByRole('button', { name: 'Change' }));
  expect(await within(dialog).findByText('Give a reason.')).toBeDefined();
  expect(sent('POST', '/attempts/a1/points')).toEqual([]);
  const points = within(dialog).getByLabelText(`Points, at most ${max}`);
  await user.clear(points);
  await user.type(points, '1');
  await user.type(within(dialog).getByLabelText(/^Reason/), 'explained it at the bench');
  await user.click(within(dialog).getByRole('button', { name: 'Change' }));
  await waitFor(() =>
    expect(sent('POST', '/attempts/a1/points')).toMatchObject([
      { body: { points: 1, reason: 'explained it at the bench' } },
    ]),
  );
});

test('changed points show who changed them and why, and what the marker gave', async () => {
  const { part, id, points } = slip.report!.criteria.find(({ evidence }) => evidence)!;
  const changes = [
    { part, criterion: id, from: points, to: 2, by: 'Ines Brack', reason: 'a loose ferrule', at: '' },
  ] as unknown as Slip['changes'];
  slip = { ...slip, changes, result: { ...slip.result!, changed: true } };
  open(student);
  expect(await screen.findByText(/by Ines Brack: a loose ferrule/)).toBeDefined();
  expect(screen.getByText(new RegExp(`marker gave ${slip.report!.score}`))).toBeDefined();
});

test('remarks are read by the student and written by the instructor', async () => {
  answer('POST /attempts/a1/remarks', () => ({ status: 201, body: slip }));
  slip = {
    ...slip,
    remarks: [{ id: 'r1', text: 'Look at the seal-in.', by: 'Ines Brack', at: '' }] as never,
  };
  const { user } = open(instructor);
  const remarks = await screen.findByRole('region', { name: 'Remarks' });
  expect(remarks.textContent).toContain('Look at the seal-in.');
  const add = within(remarks).getByRole('button', { name: 'Add remark' });
  expect(add).toHaveProperty('disabled', true);
  await user.type(within(remarks).getByLabelText('New remark'), '  Better.  ');
  await user.click(add);
  await waitFor(() =>
    expect(sent('POST', '/attempts/a1/remarks')).toMatchObject([{ body: { text: 'Better.' } }]),
  );
});

test('repair: how far the search is, every shortest way, and one of them on the board', async () => {
  const views: Partial<RepairView>[] = [
    { state: 'waiting', before: 2 },
    { state: 'running', before: 0, edits: 2, tried: 1234 },
    {
      state: 'done',
      result: {
        found: true,
        searched: 2,
        stopped: false,
        more: false,
        repairs: [[{ add: { from: 'S2:14', to: 'KM1:14' } }], [{ add: { from: 'KM1:A1', to: 'KM1:14' } }]],
      } as never,
    },
  ];
  let n = 0;
  const next = () => ({ body: { before: 0, edits: 0, tried: 0, result: null, ...views[Math.min(n++, 2)] } });
  answer('POST /attempts/a1/repair', next);
  answer('GET /attempts/a1/repair', next);
  const { user } = open(instructor);
  await user.click(await screen.findByRole('button', { name: /Find the fewest edits/ }));
  expect(await screen.findByText(/Waiting for 2 other searches/)).toBeDefined();
  expect(await screen.findByText(/2 edits away; 1,234 looked at so far/)).toBeDefined();
  expect(await screen.findByText(/All 2 ways/)).toBeDefined();
  const [way] = screen.getAllByRole('button', { name: /KM1 14/ });
  await user.click(way!);
  expect(way!.getAttribute('aria-pressed')).toBe('true');
  expect(await screen.findByText(/and what would repair it/)).toBeDefined();
});

test('marking again tells what that changed', async () => {
  answer('POST /attempts/a1/mark-again', () => ({ body: slip }));
  const before = grade(pump, referenceBench(pump));
  slip = { ...slip, former: { markedAt: '2026-11-29T09:00:00Z', report: before } };
  const { user } = open(instructor);
  const marking = await screen.findByRole('region', { name: 'Marking' });
  expect(marking.textContent).toContain(
    `${before.score} then, ${slip.report!.score} now, and not passed now.`,
  );
  await user.click(within(marking).getByRole('button', { name: '… as it was set' }));
  await waitFor(() => expect(sent('POST', '/attempts/a1/mark-again')).toHaveLength(1));
});

test.each([
  ['open', { state: 'open' }, null, /has not been handed in yet. Its board has \d+ leads/],
  ['held', { state: 'marked', heldUntil: null }, null, /shown when your instructor has closed it/],
  ['failed', { state: 'failed' }, 'it took too long', /The marker stopped: it took too long/],
  ['being marked', { state: 'handed-in' }, null, /Every order of working it is being tried/],
])('without marks: %s', async (_, attempt, failure, words) => {
  slip = { ...slip, report: null, failure, attempt: { ...slip.attempt, ...attempt } as never };
  open(instructor);
  expect(await screen.findByText(words)).toBeDefined();
});

test('an instructor gives permission for a board under way', async () => {
  answer('POST /attempts/a1/permission', () => ({ body: slip }));
  slip = { ...slip, report: null, attempt: { ...slip.attempt, state: 'open' } as never };
  const { user } = open(instructor);
  await user.click(await screen.findByRole('button', { name: 'Give permission to energise' }));
  await waitFor(() => expect(sent('POST', '/attempts/a1/permission')).toHaveLength(1));
});
