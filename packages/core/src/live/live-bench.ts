import type { Bench } from '../bench/index.js';
import { LETTING_GO, OPERATED, SUPPLY_OPEN, type MechanismKind } from '../catalogue/index.js';
import {
  compile,
  withFault,
  type Circuit,
  type Fault,
  type MechanicalState,
  type Stimulus,
} from '../circuit/index.js';
import { Solver, anySupplyOn, readOhms } from '../electrics/index.js';
import { Simulation, type Incident, type TraceEvent } from '../simulation/index.js';

/** Handles that stay where they were when a board is wired again. */
const STAYS: readonly MechanismKind[] = ['latch', 'selector', 'switchgear', 'trip'];

export interface LoadOptions {
  readonly supplyOn?: boolean;
  /** Nothing of the board before stays as it was. */
  readonly fresh?: boolean;
  readonly fault?: Fault | undefined;
}

/** A bench that somebody works now: wired again and again, worked by hand, read with a meter. Its clock runs on from board to board. */
export class LiveBench {
  /** Seconds since it was first loaded. */
  clock = 0;
  private board: {
    readonly simulation: Simulation;
    readonly origin: number;
    events: number;
    incidents: number;
  } | null = null;

  /** The board that runs; null before the first is loaded. */
  get simulation(): Simulation | null {
    return this.board?.simulation ?? null;
  }

  get circuit(): Circuit | null {
    return this.simulation?.solver.circuit ?? null;
  }

  get isSupplied(): boolean {
    const { simulation } = this;
    return simulation !== null && anySupplyOn(simulation.solver.circuit, simulation.state);
  }

  /** Puts a wiring on the bench: everything that moves by itself is at rest, and handles that stay put stand as they stood. */
  load(bench: Bench, { supplyOn = false, fresh = false, fault }: LoadOptions = {}): void {
    const sound = compile(bench);
    const faulty = fault ? withFault(sound, fault) : null;
    const circuit = faulty && 'circuit' in faulty ? faulty.circuit : sound;
    const state = this.handles(circuit, fresh ? null : this.simulation);
    if (!supplyOn)
      for (const { kind, index } of circuit.mechanisms) if (kind === 'supply') state[index] = SUPPLY_OPEN;
    this.board = {
      simulation: new Simulation(new Solver(circuit), state),
      origin: this.clock,
      events: 0,
      incidents: 0,
    };
  }

  private handles(circuit: Circuit, before: Simulation | null): MechanicalState {
    const state = circuit.initial.slice();
    for (const { kind, index, device, positions } of circuit.mechanisms) {
      const known = before?.solver.circuit.mechanismOf.get(device.tag);
      if (
        !before ||
        known === undefined ||
        !STAYS.includes(kind) ||
        circuit.mechanismOf.get(device.tag) !== index
      )
        continue;
      const was = before.state[known] as number;
      state[index] =
        kind === 'selector'
          ? Math.min(was, (positions?.length ?? 1) - 1)
          : was === LETTING_GO
            ? OPERATED
            : was;
    }
    return state;
  }

  /** Does one thing to the bench; in a wait, and while a timer runs out, its clock runs on. */
  act(stimulus: Stimulus): void {
    if (!this.board) return;
    const { simulation, origin } = this.board;
    simulation.apply(stimulus);
    this.clock = Math.max(this.clock, origin + simulation.t);
  }

  /** Lets everything that moves come to rest, as after a deliberate push. */
  settle(): void {
    if (!this.board) return;
    this.board.simulation.settle();
    this.clock = Math.max(this.clock, this.board.origin + this.board.simulation.t);
  }

  /** Lets some seconds pass. */
  advance(seconds: number): void {
    this.clock += seconds;
    if (this.board) this.board.simulation.advance(this.clock - this.board.origin);
  }

  /** Ohms between two terminals with every supply off; Infinity where nothing joins them, or where they are no terminals. */
  ohms(from: string, to: string): number {
    const { simulation, circuit } = this;
    const [a, b] = [circuit?.indexOf.get(from), circuit?.indexOf.get(to)];
    return simulation === null || a === undefined || b === undefined
      ? Number.POSITIVE_INFINITY
      : readOhms(simulation.solver, simulation.state, a, b).value;
  }

  /** What has happened since this was last asked, by the bench's own clock. */
  news(): { readonly events: readonly TraceEvent[]; readonly incidents: readonly Incident[] } {
    const { board } = this;
    if (!board) return { events: [], incidents: [] };
    const { simulation, origin } = board;
    const late = <T extends { readonly t: number }>(list: readonly T[], from: number) =>
      list.slice(from).map((one) => ({ ...one, t: one.t + origin }));
    const news = {
      events: late(simulation.events, board.events),
      incidents: late(simulation.incidents, board.incidents),
    };
    board.events = simulation.events.length;
    board.incidents = simulation.incidents.length;
    return news;
  }
}
