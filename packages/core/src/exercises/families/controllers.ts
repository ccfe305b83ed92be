import {
  CONTROLLED_JOGGER,
  CONTROLLED_STARTER,
  CONTROLLED_WITH_EMERGENCY_STOP,
} from '../controller-boards.js';
import type { BehaviourRecipe, Recipe } from '../recipe.js';
import { ELECTRONICS, FAULTS, OUTPUT, REPORT, RULES, STOP_START_TRIP } from './controller-parts.js';
import { ESTOP, JOG, OPEN_LOOP, PUMP, RESTS } from './controller-programs.js';
import { CONTROLLED_MOTIONS } from './controllers-interlocked.js';
import { DIRECT, FRAME, GUARDED_FEED, OFF, RUNS, overload, start, stop, supplyLoss, tap } from './parts.js';

/**
 * Starters whose logic is in a programmable controller: buttons to inputs, contactors to outputs, and what
 * stays hard-wired (common practice, no source). An emergency stop is not left to a program; functional
 * safety has standards of its own (ISO 13849-1, IEC 62061, from memory), and this is a trainer.
 */

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

const SEAL = { family: 'seal-in', board: CONTROLLED_STARTER, observe: ['KM1', 'M1.driven'] } as const;
const PUMP_LEADS = `${DIRECT}\n${FRAME}\n${OUTPUT}\n${STOP_START_TRIP}; ${REPORT}`;

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
  ...CONTROLLED_MOTIONS,
];
