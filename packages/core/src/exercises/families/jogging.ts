import { CONTROL_COIL, type Recipe } from '../recipe.js';
import { DIRECT_STARTER, button } from '../boards.js';
import { DIRECT, FRAME, GUARDED_FEED, OFF, RUNS, STARTER_RULES, start, stop, tap } from './parts.js';

const JOG = `press S3; ${RUNS}; release S3; ${OFF}`;

export const JOGGING: readonly Recipe[] = [
  {
    id: 'sluice-gate-jog-relay',
    title: 'Sluice gate, jog with control relay',
    family: 'jogging',
    brief:
      'S2 runs the sluice gate drive until S1; S3 moves it only while it is held, whatever was pressed before. A jog button whose NC contact stands in the seal-in branch depends on a race; here control relay K1 holds itself and the contactor, and the jog button feeds the contactor alone, so that a jog can never seal.',
    board: DIRECT_STARTER,
    change: {
      title: 'Sluice gate board',
      add: [
        {
          before: 'F2',
          device: {
            tag: 'K1',
            type: 'relay',
            at: [404, 228],
            options: { contacts: ['NO 13-14', 'NO 23-24'], coil: CONTROL_COIL },
          },
        },
        { before: 'M1', device: button('S3', 'jog', [830, 400], 'black') },
      ],
    },
    reference: `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 14 > K1 A1; K1 14 > K1 A1; S2 13 > K1 13; K1 13 > K1 23; K1 23 > S3 13; K1 24 > KM1 A1; S3 14 > KM1 A1\nreturn: K1 A2 > {return}; KM1 A2 > {return}`,
    observe: ['KM1', 'M1.driven'],
    behaviours: [
      {
        id: 'runs',
        title: 'Runs on S2 and holds',
        points: 5,
        steps: `${start('S2')}; wait 1; ${RUNS}, M1.speed {running}`,
      },
      { id: 'stops', title: 'Stops on S1', points: 4, steps: `${start('S2')}; ${stop('S1')}` },
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
      {
        id: 'supply-loss',
        title: 'Stays off when the supply comes back',
        points: 4,
        steps: `${start('S2')}; open G1; ${OFF}; close G1; ${OFF}; ${start('S2')}`,
      },
    ],
    rules: STARTER_RULES,
  },
];
