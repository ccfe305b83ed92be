import { OPERATED, REST, START_DUTIES } from '../catalogue/index.js';
import { controlOf, isTripBar, type Circuit, type Stimulus } from '../circuit/index.js';
import { coilVolts, isShorted, voltageFault, type Solver } from '../electrics/index.js';
import { lacksLines, startsNothing } from '../proof/index.js';
import { Simulation, isShort, stepProblem } from '../simulation/index.js';
import type { Danger } from './question.js';

/** What is known of a board as somebody works it. */
interface Worked {
  readonly simulation: Simulation;
  readonly circuit: Circuit;
  readonly by: Stimulus;
  /** Something ran before this stimulus. */
  readonly ranBefore: boolean;
}

/** A control or a trip bar of a kind stands operated. */
const isOperated = ({ simulation, circuit }: Worked, duty: 'stop' | 'emergency-stop' | null): boolean =>
  circuit.mechanisms.some(
    (one) =>
      (duty === null ? isTripBar(one) : controlOf(one) !== null && one.device.duty === duty) &&
      simulation.state[one.index] === OPERATED,
  );

/** A start button is held, or one whose duty nobody has said. */
const startHeld = ({ simulation, circuit }: Worked): boolean =>
  circuit.mechanisms.some(
    (one) =>
      controlOf(one) === 'momentary' &&
      (one.device.duty === undefined || START_DUTIES.includes(one.device.duty)) &&
      simulation.state[one.index] !== REST,
  );

const dutyIn =
  ({ bench }: Circuit) =>
  (tag: string) =>
    bench.devices.find((one) => one.tag === tag)?.duty;

/** At rest, or on the way, of which the events tell. */
const isBadVoltage = ({ simulation, circuit }: Worked): boolean =>
  circuit.coils.some(
    (coil, k) =>
      voltageFault(coil, coilVolts(simulation.solution, k)) !== null ||
      simulation.events.some(({ what }) => what.startsWith(`volts(${circuit.terminals[coil.a]!},`)),
  );

/** What shows, after one stimulus has come to rest, that a property is broken. */
const SHOWN: Readonly<Record<Danger, (worked: Worked) => boolean>> = {
  'no-short': ({ simulation }) =>
    isShorted(simulation.solution) || simulation.incidents.some(({ kind }) => isShort(kind)),
  'stop-drops': (worked) => isOperated(worked, 'stop') && worked.simulation.isRunning,
  'estop-holds': (worked) => isOperated(worked, 'emergency-stop') && worked.simulation.isRunning,
  'overload-drops': (worked) => isOperated(worked, null) && worked.simulation.isRunning,
  'no-self-start': (worked) =>
    !worked.ranBefore &&
    startsNothing(worked.by, dutyIn(worked.circuit)) &&
    !startHeld(worked) &&
    worked.simulation.isRunning,
  'coil-voltage': (worked) =>
    isBadVoltage(worked) || worked.simulation.incidents.some(({ kind }) => kind === 'coil-overvoltage'),
  'no-chatter': ({ simulation }) => simulation.incidents.some(({ kind }) => kind === 'chatter'),
  'full-phases': ({ simulation, circuit }) =>
    circuit.motors.some((motor, k) =>
      lacksLines(circuit, motor, simulation.solution.motors[k]?.driven ?? 'none', simulation.state),
    ),
};

/** What hands do in a sequence: waiting is nothing, and two at one instant are two. */
export const lengthOf = (steps: readonly Stimulus[]): number =>
  steps.reduce(
    (sum, step) => sum + ('wait' in step ? 0 : 'together' in step ? lengthOf(step.together) : 1),
    0,
  );

/**
 * After how many stimuli a sequence breaks a property on a fresh board with its supply on; null where it does
 * not, or where a stimulus does not fit the board.
 */
export function shownAfter(solver: Solver, property: Danger, steps: readonly Stimulus[]): number | null {
  const { circuit } = solver;
  if (steps.some((step) => stepProblem(circuit, step) !== null)) return null;
  const simulation = new Simulation(solver);
  const shows = SHOWN[property];
  let done = 0;
  for (const by of steps) {
    const ranBefore = simulation.isRunning;
    simulation.work(by);
    done += lengthOf([by]);
    if (shows({ simulation, circuit, by, ranBefore })) return done;
  }
  return null;
}
