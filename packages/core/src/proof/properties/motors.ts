import { CLOSED } from '../../catalogue/index.js';
import { isOpening, unbondedEarths, type Circuit, type MechanicalState } from '../../circuit/index.js';
import type { PropertyRule } from './property.js';

export const earthBonded: PropertyRule = {
  title: 'Motor frames are earthed',
  applies: ({ motors }) => motors.length > 0,
  tested: () => true,
  wiring(circuit) {
    const loose = unbondedEarths(circuit);
    return loose.length > 0 ? `${loose.join(', ')} not joined to the supply's PE` : null;
  },
};

/** Windings of a three-phase motor. */
const PHASES = 3;

/** Every breaker and fuse is closed, and every line of the supplies is there. */
const isWhole = ({ protections, mechanisms }: Circuit, state: MechanicalState): boolean =>
  protections.every((one) => !isOpening(one) || state[one.mechanism] === CLOSED) &&
  mechanisms.every(({ kind, index }) => kind !== 'supply' || state[index] === 0);

/** A three-phase motor that is fed with every protection closed and every line there has a turning field. */
export const fullPhases: PropertyRule = {
  title: 'A driven motor has all three lines',
  applies: ({ motors }) => motors.some(({ windings }) => windings.length === PHASES),
  tested: ({ hasDriven }) => hasDriven,
  running(search, running) {
    const { circuit, exploration } = search;
    circuit.motors.forEach(({ tag, windings }, k) => {
      if (windings.length < PHASES) return;
      const driven = exploration.decisions.driven(k, running.state);
      if (driven !== 'none') search.hasDriven = true;
      if (driven !== 'single-phase' || !search.isOpen('full-phases') || !isWhole(circuit, running.state))
        return;
      search.violateSettled(
        'full-phases',
        running,
        `${tag} is driven by two lines alone: it hums and does not start`,
        (simulation) => simulation.solution.motors[k]?.driven === 'single-phase',
      );
    });
  },
};
