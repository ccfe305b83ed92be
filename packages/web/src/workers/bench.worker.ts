import {
  LETTING_GO,
  OPERATED,
  SUPPLY_OPEN,
  Simulation,
  Solver,
  anySupplyOn,
  compile,
  isLive,
  observerOf,
  readOhms,
  stateName,
  withFault,
  type Bench,
  type Circuit,
  type Fault,
  type MechanismKind,
  type Observer,
  type TerminalIndex,
} from '@contactum/core';
import type { Frame, FromWorker, ToWorker } from './protocol.js';

/** Runs one bench in real time and tells the page what a person would see, at most 30 times a second. */

const FRAME_MS = 1000 / 30;
/** Longest stretch that is caught up after the page was asleep, seconds. */
const LONGEST_STEP = 1;
/** Handles that stay where they were when a board is wired again. */
const STAYS: readonly MechanismKind[] = ['latch', 'selector', 'switchgear', 'trip'];

interface Running {
  readonly circuit: Circuit;
  readonly solver: Solver;
  readonly simulation: Simulation;
  readonly lamps: readonly Observer[];
  /** Worker time at which this simulation's clock began. */
  readonly origin: number;
  events: number;
  incidents: number;
}

let running: Running | null = null;
let clock = 0;
let lastTick = performance.now();
let idleFrames = 0;

const post = (message: FromWorker) => self.postMessage(message);

function load(bench: Bench, supplyOn: boolean, fresh: boolean, fault: Fault | undefined): void {
  const sound = compile(bench);
  const faulty = fault ? withFault(sound, fault) : null;
  const circuit = faulty && 'circuit' in faulty ? faulty.circuit : sound;
  const solver = new Solver(circuit);
  const state = circuit.initial.slice();
  for (const { kind, index, device } of circuit.mechanisms) {
    if (kind === 'supply' && !supplyOn) state[index] = SUPPLY_OPEN;
    const before = fresh ? undefined : running?.circuit.mechanismOf.get(device.tag);
    if (before === undefined || !running || !STAYS.includes(kind) || circuit.mechanismOf.get(device.tag) !== index) continue;
    const was = running.simulation.state[before] as number;
    state[index] = kind === 'selector' ? Math.min(was, (circuit.mechanisms[index]?.positions?.length ?? 1) - 1) : was === LETTING_GO ? OPERATED : was;
  }
  const lamps = circuit.lamps.flatMap(({ tag }) => {
    const outcome = observerOf(circuit, tag);
    return 'observer' in outcome ? [outcome.observer] : [];
  });
  running = { circuit, solver, simulation: new Simulation(solver, state), lamps, origin: clock, events: 0, incidents: 0 };
  post({
    kind: 'shape',
    shape: {
      terminals: circuit.terminals,
      contacts: circuit.switches.map(({ tag, spec }) => `${tag}:${spec.name}`),
      devices: deviceMechanisms(circuit).map(({ device }) => device.tag),
      lamps: circuit.lamps.map(({ tag }) => tag),
      motors: circuit.motors.map(({ tag }) => tag),
    },
  });
  idleFrames = 0;
  tell();
}

const deviceMechanisms = (circuit: Circuit) => circuit.mechanisms.filter(({ index, device, kind }) => kind !== 'filament' && circuit.mechanismOf.get(device.tag) === index);

function frame({ circuit, solver, simulation, lamps, origin, events, incidents }: Running): Frame {
  const { state, solution } = simulation;
  const moment = { solver, state, electrical: solution, simulation };
  const late = <T extends { readonly t: number }>(list: readonly T[], from: number) => list.slice(from).map((one) => ({ ...one, t: one.t + origin }));
  return {
    t: clock,
    live: Uint8Array.from(circuit.terminals, (_, k) => (isLive(solver, solution, k as TerminalIndex) ? 1 : 0)),
    closed: Uint8Array.from(circuit.switches, ({ closedIn, mechanism }) => (closedIn[state[mechanism] as number] ? 1 : 0)),
    states: deviceMechanisms(circuit).map((mechanism) =>
      mechanism.kind === 'armature' && simulation.isChattering(mechanism.index) ? 'chattering' : (stateName(mechanism, state[mechanism.index] as number) ?? ''),
    ),
    lamps: lamps.map((observer) => String(observer.read(moment))),
    motors: simulation.shafts.map(({ speed, amps, driven }) => ({ rpm: (speed * 60) / (2 * Math.PI), amps, driven })),
    events: late(simulation.events, events),
    incidents: late(simulation.incidents, incidents),
    supplyOn: anySupplyOn(circuit, state),
    running: simulation.shafts.some(({ speed }) => speed !== 0) || anySupplyOn(circuit, state),
  };
}

function tell(): void {
  if (!running) return;
  const now = frame(running);
  running.events = running.simulation.events.length;
  running.incidents = running.simulation.incidents.length;
  idleFrames = now.running ? 0 : idleFrames + 1;
  post({ kind: 'frame', frame: now });
}

/** Ohms between two terminals of the board with every supply off. */
function ohmsBetween(from: string, to: string): number {
  if (!running) return Number.POSITIVE_INFINITY;
  const { circuit, solver, simulation } = running;
  const [a, b] = [circuit.indexOf.get(from), circuit.indexOf.get(to)];
  return a === undefined || b === undefined ? Number.POSITIVE_INFINITY : readOhms(solver, simulation.state, a, b).value;
}

/** Brings the bench up to the present moment. */
function catchUp(): void {
  const now = performance.now();
  const seconds = Math.min((now - lastTick) / 1000, LONGEST_STEP);
  lastTick = now;
  if (!running) return;
  clock += seconds;
  running.simulation.advance(clock - running.origin);
}

self.onmessage = ({ data }: MessageEvent<ToWorker>) => {
  catchUp();
  if (data.kind === 'load') load(data.bench, data.supplyOn, data.fresh, data.fault);
  else if (data.kind === 'ohms') post({ kind: 'ohms', value: ohmsBetween(data.from, data.to) });
  else if (running) {
    running.simulation.apply(data.stimulus);
    // A simulation may have let time pass (a wait, a timer run out).
    clock = Math.max(clock, running.origin + running.simulation.t);
    idleFrames = 0;
    tell();
  }
};

setInterval(() => {
  catchUp();
  // A few frames after everything has come to rest, then silence.
  if (idleFrames < 10) tell();
}, FRAME_MS);
