import { DIRECT_STARTER, PLUG_IN_BOARD, SINGLE_PHASE_BOARD } from '../boards.js';
import type { Recipe } from '../recipe.js';
import { OBSERVE, RUN_FAULTS, holds, lost, stops, tripped } from './direct.js';
import { DIRECT, FRAME, OFF, STARTER_RULES, start } from './parts.js';

/**
 * Seal-in circuits on other supplies than one phase of the line: direct current, one phase, a transformer.
 */

/** A DC contactor, lamps and their own supply. */
const DC_CONTROL: Recipe = {
  id: 'brine-pump-24-v-dc-control',
  title: 'Brine pump, 24 V DC control',
  family: 'seal-in',
  brief:
    'The power circuit is 400 V; the control circuit is 24 V DC from G2: S1, S2 with the seal-in contact, coil of KM1 and run lamp H1. Relay K2 watches the mains: its contact stands in front of all, so that nothing restarts when the mains come back. Plus is red, minus blue; plus is what is switched.',
  board: DIRECT_STARTER,
  forms: ['iec'],
  change: {
    title: 'Brine pump board, 24 V DC control',
    alter: { KM1: { options: { coil: { voltage: 24, kind: 'dc' } } } },
    add: [
      { before: 'Q1', device: { tag: 'G2', type: 'supply-dc', options: { voltage: 24, currentLimit: 5 } } },
      { before: 'KM1', device: { tag: 'F3', type: 'fuse', options: { poles: 1, rating: 2 } } },
      {
        before: 'KM1',
        device: {
          tag: 'K2',
          type: 'relay',
          options: { contacts: ['NO 13-14'], coil: { voltage: 230, kind: 'ac' } },
        },
      },
      { device: { tag: 'H1', type: 'lamp', options: { voltage: 24, kind: 'dc', colour: 'green' } } },
    ],
  },
  reference: `${DIRECT}\n${FRAME}\ncontrol: Q1 2 > F3 1; F3 2 > K2 A1\nreturn: K2 A2 > G1 N\nplus: G2 + > F1 1; F1 2 > K2 13; K2 14 > F2 95; F2 96 > S1 21; S1 22 > S2 13; S2 13 > KM1 13; KM1 14 > S2 14; S2 14 > KM1 A1; KM1 A1 > H1 X1\nminus: KM1 A2 > G2 -; H1 X2 > KM1 A2`,
  observe: [...OBSERVE, 'H1'],
  behaviours: [
    holds('holds', 'Runs on S2 and holds, the lamp lit', 'S2', 5, ', H1 lit'),
    stops('stops', 'Stops on S1', 'S2', 'S1'),
    tripped(5),
    {
      id: 'control-loss',
      title: 'Stays off when the 24 V come back',
      points: 4,
      steps: `${start('S2')}; open G2; ${OFF}, H1 dark; close G2; ${OFF}; ${start('S2')}; H1 lit`,
    },
    lost(4),
  ],
  rules: { ...STARTER_RULES },
  faults: [
    'open-wire KM1:A2 G2:- | Coil’s minus broken',
    'coil-open K2 | Coil of the mains relay burnt through',
    'coil-open KM1 | Coil of KM1 burnt through',
    'contact-stuck-open KM1:13-14 | Seal-in contact does not make',
    'lamp-failed H1 | Run lamp has failed',
  ],
};

const PLUG_IN: Recipe = {
  id: 'plug-in-relay-hold',
  title: 'Eight-pin relay that holds itself',
  family: 'seal-in',
  brief:
    'Relay K1 sits on an eight-pin base: coil 2 and 7; common 1 with NO 3 and NC 4; common 8 with NO 6 and NC 5. S2 brings it in, 1-3 holds it, S1 drops it; lamp H1 is fed through 8-6. Count the pins from the key.',
  board: PLUG_IN_BOARD,
  reference:
    'plus: G2 + > F1 1; F1 2 > S1 21; S1 22 > S2 13; S2 13 > K1 1; S2 14 > K1 2; K1 3 > K1 2; F1 2 > K1 8; K1 6 > H1 X1\nminus: K1 7 > G2 -; H1 X2 > K1 7',
  observe: ['K1', 'H1'],
  behaviours: [
    {
      id: 'holds',
      title: 'Comes in on S2 and holds, the lamp lit',
      points: 6,
      steps:
        'K1 out, H1 dark; press S2; K1 in, H1 lit; release S2; K1 in, K1:1-3 closed, H1 lit; wait 1; K1 in',
    },
    {
      id: 'drops',
      title: 'Drops on S1 and stays out',
      points: 5,
      steps: 'press S2; K1 in; release S2; K1 in; press S1; K1 out, H1 dark; release S1; K1 out, H1 dark',
    },
    {
      id: 'supply-loss',
      title: 'Stays out when the supply comes back',
      points: 4,
      steps:
        'press S2; release S2; K1 in, H1 lit; open G2; K1 out; close G2; K1 out, H1 dark; press S2; K1 in; release S2; K1 in',
    },
  ],
  rules: { coilReturnUnswitched: true, fusedControl: true, stopUpstream: true, maxWiresPerTerminal: 2 },
  faults: [
    'open-wire K1:3 K1:2 | Holding lead broken',
    'coil-open K1 | Coil of K1 burnt through',
    'contact-stuck-open K1:1-3 | Contact 1-3 does not make',
    'contact-stuck-closed K1:8-6 | Contact 8-6 welded',
  ],
};

/** One phase and neutral, both switched; the motor's current goes through all three heaters. */
const SINGLE_PHASE: Recipe = {
  id: 'rinse-pump-single-phase',
  title: 'Single-phase line starter',
  family: 'seal-in',
  brief:
    'Rinse pump M1 runs on one phase. KM1 switches phase and neutral; the phase is looped through two heaters of F2 and the neutral through the third, so that all three carry the current. The coil’s neutral comes from the unswitched side of KM1, or it never pulls in.',
  board: SINGLE_PHASE_BOARD,
  reference:
    'power: G1 L > Q1 1; G1 N > Q1 3; Q1 2 > KM1 1; Q1 4 > KM1 3; KM1 2 > F2 1; F2 2 > F2 3; F2 4 > M1 U1; KM1 4 > F2 5; F2 6 > M1 U2\nearth: G1 PE > M1 PE\ncontrol: Q1 2 > F1 1; F1 2 > F2 95; F2 96 > S1 21; S1 22 > S2 13; S2 13 > KM1 13; KM1 14 > S2 14; S2 14 > KM1 A1\nreturn: KM1 A2 > KM1 3',
  observe: OBSERVE,
  behaviours: [
    holds('holds', 'Runs on S2 and holds', 'S2', 6, ', M1.speed 1350..1500'),
    stops('stops', 'Stops on S1', 'S2', 'S1'),
    {
      id: 'looped',
      title: 'The current goes through all three heaters',
      points: 5,
      steps: `${start('S2')}; wait 3; amps(F2:1) 1.., amps(F2:3) 1.., amps(F2:5) 1..`,
    },
    tripped(5),
    lost(4),
  ],
  rules: { ...STARTER_RULES, neutralUnswitched: true },
  faults: [
    'open-wire KM1:A2 KM1:3 | Coil’s neutral broken',
    'open-wire F2:2 F2:3 | Loop through the heaters broken',
    'coil-open KM1 | Coil of KM1 burnt through',
    'contact-stuck-closed KM1:1-2 | Pole of the phase welded',
  ],
};

const CONTROL_TRANSFORMER: Recipe = {
  id: 'brine-pump-control-transformer',
  title: 'Brine pump, control transformer (US)',
  family: 'seal-in',
  brief:
    'A 480 V 60 Hz starter with a 120 V control circuit. Transformer T1 is fed from L1 and L2 behind the disconnect; its secondary X1 is fused by F1, and X2 is earthed and is the return of the coil. The overload contact stands between coil and X2, the usual place on US ladder drawings.',
  board: DIRECT_STARTER,
  forms: ['us'],
  change: { title: 'Brine pump board, 480 V with control transformer' },
  reference: `${DIRECT}\n${FRAME}\n{feed}\ncontrol: F1 2 > S1 21; S1 22 > S2 13; S2 13 > KM1 13; KM1 14 > S2 14; S2 14 > KM1 A1; KM1 A2 > F2 95\nreturn: F2 96 > {return}`,
  observe: OBSERVE,
  behaviours: [
    holds('holds', 'Runs on S2 and holds', 'S2', 5),
    { ...stops('stops', 'Stops on S1', 'S2', 'S1'), points: 5 },
    {
      id: 'coil',
      title: 'The coil has its 120 V',
      points: 4,
      steps:
        'press S2; KM1 in, volts(KM1:A1, KM1:A2) 105..130; release S2; KM1 in, volts(KM1:A1, KM1:A2) 105..130',
    },
    tripped(5),
    lost(4),
  ],
  rules: { ...STARTER_RULES, overloadPosition: 'coil', secondaryEarthed: true, wireColours: 'us' },
  faults: [...RUN_FAULTS.slice(0, 3), 'open-wire T1:X2 G1:PE | Secondary’s earth broken'],
};

export const OTHER_SUPPLIES: readonly Recipe[] = [DC_CONTROL, PLUG_IN, SINGLE_PHASE, CONTROL_TRANSFORMER];
