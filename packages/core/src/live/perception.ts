import type { Bench } from '../bench/index.js';
import {
  contactPlace,
  isTripBar,
  isWinding,
  compile,
  stateName,
  type Circuit,
  type Mechanism,
  type TerminalIndex,
} from '../circuit/index.js';
import { Solver, anySupplyOn, isLive } from '../electrics/index.js';
import {
  Simulation,
  momentOf,
  observerOf,
  type Incident,
  type Observer,
  type TraceEvent,
} from '../simulation/index.js';

/** Names in the order in which frames list their values. */
export interface Shape {
  readonly terminals: readonly string[];
  readonly contacts: readonly string[];
  readonly devices: readonly string[];
  readonly lamps: readonly string[];
  readonly motors: readonly string[];
  /** Overload relays. */
  readonly heaters: readonly string[];
}

export interface MotorFrame {
  /** rpm, negative in reverse. */
  readonly rpm: number;
  readonly amps: number;
  readonly driven: string;
  /** N m, positive forward. */
  readonly torque: number;
}

/** What a person at the bench perceives at one moment, and no more. */
export interface Frame {
  /** Seconds since the bench was first loaded. */
  readonly t: number;
  /** By terminal: 1 where it is live. */
  readonly live: Uint8Array;
  /** By contact: 1 where it is closed. */
  readonly closed: Uint8Array;
  readonly states: readonly string[];
  readonly lamps: readonly string[];
  readonly motors: readonly MotorFrame[];
  /** By overload relay: heat of its hottest pole, per unit of the trip. */
  readonly heats: readonly number[];
  readonly events: readonly TraceEvent[];
  readonly incidents: readonly Incident[];
  readonly supplyOn: boolean;
  /** Something still changes by itself. */
  readonly running: boolean;
}

/** Everything that is perceived of one board as it is wired. */
export class Perception {
  readonly shape: Shape;
  private readonly devices: readonly Mechanism[];
  private readonly lamps: readonly Observer[];
  private readonly heaters: readonly Mechanism[];

  constructor(private readonly simulation: Simulation) {
    const { circuit } = this;
    this.devices = circuit.mechanisms.filter(
      (one) => !isWinding(one) && circuit.mechanismOf.get(one.device.tag) === one.index,
    );
    this.heaters = circuit.mechanisms.filter(isTripBar);
    this.lamps = circuit.lamps.flatMap(({ tag }) => {
      const outcome = observerOf(circuit, tag);
      return 'observer' in outcome ? [outcome.observer] : [];
    });
    this.shape = {
      terminals: circuit.terminals,
      contacts: circuit.switches.map(contactPlace),
      devices: this.devices.map(({ device }) => device.tag),
      lamps: circuit.lamps.map(({ tag }) => tag),
      motors: circuit.motors.map(({ tag }) => tag),
      heaters: this.heaters.map(({ device }) => device.tag),
    };
  }

  private get circuit(): Circuit {
    return this.simulation.solver.circuit;
  }

  /** The frame of this moment; clock and news are the bench's own. */
  frame(t: number, news: Pick<Frame, 'events' | 'incidents'>): Frame {
    const { circuit, simulation } = this;
    const { state, solution, solver, shafts } = simulation;
    // At rest nothing is worked out anew.
    const torques = shafts.some(({ driven }) => driven !== 'none') ? simulation.torques : shafts.map(() => 0);
    const moment = momentOf(simulation);
    const supplyOn = anySupplyOn(circuit, state);
    return {
      t,
      live: Uint8Array.from(circuit.terminals, (_, k) =>
        Number(isLive(solver, solution, k as TerminalIndex)),
      ),
      closed: Uint8Array.from(circuit.switches, ({ closedIn, mechanism }) =>
        Number(closedIn[state[mechanism]!]),
      ),
      states: this.devices.map((mechanism) =>
        simulation.isChattering(mechanism.index)
          ? 'chattering'
          : (stateName(mechanism, state[mechanism.index]!) ?? ''),
      ),
      lamps: this.lamps.map((observer) => String(observer.read(moment))),
      motors: shafts.map(({ speed, amps, driven }, k) => ({
        rpm: (speed * 60) / (2 * Math.PI),
        amps,
        driven,
        torque: torques[k]!,
      })),
      heats: this.heaters.map(({ index }) => simulation.heatOf(index)),
      ...news,
      supplyOn,
      running: supplyOn || shafts.some(({ speed }) => speed !== 0),
    };
  }
}

/** What the frames of a board speak of, and in which order. */
export const shapeOf = (bench: Bench): Shape =>
  new Perception(new Simulation(new Solver(compile(bench)))).shape;
