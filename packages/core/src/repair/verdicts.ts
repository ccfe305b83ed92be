import { CONTROL, type MechanicalState, type Stimulus } from '../circuit/index.js';
import { Solver, isShorted } from '../electrics/index.js';
import { Simulation, isExpectation, runSteps, type Mismatch, type Step } from '../simulation/index.js';
import { ENERGISED } from '../tolerances.js';
import type { Answers } from './answers.js';
import { firstLost } from './first-lost.js';
import type { Failing, PinWire } from './board.js';
import type { Case } from './case.js';
import { signature, type Answer, type Candidate } from './wiring.js';

/** Expected values that need a voltage. */
const WANTS_POWER: ReadonlySet<unknown> = new Set([
  'in',
  'lit',
  'forward',
  'reverse',
  'timing',
  'done',
  'star',
  'delta',
]);

/** How a whole wiring fails: at a checkpoint, or in a sequence. */
type Refusal =
  | { readonly failing: readonly Failing[] }
  | {
      readonly trace: readonly Step[];
      readonly mismatches: readonly Mismatch[];
      readonly anywhere?: boolean;
    };

/** Whole wirings tried and proved, each once. */
export class Verdicts {
  /** By wiring: how the whole of it fails, or null where it passes. */
  private readonly known = new Map<string, Refusal | null>();
  /** What refused a wiring last comes first. */
  private readonly behaviours: (readonly Step[])[];

  constructor(private readonly given: Case) {
    this.behaviours = [...given.task.behaviours];
  }

  /** True of a wiring that passed as a whole; false where it did not, or was not tried. */
  passed(nets: Int32Array): boolean {
    const key = signature(nets);
    return key === this.given.asReference || this.known.get(key) === null;
  }

  /** How the whole of a wiring fails; null where it passes. */
  private verdict({ wires, nets }: Candidate): Refusal | null {
    const key = signature(nets);
    if (key === this.given.asReference) return null;
    let refusal = this.known.get(key);
    if (refusal === undefined) {
      refusal = this.tryWhole(new Solver(this.given.circuitWith(wires)));
      this.known.set(key, refusal);
    }
    return refusal;
  }

  private tryWhole(solver: Solver): Refusal | null {
    for (const checkpoint of this.given.checkpoints) {
      const failing = this.given.board.failingExactly(solver, checkpoint);
      if (failing.length > 0) return { failing };
    }
    for (const [k, steps] of this.behaviours.entries()) {
      const { mismatches } = runSteps(solver, steps, { untilWrong: true });
      if (!mismatches[0]) continue;
      if (k > 0) this.behaviours.unshift(...this.behaviours.splice(k, 1));
      return {
        trace: steps.slice(0, mismatches[0].step + 1),
        mismatches,
        anywhere: mismatches.some(({ actual }) => actual === 'chattering'),
      };
    }
    const { lost, complete } = firstLost(solver, this.given.excused);
    if (lost)
      return {
        trace: lost.trace,
        mismatches: [],
        anywhere: lost.id === 'no-race' || lost.id === 'no-chatter',
      };
    return complete ? null : { failing: [] };
  }

  /** What could cure a wiring that fails as a whole; null where it passes. */
  cures(node: Candidate, answers: Answers): Answer[] | null {
    const refusal = this.verdict(node);
    if (!refusal) return null;
    if ('failing' in refusal) return refusal.failing.flatMap((one) => answers.to(node, one));
    // A board or a proof failed: one of the wires that fed a coil or a motor on the way must go, or what
    // stayed dead be fed. What hangs on which armature is quicker may hang on any wire of the control
    // circuit.
    if (refusal.anywhere) {
      const kinds = this.given.circuitsOf(node.nets);
      return answers.removals(
        node,
        node.wires.flatMap(({ a }, k) => (kinds[node.nets[a]!]! & CONTROL ? [k] : [])),
      );
    }
    const { fed, state } = this.fedAlong(
      new Solver(this.given.circuitWith(node.wires)),
      node.wires,
      refusal.trace,
    );
    const dead = refusal.mismatches.flatMap(({ what, expected }) =>
      WANTS_POWER.has(expected) ? this.endsOf(what) : [],
    );
    return [
      ...answers.removals(node, fed),
      ...dead.flatMap((load) => answers.feed(node, { ...load, state })),
    ];
  }

  /** Pins of what an expectation names (a coil, a lamp or a motor) and what it wants there. */
  private endsOf(what: string): { ends: readonly number[]; wants: number; isMotor?: boolean }[] {
    const { circuit, pinOf } = this.given.board;
    const tag = what.replace(/[.:].*/, '');
    const loads = [...circuit.coils, ...circuit.lamps].filter((load) => load.tag === tag);
    return [
      ...loads.map(({ a, b, voltage }) => ({
        ends: [pinOf[a]!, pinOf[b]!],
        wants: voltage,
      })),
      ...circuit.motors.flatMap((motor, k) =>
        motor.tag === tag
          ? [
              {
                ends: this.given.board.motorEnds[k] ?? [],
                wants: motor.terminals.length > 2 ? 3 : 2,
                isMotor: true,
              },
            ]
          : [],
      ),
    ];
  }

  /** Wires that feed coils and motors at any moment of a sequence, and the state in which it ends. */
  private fedAlong(
    solver: Solver,
    wires: readonly PinWire[],
    steps: readonly (Step | Stimulus)[],
  ): { fed: number[]; state: MechanicalState } {
    const { circuit } = solver;
    const simulation = new Simulation(solver);
    const found = new Set<number>();
    const pins = (terminals: readonly number[]) =>
      terminals.filter((k) => k >= 0).map((k) => this.given.board.pinOf[k]!);
    const look = (): void => {
      const electrical = solver.at(simulation.state);
      circuit.coils.forEach(({ a, b, voltage }, k) => {
        if (isShorted(electrical) || electrical.coilVolts[k]! > ENERGISED * voltage)
          for (const wire of this.given.feeding(wires, simulation.state, pins([a, b]))) found.add(wire);
      });
      circuit.motors.forEach(({ terminals }, k) => {
        if (electrical.motors[k]?.driven !== 'none')
          for (const wire of this.given.feeding(wires, simulation.state, pins(terminals))) found.add(wire);
      });
    };
    for (const step of steps) {
      if (isExpectation(step)) continue;
      simulation.apply(step);
      look();
      if (!('wait' in step)) simulation.settle();
      look();
    }
    return { fed: [...found], state: simulation.state };
  }
}
