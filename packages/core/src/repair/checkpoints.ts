import type { Bench } from '../bench/index.js';
import { OPERATED } from '../catalogue/index.js';
import {
  isArmature,
  isInputCoil,
  compile,
  isMoving,
  isTiming,
  standsIn,
  type Circuit,
  type MechanicalState,
} from '../circuit/index.js';
import { Solver, isShorted } from '../electrics/index.js';
import { proveCircuit } from '../proof/index.js';
import { Simulation, isExpectation, runSteps } from '../simulation/index.js';
import { LAMP_LIT } from '../tolerances.js';
import type { RepairTask } from './task.js';
import { Board, type Checkpoint, type Transition, type Waking } from './board.js';
import { readingsAtRest, readingsForChange } from './inputs.js';

type StoryTask = Pick<RepairTask, 'reference' | 'behaviours' | 'observe'>;

/** What the reference does, and what it does not hold itself. */
export interface RightStory {
  readonly checkpoints: readonly Checkpoint[];
  readonly transitions: readonly Transition[];
  readonly wakings: readonly Waking[];
  /**
   * Properties that the reference itself does not hold: where that is the lesson, a repaired board need not
   * either.
   */
  readonly excused: ReadonlySet<string>;
  /** The reference does what is asked, and its proof came to its end. */
  readonly isRight: boolean;
}

/** The last story of each reference, with what it was made for. */
const kept = new WeakMap<Bench, { readonly task: StoryTask; readonly story: RightStory }>();

/**
 * The settled moments of the behaviours, as the reference goes through them, and what sets off each change
 * between them. Kept with the reference: every wiring of an exercise is repaired by the same one.
 */
export function storyOf(task: StoryTask): RightStory {
  const known = kept.get(task.reference);
  if (known?.task.behaviours === task.behaviours && known.task.observe === task.observe) return known.story;
  const story = workedThrough(task);
  kept.set(task.reference, { task, story });
  return story;
}

function workedThrough(task: StoryTask): RightStory {
  const { wires } = task.reference;
  const board = new Board({ ...task.reference, wires: [] });
  const pinned = wires.map(({ from, to }) => ({ a: board.pin(from), b: board.pin(to) }));
  const story = new Story(task, (state, motor) => board.suppliedEnds(pinned, state, motor));
  const { solver } = story;
  story.take(new Simulation(solver).state);
  for (const steps of task.behaviours) {
    const simulation = new Simulation(solver);
    for (const step of steps) {
      if (isExpectation(step)) continue;
      const before = simulation.state.slice();
      simulation.work(step);
      story.take(simulation.state);
      story.noteTransition(before, simulation.state);
    }
  }
  const { properties, complete } = proveCircuit(solver);
  return {
    checkpoints: [...story.checkpoints.values()],
    transitions: [...story.transitions.values()],
    wakings: [...story.wakings.values()],
    excused: new Set(properties.flatMap(({ id, holds }) => (holds ? [] : [id]))),
    isRight: complete && task.behaviours.every((steps) => runSteps(solver, steps).ok),
  };
}

/** The reference at work, and the moments kept of it. */
class Story {
  readonly solver: Solver;
  readonly checkpoints = new Map<string, Checkpoint>();
  readonly transitions = new Map<string, Transition>();
  readonly wakings = new Map<string, Waking>();
  private readonly circuit: Circuit;
  /** What observations and expectations name. */
  private readonly named: ReadonlySet<string>;
  /** Coils that nobody observes, but for inputs. */
  private readonly unobserved: readonly number[];

  constructor(
    { reference, behaviours, observe }: StoryTask,
    private readonly suppliedEnds: (state: MechanicalState, motor: number) => number,
  ) {
    this.solver = new Solver(compile(reference));
    this.circuit = this.solver.circuit;
    const expected = behaviours
      .flat()
      .flatMap((step) => (isExpectation(step) ? Object.keys(step.expect) : []));
    this.named = new Set([...observe, ...expected]);
    this.unobserved = this.circuit.coils.flatMap((coil, k) =>
      this.named.has(coil.tag) || isInputCoil(this.circuit, coil) ? [] : [k],
    );
  }

  private isSettled(state: MechanicalState): boolean {
    return !this.circuit.mechanisms.some((mechanism) => isMoving(mechanism, state[mechanism.index]!));
  }

  /** Keeps a settled moment. */
  take(now: MechanicalState): void {
    const { circuit, named } = this;
    // What is known of a state is kept with it: one that goes on changing must not be asked.
    const state = now.slice();
    const key = String.fromCharCode(...state);
    if (this.checkpoints.has(key) || !this.isSettled(state)) return;
    const electrical = this.solver.at(state);
    if (isShorted(electrical)) return;
    const free = this.unobserved.map((k) => circuit.coils[k]!.mechanism);
    this.checkpoints.set(key, {
      states: variants(circuit, state, free)
        .filter((one) => isWritten(circuit, one))
        .slice(0, MOST_VARIANTS),
      coils: circuit.coils.map(({ tag, mechanism }) =>
        named.has(tag) ? state[mechanism] === OPERATED : null,
      ),
      lamps: circuit.lamps.map(({ tag, voltage }, k) =>
        named.has(tag) ? electrical.lampVolts[k]! >= LAMP_LIT * voltage : null,
      ),
      motors: electrical.motors.map(({ driven, positive }, k) => ({
        driven,
        positive,
        supplied: this.suppliedEnds(state, k),
      })),
      readings: readingsAtRest(circuit, state),
    });
  }

  /** Keeps what sets off the change from one settled moment to another. */
  noteTransition(before: MechanicalState, after: MechanicalState): void {
    if (!this.isSettled(before) || !this.isSettled(after)) return;
    const { circuit, named, unobserved, transitions } = this;
    const state = before.slice();
    // What its coil moves has not moved yet; a timer that ran has run out.
    for (const mechanism of circuit.mechanisms) {
      const { index } = mechanism;
      if (standsIn(mechanism).length === 0 || isTiming(mechanism, before[index]!))
        state[index] = after[index]!;
    }
    const moves = circuit.coils.flatMap(({ tag, mechanism }, coil) => {
      const goesIn = after[mechanism] === OPERATED;
      const moved = goesIn !== (before[mechanism] === OPERATED);
      return moved && named.has(tag) && isArmature(circuit.mechanisms[mechanism]!)
        ? [{ coil, in: goesIn }]
        : [];
    });
    const key = String.fromCharCode(...state);
    if (moves.length > 0 && !transitions.has(key)) transitions.set(key, { state, moves, unobserved });
    this.noteWaking(before, after, moves);
  }

  /** Keeps what programs alone set off: nothing else moves before an output has changed. */
  private noteWaking(before: MechanicalState, after: MechanicalState, moves: Transition['moves']): void {
    const { circuit, unobserved, wakings } = this;
    const members = new Set(circuit.controllers.flatMap((one) => one.members));
    const changed = circuit.controllers.some(({ outputs }) => outputs.some((k) => before[k] !== after[k]));
    const elapsed = circuit.mechanisms.some((one) => isTiming(one, before[one.index]!));
    if (!changed || elapsed) return;
    const state = before.slice();
    for (const mechanism of circuit.mechanisms)
      if (!members.has(mechanism.index) && standsIn(mechanism).length === 0)
        state[mechanism.index] = after[mechanism.index]!;
    const key = String.fromCharCode(...state);
    const readings = readingsForChange(circuit, state);
    const isSeen = readings.length === circuit.controllers.length;
    if (isSeen && !wakings.has(key)) wakings.set(key, { state, moves, unobserved, readings });
  }
}

/** States in which what nobody observes may stand, at most. */
const MOST_VARIANTS = 27;

/** False of a state in which a controller that does not run holds outputs closed. */
const isWritten = ({ controllers }: Circuit, state: MechanicalState): boolean =>
  controllers.every((one) => one.isRunning(state) || one.outputs.every((k) => state[k] === 0));

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
  return states;
}
