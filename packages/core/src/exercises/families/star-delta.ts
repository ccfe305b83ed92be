import { CONTROL_COIL, type BehaviourRecipe, type Recipe } from '../recipe.js';
import { STAR_DELTA_STARTER, button, contactor } from '../boards.js';
import { FRAME, GUARDED_FEED, LINE, STARTER_RULES, sticksIn, tap, weldedPole } from './parts.js';

const OFF = 'KM1 out, KM2 out, KM3 out, M1.driven none';
const STAR = 'KM1 in, KM2 in, KM3 out, M1.connection star, M1.driven forward';
const DELTA = 'KM1 in, KM2 out, KM3 in, M1.connection delta, M1.driven forward';

const ALL_OFF = `${OFF}, KM4 out`;
const REVERSE_STAR = 'KM1 out, KM4 in, KM2 in, KM3 out, M1.connection star, M1.driven reverse';
const REVERSE_DELTA = 'KM1 out, KM4 in, KM2 out, KM3 in, M1.connection delta, M1.driven reverse';

const START = `${tap('S2')}; ${STAR}`;
const START_TO_DELTA = `${START}; elapse KT1; ${DELTA}`;
const STOP = `press S1; ${OFF}; release S1; ${OFF}`;

const BEHAVIOURS: readonly BehaviourRecipe[] = [
  {
    id: 'star',
    title: 'Starts in star and holds',
    points: 6,
    steps: `${OFF}; press S2; ${STAR}; release S2; ${STAR}; wait 2; ${STAR}, M1.turning forward`,
  },
  {
    id: 'delta',
    title: 'Goes over to delta after the set time',
    points: 8,
    steps: `${START}; wait 9; ${STAR}; wait 1.6; ${DELTA}; wait 2; ${DELTA}, M1.turning forward, M1.speed {running}`,
  },
  { id: 'stop-star', title: 'Stops from star', points: 4, steps: `${START}; ${STOP}` },
  {
    id: 'stop-delta',
    title: 'Stops from delta, and starts in star again',
    points: 4,
    steps: `${START_TO_DELTA}; ${STOP}; ${START}`,
  },
  {
    id: 'overload',
    title: 'The overload stops it and must be reset',
    points: 5,
    steps: `${START_TO_DELTA}; trip F2; F2 tripped, ${OFF}; ${tap('S2')}; ${OFF}; reset F2; ${OFF}; ${START}`,
  },
  {
    id: 'supply-loss',
    title: 'Stays off when the supply comes back',
    points: 4,
    steps: `${START}; open G1; ${OFF}; close G1; ${OFF}; ${START}`,
  },
];

const POWER = `${LINE}; F2 2 4 6 > M1 U1 V1 W1; KM2 1 3 5 > M1 U2 V2 W2; KM2 2 4 > KM2 4 6; KM3 1 3 5 > F2 2 4 6; KM3 2 4 6 > M1 W2 U2 V2`;
const RETURNS = 'return: KM1 A2 > {return}; KM2 A2 > {return}; KM3 A2 > {return}; KT1 A2 > {return}';
const CONTROL = `${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > KM1 13; KM1 14 > S2 14`;
const HEAD = `${POWER}\n${CONTROL}`;
/** Main contactor and timer both from Start. */
const MAIN_FROM_START = `${HEAD}; KM1 14 > KM1 A1; S2 14 > KT1 A1`;
/** One changeover contact of the timer, and each coil behind the other's contact. */
const CHANGEOVER = 'KT1 A1 > KT1 15; KT1 16 > KM3 21; KM3 22 > KM2 A1; KT1 18 > KM2 21; KM2 22 > KM3 A1';

const BLOWER = {
  family: 'star-delta',
  board: STAR_DELTA_STARTER,
  observe: ['KM1', 'KM2', 'KM3', 'M1.driven', 'M1.connection'],
  behaviours: BEHAVIOURS,
  rules: { ...STARTER_RULES, interlocks: ['electrical'], timerSetting: { min: 5, max: 15 } },
  essentialRules: ['interlocks'],
  survive: [
    sticksIn('KM1', 'a new start shorts nothing'),
    sticksIn('KM2', 'no short at the changeover'),
    sticksIn('KM3', 'no short at the next start'),
  ],
} as const;

const FAULTS = [
  'contact-stuck-closed KM2:1-2 | A pole of the star contactor welded',
  'coil-open KM3 | Coil of the delta contactor burnt through',
  'open-wire KM2:2 KM2:4 | Star link broken',
  'coil-open KT1 | Timer’s coil burnt through',
  'lost-phase G1:L3 | L3 lost before the breaker',
] as const;

export const STAR_DELTA: readonly Recipe[] = [
  {
    ...BLOWER,
    id: 'blower-star-delta-by-hand',
    title: 'Wash-water blower, star-delta by hand',
    brief:
      'S2 starts the blower in star: main KM1 holds itself, star KM2 comes with it through the NC contact of S3. When it has run up the operator presses S3: star goes, delta KM3 comes and holds. Star and delta are interlocked by their NC contacts.',
    change: {
      title: 'Wash-water blower board, by hand',
      without: ['KT1'],
      add: [{ before: 'M1', device: button('S3', undefined, 'grey', ['NO 13-14', 'NC 21-22']) }],
    },
    reference: `${HEAD}; KM1 14 > KM1 A1; S2 14 > S3 21; S3 22 > KM3 21; KM3 22 > KM2 A1; S3 21 > S3 13; S3 13 > KM3 13; S3 14 > KM3 14; S3 14 > KM2 21; KM2 22 > KM3 A1\n${RETURNS.replace('; KT1 A2 > {return}', '')}`,
    behaviours: [
      BEHAVIOURS[0]!,
      {
        id: 'delta',
        title: 'Goes over to delta on S3 and stays there',
        points: 8,
        steps: `${START}; wait 3; ${STAR}; press S3; ${DELTA}; release S3; ${DELTA}; wait 2; ${DELTA}, M1.turning forward, M1.speed {running}`,
      },
      {
        id: 'not-first',
        title: 'S3 alone starts nothing',
        points: 5,
        steps: `press S3; ${OFF}; release S3; ${OFF}; ${START}`,
      },
      BEHAVIOURS[2]!,
      {
        id: 'stop-delta',
        title: 'Stops from delta, and starts in star again',
        points: 4,
        steps: `${START}; ${tap('S3')}; ${DELTA}; ${STOP}; ${START}`,
      },
      {
        id: 'overload',
        title: 'The overload stops it and must be reset',
        points: 5,
        steps: `${START}; ${tap('S3')}; ${DELTA}; trip F2; F2 tripped, ${OFF}; ${tap('S2')}; ${OFF}; reset F2; ${OFF}; ${START}`,
      },
      BEHAVIOURS[5]!,
    ],
    rules: { ...STARTER_RULES, interlocks: ['electrical'] },
    faults: [...FAULTS.slice(0, 3), 'contact-stuck-open KM3:13-14 | Delta does not hold', FAULTS[4]],
  },
  {
    ...BLOWER,
    id: 'blower-star-delta-main-from-start',
    title: 'Wash-water blower, star-delta, main from Start',
    brief:
      'The blower starts in star and goes over to delta after ten seconds. Main contactor KM1 and star contactor KM2 come in at Start; timer KT1 lets the star go, then delta KM3 comes. Star and delta at once would short the lines: each coil stands behind the NC contact of the other.',
    reference: `${MAIN_FROM_START}; ${CHANGEOVER}\n${RETURNS}`,
    faults: FAULTS,
  },
  {
    ...BLOWER,
    id: 'blower-star-delta-main-through-star',
    title: 'Wash-water blower, star-delta, main through star',
    brief:
      'As the automatic starter, but the main contactor waits for the star: Start brings in KM2, whose NO contact brings in KM1, so that the star is proved before the lines reach the motor. KM1 holds itself and the start.',
    change: { alter: { KM1: { options: { aux: ['NO 13-14', 'NO 33-34'] } } } },
    reference: `${HEAD}; S2 14 > KM2 13; KM2 14 > KM1 A1; KM1 33 > KM1 14; KM1 34 > KM1 A1; KM2 13 > KT1 A1; ${CHANGEOVER}\n${RETURNS}`,
    faults: FAULTS,
  },
  {
    ...BLOWER,
    id: 'blower-star-delta-timer',
    title: 'Wash-water blower, star-delta timer with pause',
    brief:
      'A star-delta timer has one contact for star, 17-18, and one for delta, 17-28, with a pause between them in which the star contactor drops and its arc goes out. The normally closed interlock contacts stay: a timer is no interlock.',
    change: {
      alter: { KT1: { type: 'star-delta-timer', options: { coil: CONTROL_COIL, pause: 0.05 } } },
    },
    reference: `${MAIN_FROM_START}; KT1 A1 > KT1 17; KT1 18 > KM3 21; KM3 22 > KM2 A1; KT1 28 > KM2 21; KM2 22 > KM3 A1\n${RETURNS}`,
    faults: FAULTS,
  },
  {
    ...BLOWER,
    id: 'blower-star-delta-winding-leg',
    title: 'Wash-water blower, overload in the winding leg',
    brief:
      'The overload relay stands behind the delta point, in the legs of the windings: in delta it carries the line current divided by √3, so its dial is set to 0.58 of the rated current. Set at the line current it would never protect.',
    change: {
      title: 'Wash-water blower board, overload in the winding leg',
      alter: { F2: { options: { range: [4, 6.3] }, settings: { dial: 4.8 } } },
    },
    reference: `power: G1 L1 L2 L3 > Q1 1 3 5; Q1 2 4 6 > KM1 1 3 5; KM1 2 4 6 > F2 1 3 5; F2 2 4 6 > M1 U1 V1 W1; KM2 1 3 5 > M1 U2 V2 W2; KM2 2 4 > KM2 4 6; KM3 1 3 5 > KM1 2 4 6; KM3 2 4 6 > M1 W2 U2 V2\n${CONTROL}; KM1 14 > KM1 A1; S2 14 > KT1 A1; ${CHANGEOVER}\n${RETURNS}`,
    faults: FAULTS,
  },
  {
    ...BLOWER,
    id: 'blower-star-delta-reversing',
    title: 'Wash-water blower, reversing star-delta',
    brief:
      'S2 starts the blower forward through KM1, S4 in reverse through KM4, which exchanges two lines; each begins in star (KM2) and goes over to delta (KM3) by timer KT1. Two interlocks: forward against reverse, star against delta.',
    change: {
      title: 'Wash-water blower board, reversing',
      alter: {
        S2: { duty: 'forward' },
        KM1: { options: { aux: ['NO 13-14', 'NC 21-22', 'NO 33-34'] } },
      },
      add: [
        { before: 'F2', device: contactor('KM4', ['NO 13-14', 'NC 21-22', 'NO 33-34']) },
        { before: 'M1', device: button('S4', 'reverse', 'black') },
      ],
    },
    reference: `${POWER}; KM1 1 3 5 > KM4 1 3 5; KM4 2 4 6 > KM1 6 4 2\n${FRAME}\n${GUARDED_FEED}; S1 22 > KM1 13; S2 13 > S4 13; S2 13 > KM1 13; KM1 14 > S2 14; S4 13 > KM4 13; KM4 14 > S4 14; S2 14 > KM4 21; KM4 22 > KM1 A1; S4 14 > KM1 21; KM1 22 > KM4 A1; KM4 13 > KM4 33; KM4 33 > KM1 33; KM1 34 > KM4 34; KM4 34 > KT1 A1; ${CHANGEOVER}\n${RETURNS}; KM4 A2 > {return}`,
    observe: ['KM1', 'KM2', 'KM3', 'KM4', 'M1.driven', 'M1.connection'],
    survive: [
      ...BLOWER.survive,
      sticksIn('KM4', 'forward shorts nothing'),
      weldedPole('KM1', 'reverse shorts nothing'),
      weldedPole('KM4', 'forward shorts nothing'),
    ],
    behaviours: [
      {
        id: 'forward',
        title: 'Forward: star, then delta',
        points: 8,
        steps: `${ALL_OFF}; ${tap('S2')}; ${STAR}, KM4 out; wait 9; ${STAR}; wait 1.6; ${DELTA}, KM4 out; wait 2; ${DELTA}, M1.turning forward`,
      },
      {
        id: 'reverse',
        title: 'Reverse: star, then delta',
        points: 8,
        steps: `${tap('S4')}; ${REVERSE_STAR}; wait 9; ${REVERSE_STAR}; wait 1.6; ${REVERSE_DELTA}; wait 2; ${REVERSE_DELTA}, M1.turning reverse`,
      },
      {
        id: 'interlock',
        title: 'The other direction does nothing while it runs',
        points: 6,
        steps: `${tap('S2')}; ${STAR}; press S4; ${STAR}, KM4 out; release S4; press S1; ${ALL_OFF}; release S1; ${tap('S4')}; ${REVERSE_STAR}; press S2; ${REVERSE_STAR}; release S2`,
      },
      {
        id: 'stops',
        title: 'Stops from star and from delta',
        points: 5,
        steps: `${tap('S2')}; ${STAR}; press S1; ${ALL_OFF}; release S1; ${ALL_OFF}; ${tap('S4')}; elapse KT1; ${REVERSE_DELTA}; press S1; ${ALL_OFF}; release S1; ${ALL_OFF}`,
      },
      {
        id: 'overload',
        title: 'The overload stops it and must be reset',
        points: 5,
        steps: `${tap('S2')}; elapse KT1; ${DELTA}; trip F2; F2 tripped, ${ALL_OFF}; ${tap('S4')}; ${ALL_OFF}; reset F2; ${ALL_OFF}; ${tap('S4')}; ${REVERSE_STAR}`,
      },
      {
        id: 'supply-loss',
        title: 'Stays off when the supply comes back',
        points: 4,
        steps: `${tap('S4')}; ${REVERSE_STAR}; open G1; ${ALL_OFF}; close G1; ${ALL_OFF}; ${tap('S2')}; ${STAR}`,
      },
    ],
    faults: [...FAULTS, 'contact-stuck-open KM4:21-22 | Interlock contact of KM4 does not make again'],
  },
];
