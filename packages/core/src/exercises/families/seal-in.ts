import { DIRECT_STARTER, DIRECT_STARTER_208, lamp } from '../boards.js';
import type { Recipe } from '../recipe.js';
import { OTHER_SUPPLIES } from './other-supplies.js';
import {
  COIL_RETURN,
  FROM_TWO_PLACES,
  OBSERVE,
  QUAY,
  RUN_FAULTS,
  holds,
  lost,
  stops,
  tripped,
} from './direct.js';
import { BASIC_RULES, DIRECT, FRAME, GUARDED_FEED, OFF, RUNS, STARTER_RULES } from './parts.js';
import { start, stop, tap } from './parts.js';

const THREE_WIRE: Recipe = {
  id: 'brine-pump-three-wire',
  title: 'Brine pump, three-wire',
  family: 'seal-in',
  brief:
    'S2 starts brine pump M1, S1 stops it. It runs on when Start is let go, drops out when overload relay F2 trips, and stays off after a reset or a supply failure until somebody presses Start. Wire the power circuit with its earth, then the fused control circuit; the seal-in contact goes in parallel with Start, after Stop.',
  board: DIRECT_STARTER,
  change: {
    alter: {
      S2: { options: { colour: 'green' } },
      M1: { settings: { load: 0.6 } },
    },
  },
  reference: `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 14 > KM1 A1; S2 13 > KM1 13; KM1 14 > KM1 A1\n${COIL_RETURN}`,
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
    'open-wire KM1:14 KM1:A1 | Seal-in lead broken',
    'coil-open KM1 | Coil of KM1 burnt through',
    'lost-phase G1:L2 | L2 lost before the breaker',
    'contact-stuck-closed KM1:1-2 | A pole of KM1 welded',
    'contact-stuck-open F2:95-96 | Overload contact 95-96 does not make',
  ],
};

const IN_EMERGENCY = `${start('S2')}; press S0; ${OFF}`;

const EMERGENCY_STOP: Recipe = {
  id: 'brine-pump-emergency-stop',
  title: 'Brine pump, emergency stop',
  family: 'seal-in',
  brief:
    'M1 starts on S2, holds, and stops on S1. The mushroom button S0 stays in when it is struck: while it is in nothing runs and nothing can be started, and pulling it out starts nothing. It stands before everything else, so that no branch goes around it.',
  board: DIRECT_STARTER,
  change: {
    title: 'Brine pump board with emergency stop',
    add: [
      {
        before: 'S1',
        device: {
          tag: 'S0',
          type: 'estop',
          duty: 'emergency-stop',

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
  faults: [...RUN_FAULTS, 'contact-stuck-closed S0:11-12 | The emergency stop does not open'],
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
    add: QUAY,
  },
  reference: `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S3 21; S3 22 > S4 13; S4 13 > S2 13; S2 13 > KM1 13; KM1 14 > KM1 A1; S2 14 > S4 14; S2 14 > KM1 14\n${COIL_RETURN}`,
  observe: OBSERVE,
  behaviours: FROM_TWO_PLACES,
  rules: STARTER_RULES,
  alsoUs: 'Two stations for the brine pump, 480 V (US)',
  faults: [
    'open-wire S2:14 S4:14 | Lead between the starts broken',
    'contact-stuck-open S3:21-22 | Stop on the quay does not make again',
    'coil-open KM1 | Coil of KM1 burnt through',
    'lost-phase G1:L3 | L3 lost before the breaker',
  ],
};

const MOMENTARY: Recipe = {
  ...THREE_WIRE,
  id: 'brine-pump-momentary',
  title: 'Brine pump, momentary',
  brief:
    'The pump runs only while S2 is held: there is nothing that holds the coil when the button is let go. Wire it so, work it, and say what is missing before you go on to the three-wire circuit.',
  reference: `${DIRECT}\n${FRAME}\n${GUARDED_FEED}; S1 22 > S2 13; S2 14 > KM1 A1\n${COIL_RETURN}`,
  behaviours: [
    {
      id: 'runs-held',
      title: 'Off until Start is pressed; runs while it is held',
      points: 6,
      steps: `${OFF}; press S2; ${RUNS}; wait 1; ${RUNS}, M1.speed {rated}`,
    },
    {
      id: 'drops',
      title: 'Drops out when Start is let go, each time',
      points: 6,
      steps: `press S2; ${RUNS}; release S2; ${OFF}; press S2; ${RUNS}; release S2; ${OFF}`,
    },
    {
      id: 'stops',
      title: 'Stops on Stop while Start is held',
      points: 4,
      steps: `press S2; ${RUNS}; press S1; ${OFF}; release S1; ${RUNS}; release S2; ${OFF}`,
    },
    {
      id: 'overload',
      title: 'The overload stops it and must be reset',
      points: 6,
      steps: `press S2; ${RUNS}; trip F2; F2 tripped, ${OFF}; release S2; press S2; ${OFF}; release S2; reset F2; F2 healthy, ${OFF}; press S2; ${RUNS}`,
    },
  ],
  shows: ['progress'],
  faults: [
    'open-wire S2:14 KM1:A1 | Lead to the coil broken',
    'contact-stuck-closed S2:13-14 | Start does not come back',
    'coil-open KM1 | Coil of KM1 burnt through',
    'lost-phase G1:L1 | L1 lost before the breaker',
  ],
};

/** The overload's contact behind the coil, as US ladders have it. */
const THREE_WIRE_US: Recipe = {
  ...THREE_WIRE,
  id: 'brine-pump-three-wire-us',
  title: 'Three-wire brine pump, 480 V (US)',
  forms: ['us'],
  brief:
    'The three-wire starter at 480 V 60 Hz with a 120 V control circuit from T1. S1, then S2 with the seal-in contact beside it, then the coil; the overload contact stands between coil and X2, the usual place on US ladder drawings.',
  reference: `${DIRECT}\n${FRAME}\n{feed}\ncontrol: F1 2 > S1 21; S1 22 > S2 13; S2 14 > KM1 A1; S2 13 > KM1 13; KM1 14 > KM1 A1; KM1 A2 > F2 95\nreturn: F2 96 > {return}`,
  rules: { ...STARTER_RULES, overloadPosition: 'coil', secondaryEarthed: true, wireColours: 'us' },
};

/** Control between a line and neutral. */
const THREE_WIRE_208: Recipe = {
  ...THREE_WIRE,
  id: 'brine-pump-208-v',
  title: 'Three-wire brine pump, 208/120 V (US)',
  forms: ['us'],
  board: DIRECT_STARTER_208,
  brief:
    'The three-wire starter on a 208/120 V 60 Hz supply: the control circuit lies between one line, behind the breaker and its fuse, and neutral (white). Red AC control, black power, green earth; the overload contact stands in front of Stop.',
  terms: { us: { feed: 'control: Q1 2 > F1 1', return: 'G1 N' } },
  rules: { ...STARTER_RULES, wireColours: 'us' },
};

const LAMPS: Recipe = {
  id: 'brine-pump-lamps',
  title: 'Brine pump with lamps',
  family: 'seal-in',
  brief:
    'The three-wire starter with three lamps: H1 white shows that the pump is off (through KM1 21-22), H2 green that it runs (with the coil), H3 amber that the overload has tripped (through F2 97-98, live whatever else is open).',
  board: DIRECT_STARTER,
  change: {
    title: 'Brine pump board with lamps',
    add: [{ device: lamp('H1', 'white') }, { device: lamp('H2', 'green') }, { device: lamp('H3', 'amber') }],
  },
  reference: `${DIRECT}\n${FRAME}\n{feed}\ncontrol: F1 2 > F2 95; F2 95 > F2 97; F2 96 > S1 21; S1 22 > S2 13; S2 13 > KM1 13; KM1 14 > S2 14; S2 14 > KM1 A1; KM1 A1 > H2 X1; F2 97 > KM1 21; KM1 22 > H1 X1; F2 98 > H3 X1\nreturn: KM1 A2 > {return}; H1 X2 > H2 X2; H2 X2 > H3 X2; H3 X2 > KM1 A2`,
  observe: [...OBSERVE, 'H1', 'H2', 'H3'],
  behaviours: [
    {
      id: 'off-lamp',
      title: 'Off: only the off lamp is lit',
      points: 4,
      steps: `${OFF}, H1 lit, H2 dark, H3 dark; press S2; ${RUNS}, H1 dark`,
    },
    {
      id: 'run-lamp',
      title: 'Runs and holds, and only the run lamp is lit',
      points: 5,
      steps: `${start('S2')}; H1 dark, H2 lit, H3 dark; wait 1; ${RUNS}, H2 lit`,
    },
    {
      id: 'stops',
      title: 'Stops on Stop; the off lamp comes back',
      points: 4,
      steps: `${start('S2')}; H2 lit; ${stop('S1')}; H1 lit, H2 dark`,
    },
    {
      id: 'trip-lamp',
      title: 'The overload stops it and lights the trip lamp until it is reset',
      points: 6,
      steps: `${start('S2')}; H3 dark; trip F2; F2 tripped, ${OFF}, H3 lit, H2 dark; ${tap('S2')}; ${OFF}; reset F2; ${OFF}, H3 dark; ${start('S2')}; H2 lit`,
    },
    lost(4),
  ],
  rules: STARTER_RULES,
  faults: [
    ...RUN_FAULTS.slice(0, 3),
    'lamp-failed H3 | Trip lamp has failed',
    'contact-stuck-closed KM1:21-22 | Off lamp’s contact does not part',
  ],
};

const POLE_HOLD: Recipe = {
  ...THREE_WIRE,
  id: 'brine-pump-pole-seal-in',
  title: 'Seal-in without an auxiliary contact',
  brief:
    'KM1 of this board has no auxiliary contact. Hold it through a power pole: the control circuit is fed from one line in front of KM1, and the coil’s side of Start is joined to the load side of the pole of that same line. Another line’s pole would be a short circuit as the contactor closes. Stop and overload stand behind both, before the coil.',
  change: {
    title: 'Brine pump board, contactor without auxiliary contacts',
    alter: { KM1: { options: { aux: [] } } },
  },
  reference: `${DIRECT}\n${FRAME}\ncontrol: KM1 1 > F1 1; F1 2 > S2 13; S2 14 > KM1 2; S2 14 > S1 21; S1 22 > F2 95; F2 96 > KM1 A1\n${COIL_RETURN}`,
  forms: ['iec'],
  behaviours: [
    holds('holds', 'Pulls in on Start and holds', 'S2', 6, ', M1.speed {running}'),
    { ...stops('stops', 'Stops on Stop', 'S2', 'S1'), points: 5 },
    tripped(6),
    lost(5),
  ],
  rules: {
    overloadPosition: 'either',
    coilReturnUnswitched: true,
    contactDuty: true,
    controlIsolated: true,
    overloadReset: 'manual',
    earthBonded: true,
    maxWiresPerTerminal: 3,
  },
  faults: [
    'open-wire S2:14 KM1:2 | Lead to the pole broken',
    'coil-open KM1 | Coil of KM1 burnt through',
    'contact-stuck-open KM1:1-2 | The pole that holds does not make',
    'lost-phase G1:L3 | L3 lost before the breaker',
  ],
};

export const SEAL_IN: readonly Recipe[] = [
  MOMENTARY,
  THREE_WIRE,
  THREE_WIRE_US,
  THREE_WIRE_208,
  LAMPS,
  POLE_HOLD,
  EMERGENCY_STOP,
  TWO_STATIONS,
  ...OTHER_SUPPLIES,
];
