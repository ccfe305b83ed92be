import type { Rules } from '../../marking/index.js';
import {
  CONTROLLED_HARROW_WITH_LIMITS,
  CONTROLLED_JOGGER,
  CONTROLLED_REVERSER,
  CONTROLLED_STARTER,
  CONTROLLED_STAR_DELTA,
  CONTROLLED_WITH_EMERGENCY_STOP,
} from '../controller-boards.js';
import type { BehaviourRecipe, Recipe } from '../recipe.js';
import { BLOWER, ESTOP, HARROW, HARROW_LIMITS, JOG, OPEN_LOOP, PUMP, RESTS } from './controller-programs.js';
import {
  DIRECT,
  FRAME,
  GUARDED_FEED,
  LINE,
  OFF,
  RUNS,
  overload,
  start,
  sticksIn,
  stop,
  supplyLoss,
  tap,
} from './parts.js';

/**
 * Starters whose logic is in a programmable controller: buttons to inputs, contactors to outputs, and what
 * stays hard-wired (common practice, no source). An emergency stop is not left to a program; functional
 * safety has standards of its own (ISO 13849-1, IEC 62061, from memory), and this is a trainer.
 */

/** What every house asks of such a board (common practice, no source). */
const RULES: Rules = {
  coilReturnUnswitched: true,
  fusedControl: true,
  contactDuty: true,
  overloadReset: 'manual',
  earthBonded: true,
  maxWiresPerTerminal: 2,
  plcStopsNormallyClosed: true,
};

/** Fuse, common of the outputs, coil. */
const OUTPUT = '{feed}\ncontrol: F1 2 > A1 QC1; A1 Q0.0 > KM1 A1\nreturn: KM1 A2 > {return}';
/** The electronics and the common of the inputs. */
const ELECTRONICS = 'minus: G2 - > A1 M; A1 M > A1 IC\nplus: G2 + > A1 L+; A1 L+ > S1 21';
const STOP_START_TRIP = `${ELECTRONICS}; S1 22 > A1 I0.0; S1 21 > S2 13; S2 14 > A1 I0.1; S2 13 > F2 95; F2 96 > A1 I0.2`;
const REPORT = 'F2 95 > KM1 13; KM1 14 > A1 I0.3';

const CLOSED: readonly BehaviourRecipe[] = [
  {
    id: 'starts',
    title: 'Starts on Start and holds',
    points: 6,
    steps: `${OFF}; ${start('S2')}; wait 1; ${RUNS}, M1.speed {running}`,
  },
  { id: 'stops', title: 'Stops on Stop and stays off', points: 6, steps: `${start('S2')}; ${stop('S1')}` },
  {
    id: 'overload',
    title: 'The overload stops it, and a reset starts nothing',
    points: 6,
    steps: overload('S2'),
  },
  { id: 'supply-loss', title: 'Stays off when the supply comes back', points: 6, steps: supplyLoss('S2') },
];

const FAULTS = [
  'input-dead A1:I0.1 | Input of Start is dead',
  'open-wire S1:22 A1:I0.0 | Lead of Stop broken',
  'contact-stuck-closed A1:QC1-Q0.0 | Output welded',
  'plc-stopped A1 | Controller left in stop',
  'blown-fuse F1 | Fuse of the outputs blown',
  'contact-stuck-closed KM1:13-14 | Report of KM1 stuck',
];

const SEAL = { family: 'seal-in', board: CONTROLLED_STARTER, observe: ['KM1', 'M1.driven'] } as const;
const PUMP_LEADS = `${DIRECT}\n${FRAME}\n${OUTPUT}\n${STOP_START_TRIP}; ${REPORT}`;

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

const EMERGENCY_LEADS = `${DIRECT}
${FRAME}
{feed}
control: F1 2 > S5 11; S5 12 > A1 QC1; A1 Q0.0 > KM1 A1
return: KM1 A2 > {return}
${STOP_START_TRIP}; ${REPORT}; KM1 13 > S4 13; S4 14 > A1 I0.4`;

const JOG_LEADS = `${DIRECT}
${FRAME}
${OUTPUT}
${ELECTRONICS}; S1 22 > A1 I0.0; S1 21 > S2 13; S2 14 > A1 I0.1; S2 13 > S3 13; S3 14 > A1 I0.2
plus: S3 13 > F2 95; F2 96 > A1 I0.3; F2 95 > KM1 13; KM1 14 > A1 I0.4`;

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

/** The relay starter that is to be converted. */
const RELAY_PUMP = `${DIRECT}
${FRAME}
${GUARDED_FEED}; S1 22 > S2 13; S2 14 > KM1 A1; S2 13 > KM1 13; KM1 14 > S2 14
return: KM1 A2 > {return}`;

export const CONTROLLERS: readonly Recipe[] = [
  {
    ...SEAL,
    id: 'brine-pump-controller-open-loop',
    title: 'Brine pump by controller, open loop: why it restarts',
    brief:
      'The program is in the controller: it seals by its own output. Wire the board, switch the supply ' +
      'of the contactor off and on while the pump runs, and say why the pump starts by itself. Never ' +
      'leave such a program in service; the next exercise closes the loop.',
    reference: `${DIRECT}\n${FRAME}\n${OUTPUT}\n${STOP_START_TRIP}`,
    programs: { A1: OPEN_LOOP },
    behaviours: [
      ...CLOSED.slice(0, 3),
      {
        id: 'restarts',
        title: 'Starts by itself when the supply of its contactor comes back',
        points: 6,
        steps: `${start('S2')}; open G1; ${OFF}; close G1; ${RUNS}`,
      },
    ],
    rules: RULES,
    lesson: ['no-self-start'],
    shows: ['progress', 'tests', 'proof'],
    faults: FAULTS.slice(0, 5),
  },
  {
    ...SEAL,
    id: 'brine-pump-controller',
    title: 'Brine pump by controller, closed loop',
    alsoUs: 'Brine pump by controller, closed loop: US form',
    brief:
      'The program is in the controller. S1 stops and is wired NC, S2 starts, F2 tells the controller ' +
      'of a trip by its NC contact, and KM1 reports by its own contact: so a contactor that has dropped ' +
      'is not pulled in again when its supply comes back. Wire the power circuit, the output with its ' +
      'fuse and common, the electronics, and the inputs.',
    reference: PUMP_LEADS,
    programs: { A1: PUMP },
    behaviours: CLOSED,
    rules: { ...RULES, feedback: true },
    repair: 'marked',
    faults: FAULTS,
  },
  {
    ...SEAL,
    id: 'brine-pump-controller-program',
    title: 'Brine pump: write the program',
    brief:
      'The board is wired as its list of inputs and outputs says. Write the program: Start starts the ' +
      'pump, Stop and a trip stop it, it runs on by what KM1 reports, and it stays off after a trip or ' +
      'a loss of supply until somebody presses Start.',
    task: 'program',
    reference: PUMP_LEADS,
    programs: { A1: PUMP },
    behaviours: CLOSED,
    rules: { plcStopsNormallyClosed: true, feedback: true },
    faults: FAULTS,
  },
  {
    ...SEAL,
    id: 'brine-pump-controller-convert',
    title: 'Brine pump: convert the relay board to a controller',
    brief:
      'The board is wired with contacts alone: F2, S1, S2 and the seal-in contact in one chain to the ' +
      'coil. Convert it: the power circuit stays, Stop, Start, the overload contact and the report of KM1 ' +
      'go to inputs, the coil hangs on output Q0.0 with the fuse before its common. Then write the ' +
      'program that does what the chain did.',
    task: 'both',
    observe: ['KM1', 'M1.driven', 'A1.Q0.0'],
    laid: RELAY_PUMP,
    reference: PUMP_LEADS,
    programs: { A1: PUMP },
    behaviours: [
      ...CLOSED,
      {
        id: 'output',
        title: 'The controller works the contactor by Q0.0',
        points: 6,
        steps: 'A1.Q0.0 off; press S2; A1.Q0.0 on, KM1 in; release S2; A1.Q0.0 on; press S1; A1.Q0.0 off',
      },
    ],
    rules: { ...RULES, feedback: true },
    faults: FAULTS,
  },
  {
    ...SEAL,
    id: 'brine-pump-controller-rest',
    title: 'Brine pump: three starts and a rest',
    brief:
      'Write the program: as for the brine pump, but a fourth start is refused until the pump has ' +
      'rested for 20 s; running on, stopping and tripping stay as they are.',
    task: 'program',
    reference: PUMP_LEADS,
    programs: { A1: RESTS },
    behaviours: [
      ...CLOSED,
      {
        id: 'rests',
        title: 'Refuses a fourth start until it has rested for 20 s',
        points: 8,
        steps: `${`${start('S2')}; ${stop('S1')}; `.repeat(3)}${tap('S2')}; ${OFF}; wait 21; ${start('S2')}`,
      },
    ],
    rules: { plcStopsNormallyClosed: true, feedback: true },
    faults: FAULTS,
  },
  {
    family: 'seal-in',
    board: CONTROLLED_WITH_EMERGENCY_STOP,
    observe: ['KM1', 'M1.driven'],
    id: 'brine-pump-controller-emergency-stop',
    title: 'Brine pump by controller: two stations, emergency stop',
    brief:
      'The program is in the controller. The emergency stop S5 does not go to an input: it cuts the ' +
      'common of the outputs, so that it needs no program to stop the pump. S2 starts at the pump, S4 ' +
      'at the far station.',
    reference: EMERGENCY_LEADS,
    programs: { A1: ESTOP },
    behaviours: [
      ...CLOSED,
      { id: 'far', title: 'Starts from the far station', points: 4, steps: `${start('S4')}; ${stop('S1')}` },
      {
        id: 'emergency',
        title: 'The emergency stop stops it, and its release starts nothing',
        points: 8,
        steps: `${start('S2')}; press S5; ${OFF}; ${tap('S2')}; ${OFF}; release S5; ${OFF}; ${start('S2')}`,
      },
    ],
    rules: { ...RULES, feedback: true, estopCutsOutputs: true },
    essentialRules: ['estopCutsOutputs'],
    faults: FAULTS,
  },
  {
    family: 'jogging',
    board: CONTROLLED_JOGGER,
    observe: ['KM1', 'M1.driven'],
    id: 'sluice-gate-controller-jog',
    title: 'Sluice gate by controller: jog and run',
    brief:
      'Wire the board and write its program: S2 runs the gate until Stop, S3 moves it only while it is ' +
      'held, whatever was pressed before. Start begins with an edge, so that a Start that is held while ' +
      'somebody jogs does not go on.',
    task: 'both',
    reference: JOG_LEADS,
    programs: { A1: JOG },
    behaviours: [
      {
        id: 'runs',
        title: 'Start runs it until Stop',
        points: 6,
        steps: `${start('S2')}; wait 1; ${RUNS}; ${stop('S1')}`,
      },
      {
        id: 'jogs',
        title: 'Jog moves it only while it is held',
        points: 6,
        steps: `press S3; ${RUNS}; release S3; ${OFF}`,
      },
      {
        id: 'jog-after-run',
        title: 'Jog pressed while it runs ends the run when it is let go',
        points: 6,
        steps: `${start('S2')}; press S3; ${RUNS}; release S3; ${OFF}`,
      },
      {
        id: 'overload',
        title: 'The overload stops it, and a reset starts nothing',
        points: 6,
        steps: overload('S2'),
      },
    ],
    rules: { ...RULES, feedback: true },
    faults: FAULTS.slice(0, 3),
  },
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
