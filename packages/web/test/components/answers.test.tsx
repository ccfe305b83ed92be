import { beforeEach, describe, expect, test } from '@jest/globals';
import { screen, waitFor, within } from '@testing-library/react';
import { AskedBoard, referenceBench, type Question } from '@contactum/core';
import type { AttemptView, Person, Slip } from '@contactum/contract';
import { exercise } from '../../../core/test/help.js';
import { CriterionRow } from '../../src/slip/CriterionRow.js';
import type { Proof } from '../../src/slip/Replay.js';
import { AnswerPage } from '../../src/questions/AnswerPage.js';
import { answer, sent, show } from './stage.js';

const asked = exercise('questions-reversing');
const questions = asked.questions!;
const ann: Person = { id: 'ann', name: 'Ann Osier', login: 'ann', role: 'student' };
const place = (ask: Question['ask']): number => questions.findIndex((one) => one.ask === ask);

const view = (log: AttemptView['log'] = [], own: readonly Question[] = questions): AttemptView =>
  ({
    attempt: { id: 'a', number: 1, state: 'open', startedAt: '', handedInAt: null, result: null },
    className: 'Pan Fitters 1A',
    closesAt: null,
    mode: 'practice',
    sitting: null,
    exercise: { ...asked, questions: own, behaviours: [], practice: null, deadTests: [], hints: null },
    log,
    permittedAt: null,
    permittedAfter: -1,
  }) as unknown as AttemptView;

/** Entries that the server was sent, in order. */
const entries = () =>
  sent('POST', '/attempts/a/log').map(({ body }) => body as { seq: number; entry: object });

beforeEach(() => {
  localStorage.clear();
  answer('GET /session/key', { body: { key: btoa(String.fromCharCode(...new Uint8Array(32).fill(7))) } });
  answer('GET /attempts/a', { body: view() });
  answer('POST /attempts/a/log', { status: 201, body: { seq: 1 } });
});

/** The questions with the value to be typed, or chosen from a list. */
const offering = (among?: readonly number[]): Question[] =>
  questions.map((one) => (one.ask === 'value' ? { ...one, among } : one));

const opened = async () => {
  const { user } = show(<AnswerPage person={ann} />, { path: '/answer/:id', at: '/answer/a' });
  await screen.findByRole('heading', { name: asked.title });
  return { user, items: [...document.querySelectorAll<HTMLElement>('.answering > li')] };
};

describe('answering', () => {
  test('a fault is chosen, a number has its unit, a contact comes from the list; each is sent once', async () => {
    answer('GET /attempts/a', { body: view([], offering()) });
    const { user, items } = await opened();
    expect(items).toHaveLength(questions.length);
    const cause = items[place('cause')]!;
    await user.click(within(cause).getAllByRole('radio')[1]!);
    const value = items[place('value')]!;
    await user.type(within(value).getByLabelText('Value'), '3.4{Enter}');
    await user.tab();
    await waitFor(() => expect(entries()).toHaveLength(2));
    const causes = questions[place('cause')] as Extract<Question, { ask: 'cause' }>;
    expect(entries().map(({ entry }) => entry)).toEqual([
      { kind: 'answer', question: causes.id, answer: causes.among[1] },
      { kind: 'answer', question: questions[place('value')]!.id, answer: { value: 3.4, unit: 'A' } },
    ]);
    expect(entries().map(({ seq }) => seq)).toEqual([1, 2]);
    await screen.findByText(`2 of ${questions.length} answered, saved`);
  });

  test('a value is chosen where the engine offers some, in its unit', async () => {
    answer('GET /attempts/a', { body: view([], offering([1.96, 3.4, 5.89])) });
    const { user, items } = await opened();
    const value = within(items[place('value')]!);
    expect(value.getAllByRole('radio')).toHaveLength(3);
    expect(value.queryByRole('spinbutton')).toBeNull();
    await user.click(value.getByRole('radio', { name: '5.89 A' }));
    await waitFor(() =>
      expect(entries().map(({ entry }) => entry)).toEqual([
        { kind: 'answer', question: questions[place('value')]!.id, answer: { value: 5.89, unit: 'A' } },
      ]),
    );
  });

  test('a sequence grows by choosing and shrinks by taking out; taken out wholly it is no answer', async () => {
    const danger = questions[place('danger')]!;
    answer('GET /attempts/a', {
      body: view([
        { seq: 1, at: '', entry: { kind: 'answer', question: danger.id, answer: [{ press: 'S2' }] } },
      ]),
    });
    const { user, items } = await opened();
    const item = items[place('danger')]!;
    expect(within(item).getByText(/press S2/)).toBeTruthy();
    await user.click(within(item).getByRole('button', { name: /Remove step 1/ }));
    await waitFor(() => expect(entries()).toHaveLength(1));
    expect(entries()[0]).toEqual({ seq: 2, entry: { kind: 'answer', question: danger.id, answer: null } });
    expect(item.dataset.filled).toBe('none');
  });

  test('terminals are tapped on the drawing for the question that is worked at', async () => {
    const { user, items } = await opened();
    const path = items[place('blocks')]!;
    await user.click(path.querySelector('p')!);
    await user.click(document.querySelector('.question-board [data-at="S1:21"]')!);
    await waitFor(() => expect(entries()).toHaveLength(1));
    expect(entries()[0]!.entry).toMatchObject({ answer: ['S1:21-22'] });
    await user.click(document.querySelector('.question-board [data-at="S1:22"]')!);
    await waitFor(() => expect(entries()).toHaveLength(2));
    expect(entries()[1]!.entry).toMatchObject({ answer: null });
  });

  test('what was answered before is there, and what the log of another window says is not written over', async () => {
    const states = questions[place('states')] as Extract<Question, { ask: 'states' }>;
    const rows = new AskedBoard(referenceBench(asked)).states(states);
    answer('GET /attempts/a', {
      body: view([{ seq: 1, at: '', entry: { kind: 'answer', question: states.id, answer: rows } }]),
    });
    answer('POST /attempts/a/log', {
      status: 409,
      body: { error: { type: 'conflict', message: 'The next entry is 3, not 2.', lastSeq: 2 } },
    });
    const { user, items } = await opened();
    const item = items[place('states')]!;
    expect(item.dataset.filled).toBe('all');
    for (const row of rows) for (const word of Object.values(row)) expect(item.textContent).toContain(word);
    await user.click(within(items[place('cause')]!).getAllByRole('radio')[0]!);
    await screen.findByText('These answers were changed in another window or on another device.');
  });
});

test('a slip plays each wrong cell; those after the third are behind a click', async () => {
  const cell = (n: number) => ({
    what: `KM1 after step ${n}`,
    answered: 'in',
    right: 'out',
    steps: [{ press: `S${n}` }],
  });
  const played: Proof[] = [];
  const { user } = show(
    <ul>
      <CriterionRow
        criterion={{
          id: 'q1',
          part: 'behaviour',
          title: 'What does KM1 show?',
          points: 0,
          max: 4,
          evidence: { found: '', cells: [1, 2, 3, 4].map(cell) },
        }}
        slip={{ changes: [] } as unknown as Slip}
        shown={false}
        onProof={(proof) => played.push(proof)}
        onChange={undefined}
      />
    </ul>,
  );
  expect(screen.getByText('1 more')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Replay KM1 after step 2' }));
  expect(played).toMatchObject([
    { key: 'behaviour q1 1', steps: [{ press: 'S2' }], found: 'KM1 after step 2: in, right is out' },
  ]);
  expect(screen.queryByRole('button', { name: 'Replay' })).toBeNull();
});
