import { CONTROL_COIL, type BehaviourRecipe, type Recipe } from '../recipe.js';
import { STAR_DELTA_STARTER } from '../boards.js';
import { FRAME, GUARDED_FEED, LINE, STARTER_RULES, tap } from './parts.js';

const OFF = 'KM1 out, KM2 out, KM3 out, M1.driven none';
const STAR = 'KM1 in, KM2 in, KM3 out, M1.connection star, M1.driven forward';
const DELTA = 'KM1 in, KM2 out, KM3 in, M1.connection delta, M1.driven forward';

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
const HEAD = `${POWER}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > KM1 13; KM1 14 > S2 14`;
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
} as const;

export const STAR_DELTA: readonly Recipe[] = [
  {
    ...BLOWER,
    id: 'blower-star-delta-main-from-start',
    title: 'Wash-water blower, star-delta, main from Start',
    brief:
      'The wash-water blower starts in star and, after ten seconds, goes over to delta. Main contactor KM1 and star contactor KM2 come in at Start; timer KT1 lets the star go and then brings in delta KM3. Star and delta at once would short the three lines: each coil stands behind the normally closed contact of the other.',
    reference: `${MAIN_FROM_START}; ${CHANGEOVER}\n${RETURNS}`,
  },
  {
    ...BLOWER,
    id: 'blower-star-delta-main-through-star',
    title: 'Wash-water blower, star-delta, main through star',
    brief:
      'As the automatic star-delta starter, but the main contactor waits for the star: Start brings in KM2, whose normally open contact then brings in KM1, so that the star is proved before the lines reach the motor. KM1 holds itself and the start.',
    change: { alter: { KM1: { options: { aux: ['NO 13-14', 'NO 33-34'] } } } },
    reference: `${HEAD}; S2 14 > KM2 13; KM2 14 > KM1 A1; KM1 33 > KM1 14; KM1 34 > KM1 A1; KM2 13 > KT1 A1; ${CHANGEOVER}\n${RETURNS}`,
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
  },
];
