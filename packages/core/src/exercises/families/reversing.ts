import { REVERSING_STARTER, lamp, limit } from '../boards.js';
import type { BehaviourRecipe, Recipe } from '../recipe.js';
import {
  BASIC_RULES,
  DIRECT,
  FRAME,
  GUARDED_FEED,
  LINE,
  STARTER_RULES,
  sticksIn,
  tap,
  weldedPole,
} from './parts.js';

const OFF = 'KM1 out, KM2 out, M1.driven none';
const FORWARD = 'KM1 in, KM2 out, M1.driven forward';
const REVERSE = 'KM1 out, KM2 in, M1.driven reverse';

/** A button pressed and let go, with what is so both times. */
const work = (by: string, state: string, pressed = ''): string =>
  `press ${by}; ${state}${pressed}; release ${by}; ${state}`;
const AHEAD = work('S2', FORWARD);
const BACK = work('S3', REVERSE);
const STOP = work('S1', OFF);

const POWER = `${DIRECT}; KM1 1 3 5 > KM2 1 3 5; KM2 2 4 6 > KM1 6 4 2`;
const RETURNS = 'return: KM1 A2 > {return}; KM2 A2 > KM1 A2';

const DIRECTIONS: readonly BehaviourRecipe[] = [
  {
    id: 'forward',
    title: 'Runs forward on S2 and holds',
    points: 5,
    steps: `${AHEAD}; wait 1; ${FORWARD}, M1.speed {running}`,
  },
  {
    id: 'reverse',
    title: 'Runs in reverse on S3 and holds',
    points: 5,
    steps: `${BACK}; wait 1; ${REVERSE}, M1.speed {running}`,
  },
  { id: 'stop-forward', title: 'Stops from forward', points: 4, steps: `${AHEAD}; ${STOP}` },
  { id: 'stop-reverse', title: 'Stops from reverse', points: 4, steps: `${BACK}; ${STOP}` },
];

/** Either button while the other direction runs; `dead` gives what else is so while it is pressed. */
const interlock = (dead: (coil: string) => string = () => ''): BehaviourRecipe => ({
  id: 'interlock',
  title: 'The other button does nothing while it runs',
  points: 6,
  steps: `${AHEAD}; ${work('S3', FORWARD, dead('KM2'))}; ${STOP}; ${BACK}; ${work('S2', REVERSE, dead('KM1'))}`,
});

const GUARDS: readonly BehaviourRecipe[] = [
  {
    id: 'overload',
    title: 'The overload stops both directions and must be reset',
    points: 6,
    steps: `${AHEAD}; trip F2; F2 tripped, ${OFF}; ${tap('S3')}; ${OFF}; reset F2; ${OFF}; ${BACK}; trip F2; ${OFF}; ${tap('S2')}; ${OFF}`,
  },
  {
    id: 'supply-loss',
    title: 'Stays off when the supply comes back',
    points: 4,
    steps: `${BACK}; open G1; ${OFF}; close G1; ${OFF}; ${AHEAD}`,
  },
];

/** A reverser as it was built; its interlock is the exercise's own. */
const BARE_HARROW = {
  family: 'reversing',
  board: REVERSING_STARTER,
  observe: ['KM1', 'KM2', 'M1.driven'],
} as const;

/**
 * The interlock is what is taught: without it, or where one contactor that sticks brings a short, nobody
 * passes.
 */
const HARROW: typeof BARE_HARROW & Pick<Recipe, 'essentialRules' | 'survive'> = {
  ...BARE_HARROW,
  essentialRules: ['interlocks'],
  survive: [
    sticksIn('KM1', 'reverse shorts nothing'),
    sticksIn('KM2', 'forward shorts nothing'),
    weldedPole('KM1', 'reverse shorts nothing'),
    weldedPole('KM2', 'forward shorts nothing'),
  ],
};

export const REVERSING: readonly Recipe[] = [
  {
    ...BARE_HARROW,
    id: 'salt-harrow-no-interlock',
    title: 'Salt harrow, no interlock: a board to condemn',
    brief:
      'This reverser was built without any interlock. Wire it as it was built, let the proof show the shortest order of pressing that shorts two lines, and write down why you would not let it be energised. Never try that order on a real board.',
    forms: ['iec'],
    reference: `${POWER}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S1 22 > KM1 13; KM1 14 > S2 14; S3 13 > KM2 13; KM2 14 > S3 14; S2 14 > KM1 A1; S3 14 > KM2 A1\n${RETURNS}`,
    behaviours: [
      ...DIRECTIONS,
      {
        id: 'condemned',
        title: 'Reverse pressed while it runs forward shorts two lines',
        points: 8,
        steps: `${AHEAD}; bench sound; press S3; bench short`,
      },
      ...GUARDS,
    ],
    rules: BASIC_RULES,
    lesson: ['no-short'],
    shows: ['progress'],
    faults: [
      'contact-stuck-closed KM1:1-2 | A pole of KM1 welded',
      'coil-open KM2 | Coil of KM2 burnt through',
      'open-wire KM1:14 S2:14 | Seal-in lead of forward broken',
      'lost-phase G1:L2 | L2 lost before the breaker',
    ],
  },
  {
    ...HARROW,
    id: 'salt-harrow-electrical-interlock',
    title: 'Salt harrow, electrical interlock',
    brief:
      'S2 draws the salt harrow forward, S3 in reverse, S1 stops it. KM2 exchanges two lines; both contactors at once would short them, so each coil is fed through the NC contact of the other contactor: the harrow is stopped before it goes the other way.',
    reference: `${POWER}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S2 14 > KM2 21; KM2 22 > KM1 A1; S3 14 > KM1 21; KM1 22 > KM2 A1; S1 22 > KM1 13; KM1 14 > S2 14; S3 13 > KM2 13; KM2 14 > S3 14\n${RETURNS}`,
    behaviours: [...DIRECTIONS, interlock(), ...GUARDS],
    rules: { ...BASIC_RULES, interlocks: ['electrical'] },
    repair: 'marked',
    faults: [
      'extra-wire S2:14 KM1:A1 | Interlock of the forward rung bridged',
      'contact-stuck-closed KM1:1-2 | A pole of KM1 welded',
      'contact-stuck-open KM1:21-22 | Interlock contact of KM1 does not make again',
      'coil-open KM2 | Coil of KM2 burnt through',
      'lost-phase G1:L3 | L3 lost before the breaker',
    ],
    alsoUs: 'Electrical interlock for the salt harrow, 480 V (US)',
  },
  {
    ...HARROW,
    id: 'salt-harrow-mechanical-interlock',
    title: 'Salt harrow, mechanical and electrical interlock',
    brief:
      'The contactors of this board are coupled: while one armature is in, the other cannot move. Its coil would draw inrush current until it burns, so the electrical interlock stays: each coil through the NC contact of the other contactor.',
    change: { interlocks: [{ kind: 'mechanical', between: ['KM1', 'KM2'] }] },
    reference: `${POWER}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S1 22 > KM1 13; KM1 14 > S2 14; S3 13 > KM2 13; KM2 14 > S3 14; S2 14 > KM2 21; KM2 22 > KM1 A1; S3 14 > KM1 21; KM1 22 > KM2 A1\n${RETURNS}`,
    behaviours: [...DIRECTIONS, interlock((coil) => `, volts(${coil}:A1, ${coil}:A2) ..10`), ...GUARDS],
    rules: { ...STARTER_RULES, interlocks: ['electrical', 'mechanical'] },
    faults: [
      'interlock-missing KM1 KM2 | Mechanical interlock broken',
      'contact-stuck-closed KM2:3-4 | A pole of KM2 welded',
      'coil-open KM1 | Coil of KM1 burnt through',
      'open-wire KM2:22 KM1:A1 | Lead to the coil of KM1 broken',
    ],
  },
  {
    ...HARROW,
    id: 'salt-harrow-push-button-interlock',
    title: 'Salt harrow, push-button interlock',
    brief:
      'S2 and S3 each carry an NC contact that stands in the rung of the other direction: the harrow reverses without Stop, braked with full current (plugging). The push-button interlock adds to the electrical one and never replaces it.',
    change: {
      alter: {
        S2: { options: { contacts: ['NO 13-14', 'NC 21-22'] } },
        S3: { options: { contacts: ['NO 13-14', 'NC 21-22'] } },
      },
    },
    reference: `${POWER}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S1 22 > KM1 13; S3 13 > KM2 13; S2 14 > S3 21; KM1 14 > S2 14; S3 22 > KM2 21; KM2 22 > KM1 A1; S3 14 > S2 21; KM2 14 > S3 14; S2 22 > KM1 21; KM1 22 > KM2 A1\n${RETURNS}`,
    behaviours: [
      ...DIRECTIONS,
      { id: 'plugging', title: 'Reverses without Stop', points: 6, steps: `${AHEAD}; ${BACK}; ${AHEAD}` },
      ...GUARDS,
    ],
    rules: { ...STARTER_RULES, interlocks: ['electrical', 'push-button'] },
    faults: [
      'contact-stuck-closed S3:21-22 | NC contact of S3 does not part',
      'contact-stuck-open S2:21-22 | NC contact of S2 does not make again',
      'coil-open KM1 | Coil of KM1 burnt through',
      'lost-phase G1:L1 | L1 lost before the breaker',
    ],
  },
  {
    ...HARROW,
    id: 'salt-harrow-limit-switches',
    title: 'Salt harrow, limit switches',
    brief:
      'The harrow stops by itself at each end of the pan: limit switch SQ1 at the forward end and SQ2 at the other each open the rung of the direction that runs into them, in series with the electrical interlock. It leaves an end only the other way.',
    change: {
      title: 'Salt harrow board with limit switches',
      add: [
        { before: 'M1', device: limit('SQ1', 'forward') },
        { before: 'M1', device: limit('SQ2', 'reverse') },
      ],
    },
    reference: `${POWER}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S1 22 > KM1 13; KM1 14 > S2 14; S3 13 > KM2 13; KM2 14 > S3 14; S2 14 > SQ1 21; SQ1 22 > KM2 21; KM2 22 > KM1 A1; S3 14 > SQ2 21; SQ2 22 > KM1 21; KM1 22 > KM2 A1\n${RETURNS}`,
    behaviours: [
      ...DIRECTIONS,
      {
        id: 'forward-end',
        title: 'Stops at the forward end and leaves it only in reverse',
        points: 6,
        steps: `${AHEAD}; wait 8; SQ1 pressed, ${OFF}; ${tap('S2')}; ${OFF}; ${BACK}; wait 1; ${REVERSE}, SQ1 released`,
      },
      {
        id: 'reverse-end',
        title: 'Stops at the other end and leaves it only forward',
        points: 6,
        steps: `${BACK}; wait 8; SQ2 pressed, ${OFF}; ${tap('S3')}; ${OFF}; ${AHEAD}; wait 1; ${FORWARD}, SQ2 released`,
      },
      interlock(),
      ...GUARDS,
    ],
    rules: { ...STARTER_RULES, interlocks: ['electrical'] },
    faults: [
      'contact-stuck-closed SQ1:21-22 | Forward limit switch does not part',
      'contact-stuck-open SQ2:21-22 | Reverse limit switch does not make again',
      'coil-open KM2 | Coil of KM2 burnt through',
      'open-wire SQ1:22 KM2:21 | Lead behind the forward limit switch broken',
    ],
  },
  {
    ...HARROW,
    id: 'salt-harrow-lamps',
    title: 'Salt harrow, lamps: forward, reverse, trip',
    brief:
      'The reverser with electrical interlock and three lamps: H1 with forward, H2 with reverse (each with its coil), H3 amber through F2 97-98 when the overload has tripped.',
    change: {
      title: 'Salt harrow board with lamps',
      add: [
        { device: lamp('H1', 'green') },
        { device: lamp('H2', 'green') },
        { device: lamp('H3', 'amber') },
      ],
    },
    reference: `${POWER}\n${FRAME}\n${GUARDED_FEED}; F2 95 > F2 97; F2 98 > H3 X1; S1 22 > S2 13; S2 13 > S3 13; S1 22 > KM1 13; KM1 14 > S2 14; S3 13 > KM2 13; KM2 14 > S3 14; S2 14 > KM2 21; KM2 22 > KM1 A1; KM1 A1 > H1 X1; S3 14 > KM1 21; KM1 22 > KM2 A1; KM2 A1 > H2 X1\n${RETURNS}; H1 X2 > KM2 A2; H2 X2 > H1 X2; H3 X2 > H2 X2`,
    observe: ['KM1', 'KM2', 'M1.driven', 'H1', 'H2', 'H3'],
    behaviours: [
      {
        id: 'forward',
        title: 'Runs forward with its lamp alone',
        points: 5,
        steps: `${OFF}, H1 dark, H2 dark, H3 dark; ${AHEAD}; H1 lit, H2 dark, H3 dark`,
      },
      {
        id: 'reverse',
        title: 'Runs in reverse with its lamp alone',
        points: 5,
        steps: `${BACK}; H1 dark, H2 lit, H3 dark`,
      },
      {
        id: 'stops',
        title: 'Stops from either direction, both lamps dark',
        points: 5,
        steps: `${AHEAD}; H1 lit; ${STOP}; H1 dark; ${BACK}; H2 lit; ${STOP}; H2 dark`,
      },
      interlock(),
      {
        id: 'trip-lamp',
        title: 'The overload stops it and lights the trip lamp until it is reset',
        points: 6,
        steps: `${AHEAD}; trip F2; F2 tripped, ${OFF}, H3 lit, H1 dark; ${tap('S3')}; ${OFF}; reset F2; ${OFF}, H3 dark; ${BACK}`,
      },
      GUARDS[1]!,
    ],
    rules: { ...STARTER_RULES, interlocks: ['electrical'] },
    faults: [
      'lamp-failed H1 | Forward lamp has failed',
      'contact-stuck-open F2:97-98 | Trip lamp’s contact does not make',
      'coil-open KM1 | Coil of KM1 burnt through',
      'contact-stuck-closed KM2:1-2 | A pole of KM2 welded',
    ],
  },
  {
    ...HARROW,
    id: 'salt-harrow-two-overloads',
    title: 'Salt harrow, two overload relays',
    brief:
      'Each contactor has its own overload relay: F2 behind KM1, F3 behind KM2. The joint to the motor lies behind both relays. Their NC contacts stand in series in the control circuit: whichever trips, both directions stop.',
    change: {
      title: 'Salt harrow board with two overload relays',
      add: [
        {
          before: 'S1',
          device: {
            tag: 'F3',
            type: 'overload',
            options: { range: [2.5, 4], class: '10' },
            settings: { dial: 3.4 },
          },
        },
      ],
    },
    forms: ['iec'],
    reference: `${LINE}; KM1 1 3 5 > KM2 1 3 5; KM2 2 4 6 > F3 1 3 5; F2 2 4 6 > M1 U V W; F3 2 4 6 > F2 6 4 2\n${FRAME}\n{feed}\ncontrol: F1 2 > F2 95; F2 96 > F3 95; F3 96 > S1 21; S1 22 > S2 13; S2 13 > S3 13; S1 22 > KM1 13; KM1 14 > S2 14; S3 13 > KM2 13; KM2 14 > S3 14; S2 14 > KM2 21; KM2 22 > KM1 A1; S3 14 > KM1 21; KM1 22 > KM2 A1\n${RETURNS}`,
    behaviours: [
      ...DIRECTIONS,
      interlock(),
      {
        id: 'overload-forward',
        title: 'F2 stops either direction and must be reset',
        points: 5,
        steps: `${AHEAD}; trip F2; F2 tripped, ${OFF}; ${tap('S3')}; ${OFF}; reset F2; ${OFF}; ${BACK}; trip F2; ${OFF}`,
      },
      {
        id: 'overload-reverse',
        title: 'F3 stops either direction and must be reset',
        points: 5,
        steps: `${BACK}; trip F3; F3 tripped, ${OFF}; ${tap('S2')}; ${OFF}; reset F3; ${OFF}; ${AHEAD}; trip F3; ${OFF}`,
      },
      GUARDS[1]!,
    ],
    rules: { ...STARTER_RULES, interlocks: ['electrical'] },
    faults: [
      'contact-stuck-closed F3:95-96 | Contact of F3 does not part',
      'contact-stuck-open F2:95-96 | Contact of F2 does not make',
      'coil-open KM2 | Coil of KM2 burnt through',
      'lost-phase G1:L2 | L2 lost before the breaker',
    ],
  },
  {
    ...HARROW,
    id: 'salt-harrow-jog',
    title: 'Salt harrow, reversing jog',
    brief:
      'S2 and S3 only jog: the harrow moves while a button is held, forward or in reverse, and nothing seals. The electrical interlock keeps both contactors from coming in at once; S1 breaks both.',
    change: { title: 'Salt harrow board, jogging', alter: { S2: { duty: 'jog' }, S3: { duty: 'jog' } } },
    reference: `${POWER}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S2 14 > KM2 21; KM2 22 > KM1 A1; S3 14 > KM1 21; KM1 22 > KM2 A1\n${RETURNS}`,
    behaviours: [
      {
        id: 'forward',
        title: 'Moves forward only while S2 is held',
        points: 6,
        steps: `${OFF}; press S2; ${FORWARD}; release S2; ${OFF}; press S2; ${FORWARD}; release S2; ${OFF}`,
      },
      {
        id: 'reverse',
        title: 'Moves in reverse only while S3 is held',
        points: 6,
        steps: `press S3; ${REVERSE}; release S3; ${OFF}; press S3; ${REVERSE}; release S3; ${OFF}`,
      },
      {
        id: 'interlock',
        title: 'The other button does nothing while one is held',
        points: 6,
        steps: `press S2; ${FORWARD}; press S3; ${FORWARD}; release S2; ${REVERSE}; release S3; ${OFF}`,
      },
      {
        id: 'stop',
        title: 'S1 breaks both',
        points: 4,
        steps: `press S2; ${FORWARD}; press S1; ${OFF}; release S2; release S1; press S3; ${REVERSE}; press S1; ${OFF}; release S3; release S1; ${OFF}`,
      },
      {
        id: 'overload',
        title: 'The overload stops both',
        points: 5,
        steps: `press S2; ${FORWARD}; trip F2; F2 tripped, ${OFF}; release S2; press S3; ${OFF}; release S3; reset F2; ${OFF}; press S3; ${REVERSE}`,
      },
    ],
    rules: { ...STARTER_RULES, interlocks: ['electrical'] },
    faults: [
      'contact-stuck-closed S2:13-14 | Button S2 does not come back',
      'contact-stuck-open KM2:21-22 | Interlock contact of KM2 does not make again',
      'coil-open KM2 | Coil of KM2 burnt through',
      'lost-phase G1:L1 | L1 lost before the breaker',
    ],
  },
];
