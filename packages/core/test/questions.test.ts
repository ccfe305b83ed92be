import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  AskedBoard,
  answersIn,
  gradeAnswers,
  judgeAnswer,
  makeQuestions,
  questionWords,
  readinessOf,
  referenceBench,
  run,
  terminalsOf,
  type Answer,
  type Question,
  type StatesQuestion,
} from '@contactum/core';
import { readAnswers, readDocument, readExercise } from '@contactum/core/documents';
import { shippedQuestions } from '@contactum/core/exercises';
import { askedOn, plainAnswer } from './fuzz/asked.js';
import { bench, exercise, longList, longRuns, must, rewire } from './help.js';

const harrow = referenceBench(exercise('salt-harrow-electrical-interlock'));
const pump = referenceBench(exercise('brine-pump-three-wire'));
const blower = referenceBench(exercise('blower-star-delta-winding-leg'));
const noInterlock = referenceBench(exercise('salt-harrow-no-interlock'));

type Unnumbered = Question extends infer Q ? (Q extends Question ? Omit<Q, 'id' | 'points'> : never) : never;
const share = (bench: typeof pump, question: Unnumbered, answer: unknown): number => {
  const whole = { id: 'q1', points: 1, ...question } as Question;
  const board = new AskedBoard(bench);
  expect(board.problems(whole)).toEqual([]);
  return judgeAnswer(board, whole, answer as Answer).share;
};

describe('what is right is what the board shows', () => {
  test('states: each cell is a share of the points, and each wrong one has the run that shows it', () => {
    const question = {
      id: 'q1',
      points: 4,
      ask: 'states' as const,
      steps: [{ press: 'S2' }, { release: 'S2' }],
      of: ['KM1', 'M1.driven'],
    };
    const board = new AskedBoard(pump);
    const right = [
      { KM1: 'in', 'M1.driven': 'forward' },
      { KM1: 'in', 'M1.driven': 'forward' },
    ];
    expect(judgeAnswer(board, question, right)).toEqual({ share: 1, wrong: [] });
    const judged = judgeAnswer(board, question, [right[0]!, { KM1: 'out', 'M1.driven': 'forward' }]);
    expect(judged.share).toBe(0.75);
    expect(judged.wrong).toHaveLength(1);
    expect(judged.wrong[0]).toMatchObject({ what: 'KM1 after step 2', answered: 'out', right: 'in' });
    expect(run(pump, judged.wrong[0]!.replay).ok).toBe(true);
    expect(judgeAnswer(board, question, undefined).share).toBe(0);
    expect(judgeAnswer(board, question, 'in').share).toBe(0);
  });

  test('blocks: the interlock keeps the other direction out', () => {
    const question = {
      ask: 'blocks',
      steps: [{ press: 'S2' }, { release: 'S2' }],
      then: { press: 'S3' },
      of: 'KM2',
    } as const;
    expect(share(harrow, question, ['KM1:21-22'])).toBe(1);
    expect(share(harrow, question, ['KM1:21-22', 'KM1:21-22'])).toBe(1);
    expect(share(harrow, question, ['KM2:21-22'])).toBe(0);
    expect(share(harrow, question, ['KM1:21-22', 'S1:21-22'])).toBe(0);
    expect(share(harrow, question, [])).toBe(0);
    expect(share(harrow, question, ['nothing'])).toBe(0);
  });

  test('holds: every contact of one path, no other; fuse links need not be named', () => {
    const question = { ask: 'holds', steps: [{ press: 'S2' }, { release: 'S2' }], of: 'KM1' } as const;
    const path = ['F2:95-96', 'S1:21-22', 'KM1:13-14', 'KM2:21-22'];
    expect(share(harrow, question, path)).toBe(1);
    expect(share(harrow, question, [...path, 'F1:1-2'])).toBe(1);
    expect(share(harrow, question, path.slice(1))).toBe(0);
    expect(share(harrow, question, [...path, 'S2:13-14'])).toBe(0);
    expect(share(harrow, question, [...path, 'KM1:1-2'])).toBe(0);
  });

  test('holds: while Start is held either way is right, both together are not', () => {
    const question = { ask: 'holds', steps: [{ press: 'S2' }], of: 'KM1' } as const;
    const head = ['F2:95-96', 'S1:21-22', 'KM2:21-22'];
    expect(share(harrow, question, [...head, 'S2:13-14'])).toBe(1);
    expect(share(harrow, question, [...head, 'KM1:13-14'])).toBe(1);
    expect(share(harrow, question, [...head, 'S2:13-14', 'KM1:13-14'])).toBe(0);
  });

  test('value: by plate, within its tolerance, in its unit or another of its kind', () => {
    const dial = { ask: 'value', of: 'F2.dial' } as const;
    expect(share(pump, dial, 3.4)).toBe(1);
    expect(share(pump, dial, 3.5)).toBe(1);
    expect(share(pump, dial, 3.6)).toBe(0);
    expect(share(pump, { ...dial, tolerance: 0.1 }, 3.6)).toBe(1);
    expect(share(pump, dial, '3.4 A')).toBe(1);
    expect(share(pump, dial, '3400 mA')).toBe(1);
    expect(share(pump, dial, { value: 3400, unit: 'mA' })).toBe(1);
    expect(share(pump, dial, '3.4 V')).toBe(0);
    expect(share(pump, dial, 'three')).toBe(0);
    // IEC 60947-4-1 and common practice: in the winding leg of a delta, the line's current over √3.
    const current = new AskedBoard(blower).value({ of: 'M1.current' })!.value;
    expect(share(blower, { ask: 'value', of: 'F2.dial' }, current / Math.sqrt(3))).toBe(1);
    expect(share(blower, { ask: 'value', of: 'M1.windingCurrent' }, current / Math.sqrt(3))).toBe(1);
  });

  test('value: volts of the solved circuit after what was done', () => {
    const volts = { ask: 'value', of: { volts: ['KM1:A1', 'KM1:A2'] }, steps: [{ press: 'S2' }] } as const;
    expect(share(pump, volts, 231)).toBe(1);
    expect(share(pump, volts, 400)).toBe(0);
  });

  test('terminal: either terminal of the contact, or the contact; one that leads join', () => {
    const contact = { ask: 'terminal', what: { of: 'F2', contact: 'nc' } } as const;
    for (const right of ['F2:95', 'F2:96', 'F2:95-96']) expect(share(pump, contact, right)).toBe(1);
    for (const no of ['F2:97', 'F2:1', '95', 'S1:21']) expect(share(pump, contact, no)).toBe(0);
    expect(share(pump, { ask: 'terminal', what: { of: 'KM1', coil: true } }, 'KM1:A2')).toBe(1);
    expect(share(pump, { ask: 'terminal', what: { joined: 'S2:14' } }, 'KM1:A1')).toBe(1);
    expect(share(pump, { ask: 'terminal', what: { joined: 'S2:14' } }, 'S2:14')).toBe(0);
  });

  test('danger: the shortest has all, a longer one half, one that shows nothing none', () => {
    const question = { ask: 'danger', property: 'no-short' } as const;
    const shortest = new AskedBoard(noInterlock).danger(question)!;
    expect(share(noInterlock, question, shortest.trace)).toBe(1);
    expect(share(noInterlock, question, [{ press: 'S1' }, { release: 'S1' }, ...shortest.trace])).toBe(0.5);
    // Two hands at one instant do as much as one hand after the other.
    expect(share(noInterlock, question, [{ press: 'S2' }, { press: 'S3' }])).toBe(1);
    expect(shortest.length).toBe(2);
    expect(share(noInterlock, question, [{ press: 'S2' }])).toBe(0);
    expect(share(noInterlock, question, [{ press: 'S99' }])).toBe(0);
    expect(share(noInterlock, question, [])).toBe(0);
  });

  test('whatever stands in place of an answer is judged, and never ends the marking', () => {
    const shipped = shippedQuestions().map((one) => ({
      board: new AskedBoard(referenceBench(one)),
      questions: one.questions!,
    }));
    const odd = fc.oneof(
      fc.jsonValue(),
      fc.array(fc.record({ press: fc.jsonValue(), together: fc.jsonValue() }, { requiredKeys: [] })),
      fc.array(fc.constantFrom('S2:13', 'KM1:13-14', 'KM1:A1', '', ':')),
      fc.record({ value: fc.jsonValue(), unit: fc.jsonValue() }),
      fc.record({ 'open-wire': fc.jsonValue() }),
    );
    fc.assert(
      fc.property(odd, fc.nat(), fc.nat(), (answer, a, b) => {
        const { board, questions } = shipped[a % shipped.length]!;
        const { share: part, wrong } = judgeAnswer(board, questions[b % questions.length]!, answer as Answer);
        expect(part).toBeGreaterThanOrEqual(0);
        expect(part).toBeLessThanOrEqual(1);
        expect(wrong.length > 0).toBe(part < 1);
      }),
      { numRuns: longRuns(600) },
    );
  });

  test('what was answered and what is right are said in words', () => {
    const one = shippedQuestions().find(({ id }) => id === 'questions-reversing')!;
    const cause = one.questions!.find((question) => question.ask === 'cause')!;
    const [wrong] = judgeAnswer(new AskedBoard(referenceBench(one)), cause, cause.among[0]).wrong;
    expect(wrong).toMatchObject({
      answered: expect.stringMatching(/^[a-z]+ .* (welded|broken|open inside|loose, .*)$/),
      right: expect.stringMatching(/^[a-z]+ .*/),
    });
    const value = { ask: 'value', of: 'F2.dial', id: 'q1', points: 1 } as const;
    expect(judgeAnswer(new AskedBoard(pump), value, { value: 9, unit: 'A' }).wrong).toMatchObject([
      { answered: '9 A', right: '3.4 A' },
    ]);
  });

  test('danger: a seal past Stop, a restart by itself', () => {
    const past = rewire(pump, 'S2:13>KM1:13', 'S1:21>KM1:13');
    const stop = { ask: 'danger', property: 'stop-drops' } as const;
    expect(share(past, stop, [{ press: 'S2' }, { press: 'S1' }])).toBe(1);
    expect(share(past, stop, [{ press: 'S2' }, { release: 'S2' }, { press: 'S1' }])).toBe(0.5);
    expect(share(past, stop, [{ press: 'S1' }])).toBe(0);
    const open = referenceBench(exercise('brine-pump-controller-open-loop'));
    const restart = { ask: 'danger', property: 'no-self-start' } as const;
    const steps = [{ press: 'S2' }, { release: 'S2' }, { open: 'G1' }, { close: 'G1' }];
    expect(share(open, restart, steps)).toBeGreaterThan(0);
    expect(share(open, restart, steps.slice(0, 3))).toBe(0);
  });

  test('danger: on a bench without motors a contactor that is in is what runs', () => {
    const sealed = bench(
      [
        { tag: 'G1', type: 'supply-1n', options: { voltage: 230 } },
        { tag: 'KM1', type: 'contactor', options: { coil: { voltage: 230, kind: 'ac' } } },
        { tag: 'S1', type: 'pushbutton', duty: 'stop', options: { contacts: ['NC 21-22'] } },
        { tag: 'S2', type: 'pushbutton', duty: 'start', options: { contacts: ['NO 13-14'] } },
      ],
      'G1:L>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N S1:21>KM1:13 KM1:14>S2:14',
    );
    const stop = { ask: 'danger', property: 'stop-drops' } as const;
    expect(share(sealed, stop, [{ press: 'S2' }, { press: 'S1' }])).toBe(1);
    expect(share(sealed, stop, [{ press: 'S1' }])).toBe(0);
  });

  test('cause: the fault with which everything is as it was found', () => {
    const question = {
      ask: 'cause',
      among: [{ 'coil-open': 'KM1' }, { 'open-wire': 'KM1:14 KM1:A1' }, { 'contact-stuck-open': 'S1:21-22' }],
      findings: [
        { steps: [{ press: 'S2' }], see: { KM1: 'in' } },
        { steps: [{ press: 'S2' }, { release: 'S2' }], see: { KM1: 'out' } },
      ],
    } as const;
    const board = pump;
    expect(share(board, question, { 'open-wire': 'KM1:14 KM1:A1' })).toBe(1);
    expect(share(board, question, { 'open-wire': 'KM1:A1 KM1:14' })).toBe(1);
    expect(share(board, question, { 'coil-open': 'KM1' })).toBe(0);
    expect(share(board, question, { nonsense: 'KM1' })).toBe(0);
  });
});

describe('a bank of questions', () => {
  test('is the same for the same seed, another for another one, and each question has an answer', () => {
    for (const degree of [1, 2, 3, 4, 5] as const) {
      const questions = makeQuestions(harrow, { seed: 11, degree, count: 8 });
      expect(makeQuestions(harrow, { seed: 11, degree, count: 8 })).toEqual(questions);
      expect(makeQuestions(harrow, { seed: 12, degree, count: 8 })).not.toEqual(questions);
      expect(questions.length).toBeGreaterThanOrEqual(6);
      const board = new AskedBoard(harrow);
      for (const one of questions) {
        expect(board.problems(one)).toEqual([]);
        expect(questionWords(one)).toMatch(/[.?]$/);
      }
      expect(new Set(questions.map((one) => JSON.stringify({ ...one, id: '' }))).size).toBe(questions.length);
    }
  });

  /** Every board with one lead less, or one end of a lead at another terminal of its device. */
  const withOneMistake = (of: typeof pump) => [
    ...of.wires.map((_, k) => ({ ...of, wires: of.wires.filter((_wire, n) => n !== k) })),
    ...of.wires.flatMap((wire, k) =>
      (['from', 'to'] as const).flatMap((end) =>
        terminalsOf(of)
          .filter((ref) => ref.split(':')[0] === wire[end].split(':')[0])
          .map((ref) => ({ ...of, wires: of.wires.with(k, { ...wire, [end]: ref }) }))
          .filter((one) => one.wires[k]!.from !== one.wires[k]!.to),
      ),
    ),
  ];
  const values = [pump, harrow, blower].flatMap((of) =>
    ([1, 2, 4] as const).flatMap((degree) =>
      [3, 4].flatMap((seed) =>
        makeQuestions(of, { seed, degree, count: 6 }).flatMap((one) =>
          one.ask === 'value' && one.among ? [{ of, one, among: one.among }] : [],
        ),
      ),
    ),
  );

  test('of the values to choose from one is right, and its place in the list tells nothing', () => {
    const places = values.map(({ of, one, among }) => {
      expect([...among].sort((a, b) => a - b)).toEqual(among);
      const shares = among.map((value) => share(of, one, value));
      expect(shares.filter((part) => part === 1)).toHaveLength(1);
      return shares.indexOf(1);
    });
    expect(new Set(places).size).toBeGreaterThan(2);
  });

  test('the wrong volts of a list are what the board shows with a mistake in its wiring', () => {
    const measured = values.filter(({ one }) => typeof one.of !== 'string');
    expect(measured.length).toBeGreaterThan(0);
    for (const { of, one, among } of measured) {
      const { volts } = one.of as { volts: readonly [string, string] };
      const boards = withOneMistake(of);
      for (const value of among.filter((choice) => share(of, one, choice) === 0)) {
        const near = { min: value - 1 - 0.01 * value, max: value + 1 + 0.01 * value };
        // Which pole is named first does not matter for what is read on it.
        const isShown = boards.some((board) =>
          [near, { min: -near.max, max: -near.min }].some(
            (range) =>
              run(board, [...(one.steps ?? []), { expect: { [`volts(${volts.join(', ')})`]: range } }]).ok,
          ),
        );
        expect({ of: one.of, steps: one.steps, value, isShown }).toMatchObject({ isShown: true });
      }
    }
  });

  test('a list without one right value, or with two, asks nothing', () => {
    const board = new AskedBoard(pump);
    const list = (among: number[]) =>
      board
        .problems({ id: 'q', points: 1, ask: 'value', of: 'F2.dial', among })
        .map(({ message }) => message);
    expect(list([2, 3.4, 9])).toEqual([]);
    expect(list([2, 9])).toEqual(['0 of the listed values are right, not one']);
    expect(list([3.4, 3.41])).toEqual(['2 of the listed values are right, not one']);
  });

  const seeds = Array.from({ length: 50 }, (_, k) => 1000 + k);
  test.each(longList(seeds))('board %i: what a plain solver answers is right', (seed) => {
    const { bench, questions } = askedOn(seed, 20);
    const board = new AskedBoard(bench);
    for (const question of questions) {
      const answer = plainAnswer(bench, question);
      if (answer !== null) expect(judgeAnswer(board, question, answer)).toEqual({ share: 1, wrong: [] });
    }
  });
});

describe('documents', () => {
  const asked = {
    contactum: 'exercise/1',
    task: 'answer',
    id: 'asked',
    title: 'Asked',
    family: 'reversing',
    brief: '',
    bench: noInterlock,
    reference: [],
    shows: ['board', 'drawing'],
    questions: [
      { id: 'q1', ask: 'states', steps: [{ press: 'S2' }], of: ['KM1', 'KM2'], points: 4 },
      { id: 'q2', ask: 'value', of: 'F2.dial', points: 1 },
      { id: 'q3', ask: 'danger', property: 'no-short', points: 5 },
    ],
  };

  test('an exercise of questions is worth what they are worth; its report has a criterion for each', () => {
    const one = must(readExercise(asked));
    expect(one.marks).toMatchObject({ behaviour: 10, pass: 6 });
    const answers = must(
      readAnswers({
        contactum: 'answers/1',
        exercise: 'asked',
        answers: { q1: [{ KM1: 'in', KM2: 'in' }], q2: 3.4, q3: [{ press: 'S2' }] },
      }),
    );
    const report = gradeAnswers(one, answers);
    expect(report.criteria.map(({ id, points, max }) => [id, points, max])).toEqual([
      ['q1', 2, 4],
      ['q2', 1, 1],
      ['q3', 0, 5],
    ]);
    expect(report).toMatchObject({ contactum: 'report/1', score: 3, max: 10, passed: false, recorded: 3 });
    // Each lost point is shown by a run.
    for (const { evidence } of report.criteria)
      if (evidence?.steps) expect(run(noInterlock, evidence.steps).ok).toBe(true);
    const right = {
      q1: [{ KM1: 'in', KM2: 'out' }],
      q2: '3.4 A',
      q3: [...new AskedBoard(noInterlock).danger({ property: 'no-short' })!.trace],
    };
    expect(gradeAnswers(one, { contactum: 'answers/1', exercise: 'asked', answers: right })).toMatchObject({
      score: 10,
      recorded: 10,
      passed: true,
      reason: null,
    });
  });

  test('of an answer with several wrong cells each has its own run, and a few are told', () => {
    const states = { id: 'q1', ask: 'states', points: 4, of: ['KM1', 'KM2', 'M1.driven', 'KM1:13-14'] };
    const one = must(
      readExercise({ ...asked, questions: [{ ...states, steps: [{ press: 'S2' }, { release: 'S2' }] }] }),
    );
    const right = new AskedBoard(noInterlock).states(one.questions![0] as StatesQuestion);
    const [evidence] = gradeAnswers(one, { answers: { q1: [right[0]!, {}] } }).criteria.map(
      (criterion) => criterion.evidence!,
    );
    expect(evidence!.found).toMatch(/KM1 after step 2: not answered, right is in; .*; and 1 more$/);
    expect(evidence!.cells).toHaveLength(4);
    for (const { steps } of evidence!.cells!) expect(run(noInterlock, steps).ok).toBe(true);
    expect(gradeAnswers(one, { answers: { q1: right } }).criteria[0]!.evidence).toBeNull();
  });

  test('it can be assigned, and its log leaves the last answer to each question', () => {
    expect(readinessOf(must(readExercise(asked)))).toEqual({
      ready: true,
      objections: [],
      score: 10,
      max: 10,
    });
    const entry = (question: string, answer: Answer | null) => ({ kind: 'answer', question, answer });
    expect(
      answersIn([
        entry('q1', 1),
        { kind: 'supply' },
        entry('q2', 'KM1:13'),
        entry('q1', 2),
        entry('q2', null),
        entry('q3', []),
      ]),
    ).toEqual({ q1: 2, q3: [] });
  });

  test('those that ship ask each something else, have answers, and are the same for every class', () => {
    for (const one of shippedQuestions()) {
      const read = must(readExercise(JSON.parse(JSON.stringify(one))));
      expect(read).toEqual(one);
      const { questions = [] } = one;
      expect(new Set(questions.map((question) => JSON.stringify({ ...question, id: '' }))).size).toBe(
        questions.length,
      );
      expect(questions.map(({ id }) => id)).toEqual(questions.map((_, k) => `q${k + 1}`));
      expect(new Set(questions.map(({ ask }) => ask)).size).toBeGreaterThan(1);
    }
  });

  test('what asks for nothing, or for what the board does not have, is refused with its place', () => {
    const paths = (change: object): string[] => {
      const read = readExercise({ ...asked, ...change });
      return read.ok ? [] : read.problems.map(({ path }) => path);
    };
    const question = (one: object) => ({ questions: [{ id: 'q1', points: 1, ...one }] });
    expect(paths({ questions: undefined })).toEqual(['questions']);
    expect(paths({ task: undefined })).toEqual(['questions']);
    expect(paths(question({ ask: 'states', steps: [{ press: 'S9' }], of: ['KM1'] }))).toEqual([
      'questions[0].steps[0].press',
    ]);
    expect(paths(question({ ask: 'states', steps: [{ press: 'S2' }], of: ['KM9'] }))).toEqual([
      'questions[0].of[0]',
    ]);
    expect(paths(question({ ask: 'holds', steps: [], of: 'KM1' }))).toEqual(['questions[0].of']);
    expect(paths(question({ ask: 'value', of: 'KM1.dial' }))).toEqual(['questions[0].of']);
    expect(paths(question({ ask: 'danger', property: 'stop-drops' }))).toEqual(['questions[0].property']);
    expect(
      paths(question({ ask: 'terminal', what: { joined: 'KM1:13' }, right: 'KM1:14' })).length,
    ).toBeGreaterThan(0);
    const twice = [asked.questions[1], asked.questions[1]];
    expect(paths({ questions: twice })).toEqual(['questions[1].id']);
  });

  test('answers are a document of their own', () => {
    expect(readDocument({ contactum: 'answers/1', exercise: 'asked', answers: {} })).toMatchObject({
      ok: true,
      value: { kind: 'answers' },
    });
    expect(readDocument({ contactum: 'answers/1', answers: {} })).toMatchObject({ ok: false });
  });
});
