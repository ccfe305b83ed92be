/**
 * The thresholds that verdicts rest on, each with its unit and its reason. What belongs to one equation of
 * a machine, to one numerical method or to one search stands beside it. [S] a published standard quoted
 * from memory, [P] common practice without a source, [A] arithmetic.
 */

/**
 * Per unit of rated coil voltage at which an armature pulls in. [S] IEC 60947-4-1, 8.2.1.2 (from memory):
 * 85 to 110 %.
 */
export const PICK_UP = 0.85;

/**
 * Per unit of rated coil voltage below which a closed armature lets go. [S] IEC 60947-4-1 (from memory): 20
 * to 75 % AC.
 */
export const DROP_OUT = 0.5;

/**
 * Per unit of rated coil voltage above which a coil is overvolted. [S] IEC 60947-4-1 (from memory): 110 %.
 */
export const OVERVOLTAGE = 1.1;

/** Part of its AC voltage at which an AC coil pulls in on DC, which only its resistance opposes. [P] */
export const AC_COIL_ON_DC = 0.4;

/**
 * Per unit of rated coil voltage from which a coil counts as energised. [S] lowest drop-out voltage of IEC
 * 60947-4-1 (from memory).
 */
export const ENERGISED = 0.2;

/** Relative slack on every per-unit limit, so that a value exactly on a limit is inside it. [A] */
export const LIMIT_SLACK = 1e-6;

/**
 * Per unit of rated lamp voltage from which a lamp is lit, from which it glows dim, and above which it
 * burns out. [P]
 */
export const LAMP_LIT = 0.8;
export const LAMP_DIM = 0.2;
export const LAMP_BURNS = 1.3;

/** Per unit of rated winding voltage below which a motor is not driven. [P] */
export const DRIVEN = 0.1;

/**
 * Ratio of the weaker to the stronger sequence voltage from which a field is called single-phase; equal
 * sequences are a pulsating field. [A]
 */
export const SINGLE_PHASE = 2 / 3;

/**
 * RMS volts from which a terminal counts as live. [S] IEC 60364-4-41 (from memory): touch voltage limit 50
 * V AC; extra-low DC boards use their own scale.
 */
export const LIVE_VOLTS = 5;
export const TOUCH_VOLTS = 50;

/** Input resistance of the voltmeter, ohms. [P] */
export const METER_OHMS = 10e6;

/** Volts, relative to the largest, under which two supply conductors have the same potential. [A] */
export const SAME_POTENTIAL = 1e-6;

/** Per unit of rated primary voltage from which a shorted secondary is a short circuit. [P] */
export const SECONDARY_LIVE = 0.1;

/** Scaled pivot under which a network matrix is singular. [A] */
export const PIVOT = 1e-13;

/**
 * Resistance of one metre of connecting lead used only to share current between parallel paths, ohms. [P] 1
 * mm2 copper.
 */
export const LEAD_OHMS = 0.018;

/** Seconds. The travel of mechanisms; a drop-out lag is shorter than any armature's travel. [P] */
export const TRAVEL = {
  plunger: 0.008,
  selector: 0.02,
  trip: 0.002,
  pullIn: 0.014,
  dropLag: 0.004,
  dropTravel: 0.006,
  timerContact: 0.003,
  /** An armature that turns back on its way: in again, longer than any lag; and out again. */
  leastPullIn: 0.0055,
  leastFall: 0.001,
} as const;

/** Width of the band in which the travels of like devices lie, per unit. [P] */
export const TRAVEL_SPREAD = 0.1;

/** Longest time, seconds, that a timer may be set to or a script may wait in one step: a day. */
export const LONGEST_TIME = 86_400;

/** Longest time, seconds, that a stimulus may take to settle before the next step of a script. */
export const SETTLE_LIMIT = 0.3;

/**
 * Moves within SETTLE_LIMIT from which an armature chatters, or without a scan at rest between them a
 * controller's output. [P]
 */
export const CHATTER_MOVES = 5;

/** Seconds at which an overvolted coil (over 1.5 times) or a held-open AC armature burns its coil. [P] */
export const COIL_BURN_SECONDS = 20;
export const COIL_BURN_OVERVOLTAGE = 1.5;

/** Inertia constant of motor and driven machine, seconds: stored energy per rated power. [P] */
export const INERTIA_SECONDS = 0.25;

/** Per unit of synchronous speed under which a shaft stands still. [P] */
export const STANDSTILL = 0.005;

/**
 * Per unit of synchronous speed below which a shaft is held by its load where the motor cannot move it. [P]
 */
export const CREEPING = 0.1 * STANDSTILL;

/** Seconds of drive without turning that make a stall. [P] */
export const STALL_SECONDS = 2;

/**
 * Ultimate trip of a thermal overload relay, per unit of the dial. [S] between 1.05 and 1.2 by IEC
 * 60947-4-1 (from memory).
 */
export const OVERLOAD_ULTIMATE = 1.13;

/** Per unit of ultimate heat to which a tripped overload must cool before it resets by itself. [P] */
export const OVERLOAD_RESET_HEAT = 0.6;

/**
 * Shortest time, seconds, after which an overload that is set to automatic resets by itself, cold ones that
 * were tripped by hand included. [P]
 */
export const OVERLOAD_LEAST_RESET = 0.5;

/** What the solution's rounding leaves where nothing flows, amperes. */
export const ROUNDING_AMPS = 1e-9;

/**
 * An overload relay that feels phase loss: a pole below a tenth of another that carries a fifth of the
 * dial, and it releases at the dial over 1.05. [S] IEC 60947-4-1 (from memory): 1.15 times with a pole
 * dead; between them 1.13 / 1.05 [A].
 */
export const PHASE_LOSS_LEAST = 0.2;
export const PHASE_LOSS_RATIO = 0.1;
export const PHASE_LOSS_QUICKER = 1.05;

/** Part of the rating from which a breaker's bimetal and a fuse are warmed. [P] */
export const PROTECTION_FELT = 0.5;

/**
 * Largest rating of a fuse or breaker that protects a control circuit, amperes: what its thinnest usual
 * conductor, 1 mm², carries. [P]
 */
export const CONTROL_PROTECTION_MOST = 10;

/** Ohms up to which two terminals are joined by wires and contacts alone. [P] */
export const JOINED_OHMS = 1;

/** By how much an ohmmeter's reading may differ from what a right wiring shows, per unit. [P] */
export const READING_SPREAD = 0.3;

/** What is left of the points for incidents by each one beyond those that are free. [P] */
export const KEPT_BY_INCIDENT = 0.5;

/** Ohms of a wire that a fault puts in, of a closed contact, and of the earth between two electrodes. [P] */
export const FAULT_OHMS = 0.01;
export const CONTACT_OHMS = 0.002;
export const EARTH_OHMS = 1e-4;

/** Smallest impedance of a way in which fault current flows, ohms. [A] */
export const LEAST_FAULT_OHMS = 1e-3;

/**
 * Smallest series resistance of an impedance or AC source, and of a DC source, ohms: ideal ones stay
 * solvable. [A]
 */
export const LEAST_OHMS = 1e-6;
export const LEAST_DC_SOURCE_OHMS = 1e-3;

/**
 * Overload dial per unit of the current that its poles carry. Lower bound and IEC upper bound [P]: set to
 * the plate. NEC [S] 430.32(A)(1) (from memory): 115 %, or 125 % for a service factor of 1.15 and more.
 */
export const DIAL_LEAST = 0.95;
export const DIAL_MOST_IEC = 1.05;
export const DIAL_MOST_NEC = 1.15;
export const DIAL_MOST_NEC_SERVICE = 1.25;

/**
 * Amperes that a copper conductor of an area in mm2 carries in conduit. [S] IEC 60204-1, table 6, method
 * B1, 40 °C (from memory).
 */
export const CONDUCTOR_AMPS: readonly (readonly [area: number, amps: number])[] = [
  [0.75, 8.6],
  [1, 10.3],
  [1.5, 13.5],
  [2.5, 18.3],
  [4, 25],
  [6, 32],
  [10, 44],
  [16, 60],
  [25, 77],
  [35, 97],
];
