import { REVERSING_STARTER } from '../boards.js';
import type { BehaviourRecipe, Recipe } from '../recipe.js';
import { BASIC_RULES, DIRECT, FRAME, GUARDED_FEED, STARTER_RULES, tap } from './parts.js';

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
const RETURNS = 'return: KM1 A2 > {return}; KM2 A2 > {return}';

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

const HARROW = {
  family: 'reversing',
  board: REVERSING_STARTER,
  observe: ['KM1', 'KM2', 'M1.driven'],
} as const;

export const REVERSING: readonly Recipe[] = [
  {
    ...HARROW,
    id: 'salt-harrow-electrical-interlock',
    title: 'Salt harrow, electrical interlock',
    brief:
      'The salt harrow is drawn across the pan and back by motor M1. S2 runs it forward, S3 in reverse, S1 stops it. KM2 exchanges two lines. Both contactors closed at once would be a phase-to-phase short circuit, so each coil is fed through the normally closed auxiliary contact of the other contactor: the harrow must be stopped before it can go the other way.',
    reference: `${POWER}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S2 14 > KM2 21; KM2 22 > KM1 A1; S3 14 > KM1 21; KM1 22 > KM2 A1; S1 22 > KM1 13; KM1 14 > S2 14; S3 13 > KM2 13; KM2 14 > S3 14\n${RETURNS}`,
    behaviours: [...DIRECTIONS, interlock(), ...GUARDS],
    rules: BASIC_RULES,
    repair: 'marked',
    faults: [
      {
        id: 'interlock-bridged',
        title: 'Interlock of the forward rung bridged',
        fault: { 'extra-wire': 'S2:14 KM1:A1' },
      },
      { id: 'welded', title: 'A pole of KM1 welded', fault: { 'contact-stuck-closed': 'KM1:1-2' } },
    ],
  },
  {
    ...HARROW,
    id: 'salt-harrow-mechanical-interlock',
    title: 'Salt harrow, mechanical and electrical interlock',
    brief:
      'The contactors of this board are coupled: while one armature is in, the other cannot move. Its coil could still be energised and would then draw inrush current until it burns, so the electrical interlock stays: each coil through the normally closed contact of the other contactor.',
    change: { interlocks: [{ kind: 'mechanical', between: ['KM1', 'KM2'] }] },
    reference: `${POWER}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S1 22 > KM1 13; KM1 14 > S2 14; S3 13 > KM2 13; KM2 14 > S3 14; S2 14 > KM2 21; KM2 22 > KM1 A1; S3 14 > KM1 21; KM1 22 > KM2 A1\n${RETURNS}`,
    behaviours: [...DIRECTIONS, interlock((coil) => `, volts(${coil}:A1, ${coil}:A2) ..10`), ...GUARDS],
    rules: { ...STARTER_RULES, interlocks: ['electrical', 'mechanical'] },
  },
  {
    ...HARROW,
    id: 'salt-harrow-push-button-interlock',
    title: 'Salt harrow, push-button interlock',
    brief:
      'S2 and S3 each carry a normally closed contact that stands in the rung of the other direction. So the harrow reverses without Stop: the pressed button first lets the other contactor go. This brakes the motor with full current (plugging). The push-button interlock adds to the electrical interlock and never replaces it.',
    change: {
      alter: {
        S2: { at: [786, 236], options: { contacts: ['NO 13-14', 'NC 21-22'] } },
        S3: { at: [786, 400], options: { contacts: ['NO 13-14', 'NC 21-22'] } },
      },
    },
    reference: `${POWER}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 13 > S3 13; S1 22 > KM1 13; S3 13 > KM2 13; S2 14 > S3 21; KM1 14 > S2 14; S3 22 > KM2 21; KM2 22 > KM1 A1; S3 14 > S2 21; KM2 14 > S3 14; S2 22 > KM1 21; KM1 22 > KM2 A1\n${RETURNS}`,
    behaviours: [
      ...DIRECTIONS,
      { id: 'plugging', title: 'Reverses without Stop', points: 6, steps: `${AHEAD}; ${BACK}; ${AHEAD}` },
      ...GUARDS,
    ],
    rules: { ...STARTER_RULES, interlocks: ['electrical', 'push-button'] },
  },
];
