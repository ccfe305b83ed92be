import { OPERATED } from '../catalogue/index.js';
import {
  compile,
  isMoving,
  isTiming,
  standsIn,
  type Circuit,
  type MechanicalState,
} from '../circuit/index.js';
import { Solver, isShorted } from '../electrics/index.js';
import { Simulation, isExpectation } from '../simulation/index.js';
import { LAMP_LIT } from '../tolerances.js';
import type { RepairTask } from './repair.js';
import type { Checkpoint, Departure } from './board.js';

/** The settled moments of the behaviours, as the reference goes through them, and what sets off each change between them. */
export function storyOf(
  { reference, behaviours, observe }: Pick<RepairTask, 'reference' | 'behaviours' | 'observe'>,
  tiedEnds: (state: MechanicalState, motor: number) => number,
): { checkpoints: Checkpoint[]; departures: Departure[] } {
  const solver = new Solver(compile(reference));
  const { circuit } = solver;
  const named = new Set([
    ...observe,
    ...behaviours.flatMap((steps) =>
      steps.flatMap((step) => (isExpectation(step) ? Object.keys(step.expect) : [])),
    ),
  ]);
  const unobserved = circuit.coils.flatMap(({ tag }, k) => (named.has(tag) ? [] : [k]));
  const free = unobserved.map((k) => circuit.coils[k]!.mechanism);
  const checkpoints = new Map<string, Checkpoint>();
  const departures = new Map<string, Departure>();
  const isSettled = (state: MechanicalState) =>
    !circuit.mechanisms.some((mechanism) => isMoving(mechanism, state[mechanism.index]!));
  const take = (state: MechanicalState): void => {
    const key = String.fromCharCode(...state);
    if (checkpoints.has(key) || !isSettled(state)) return;
    const electrical = solver.at(state);
    if (isShorted(electrical)) return;
    checkpoints.set(key, {
      states: variants(circuit, state.slice(), free),
      coils: circuit.coils.map(({ tag, mechanism }) =>
        named.has(tag) ? state[mechanism] === OPERATED : null,
      ),
      lamps: circuit.lamps.map(({ tag, voltage }, k) =>
        named.has(tag) ? electrical.lampVolts[k]! >= LAMP_LIT * voltage : null,
      ),
      motors: electrical.motors.map(({ driven, positive }, k) => ({
        driven,
        positive,
        tied: tiedEnds(state, k),
      })),
    });
  };
  const depart = (before: MechanicalState, after: MechanicalState): void => {
    if (!isSettled(before) || !isSettled(after)) return;
    const state = before.slice();
    // What its coil moves has not moved yet; a timer that ran has run out.
    for (const mechanism of circuit.mechanisms) {
      const { index } = mechanism;
      if (standsIn(mechanism).length === 0 || isTiming(mechanism, before[index]!))
        state[index] = after[index]!;
    }
    const moves = circuit.coils.flatMap(({ tag, mechanism }, coil) => {
      const goesIn = after[mechanism] === OPERATED;
      return named.has(tag) &&
        circuit.mechanisms[mechanism]?.kind === 'armature' &&
        goesIn !== (before[mechanism] === OPERATED)
        ? [{ coil, in: goesIn }]
        : [];
    });
    const key = String.fromCharCode(...state);
    if (moves.length > 0 && !departures.has(key)) departures.set(key, { state, moves, unobserved });
  };
  take(new Simulation(solver).state);
  for (const steps of behaviours) {
    const simulation = new Simulation(solver);
    for (const step of steps) {
      if (isExpectation(step)) continue;
      const before = simulation.state.slice();
      simulation.work(step);
      take(simulation.state);
      depart(before, simulation.state);
    }
  }
  return { checkpoints: [...checkpoints.values()], departures: [...departures.values()] };
}

/** A state with every way in which what nobody observes may stand; the reference's own way first. */
function variants(circuit: Circuit, state: MechanicalState, free: readonly number[]): MechanicalState[] {
  let states = [state];
  for (const mechanism of free) {
    const rests = standsIn(circuit.mechanisms[mechanism]!);
    states = states.flatMap((one) => {
      const own = one[mechanism]!;
      return [own, ...rests.filter((rest) => rest !== own)].map((rest) => {
        const other = one.slice();
        other[mechanism] = rest;
        return other;
      });
    });
  }
  return states.slice(0, 27);
}
