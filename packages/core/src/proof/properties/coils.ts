import type { Coil, MechanicalState } from '../../circuit/index.js';
import { coilVoltageFault, isShorted, type CoilFault } from '../../electrics/index.js';
import type { Judging } from '../judging.js';
import { DAMAGE, NUISANCE, type Lead, type PropertyRule } from './property.js';

export const coilVoltage: PropertyRule = {
  title: 'Every coil gets its own voltage',
  weight: DAMAGE,
  applies: ({ coils }) => coils.length > 0,
  tested: ({ hasEnergised }) => hasEnergised,
  suspects: (_, { outcome }) => outcome.badVoltage,
  lead: findVoltage,
};

/** The first coil whose voltage is wrong in a state. */
function faultIn({ solver, circuit }: Judging, state: MechanicalState): ({ coil: Coil } & CoilFault) | null {
  const electrical = solver.at(state);
  if (isShorted(electrical)) return null;
  for (const [k, coil] of circuit.coils.entries()) {
    const fault = coilVoltageFault(circuit, electrical, k);
    if (fault) return { coil, ...fault };
  }
  return null;
}

function findVoltage(search: Judging, { started, from, by }: Lead): void {
  const goal = (state: MechanicalState) => faultIn(search, state) !== null;
  const at = search.exploration.wayTo(started, goal)?.state;
  const fault = at && faultIn(search, at);
  if (!fault) return;
  const { coil, perUnit, wrongKind } = fault;
  const kind = wrongKind ? (coil.kind === 'ac' ? ' DC' : ' AC') : '';
  const told = `volts(${search.circuit.terminals[coil.a]!},`;
  search.violate(
    'coil-voltage',
    from,
    { stimulus: by, started: started.slice(), goal },
    `coil ${coil.tag} has ${Math.round(perUnit * 100)} %${kind} of its ${coil.voltage} V ${coil.kind.toUpperCase()}`,
    (simulation) => simulation.events.some(({ what }) => what.startsWith(told)),
  );
}

export const noChatter: PropertyRule = {
  title: 'Every armature comes to rest',
  weight: NUISANCE,
  applies: ({ coils }) => coils.length > 0,
  tested: ({ hasEnergised }) => hasEnergised,
  suspects: (_, { outcome }) => outcome.chatter !== null,
  lead(search, { outcome: { chatter }, started, from, by }) {
    if (!chatter) return;
    search.violate(
      'no-chatter',
      from,
      { stimulus: by, started: started.slice(), goal: (state) => search.exploration.isEndless(state) },
      `${chatter.join(', ') || 'a coil'} never comes to rest`,
      (simulation) => simulation.incidents.some(({ kind }) => kind === 'chatter'),
    );
  },
};
