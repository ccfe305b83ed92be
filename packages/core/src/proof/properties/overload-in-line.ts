import {
  closedIn,
  linesOf,
  heatersOf,
  meets,
  wiredTogether,
  type Circuit,
  type MechanicalState,
  type Motor,
} from '../../circuit/index.js';
import { byMotor } from './by-contacts.js';
import { DAMAGE, type PropertyRule } from './property.js';

/** A terminal of a motor at which a line comes in around every heater. */
interface Bypass {
  readonly terminal: number;
  readonly line: number;
}

/**
 * Where a motor's current goes around the heaters; null where each of its lines, or else each of its
 * windings, is led through one. A winding is where one of its ends lies behind heaters alone, with no other
 * end and no conductor of a supply.
 */
function bypassOf(circuit: Circuit, { terminals, windings }: Motor, state: MechanicalState): Bypass | null {
  const heaters = new Set(heatersOf(circuit));
  const conductors = circuit.conductors.filter((conductor) => !heaters.has(conductor));
  const sets = wiredTogether({ ...circuit, conductors }, closedIn(state));
  const joined = linesOf(circuit).flatMap((line) =>
    terminals.flatMap((terminal) => (meets(sets, [line], terminal) ? [{ terminal, line }] : [])),
  );
  const [first] = joined;
  if (!first) return null;
  const supply = [...circuit.sources.flatMap((one) => [one.terminal, one.reference]), ...circuit.earthed];
  const ends = windings.flat().filter((end) => end >= 0);
  const isAlone = (end: number): boolean =>
    end >= 0 &&
    !meets(sets, supply, end) &&
    ends.filter((other) => sets.find(other) === sets.find(end)).length === 1;
  if (windings.every((winding) => winding.some(isAlone))) return null;
  return first;
}

const bypasses = byMotor(bypassOf);

const hasRelay = ({ protections }: Circuit): boolean =>
  protections.some(({ spec }) => spec.curve === 'overload');

export const overloadInLine: PropertyRule = {
  title: 'Every line of a motor, or every winding, is led through the overload relay',
  weight: DAMAGE,
  applies: (circuit) => circuit.motors.length > 0 && hasRelay(circuit),
  tested: ({ hasRun }) => hasRun,
  running(search, settled) {
    const { circuit, decisions } = search;
    search.motors.forEach((k) => {
      const motor = circuit.motors[k]!;
      if (!search.isOpen('overload-in-line') || !decisions.isDriven(k, settled.state)) return;
      const bypass = bypasses(circuit, k).at(settled.state);
      if (!bypass) return;
      const [end, line] = [circuit.terminals[bypass.terminal]!, circuit.terminals[bypass.line]!];
      search.violateSettled(
        'overload-in-line',
        settled,
        `${end} is fed from ${line} past the heaters of every overload relay`,
        ({ solution, state }) =>
          solution.motors[k]?.driven !== 'none' && bypassOf(circuit, motor, state) !== null,
      );
    });
  },
};
