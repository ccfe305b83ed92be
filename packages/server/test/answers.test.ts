import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { AskedBoard, referenceBench, type Answer, type Question } from '@contactum/core';
import { exercise } from '../../core/test/help.js';
import { plainAnswer } from '../../core/test/fuzz/asked.js';
import { College, marked } from './help.js';

const asked = exercise('questions-reversing');
const questions = asked.questions!;
const board = new AskedBoard(referenceBench(asked));
let college: College;
let setting: string;

beforeAll(async () => {
  college = await College.started();
  setting = await college.set(asked.id);
});

afterAll(() => college.server.kill('SIGTERM'));

const say = (id: string, seq: number, question: string, answer: Answer | null, client = college.ann) =>
  client.ask('POST', `/attempts/${id}/log`, { seq, entry: { kind: 'answer', question, answer } });

/** A right answer, by a plain solver where it knows one. */
function right(question: Question): Answer {
  const plain = plainAnswer(referenceBench(asked), question);
  if (plain !== null) return plain;
  switch (question.ask) {
    case 'value':
      return board.value(question)!;
    case 'terminal':
      return board.terminals(question.what)[0]!;
    default:
      return [...board.danger(question as Extract<Question, { ask: 'danger' }>)!.trace];
  }
}

test('answers are kept as they are given, the last one counts, and a killed process loses none', async () => {
  const id = await college.open(setting);
  const view = (await college.ann.ask('GET', `/attempts/${id}`)).body;
  expect(view.exercise.questions).toEqual(questions);
  // What is asked about is seen with its leads, and nothing else of the exercise.
  expect(view.exercise.bench.wires).toHaveLength(referenceBench(asked).wires.length);
  expect(Object.keys(view.exercise)).not.toContain('reference');

  let seq = 0;
  expect((await say(id, (seq += 1), questions[0]!.id, { value: 99, unit: 'A' })).status).toBe(201);
  for (const question of questions) {
    const taken = await say(id, (seq += 1), question.id, right(question));
    expect({ id: question.id, status: taken.status }).toEqual({ id: question.id, status: 201 });
  }
  await college.killed();
  expect((await college.ann.ask('GET', `/attempts/${id}`)).body.log).toHaveLength(seq);
  await college.ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const slip = await marked(college.ann, id);
  expect(slip.report).toMatchObject({ score: 28, max: 28, passed: true });
  expect(slip.report.criteria).toHaveLength(questions.length);
  // Handed in is handed in.
  expect((await say(id, seq + 1, questions[0]!.id, 1)).status).toBe(409);
  expect((await college.first.ask('GET', `/classes/${college.classId}/marks`)).status).toBe(200);
});

test('an answer that is taken back is none; each wrong cell says what it was and what is right', async () => {
  const id = await college.open(setting);
  const states = questions.find((one) => one.ask === 'states')!;
  const rows = right(states) as Record<string, string>[];
  const [what = ''] = states.of;
  await say(id, 1, states.id, rows);
  await say(id, 2, states.id, [{ ...rows[0], [what]: 'single-phase' }, {}, ...rows.slice(2)]);
  const value = questions.find((one) => one.ask === 'value')!;
  await say(id, 3, value.id, right(value));
  await say(id, 4, value.id, null);
  await college.ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const { report } = await marked(college.ann, id);
  const of = (question: string) => report.criteria.find((one: { id: string }) => one.id === question);
  const cells = of(states.id).evidence.cells as { answered: string; right: string; steps: object[] }[];
  expect(cells).toHaveLength(1 + states.of.length);
  expect(cells[0]).toMatchObject({ answered: 'single-phase', right: rows[0]![what] });
  expect(cells[1]).toMatchObject({ answered: 'not answered' });
  // What was done up to the cell, and what is seen then.
  expect(cells.map(({ steps }) => steps.length)).toEqual([2, ...states.of.map(() => 3)]);
  expect(of(value.id)).toMatchObject({
    points: 0,
    evidence: { found: expect.stringContaining('not answered') },
  });
});

test('what is no answer to a question of this exercise is refused with its place', async () => {
  const id = await college.open(setting);
  const cases: [unknown, RegExp][] = [
    [{ kind: 'answer', question: 'q99', answer: 1 }, /question.*q99/],
    [{ kind: 'answer', question: 'q1' }, /answer/],
    [{ kind: 'answer', question: 'q1', answer: { no: 'such' } }, /answer/],
    [{ kind: 'edit', edit: { do: 'disconnect', lead: 'w1' } }, /stays as it is|edit/],
  ];
  for (const [entry, words] of cases) {
    const { status, body } = await college.ann.ask('POST', `/attempts/${id}/log`, { seq: 1, entry });
    expect({ entry, status }).toEqual({ entry, status: 400 });
    expect(JSON.stringify(body)).toMatch(words);
  }
  expect((await say(id, 1, 'q1', 1, college.ben)).status).toBe(404);
  // A board that is wired is asked nothing.
  const wired = await college.open(await college.set('brine-pump-momentary'));
  expect((await say(wired, 1, 'q1', 1)).status).toBe(400);
  // And no bench sheet is taken along for questions.
  expect((await college.first.ask('GET', `/assignments/${setting}/sheet`)).body.error?.message ?? '').toMatch(
    /no bench sheet/,
  );
});

test('a student is told nothing of the board before it is assigned, and its marks when the assessment has closed', async () => {
  const listed = (await college.ben.ask('GET', '/exercises')).body as {
    id: string;
    bench: { wires: object[] };
  }[];
  for (const { bench } of listed.filter(({ id }) => id.startsWith('questions-')))
    expect(bench.wires).toEqual([]);
  const closesAt = new Date(Date.now() + 3_600_000).toISOString();
  const id = await college.open(await college.set('questions-seal-in', { mode: 'assessment', closesAt }));
  await say(id, 1, 'q1', 1);
  await college.ann.ask('POST', `/attempts/${id}/hand-in`, {});
  const held = (await college.ann.ask('GET', `/attempts/${id}/slip`)).body;
  expect(held).toMatchObject({ report: null, result: null });
  expect(JSON.stringify(held)).not.toMatch(/right is|evidence/);
});
