import {
  Simulation,
  Solver,
  coilWants,
  compile,
  explain,
  explained,
  isShorted,
  readFault,
  referenceBench,
  withFaults,
  type Circuit,
  type Exercise,
  type MechanicalState,
  type Stimulus,
} from '@contactum/core';
import { withoutControllers, seeded } from '../help.js';
import { wrongWiring } from './wrong-wirings.js';

/** Whether a coil, lamp or motor is energised, by another road than the one that explains it. */
function isOn(circuit: Circuit, state: MechanicalState, tag: string): boolean {
  const electrical = new Solver(circuit).at(state);
  if (isShorted(electrical)) return false;
  const coil = circuit.coils.findIndex((one) => one.tag === tag);
  if (coil >= 0) return coilWants(circuit, electrical, state, coil);
  const lamp = circuit.lamps.findIndex((one) => one.tag === tag);
  if (lamp >= 0) return electrical.lampVolts[lamp]! >= 0.8 * circuit.lamps[lamp]!.voltage;
  const motor = circuit.motors.findIndex((one) => one.tag === tag);
  return ['forward', 'reverse'].includes(electrical.motors[motor]!.driven);
}

/** A contact that stands as it is told, alone; everything else stays where it is. */
function held(circuit: Circuit, places: readonly string[], closed: boolean): Circuit {
  const switches = circuit.switches.map((one) =>
    places.includes(`${one.tag}:${one.spec.name}`)
      ? { ...one, closedIn: one.closedIn.map(() => closed) }
      : one,
  );
  return { ...circuit, switches };
}

export interface Explained {
  readonly sentences: number;
  readonly energised: number;
  readonly blocked: number;
  readonly untrue: readonly string[];
}

/**
 * Works a right or wrong board of a seed by random hands, and holds every sentence about it to what the
 * solution says: opening any contact of a path drops what it leads to; closing what blocks energises it, and
 * closing no single other contact does where more than one is named.
 */
export function explainedOn(seed: number): Explained {
  const random = seeded(seed);
  const all = withoutControllers();
  const exercise = all[seed % all.length] as Exercise;
  const bench = seed % 3 === 0 ? referenceBench(exercise) : wrongWiring(exercise, random);
  const sound = compile(bench);
  const simulation = new Simulation(new Solver(sound));
  const hands = bench.devices.flatMap(({ tag, type }): Stimulus[] =>
    type === 'pushbutton' || type === 'estop'
      ? [{ press: tag }, { release: tag }]
      : type === 'overload'
        ? [{ trip: tag }, { reset: tag }]
        : type === 'breaker'
          ? [{ open: tag }, { close: tag }]
          : [],
  );
  for (let k = Math.floor(random() * 6); k > 0 && hands.length > 0; k -= 1)
    simulation.work(hands[Math.floor(random() * hands.length)]!);
  const circuit = withFaults(
    simulation.solver.circuit,
    seed % 7 === 0 ? [readFault({ 'open-wire': wireOf() })] : [],
  );
  function wireOf(): string {
    const wire = bench.wires[Math.floor(random() * bench.wires.length)]!;
    return `${wire.from} ${wire.to}`;
  }
  const state = simulation.state.slice();
  const solver = new Solver(circuit);
  const untrue: string[] = [];
  let [sentences, energised, blocked] = [0, 0, 0];
  for (const tag of explained(circuit)) {
    const { path, blocks, beside, sentence } = explain(solver, state, tag);
    const wrong = (why: string) => untrue.push(`seed ${seed}, ${exercise.id}: ${sentence} ${why}`);
    sentences += 1;
    const on = isOn(circuit, state, tag);
    if (on) energised += 1;
    if (!on && path) wrong('is not energised');
    const doubled = new Set(beside.flatMap(({ through }) => through));
    for (const one of (path ?? []).filter((place) => !doubled.has(place)))
      if (isOn(held(circuit, [one], false), state, tag)) wrong(`opening ${one} does not drop it`);
    if (!blocks) continue;
    blocked += 1;
    if (on) wrong('is energised');
    if (!isOn(held(circuit, blocks, true), state, tag)) wrong('closing them does not energise it');
    if (blocks.length > 1 && blocks.length <= 3)
      for (const { tag: other, spec, closedIn, mechanism } of circuit.switches)
        if (!closedIn[state[mechanism]!] && isOn(held(circuit, [`${other}:${spec.name}`], true), state, tag))
          wrong(`${other}:${spec.name} alone would do`);
  }
  return { sentences, energised, blocked, untrue };
}
