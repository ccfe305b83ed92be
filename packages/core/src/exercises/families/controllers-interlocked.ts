import {
  CONTROLLED_HARROW_WITH_LIMITS,
  CONTROLLED_REVERSER,
  CONTROLLED_STAR_DELTA,
} from '../controller-boards.js';
import type { BehaviourRecipe, Recipe } from '../recipe.js';
import { ELECTRONICS, FAULTS, REPORT, RULES, STOP_START_TRIP } from './controller-parts.js';
import { BLOWER, HARROW, HARROW_LIMITS } from './controller-programs.js';
import { DIRECT, FRAME, LINE, sticksIn, tap } from './parts.js';

/** Reversing and star-delta starters by controller: interlocked in wire as well (common practice, no source). */

const OFF_BOTH = 'KM1 out, KM2 out, M1.driven none';
const FORWARD = 'KM1 in, KM2 out, M1.driven forward';
const BACK = 'KM1 out, KM2 in, M1.driven reverse';
const ahead = `${tap('S2')}; ${FORWARD}`;
const back = `${tap('S3')}; ${BACK}`;

const HARROW_LEADS = `${DIRECT}; KM1 1 3 5 > KM2 1 3 5; KM2 2 4 6 > KM1 6 4 2
${FRAME}
{feed}
control: F1 2 > A1 QC1; A1 Q0.0 > KM2 21; KM2 22 > KM1 A1; A1 Q0.1 > KM1 21; KM1 22 > KM2 A1
return: KM1 A2 > {return}; KM2 A2 > KM1 A2
${ELECTRONICS}; S1 22 > A1 I0.0; S1 21 > S2 13; S2 14 > A1 I0.1; S2 13 > S3 13; S3 14 > A1 I0.2; S3 13 > F2 95; F2 96 > A1 I0.3
plus: F2 95 > KM1 13; KM1 14 > A1 I0.4; KM1 13 > KM2 13; KM2 14 > A1 I0.5`;

const STAR = 'KM1 in, KM2 out, KM3 in, M1.connection star';
const DELTA = 'KM1 in, KM2 in, KM3 out, M1.connection delta';
const STOPPED = 'KM1 out, KM2 out, KM3 out, M1.driven none';

const BLOWER_LEADS = `${LINE}; F2 2 4 6 > M1 U1 V1 W1; KM1 1 3 5 > KM2 1 3 5; KM2 2 4 6 > M1 W2 U2 V2
power: M1 W2 U2 V2 > KM3 1 3 5; KM3 2 > KM3 4; KM3 4 > KM3 6
${FRAME}
{feed}
control: F1 2 > A1 QC1; A1 Q0.0 > KM1 A1; A1 Q0.1 > KM3 21; KM3 22 > KM2 A1; A1 Q0.2 > KM2 21; KM2 22 > KM3 A1
return: KM1 A2 > {return}; KM2 A2 > KM1 A2; KM3 A2 > KM2 A2
${STOP_START_TRIP}; ${REPORT}`;

const HARROW_BEHAVIOURS: readonly BehaviourRecipe[] = [
  {
    id: 'forward',
    title: 'Runs forward on S2 and holds',
    points: 5,
    steps: `${ahead}; wait 1; ${FORWARD}, M1.speed {running}`,
  },
  {
    id: 'reverse',
    title: 'Runs in reverse on S3 and holds',
    points: 5,
    steps: `${back}; wait 1; ${BACK}, M1.speed {running}`,
  },
  {
    id: 'stops',
    title: 'Stops from both directions',
    points: 4,
    steps: `${ahead}; ${tap('S1')}; ${OFF_BOTH}; ${back}; ${tap('S1')}; ${OFF_BOTH}`,
  },
  {
    id: 'interlock',
    title: 'The other button does nothing while it runs',
    points: 6,
    steps: `${ahead}; ${tap('S3')}; ${FORWARD}; ${tap('S1')}; ${back}; ${tap('S2')}; ${BACK}`,
  },
  {
    id: 'overload',
    title: 'The overload stops it, and a reset starts nothing',
    points: 6,
    steps: `${ahead}; trip F2; ${OFF_BOTH}; reset F2; ${OFF_BOTH}; ${back}`,
  },
  {
    id: 'supply-loss',
    title: 'Stays off when the supply comes back',
    points: 4,
    steps: `${ahead}; open G1; ${OFF_BOTH}; close G1; ${OFF_BOTH}`,
  },
];

export const CONTROLLED_MOTIONS: readonly Recipe[] = [
  {
    family: 'reversing',
    board: CONTROLLED_REVERSER,
    observe: ['KM1', 'KM2', 'M1.driven'],
    id: 'salt-harrow-controller',
    title: 'Salt harrow by controller, interlocked in wire and program',
    alsoUs: 'Salt harrow by controller, interlocked in wire and program: US form',
    brief:
      'Wire the board and write its program: S2 draws the salt harrow forward, S3 in reverse, S1 stops ' +
      'it, and it is stopped before it goes the other way. The interlock stands in the coils’ circuits ' +
      'as well as in the program: what is left to the program alone fails with it.',
    task: 'both',
    reference: HARROW_LEADS,
    programs: { A1: HARROW },
    behaviours: HARROW_BEHAVIOURS,
    rules: { ...RULES, feedback: true, hardwiredInterlock: true },
    essentialRules: ['hardwiredInterlock'],
    survive: [sticksIn('KM1', 'reverse shorts nothing'), sticksIn('KM2', 'forward shorts nothing')],
    faults: FAULTS.slice(0, 5),
  },
  {
    family: 'reversing',
    board: CONTROLLED_HARROW_WITH_LIMITS,
    observe: ['KM1', 'KM2', 'M1.driven'],
    id: 'salt-harrow-controller-limit-switches',
    title: 'Salt harrow by controller, limit switches',
    brief:
      'The board is wired, the limit switches SQ1 and SQ2 by their NC contacts to inputs, so that a broken ' +
      'lead stops the harrow. Write the program: each direction ends at its end of the pan and is left ' +
      'only the other way; everything else is as for the harrow without them.',
    task: 'program',
    reference: `${HARROW_LEADS}; KM2 13 > SQ1 21; SQ1 22 > A1 I0.6; SQ1 21 > SQ2 21; SQ2 22 > A1 I0.7`,
    programs: { A1: HARROW_LIMITS },
    behaviours: [
      ...HARROW_BEHAVIOURS,
      {
        id: 'forward-end',
        title: 'Stops at the forward end and leaves it only in reverse',
        points: 6,
        steps: `${ahead}; wait 8; SQ1 pressed, ${OFF_BOTH}; ${tap('S2')}; ${OFF_BOTH}; ${back}; wait 1; ${BACK}, SQ1 released`,
      },
      {
        id: 'reverse-end',
        title: 'Stops at the other end and leaves it only forward',
        points: 6,
        steps: `${back}; wait 8; SQ2 pressed, ${OFF_BOTH}; ${tap('S3')}; ${OFF_BOTH}; ${ahead}; wait 1; ${FORWARD}, SQ2 released`,
      },
    ],
    rules: { plcStopsNormallyClosed: true, feedback: true, hardwiredInterlock: true },
    faults: [
      ...FAULTS.slice(0, 4),
      'open-wire SQ1:22 A1:I0.6 | Lead of the forward limit switch broken',
      'contact-stuck-closed SQ2:21-22 | Reverse limit switch does not part',
    ],
  },
  {
    family: 'star-delta',
    board: CONTROLLED_STAR_DELTA,
    observe: ['KM1', 'KM2', 'KM3', 'M1.driven'],
    id: 'blower-controller-star-delta',
    title: 'Wash-water blower by controller: star-delta by two timers',
    brief:
      'The board is wired, star and delta interlocked by their contactors’ own contacts. Write the ' +
      'program: Start closes the main and the star contactor, after 6 s star opens, and 50 ms later ' +
      'delta closes.',
    task: 'program',
    reference: BLOWER_LEADS,
    programs: { A1: BLOWER },
    behaviours: [
      {
        id: 'star',
        title: 'Starts in star',
        points: 6,
        steps: `${STOPPED}; ${tap('S2')}; ${STAR}; wait 2; ${STAR}`,
      },
      {
        id: 'delta',
        title: 'Goes over to delta',
        points: 8,
        steps: `${tap('S2')}; wait 8; ${DELTA}, M1.driven forward`,
      },
      {
        id: 'stops',
        title: 'Stops in star and in delta',
        points: 6,
        steps: `${tap('S2')}; ${tap('S1')}; ${STOPPED}; ${tap('S2')}; wait 8; ${tap('S1')}; ${STOPPED}`,
      },
      {
        id: 'overload',
        title: 'The overload stops it, and a reset starts nothing',
        points: 6,
        steps: `${tap('S2')}; wait 8; trip F2; ${STOPPED}; reset F2; ${STOPPED}`,
      },
    ],
    rules: { plcStopsNormallyClosed: true, hardwiredInterlock: true },
    faults: FAULTS.slice(0, 5),
  },
];
