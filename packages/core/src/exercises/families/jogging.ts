import { CONTROL_COIL, type BehaviourRecipe, type Recipe } from '../recipe.js';
import { DIRECT_STARTER, button } from '../boards.js';
import { DIRECT, FRAME, GUARDED_FEED, OFF, RUNS, STARTER_RULES, start, stop, tap } from './parts.js';

const JOG = `press S3; ${RUNS}; release S3; ${OFF}`;

const RUN_AND_STOP: readonly BehaviourRecipe[] = [
  {
    id: 'runs',
    title: 'Runs on S2 and holds',
    points: 5,
    steps: `${start('S2')}; wait 1; ${RUNS}, M1.speed {running}`,
  },
  { id: 'stops', title: 'Stops on S1', points: 4, steps: `${start('S2')}; ${stop('S1')}` },
];

const lost: BehaviourRecipe = {
  id: 'supply-loss',
  title: 'Stays off when the supply comes back',
  points: 4,
  steps: `${start('S2')}; open G1; ${OFF}; close G1; ${OFF}; ${start('S2')}`,
};

const GATE = {
  family: 'jogging',
  board: DIRECT_STARTER,
  observe: ['KM1', 'M1.driven'],
} as const;

export const JOGGING: readonly Recipe[] = [
  {
    ...GATE,
    id: 'sluice-gate-jog-button',
    title: 'Sluice gate, jog button with NC in the seal-in',
    brief:
      'S2 runs the sluice gate until S1; S3 jogs it. The jog button’s NC contact opens the seal-in branch while it is pressed. When S3 is let go quickly its NC contact may close again before KM1 has dropped out, and the jog seals: a race. Wire it, let the proof find the race, and see why a control relay is better.',
    change: {
      title: 'Sluice gate board',
      add: [{ before: 'M1', device: button('S3', 'jog', 'black', ['NO 13-14', 'NC 21-22']) }],
    },
    reference: `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S3 13 > S3 21; S3 22 > KM1 13; KM1 14 > S2 14; S2 14 > S3 14; S3 14 > KM1 A1\nreturn: KM1 A2 > {return}`,
    behaviours: [
      ...RUN_AND_STOP,
      {
        id: 'jogs',
        title: 'S3 moves it only while it is held, where the contactor drops before the button is back',
        points: 6,
        steps: `${OFF}; press S3; ${RUNS}; release S3 first KM1 then S3; ${OFF}`,
      },
      {
        id: 'unseals',
        title: 'S3 keeps it from holding while it is pressed',
        points: 4,
        steps: `press S3; ${RUNS}, S3:21-22 open; press S1; ${OFF}; release S3; release S1; ${OFF}`,
      },
      {
        id: 'overload',
        title: 'The overload stops run and jog',
        points: 5,
        steps: `${start('S2')}; trip F2; F2 tripped, ${OFF}; ${tap('S2')}; ${OFF}; press S3; ${OFF}; release S3; reset F2; ${OFF}; ${start('S2')}`,
      },
      lost,
    ],
    rules: STARTER_RULES,
    lesson: ['no-race'],
    faults: [
      'contact-stuck-open S3:21-22 | Jog button’s NC contact does not make again',
      'open-wire S3:22 KM1:13 | Seal-in lead broken',
      'contact-stuck-closed S3:21-22 | Jog button’s NC contact does not part',
      'coil-open KM1 | Coil of KM1 burnt through',
    ],
  },
  {
    ...GATE,
    id: 'sluice-gate-jog-relay',
    title: 'Sluice gate, jog with control relay',
    alsoUs: 'Jog relay for the sluice gate, 480 V (US)',
    brief:
      'S2 runs the sluice gate until S1; S3 moves it only while it is held, whatever was pressed before. Control relay K1 holds itself and the contactor; the jog button feeds the contactor alone, so that a jog can never seal, in any order.',
    change: {
      title: 'Sluice gate board',
      add: [
        {
          before: 'F2',
          device: {
            tag: 'K1',
            type: 'relay',
            options: { contacts: ['NO 13-14', 'NO 23-24'], coil: CONTROL_COIL },
          },
        },
        { before: 'M1', device: button('S3', 'jog', 'black') },
      ],
    },
    reference: `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 14 > K1 A1; K1 14 > K1 A1; S2 13 > K1 13; K1 13 > K1 23; K1 23 > S3 13; K1 24 > KM1 A1; S3 14 > KM1 A1\nreturn: K1 A2 > {return}; KM1 A2 > K1 A2`,
    behaviours: [
      ...RUN_AND_STOP,
      { id: 'jogs', title: 'Moves only while S3 is held', points: 6, steps: `${JOG}; ${JOG}` },
      {
        id: 'jog-after-run',
        title: 'A jog after a run does not seal',
        points: 5,
        steps: `${start('S2')}; ${stop('S1')}; ${JOG}`,
      },
      {
        id: 'overload',
        title: 'The overload stops run and jog',
        points: 5,
        steps: `${start('S2')}; trip F2; F2 tripped, ${OFF}; press S3; ${OFF}; release S3; ${tap('S2')}; ${OFF}; reset F2; ${OFF}; ${start('S2')}`,
      },
      lost,
    ],
    rules: STARTER_RULES,
    faults: [
      'coil-open K1 | Coil of K1 burnt through',
      'contact-stuck-open K1:13-14 | Relay does not hold itself',
      'contact-stuck-open K1:23-24 | Relay’s contact for the contactor does not make',
      'contact-stuck-closed S3:13-14 | Jog button does not come back',
    ],
  },
  {
    ...GATE,
    id: 'sluice-gate-jog-selector',
    title: 'Sluice gate, jog/run selector',
    brief:
      'Selector S3 stands at jog or run. At run S2 starts the gate and it holds until S1; at jog it moves only while S2 is held: the selector’s contact stands in the seal-in branch and is closed at run. Turning it starts nothing.',
    change: {
      title: 'Sluice gate board with selector',
      add: [
        {
          before: 'M1',
          device: {
            tag: 'S3',
            type: 'selector',
            options: { positions: ['jog', 'run'], contacts: [{ terminals: '13-14', closedIn: ['run'] }] },
            settings: { position: 'jog' },
          },
        },
      ],
    },
    reference: `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S3 14 > KM1 13; KM1 14 > S2 14; S2 14 > KM1 A1\nreturn: KM1 A2 > {return}`,
    behaviours: [
      {
        id: 'jogs',
        title: 'At jog it moves only while S2 is held',
        points: 6,
        steps: `${OFF}; press S2; ${RUNS}; release S2; ${OFF}; press S2; ${RUNS}; release S2; ${OFF}`,
      },
      {
        id: 'runs',
        title: 'At run it holds until S1',
        points: 6,
        steps: `turn S3 to run; ${OFF}; ${start('S2')}; wait 1; ${RUNS}, M1.speed {running}; ${stop('S1')}`,
      },
      {
        id: 'turned-back',
        title: 'Turned to jog while it runs, it stops; turned to run it does not start',
        points: 4,
        steps: `turn S3 to run; ${start('S2')}; turn S3 to jog; ${OFF}; turn S3 to run; ${OFF}`,
      },
      {
        id: 'overload',
        title: 'The overload stops it and must be reset',
        points: 5,
        steps: `turn S3 to run; ${start('S2')}; trip F2; F2 tripped, ${OFF}; ${tap('S2')}; ${OFF}; reset F2; ${OFF}; ${start('S2')}`,
      },
      {
        id: 'supply-loss',
        title: 'Stays off when the supply comes back',
        points: 4,
        steps: `turn S3 to run; ${start('S2')}; open G1; ${OFF}; close G1; ${OFF}; ${start('S2')}`,
      },
    ],
    rules: STARTER_RULES,
    faults: [
      'contact-stuck-open S3:13-14 | Selector’s contact does not make',
      'open-wire KM1:14 S2:14 | Seal-in lead broken',
      'coil-open KM1 | Coil of KM1 burnt through',
      'lost-phase G1:L2 | L2 lost before the breaker',
    ],
  },
];
