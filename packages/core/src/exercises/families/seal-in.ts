import { DIRECT_STARTER, button } from '../boards.js';
import type { BehaviourRecipe, Recipe } from '../recipe.js';
import { BASIC_RULES, DIRECT, FRAME, GUARDED_FEED, OFF, RUNS, STARTER_RULES } from './parts.js';
import { overload, start, stop, supplyLoss, tap } from './parts.js';

const OBSERVE = ['KM1', 'M1.driven'];
const COIL_RETURN = 'return: KM1 A2 > {return}';

const holds = (id: string, title: string, by: string, points: number, more = ''): BehaviourRecipe => ({
  id,
  title,
  points,
  steps: `${start(by)}; wait 1; ${RUNS}${more}`,
});
const stops = (id: string, title: string, from: string, by: string): BehaviourRecipe => ({
  id,
  title,
  points: 4,
  steps: `${start(from)}; ${stop(by)}`,
});
const tripped = (points: number, again = 'S2'): BehaviourRecipe => ({
  id: 'overload',
  title: 'The overload stops it and must be reset',
  points,
  steps: overload(again),
});
const lost = (points: number, first = 'S2'): BehaviourRecipe => ({
  id: 'supply-loss',
  title: 'Stays off when the supply comes back',
  points,
  steps: supplyLoss(first),
});

const THREE_WIRE: Recipe = {
  id: 'brine-pump-three-wire',
  title: 'Brine pump, three-wire',
  family: 'seal-in',
  brief:
    'Brine pump M1 is started and stopped by two push-buttons. It must run on when Start is let go, stop on Stop, drop out when overload relay F2 trips, and stay off after a reset and after a supply failure until somebody presses Start again. Wire the power circuit (G1, Q1, KM1, F2, M1, and the earth), then the control circuit from the fused 230 V phase. The seal-in contact goes in parallel with Start, after Stop.',
  board: DIRECT_STARTER,
  change: {
    alter: {
      F1: { at: [480, 110] },
      S1: { at: [740, 180] },
      S2: { at: [740, 340], options: { colour: 'green' } },
      M1: { settings: { load: 0.6 } },
    },
  },
  reference: `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 14 > KM1 A1; S2 13 > KM1 13; KM1 14 > KM1 A1\n${COIL_RETURN}`,
  terms: { iec: { feed: 'control: Q1 2 > F1 1' } },
  observe: OBSERVE,
  behaviours: [
    {
      id: 'pulls-in',
      title: 'Off until Start is pressed; then pulls in and turns forward',
      points: 5,
      steps: `${OFF}; press S2; ${RUNS}`,
    },
    {
      id: 'holds',
      title: 'Holds after Start is let go',
      points: 7,
      steps: `${tap('S2')}; wait 1; ${RUNS}, M1.speed {rated}`,
    },
    { id: 'stops', title: 'Stops on Stop and stays off', points: 6, steps: `${start('S2')}; ${stop('S1')}` },
    {
      ...tripped(6),
      title: 'Overload drops it out; only Start after a reset starts it',
    },
    lost(6),
  ],
  rules: BASIC_RULES,
  repair: 'marked',
  faults: [
    { id: 'seal-in-open', title: 'Seal-in lead broken', fault: { 'open-wire': 'KM1:14 KM1:A1' } },
    { id: 'dead-coil', title: 'Coil of KM1 open', fault: { 'coil-open': 'KM1' } },
    { id: 'lost-phase', title: 'L2 lost before the breaker', fault: { 'lost-phase': 'G1:L2' } },
  ],
};

const IN_EMERGENCY = `${start('S2')}; press S0; ${OFF}`;

const EMERGENCY_STOP: Recipe = {
  id: 'brine-pump-emergency-stop',
  title: 'Brine pump, emergency stop',
  family: 'seal-in',
  brief:
    'The brine pump M1 starts on S2, holds, and stops on S1. The mushroom button S0 stays in when it is struck: while it is in nothing runs and nothing can be started, and pulling it out again starts nothing. It must stand before everything else in the control circuit, so that no branch goes around it.',
  board: DIRECT_STARTER,
  change: {
    title: 'Brine pump board with emergency stop',
    alter: { S1: { at: [830, 180] }, S2: { at: [830, 336] } },
    add: [
      {
        before: 'S1',
        device: {
          tag: 'S0',
          type: 'estop',
          duty: 'emergency-stop',
          at: [830, 24],
          options: { contacts: ['NC 11-12'] },
        },
      },
    ],
  },
  reference: `${DIRECT}\n${FRAME}\n{feed}\ncontrol: F1 2 > F2 95; F2 96 > S0 11; S0 12 > S1 21; S1 22 > S2 13; S2 13 > KM1 13; KM1 14 > S2 14; S2 14 > KM1 A1\n${COIL_RETURN}`,
  observe: OBSERVE,
  behaviours: [
    holds('holds', 'Runs on S2 and holds', 'S2', 4, ', M1.speed {running}'),
    stops('stops', 'Stops on S1', 'S2', 'S1'),
    { id: 'emergency', title: 'The emergency stop stops it', points: 5, steps: IN_EMERGENCY },
    {
      id: 'no-start',
      title: 'Nothing starts while it is in',
      points: 4,
      steps: `${IN_EMERGENCY}; press S2; ${OFF}; release S2; ${OFF}`,
    },
    {
      id: 'release',
      title: 'Pulling it out starts nothing; Start does',
      points: 4,
      steps: `${IN_EMERGENCY}; release S0; ${OFF}; ${tap('S2')}; ${RUNS}`,
    },
    tripped(4),
  ],
  rules: { ...STARTER_RULES, emergencyStopFirst: true },
  practice: {
    deadTest: [
      { between: ['G1:PE', 'M1:PE'], hold: [], expect: 'closed' },
      { between: ['G1:L1', 'G1:L2'], hold: [], expect: 'open' },
      { between: ['G1:L1', 'G1:N'], hold: [], expect: 'open' },
      { between: ['G1:L1', 'G1:N'], hold: ['S2'], expect: { min: 200, max: 1500 } },
    ],
    permission: true,
    incidents: 0,
  },
  repair: 'marked',
};

const TWO_STATIONS: Recipe = {
  id: 'brine-pump-two-stations',
  title: 'Brine pump, two stations',
  family: 'seal-in',
  brief:
    'The brine pump is worked from the pump house (S1 stop, S2 start) and from the quay (S3 stop, S4 start). Either start runs it, either stop stops it: all stops in series, all starts in parallel, the seal-in contact around the starts alone.',
  board: DIRECT_STARTER,
  change: {
    title: 'Brine pump board with two stations',
    alter: { S1: { at: [660, 180] }, S2: { at: [660, 336] } },
    add: [
      { before: 'M1', device: button('S3', 'stop', [830, 180], 'red') },
      { before: 'M1', device: button('S4', 'start', [830, 336], 'white') },
    ],
  },
  reference: `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S3 21; S3 22 > S4 13; S4 13 > S2 13; S2 13 > KM1 13; KM1 14 > KM1 A1; S2 14 > S4 14; S2 14 > KM1 14\n${COIL_RETURN}`,
  observe: OBSERVE,
  behaviours: [
    holds('start-house', 'Starts from the pump house and holds', 'S2', 4),
    holds('start-quay', 'Starts from the quay and holds', 'S4', 4),
    stops('stop-house', 'Stops from the pump house', 'S4', 'S1'),
    stops('stop-quay', 'Stops from the quay', 'S2', 'S3'),
    tripped(4, 'S4'),
    lost(4, 'S4'),
  ],
  rules: STARTER_RULES,
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
};

export const SEAL_IN: readonly Recipe[] = [THREE_WIRE, EMERGENCY_STOP, TWO_STATIONS, CONTROL_TRANSFORMER];
