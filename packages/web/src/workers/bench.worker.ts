import {
  LiveBench,
  anySupplyOn,
  isLive,
  observerOf,
  stateName,
  type Circuit,
  type Observer,
  type Simulation,
  type TerminalIndex,
} from '@contactum/core';
import type { Frame, FromWorker, ToWorker } from './protocol.js';

/** Runs one bench in real time and tells the page what a person would see, at most 30 times a second. */

const FRAME_MS = 1000 / 30;
/** Longest stretch that is caught up after the page was asleep, seconds. */
const LONGEST_STEP = 1;
const live = new LiveBench();
let lamps: readonly Observer[] = [];
let lastTick = performance.now();
let idleFrames = 0;

const post = (message: FromWorker) => self.postMessage(message);

/** What names the values of the frames that follow. */
function tellShape(circuit: Circuit): void {
  lamps = circuit.lamps.flatMap(({ tag }) => {
    const outcome = observerOf(circuit, tag);
    return 'observer' in outcome ? [outcome.observer] : [];
  });
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

const deviceMechanisms = (circuit: Circuit) =>
  circuit.mechanisms.filter(
    ({ index, device, kind }) => kind !== 'filament' && circuit.mechanismOf.get(device.tag) === index,
  );

function frame(simulation: Simulation): Frame {
  const { state, solution, solver } = simulation;
  const { circuit } = solver;
  const moment = { solver, state, electrical: solution, simulation };
  return {
    t: live.clock,
    live: Uint8Array.from(circuit.terminals, (_, k) =>
      isLive(solver, solution, k as TerminalIndex) ? 1 : 0,
    ),
    closed: Uint8Array.from(circuit.switches, ({ closedIn, mechanism }) =>
      closedIn[state[mechanism] as number] ? 1 : 0,
    ),
    states: deviceMechanisms(circuit).map((mechanism) =>
      simulation.isChattering(mechanism.index)
        ? 'chattering'
        : (stateName(mechanism, state[mechanism.index] as number) ?? ''),
    ),
    lamps: lamps.map((observer) => String(observer.read(moment))),
    motors: simulation.shafts.map(({ speed, amps, driven }) => ({
      rpm: (speed * 60) / (2 * Math.PI),
      amps,
      driven,
    })),
    ...live.news(),
    supplyOn: anySupplyOn(circuit, state),
    running: simulation.shafts.some(({ speed }) => speed !== 0) || anySupplyOn(circuit, state),
  };
}

function tell(): void {
  const { simulation } = live;
  if (!simulation) return;
  const now = frame(simulation);
  idleFrames = now.running ? 0 : idleFrames + 1;
  post({ kind: 'frame', frame: now });
}

/** Brings the bench up to the present moment. */
function catchUp(): void {
  const now = performance.now();
  live.advance(Math.min((now - lastTick) / 1000, LONGEST_STEP));
  lastTick = now;
}

self.onmessage = ({ data }: MessageEvent<ToWorker>) => {
  catchUp();
  switch (data.kind) {
    case 'load':
      live.load(data.bench, data);
      if (live.circuit) tellShape(live.circuit);
      break;
    case 'ohms':
      post({ kind: 'ohms', value: live.ohms(data.from, data.to) });
      break;
    case 'do':
      live.act(data.stimulus);
      idleFrames = 0;
      tell();
  }
};

setInterval(() => {
  catchUp();
  // A few frames after everything has come to rest, then silence.
  if (idleFrames < 10) tell();
}, FRAME_MS);
