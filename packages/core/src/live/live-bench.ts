import type { Bench } from '../bench/index.js';
import { SUPPLY_OPEN } from '../catalogue/index.js';
import {
  isSupplySwitch,
  compile,
  keptState,
  partOf,
  type Circuit,
  type MechanicalState,
  type Stimulus,
} from '../circuit/index.js';
import type { Fault } from '../faults/index.js';
import { Solver, anySupplyOn, readOhms } from '../electrics/index.js';
import { measureAt, type MeterReading, type MeterRequest } from './meter.js';
import { Perception, type Frame, type Shape } from './perception.js';
import { Simulation, type Incident, type TraceEvent } from '../simulation/index.js';

export interface LoadOptions {
  readonly supplyOn?: boolean;
  /** Nothing of the board before stays as it was. */
  readonly fresh?: boolean;
  /** On the board from the beginning. */
  readonly faults?: readonly Fault[] | undefined;
}

/**
 * A bench that somebody works now: wired again and again, worked by hand, read with a meter. Its clock runs
 * on from board to board.
 */
export class LiveBench {
  /** Seconds since it was first loaded. */
  clock = 0;
  private board: {
    readonly simulation: Simulation;
    readonly perception: Perception;
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

  /**
   * Puts a wiring on the bench: everything that moves by itself is at rest, and handles that stay put stand
   * as they stood.
   */
  load(bench: Bench, { supplyOn = false, fresh = false, faults = [] }: LoadOptions = {}): void {
    const circuit = compile(bench);
    const state = this.handles(circuit, fresh ? null : this.simulation);
    if (!supplyOn)
      for (const one of circuit.mechanisms) if (isSupplySwitch(one)) state[one.index] = SUPPLY_OPEN;
    const simulation = new Simulation(new Solver(circuit), state, false, faults);
    const perception = new Perception(simulation);
    this.board = { simulation, perception, origin: this.clock, events: 0, incidents: 0 };
  }

  private handles(circuit: Circuit, before: Simulation | null): MechanicalState {
    const state = circuit.initial.slice();
    if (!before) return state;
    for (const mechanism of circuit.mechanisms) {
      const { index, device, name } = mechanism;
      const known = partOf(before.solver.circuit, device.tag, name);
      if (known) state[index] = keptState(mechanism, before.state[known.index]!) ?? state[index]!;
    }
    return state;
  }

  /** Holds an input or output of a controller on or off; null lets it go. */
  force(tag: string, at: string, value: boolean | null): void {
    this.board?.simulation.force(tag, at, value);
  }

  /**
   * Does one thing to the bench and starts what follows from it; in a wait, and while a timer runs out, its
   * clock runs on.
   */
  act(stimulus: Stimulus): void {
    if (!this.board) return;
    this.board.simulation.apply(stimulus);
    this.keepTime();
  }

  /** Does one thing and lets what it moves come to rest, as in a deliberate push. */
  work(stimulus: Stimulus): void {
    if (!this.board) return;
    this.board.simulation.work(stimulus);
    this.keepTime();
  }

  /** Switches every supply of the board; one that is switched on is made good first. */
  switchSupplies(on: boolean): void {
    for (const mechanism of this.circuit?.mechanisms ?? []) {
      if (!isSupplySwitch(mechanism)) continue;
      const { device } = mechanism;
      if (on) this.act({ reset: device.tag });
      this.work(on ? { close: device.tag } : { open: device.tag });
    }
  }

  private keepTime(): void {
    if (this.board) this.clock = Math.max(this.clock, this.board.origin + this.board.simulation.t);
  }

  /** Lets some seconds pass. */
  advance(seconds: number): void {
    this.clock += seconds;
    if (this.board) this.board.simulation.advance(this.clock - this.board.origin);
  }

  /**
   * Ohms between two terminals with every supply off; Infinity where nothing joins them, or where they are
   * no terminals.
   */
  ohms(from: string, to: string): number {
    const { simulation, circuit } = this;
    const [a, b] = [circuit?.indexOf.get(from), circuit?.indexOf.get(to)];
    return simulation === null || a === undefined || b === undefined
      ? Number.POSITIVE_INFINITY
      : readOhms(simulation.solver, simulation.state, a, b).value;
  }

  /**
   * What an instrument shows now at some terminals, or about a lead of the bench. Ohms are refused while
   * the board is live.
   */
  measure(request: MeterRequest): MeterReading {
    const { simulation, circuit } = this;
    if (!simulation || !circuit) return { refused: 'there is no board' };
    return measureAt(simulation, circuit, request, this.isSupplied);
  }

  /** Names of the values of a frame; null before a board is loaded. */
  get shape(): Shape | null {
    return this.board?.perception.shape ?? null;
  }

  /** What is perceived now, with what has happened since the last frame; null before a board is loaded. */
  frame(): Frame | null {
    return this.board?.perception.frame(this.clock, this.news()) ?? null;
  }

  /** What is perceived now, without the news; they stay for the next frame. */
  peek(): Frame | null {
    return this.board?.perception.frame(this.clock, { events: [], incidents: [] }) ?? null;
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
