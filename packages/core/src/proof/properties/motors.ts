import { CLOSED } from '../../catalogue/index.js';
import {
  closedIn,
  isSupplySwitch,
  isOpening,
  meets,
  unbondedEarths,
  wiredTogether,
  type Circuit,
  type MechanicalState,
  type Motor,
} from '../../circuit/index.js';
import { byMotor } from './by-contacts.js';
import { DAMAGE, DANGER, type PropertyRule } from './property.js';

export const earthBonded: PropertyRule = {
  title: 'Motor frames are earthed',
  weight: DANGER,
  applies: ({ motors }) => motors.length > 0,
  tested: () => true,
  wiring(circuit) {
    const loose = unbondedEarths(circuit);
    return loose.length > 0 ? { found: `${loose.join(', ')} not joined to the supply's PE` } : null;
  },
};

/** Windings of a three-phase motor. */
const PHASES = 3;

/** Every breaker and fuse is closed, and every line of the supplies is there. */
const isWhole = ({ protections, mechanisms }: Circuit, state: MechanicalState): boolean =>
  protections.every((one) => !isOpening(one) || state[one.mechanism] === CLOSED) &&
  mechanisms.every((one) => !isSupplySwitch(one) || state[one.index] === 0);

/** Supply conductors that closed contacts join to a motor's terminals, each once. */
function conductorsOn(circuit: Circuit, { terminals }: Motor, state: MechanicalState): Conductor[] {
  const sets = wiredTogether(circuit, closedIn(state));
  const lines = circuit.sources.map((source): Conductor => ({
    name: circuit.terminals[source.terminal]!,
    phase:
      source.frequency > 0 ? `${source.frequency} ${source.re.toFixed(1)} ${source.im.toFixed(1)}` : null,
    terminal: source.terminal,
  }));
  const others = [...circuit.sources.map(({ reference }) => reference), ...circuit.earthed];
  const returns = [...new Set(others)].map((terminal): Conductor => ({
    name: circuit.terminals[terminal]!,
    phase: null,
    terminal,
  }));
  return [...lines, ...returns].filter(({ terminal }) => meets(sets, terminals, terminal));
}

interface Conductor {
  readonly name: string;
  /** Of a line, what tells it from the other phases; null of anything else. */
  readonly phase: string | null;
  readonly terminal: number;
}

/** Three line conductors of three phases, and nothing else. */
const areThreePhases = (conductors: readonly Conductor[]): boolean =>
  conductors.length === PHASES &&
  conductors.every(({ phase }) => phase !== null) &&
  new Set(conductors.map(({ phase }) => phase)).size === PHASES;

const conductors = byMotor(conductorsOn);

/** A three-phase motor is driven by anything but three lines of three phases. */
export const lacksLines = (circuit: Circuit, motor: Motor, driven: string, state: MechanicalState): boolean =>
  motor.windings.length === PHASES &&
  driven !== 'none' &&
  (driven === 'single-phase' || !areThreePhases(conductorsOn(circuit, motor, state)));

const wordsOf = (driven: string, on: readonly Conductor[]): string =>
  driven === 'single-phase'
    ? 'is driven by two lines alone: it hums and does not start'
    : `is driven with ${on.map(({ name }) => name).join(', ')} on it, not by three lines of three phases`;

/**
 * A three-phase motor that is driven with every protection closed and every line there has three lines of
 * three phases on it, and nothing else.
 */
export const fullPhases: PropertyRule = {
  title: 'A driven motor has all three lines',
  weight: DAMAGE,
  applies: ({ motors }) => motors.some(({ windings }) => windings.length === PHASES),
  tested: ({ hasDriven }) => hasDriven,
  running(search, settled) {
    const { circuit, decisions } = search;
    const { state } = settled;
    search.motors.forEach((k) => {
      const motor = circuit.motors[k]!;
      if (motor.windings.length < PHASES) return;
      const driven = decisions.driven(k, state);
      if (driven === 'none') return;
      search.hasDriven = true;
      if (!search.isOpen('full-phases') || !isWhole(circuit, state)) return;
      const on = conductors(circuit, k).at(state);
      if (driven !== 'single-phase' && areThreePhases(on)) return;
      search.violateSettled('full-phases', settled, `${motor.tag} ${wordsOf(driven, on)}`, (simulation) =>
        lacksLines(circuit, motor, simulation.solution.motors[k]?.driven ?? 'none', simulation.state),
      );
    });
  },
};
