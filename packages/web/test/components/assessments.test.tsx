import { beforeEach, describe, expect, test } from '@jest/globals';
import { screen, waitFor, within } from '@testing-library/react';
import type { AssessmentOutcome } from '@contactum/core';
import type {
  AssessmentForInstructor,
  AssessmentLikeness,
  JudgedCriterion,
  LevelRequest,
  LookBack,
  Person,
  SittingPulse,
  SittingRow,
  SittingView,
} from '@contactum/contract';
import { AssessmentPage } from '../../src/assessments/AssessmentPage.js';
import { SetAssessmentPage } from '../../src/assessments/SetAssessmentPage.js';
import { SitPage } from '../../src/assessments/SitPage.js';
import { SittingBar } from '../../src/assessments/SittingBar.js';
import { answer, sent, show } from './stage.js';

const brack: Person = { id: 'brack', name: 'Tamsin Brack', login: 'brack', role: 'instructor' };
const NOW = '2026-12-01T10:00:00.000Z';
const inMinutes = (minutes: number) => new Date(Date.parse(NOW) + 60_000 * minutes).toISOString();

const CRITERION = {
  id: 'criterion-1',
  title: 'Proves dead before a hand is put in',
  critical: true,
  levels: [
    { title: 'not done', points: 0 },
    { title: 'when reminded', points: 3 },
    { title: 'unasked', points: 6 },
  ],
};
const OUTCOME: AssessmentOutcome = {
  percent: 82,
  passed: true,
  complete: true,
  reasons: [],
  tasks: [
    {
      id: 'task-1',
      title: 'Harrow',
      points: 90,
      max: 100,
      share: 63,
      mostShare: 70,
      passed: true,
      complete: true,
    },
    {
      id: 'task-2',
      title: 'At the bench',
      points: 4,
      max: 6,
      share: 19,
      mostShare: 30,
      passed: true,
      complete: true,
    },
  ],
};
const judged = (more: Partial<JudgedCriterion> = {}): JudgedCriterion => ({
  task: 'task-2',
  criterion: 'criterion-1',
  mine: null,
  note: '',
  others: 0,
  theirs: [],
  agreed: null,
  stands: null,
  ...more,
});
const row = (id: string, more: Partial<SittingRow> = {}): SittingRow => ({
  student: { id, name: `Person ${id}`, login: id },
  extraMinutes: 0,
  startedAt: inMinutes(-10),
  endsAt: inMinutes(40),
  pausedAt: null,
  handedInAt: null,
  voided: null,
  seenAt: inMinutes(-0.1),
  awaySeconds: 0,
  address: '192.0.2.7',
  attempts: [{ task: 'task-1', attemptId: `at-${id}`, state: 'open', result: null, minutes: null }],
  judged: [judged()],
  outcome: OUTCOME,
  review: null,
  ...more,
});

const assessment = (more: Partial<AssessmentForInstructor> = {}): AssessmentForInstructor => ({
  id: 'a',
  title: 'Practical test 1',
  classId: 'c',
  className: 'Pan Fitters 1A',
  state: 'running',
  minutes: 50,
  opensAt: null,
  closesAt: null,
  students: 2,
  started: 2,
  handedIn: 0,
  order: 'free',
  aids: ['meter'],
  start: 'together',
  pass: { sum: 60, each: false },
  sheets: [],
  tasks: [
    {
      kind: 'exercise',
      id: 'task-1',
      title: 'Harrow',
      weight: 70,
      minutes: null,
      mustPass: true,
      exerciseId: 'x',
    },
    {
      kind: 'observed',
      id: 'task-2',
      title: 'At the bench',
      weight: 30,
      minutes: null,
      mustPass: false,
      criteria: [CRITERION],
    },
  ],
  code: null,
  signedOff: null,
  releasedAt: null,
  now: NOW,
  sittings: [row('ann'), row('ben')],
  events: [],
  appeals: [],
  sample: [],
  missing: [],
  ...more,
});

const sitting = (more: Partial<SittingView> = {}): SittingView => ({
  id: 'a',
  title: 'Practical test 1',
  className: 'Pan Fitters 1A',
  minutes: 50,
  extraMinutes: 10,
  order: 'fixed',
  start: 'own',
  aids: ['meter'],
  needsCode: true,
  opensAt: null,
  closesAt: null,
  now: NOW,
  startedAt: null,
  endsAt: null,
  pausedAt: null,
  handedInAt: null,
  voided: null,
  taskCount: 2,
  tasks: [],
  outcome: null,
  appeals: [],
  ...more,
});
const PULSE: SittingPulse = {
  now: NOW,
  endsAt: inMinutes(30),
  pausedAt: null,
  ended: false,
  isOther: false,
  isElsewhere: false,
};

beforeEach(() => {
  answer('GET /session/key', { body: { key: btoa(String.fromCharCode(...new Uint8Array(32).fill(7))) } });
  answer('POST /sittings/a/here', { body: PULSE });
});

const bodies = (method: string, path: string) => sent(method, path).map(({ body }) => body);

describe('setting an assessment', () => {
  beforeEach(() => {
    answer('GET /classes/c', {
      body: { id: 'c', name: 'Pan Fitters 1A', members: [{ id: 'ann', name: 'Ann Osier' }], groups: [] },
    });
    answer('GET /exercises', { body: [{ id: 'x', title: 'Salt harrow', task: 'wire' }] });
  });
  const opened = async () => {
    const { user } = show(<SetAssessmentPage />, {
      path: '/assessments/:classId/new',
      at: '/assessments/c/new',
    });
    await screen.findByRole('heading', { name: 'Set an assessment to Pan Fitters 1A' });
    return user;
  };
  const button = () => screen.getByRole('button', { name: 'Set the assessment' });

  test('what is missing is said; tasks have weights of the whole, and move; it is sent as it was filled in', async () => {
    answer('POST /classes/c/assessments', { status: 201, body: assessment() });
    const user = await opened();
    expect(screen.getByText('Name the assessment.')).toBeTruthy();
    await user.type(screen.getByLabelText('Title'), ' Practical test 1 ');
    expect(screen.getByText('Add a task.')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Add criteria to be observed' }));
    await user.click(screen.getByLabelText('Add an exercise'));
    await user.click(await screen.findByTitle('Salt harrow (wire)'));
    const tasks = screen.getByRole('list', { name: 'Tasks' });
    expect(within(tasks).getByText('29 %')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Move task 2 up' }));
    await user.click(within(tasks).getAllByLabelText('must be passed')[0]!);
    await user.clear(screen.getByLabelText('Own time of task 1'));
    await user.type(screen.getByLabelText('Own time of task 1'), '25{Tab}');
    expect(button()).toHaveProperty('disabled', false);
    await user.click(button());
    await waitFor(() => expect(bodies('POST', '/classes/c/assessments')).toHaveLength(1));
    const [body] = bodies('POST', '/classes/c/assessments') as [{ tasks: { kind: string }[] }];
    expect(body).toMatchObject({
      title: 'Practical test 1',
      minutes: 60,
      pass: { sum: 60, each: false },
      tasks: [
        { kind: 'exercise', exerciseId: 'x', weight: 50, minutes: 25, mustPass: true, variants: true },
        { kind: 'observed', weight: 20, minutes: null },
      ],
    });
    expect(body.tasks.every((task) => !('key' in task))).toBe(true);
  });

  test('a task on the physical board has no time of its own and no variants; machines are named', async () => {
    answer('POST /classes/c/assessments', { status: 201, body: assessment() });
    const user = await opened();
    await user.type(screen.getByLabelText('Title'), 'Test');
    await user.click(screen.getByLabelText('Add an exercise'));
    await user.click(await screen.findByTitle('Salt harrow (wire)'));
    await user.click(await screen.findByLabelText('Task 1 on the physical board'));
    expect(screen.queryByLabelText('Own time of task 1')).toBeNull();
    expect(screen.queryByLabelText('variants')).toBeNull();
    await user.type(screen.getByLabelText('Allowed addresses'), '10.20.30.0/24 10.20.31.7{Enter}');
    await user.click(button());
    await waitFor(() =>
      expect(bodies('POST', '/classes/c/assessments')).toMatchObject([
        {
          addresses: ['10.20.30.0/24', '10.20.31.7'],
          tasks: [{ exerciseId: 'x', physical: true, variants: false, minutes: null }],
        },
      ]),
    );
  });

  test('a criterion without a name and a rule that everybody passes are not set', async () => {
    const user = await opened();
    await user.type(screen.getByLabelText('Title'), 'Test');
    await user.click(screen.getByRole('button', { name: 'Add criteria to be observed' }));
    await user.click(screen.getByRole('button', { name: /Add a criterion/ }));
    expect(screen.getByText('Every criterion needs a name.')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Remove criterion 4' }));
    await user.click(screen.getByRole('switch', { name: 'A sum must be reached' }));
    expect(screen.getByText('Say what passes: a sum, each task, or single tasks.')).toBeTruthy();
    await user.click(screen.getByRole('switch', { name: 'Each task must be passed' }));
    expect(button()).toHaveProperty('disabled', false);
  });
});

describe('the room', () => {
  const opened = async (view: AssessmentForInstructor) => {
    answer('GET /assessments/a', { body: view });
    answer('POST /assessments/a/invigilation', { body: view });
    const { user } = show(<AssessmentPage person={brack} />, {
      path: '/assessment/:id',
      at: '/assessment/a',
    });
    await screen.findByRole('heading', { name: 'Practical test 1' });
    return user;
  };
  const rowOf = (name: string) => screen.getByText(name).closest('tr')!;
  const acts = () => bodies('POST', '/assessments/a/invigilation');

  test('who works, who is away, who is not here, who is paused or void can be told at a glance', async () => {
    await opened(
      assessment({
        sittings: [
          row('ann'),
          row('ben', { seenAt: inMinutes(-2), awaySeconds: 95 }),
          row('cas', { seenAt: null }),
          row('dot', { pausedAt: inMinutes(-1) }),
          row('eve', { voided: { at: NOW, reason: 'telephone' } }),
          row('fay', { startedAt: null, endsAt: null, attempts: [] }),
          row('gil', { handedInAt: inMinutes(-3) }),
        ],
      }),
    );
    for (const [name, state] of [
      ['Person ann', 'working'],
      ['Person ben', 'away for 2:00'],
      ['Person cas', 'not here yet'],
      ['Person dot', 'paused'],
      ['Person eve', 'void: telephone'],
      ['Person fay', 'not started'],
      ['Person gil', 'handed in'],
    ] as const)
      expect(rowOf(name).textContent).toContain(state);
    expect(rowOf('Person ben').textContent).toContain('1:35');
    expect(rowOf('Person ann').textContent).toMatch(/40:00|39:5\d/);
    // The clock of who is paused stands.
    expect(rowOf('Person dot').textContent).toContain('41:00');
  });

  test('bench sheets of tasks on the physical board are opened from the room, and the machines are told', async () => {
    await opened(
      assessment({
        addresses: ['10.20.30.0/24'],
        sheets: [{ task: 'task-1', settingId: 's-1' }],
        sittings: [row('ann'), row('ben', { attempts: [] })],
      }),
    );
    const sheets = screen.getByRole('list', { name: 'Bench sheets' });
    expect(within(sheets).getByText('1 of 2 entered')).toBeTruthy();
    expect(within(sheets).getByRole('link').getAttribute('href')).toBe('/sheets?setting=s-1');
    expect(screen.getByText('10.20.30.0/24')).toBeTruthy();
  });

  test('a pause, more time and voiding ask for a reason; who was away is offered that time', async () => {
    const user = await opened(assessment({ sittings: [row('ann', { awaySeconds: 95 }), row('ben')] }));
    await user.click(screen.getByRole('button', { name: /Pause all/ }));
    const stop = () => screen.getByRole('button', { name: 'Stop the clock' });
    expect(stop()).toHaveProperty('disabled', true);
    await user.type(screen.getByLabelText('Reason'), 'fire alarm');
    await user.click(stop());
    await waitFor(() => expect(acts()).toEqual([{ do: 'pause', why: 'fire alarm' }]));
    await user.click(within(rowOf('Person ann')).getByRole('button', { name: 'More time' }));
    expect(screen.getByLabelText('Minutes')).toHaveProperty('value', '1.5');
    await user.type(screen.getByLabelText('Reason'), 'network');
    await user.click(screen.getAllByRole('button', { name: 'More time' }).at(-1)!);
    await waitFor(() => expect(acts()).toHaveLength(2));
    expect(acts()[1]).toEqual({ do: 'extend', students: ['ann'], minutes: 1.5, why: 'network' });
    await user.click(within(rowOf('Person ben')).getByRole('button', { name: 'Void' }));
    await user.type(screen.getByLabelText('Reason'), 'telephone');
    await user.click(screen.getByRole('button', { name: 'Void this sitting' }));
    await waitFor(() => expect(acts()[2]).toEqual({ do: 'void', student: 'ben', why: 'telephone' }));
  });
});

describe('examining', () => {
  const opened = async (view: AssessmentForInstructor) => {
    answer('GET /assessments/a', { body: view });
    const shown = show(<AssessmentPage person={brack} />, { path: '/assessment/:id', at: '/assessment/a' });
    await shown.user.click(await screen.findByRole('tab', { name: 'Examine' }));
    await screen.findByText(CRITERION.title);
    return shown;
  };
  const levels = () => bodies('PUT', '/assessments/a/levels') as LevelRequest[];

  test('a tick without a network waits, sealed, and is sent once when there is one; the last tick counts', async () => {
    let isAway = true;
    answer('PUT /assessments/a/levels', () => {
      if (isAway) throw new Error('no network');
      return { body: assessment() };
    });
    const first = await opened(assessment());
    await first.user.click(screen.getByText('when reminded (3)'));
    await screen.findByText(/1 not sent yet/);
    await first.user.click(screen.getByText('unasked (6)'));
    expect(screen.getByText(/1 not sent yet/)).toBeTruthy();
    const kept = localStorage.getItem('contactum.levels.a')!;
    expect(kept).not.toContain('ann');
    // The page is lost, and opened again.
    first.unmount();
    isAway = false;
    const before = levels().length;
    await opened(assessment());
    await waitFor(() => expect(localStorage.getItem('contactum.levels.a')).toBeNull());
    expect(levels().slice(before)).toEqual([
      { student: 'ann', task: 'task-2', criterion: 'criterion-1', level: 2, note: '' },
    ]);
  });

  test('what the server refuses is not sent again', async () => {
    answer('PUT /assessments/a/levels', {
      status: 409,
      body: { error: { type: 'conflict', message: 'This assessment is signed off.' } },
    });
    const { user } = await opened(assessment());
    await user.click(screen.getByText('unasked (6)'));
    await waitFor(() => expect(levels()).toHaveLength(1));
    await waitFor(() => expect(localStorage.getItem('contactum.levels.a')).toBeNull());
  });

  test('another’s level is told after one’s own; where they differ, one is agreed on with a reason', async () => {
    const { unmount } = await opened(
      assessment({ sittings: [row('ann', { judged: [judged({ others: 1 })] })] }),
    );
    expect(screen.getByText(/you see what after judging it yourself/)).toBeTruthy();
    unmount();
    const differ = judged({ mine: 2, others: 1, theirs: [{ by: 'Piet Loam', level: 1, note: '' }] });
    const view = assessment({ sittings: [row('ann', { judged: [differ] })] });
    answer('PUT /assessments/a/agreed', { body: view });
    const { user } = await opened(view);
    expect(screen.getByText('Piet Loam: when reminded')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Examiners differ: agree on one' }));
    await user.click(screen.getAllByText('when reminded (3)').at(-1)!);
    await user.type(screen.getByLabelText('Reason'), 'was reminded twice');
    await user.click(screen.getByRole('button', { name: 'Agreed' }));
    await waitFor(() =>
      expect(bodies('PUT', '/assessments/a/agreed')).toEqual([
        { student: 'ann', task: 'task-2', criterion: 'criterion-1', level: 1, reason: 'was reminded twice' },
      ]),
    );
  });
});

describe('marks, and what they tell', () => {
  const open = async (tab: string, view: AssessmentForInstructor) => {
    answer('GET /assessments/a', { body: view });
    const { user } = show(<AssessmentPage person={brack} />, {
      path: '/assessment/:id',
      at: '/assessment/a',
    });
    await user.click(await screen.findByRole('tab', { name: new RegExp(tab) }));
    return user;
  };

  test('what is missing stands over the marks; the moderator writes down what was looked at', async () => {
    const view = assessment({
      state: 'ended',
      sample: [{ id: 'ann', why: 'near the pass mark' }],
      missing: ['not moderated yet: Person ann'],
    });
    answer('PUT /assessments/a/reviews', { body: view });
    const user = await open('Marks', view);
    expect(screen.getByText('not moderated yet: Person ann')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Sign off' })).toHaveProperty('disabled', true);
    await user.click(screen.getAllByRole('button', { name: 'Moderate' })[0]!);
    await user.click(screen.getByText('Change needed'));
    expect(screen.getByRole('button', { name: 'Save' })).toHaveProperty('disabled', true);
    await user.type(screen.getByLabelText('Note'), 'interlock counted twice');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() =>
      expect(bodies('PUT', '/assessments/a/reviews')).toEqual([
        { student: 'ann', verdict: 'to be changed', note: 'interlock counted twice' },
      ]),
    );
  });

  test('marks are signed off and released, each after a question; the one need not wait for the other’s answer', async () => {
    const ended = assessment({ state: 'ended', missing: [] });
    answer('POST /assessments/a/release', { body: { ...ended, state: 'released' } });
    const user = await open('Marks', ended);
    // Signed off, as the page is told when it asks again; the act itself is answered later.
    answer('GET /assessments/a', { body: { ...ended, state: 'signed off' } });
    answer('POST /assessments/a/sign-off', () => new Promise(() => undefined));
    const asked = (name: string) =>
      within(document.querySelector<HTMLElement>('.ant-popconfirm:not(.ant-popover-hidden)')!).getByRole(
        'button',
        { name },
      );
    await user.click(screen.getByRole('button', { name: 'Sign off' }));
    await user.click(await waitFor(() => asked('Sign off')));
    await user.click(await screen.findByRole('button', { name: 'Release the marks' }));
    await user.click(await waitFor(() => asked('Release')));
    await waitFor(() => expect(sent('POST', '/assessments/a/release')).toHaveLength(1));
    expect(sent('POST', '/assessments/a/sign-off')).toHaveLength(1);
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Release the marks' })).toBeNull());
  });

  test('an appeal is answered with a reason', async () => {
    const appeal = {
      id: 'p',
      student: 'Person ann',
      task: 'task-1',
      criterion: 'Holds',
      text: 'It held when I showed it.',
      at: NOW,
      answer: null,
      upheld: null,
      by: null,
      answeredAt: null,
    };
    const view = assessment({ state: 'released', releasedAt: NOW, appeals: [appeal] });
    answer('POST /appeals/p', {
      body: { ...view, appeals: [{ ...appeal, answer: 'The replay shows it.' }] },
    });
    const user = await open('Appeals', view);
    const card = await screen.findByRole('region', { name: 'Appeal of Person ann' });
    await user.click(within(card).getByText('Not upheld'));
    await user.type(within(card).getByLabelText('Reason'), 'The replay shows it drop out.');
    await user.click(within(card).getByRole('button', { name: 'Answer' }));
    await waitFor(() =>
      expect(bodies('POST', '/appeals/p')).toEqual([
        { upheld: false, answer: 'The replay shows it drop out.' },
      ]),
    );
  });

  test('looking back names what tells little, and how far examiners agree', async () => {
    const item = { facility: 0.71, discrimination: 0.42, spread: 0.2, weakness: null };
    const none = { both: 0, same: 0, kappa: null, difference: 0 };
    const back: LookBack = {
      people: 14,
      passed: 9,
      percents: [80, 60, 70],
      tasks: [{ id: 'task-1', title: 'Harrow', percents: [80, 60, 70], minutes: [30, 20, 25] }],
      byTask: { people: 14, items: [item], alpha: null, error: null },
      criteria: [{ task: 'Harrow', title: 'Holds', max: 10 }],
      byCriterion: {
        people: 14,
        items: [{ ...item, facility: 0.98, weakness: 'nearly everybody has full marks' }],
        alpha: 0.83,
        error: 4.2,
      },
      agreement: [
        { task: 'At the bench', criterion: 'Tidy', of: { ...none, both: 6, same: 0.5, kappa: 0.33 } },
      ],
      agreementInAll: { ...none, both: 6, same: 0.5, kappa: 0.33 },
    };
    answer('GET /assessments/a/look-back', { body: back });
    await open('Analysis', assessment({ state: 'ended' }));
    await screen.findByText(/9 of 14 passed\. Reliability \(Cronbach’s α over all criteria\) 0\.83: good/);
    expect(screen.getByText('Little: nearly everybody has full marks')).toBeTruthy();
    expect(screen.getAllByText('0.33 (fair)')).toHaveLength(2);
    expect(screen.getByText('25 min')).toBeTruthy();
  });

  test('likeness is asked for, says that it is no proof of copying, and what both chose', async () => {
    const likeness: AssessmentLikeness[] = [
      {
        task: 'task-1',
        title: 'Harrow',
        people: 14,
        trials: 400,
        usual: 6,
        names: {
          ann: { name: 'Person ann', attemptId: 'x' },
          ben: { name: 'Person ben', attemptId: 'y' },
        },
        pairs: [
          {
            one: 'ann',
            other: 'ben',
            bits: 31,
            chance: 0.005,
            shared: [
              { where: 'leads of S1:22', what: 'KM1:13–S1:22 S1:22–S2:13', others: 0 },
              { where: 'after S1:22', what: 'KM1:A1', others: 2 },
            ],
          },
        ],
      },
    ];
    answer('GET /assessments/a/likeness', { body: likeness });
    const user = await open('Similarity', assessment({ state: 'ended' }));
    expect(await screen.findByText('This is not proof of copying.')).toBeTruthy();
    expect(sent('GET', '/assessments/a/likeness')).toEqual([]);
    await user.click(screen.getByRole('button', { name: 'Compare the class' }));
    const pair = (await screen.findByRole('link', { name: 'Person ann' })).closest('.like-pair')!;
    expect(pair.textContent).toContain('at most 5 of 1000 classes');
    expect(pair.textContent).toContain(
      'the potential of S1:22 by the leads KM1:13–S1:22, S1:22–S2:13 (nobody else)',
    );
    expect(pair.textContent).toContain('after the potential of S1:22 that of KM1:A1 was wired (2 others)');
  });
});

describe('sitting', () => {
  const opened = async (view: SittingView) => {
    answer('GET /sittings/a', { body: view });
    const { user } = show(<SitPage />, { path: '/sit/:id', at: '/sit/a' });
    await screen.findByRole('heading', { name: 'Practical test 1' });
    return user;
  };

  test('before the start the conditions are told, and the room code is asked', async () => {
    answer('POST /sittings/a/start', {
      status: 403,
      body: { error: { type: 'forbidden', message: 'That is not the room code.' } },
    });
    const user = await opened(sitting());
    expect(screen.getByText('50 minutes, and 10 more for you')).toBeTruthy();
    expect(screen.getByText('2 tasks, one after the other')).toBeTruthy();
    await user.type(screen.getByLabelText('Room code'), 'salt7');
    await user.click(screen.getByRole('button', { name: 'Start now' }));
    await screen.findByText('That is not the room code.');
    expect(bodies('POST', '/sittings/a/start')).toEqual([{ code: 'salt7' }]);
  });

  test('tasks that wait for the one before cannot be begun; ending says what is open', async () => {
    const task = {
      kind: 'exercise',
      physical: false,
      brief: null,
      task: 'wire',
      minutes: 20,
      endsAt: null,
      weight: 50,
      attemptId: null,
      criteria: [],
    } as const;
    const view = sitting({
      startedAt: NOW,
      endsAt: inMinutes(50),
      tasks: [
        { ...task, id: 'task-1', title: 'Harrow', state: 'to do' },
        { ...task, id: 'task-2', title: 'Pump', state: 'locked' },
      ],
    });
    answer('POST /sittings/a/hand-in', { body: { ...view, handedInAt: NOW } });
    const user = await opened(view);
    const [first, second] = screen.getAllByRole('button', { name: 'Begin' });
    expect([first, second].map((one) => (one as HTMLButtonElement).disabled)).toEqual([false, true]);
    await user.click(screen.getByRole('button', { name: 'End the assessment' }));
    expect(await screen.findByText(/2 tasks not handed in yet/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'End and hand in' }));
    await screen.findByText(/Marks are shown to everybody at one moment/);
  });

  test('a task on the physical board tells its brief, and is not begun on the screen', async () => {
    await opened(
      sitting({
        startedAt: NOW,
        endsAt: inMinutes(50),
        tasks: [
          {
            kind: 'exercise',
            physical: true,
            brief: 'Wire the harrow.',
            task: 'wire',
            minutes: null,
            endsAt: null,
            weight: 100,
            attemptId: null,
            criteria: [],
            id: 'task-1',
            title: 'Harrow',
            state: 'at the bench',
          },
        ],
      }),
    );
    expect(screen.getByText('Wire the harrow.')).toBeTruthy();
    expect(screen.getByText('wired on the physical board')).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Begin' })).toBeNull();
  });

  test('a machine that is none of the room’s is told so, and no clock runs on it', async () => {
    answer('POST /sittings/a/here', { body: { ...PULSE, isElsewhere: true } });
    await opened(sitting({ startedAt: NOW, endsAt: inMinutes(50) }));
    await screen.findByText(/can only be taken from the allowed addresses/);
  });

  test('released marks are told with their weights, and appealed against', async () => {
    const view = sitting({ startedAt: NOW, handedInAt: NOW, outcome: OUTCOME });
    answer('POST /sittings/a/appeals', { status: 201, body: view });
    const user = await opened(view);
    expect(screen.getByText('63 of 70 %')).toBeTruthy();
    await user.click(screen.getAllByRole('button', { name: 'Appeal' })[1]!);
    await user.type(screen.getByLabelText('Which criterion'), 'Proves dead');
    await user.type(screen.getByLabelText('Why it should be looked at again'), 'I did it unasked.');
    await user.click(screen.getByRole('button', { name: 'Send' }));
    await waitFor(() =>
      expect(bodies('POST', '/sittings/a/appeals')).toEqual([
        { task: 'task-2', criterion: 'Proves dead', text: 'I did it unasked.' },
      ]),
    );
  });
});

describe('the bar over a task', () => {
  const opened = async (pulse: Partial<SittingPulse>) => {
    answer('POST /sittings/a/here', { body: { ...PULSE, ...pulse } });
    return show(<SittingBar assessmentId="a" />);
  };

  test('the time can be hidden, and is shown again for the last two minutes', async () => {
    const { user, unmount } = await opened({});
    await screen.findByText(/30:00 left|29:5\d left/);
    await user.click(screen.getByRole('button', { name: 'Hide the time' }));
    expect(screen.queryByText(/left/)).toBeNull();
    unmount();
    await opened({ endsAt: inMinutes(1.5) });
    await screen.findByText(/1:30 left|1:2\d left/);
  });

  test('a pause, the end, and another window are told', async () => {
    const { unmount } = await opened({ pausedAt: NOW });
    await screen.findByText('Paused');
    unmount();
    const over = await opened({ ended: true });
    await screen.findByText(/your work is handed in/);
    over.unmount();
    await opened({ isOther: true });
    await screen.findByText(/opened in another window/);
  });
});
