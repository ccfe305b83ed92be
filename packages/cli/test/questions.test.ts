import { describe, expect, test } from '@jest/globals';
import { AskedBoard, referenceBench, type Exercise } from '@contactum/core';
import { shippedExercises } from '@contactum/core/exercises';
import { command as run, ownFolder } from './help.js';

const { file } = ownFolder('questions');
const harrow = shippedExercises().find(({ id }) => id === 'salt-harrow-no-interlock')!;

describe('questions about a board', () => {
  const board = file('harrow.json', harrow);
  const bench = file('bench.json', referenceBench(harrow));

  test('an exercise that is the same for the same seed, of a bench or of an exercise', async () => {
    const first = await run('questions', board, '--seed', '7', '--degree', '3', '--count', '5', '--json');
    expect(first).toMatchObject({ status: 0, error: '' });
    expect(await run('questions', board, '--seed', '7', '--degree', '3', '--count', '5', '--json')).toEqual(
      first,
    );
    const made = JSON.parse(first.out) as Exercise;
    expect(made).toMatchObject({ contactum: 'exercise/1', task: 'answer', reference: [] });
    expect(made.questions).toHaveLength(5);
    expect(await run('check', file('made.json', made), '--json')).toMatchObject({
      status: 0,
      out: '{"ok":true,"kind":"exercise"}',
    });
    const ofBench = await run('questions', bench, '--seed', '7', '--degree', '3', '--count', '5', '--json');
    expect((JSON.parse(ofBench.out) as Exercise).questions).toEqual(made.questions);
  });

  test('what is asked in words; a seed is needed', async () => {
    const { out } = await run('questions', bench, '--seed', '1', '--degree', '1');
    expect(
      out
        .split('\n')
        .filter(Boolean)
        .every((line) => /^q\d+: .*[.?]$/.test(line)),
    ).toBe(true);
    for (const wrong of [
      [],
      ['--seed', 'x'],
      ['--seed', '1', '--degree', '6'],
      ['--seed', '1', '--count', '0'],
    ])
      expect(await run('questions', bench, ...wrong)).toMatchObject({
        status: 2,
        error: expect.stringMatching(/^arguments: /),
      });
  });
});

describe('answers', () => {
  const asked = {
    contactum: 'exercise/1',
    task: 'answer',
    id: 'asked',
    title: 'Asked',
    family: 'reversing',
    brief: '',
    bench: referenceBench(harrow),
    reference: [],
    questions: [
      { id: 'q1', ask: 'value', of: 'F2.dial', points: 1 },
      { id: 'q2', ask: 'danger', property: 'no-short', points: 3 },
    ],
  };
  const exercise = file('asked.json', asked);
  const answers = (name: string, given: object, of = 'asked') =>
    file(name, { contactum: 'answers/1', exercise: of, answers: given });

  test('a criterion for each question, and the run that shows what is wrong', async () => {
    const trace = new AskedBoard(referenceBench(harrow)).danger({ property: 'no-short' })!.trace;
    const right = await run('grade', exercise, answers('right.json', { q1: 3.4, q2: trace }), '--json');
    expect(right).toMatchObject({ status: 0, error: '' });
    expect(JSON.parse(right.out)).toMatchObject({ contactum: 'report/1', score: 4, max: 4, passed: true });
    const wrong = await run(
      'grade',
      exercise,
      answers('wrong.json', { q1: '3.4 A', q2: [{ press: 'S1' }] }),
      '--json',
    );
    expect(wrong.status).toBe(1);
    expect(JSON.parse(wrong.out)).toMatchObject({
      score: 1,
      passed: false,
      criteria: [
        { id: 'q1', points: 1, max: 1, evidence: null },
        { id: 'q2', points: 0, max: 3, evidence: { steps: trace } },
      ],
    });
  });

  test('answers to another exercise, or to a question that is not asked, are refused with their place', async () => {
    expect(await run('grade', exercise, answers('other.json', {}, 'other'))).toMatchObject({
      status: 2,
      error: expect.stringContaining('other.json: exercise: '),
    });
    expect(await run('grade', exercise, answers('more.json', { q9: 1 }))).toMatchObject({
      status: 2,
      error: expect.stringContaining('more.json: answers.q9: '),
    });
    expect(await run('grade', board(), answers('wire.json', {}, harrow.id))).toMatchObject({
      status: 2,
      error: expect.stringContaining('task: '),
    });
  });

  const board = () => file('harrow.json', harrow);
});
