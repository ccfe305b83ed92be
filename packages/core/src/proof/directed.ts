import { TRIPPED } from '../catalogue/index.js';
import { isMoving, type MechanicalState, type Stimulus } from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { Simulation } from '../simulation/index.js';
import type { Exploration, Way } from './exploration.js';

/** One step of a sequence as the search took it: what was done, and where that led. */
export interface Leg {
  readonly stimulus: Stimulus;
  /** The state in which the stimulus has begun. */
  readonly started: MechanicalState;
  /** The situation that the search went on from, or in which it found what it claims. */
  readonly goal: (state: MechanicalState) => boolean;
}

/** Whether a bench worked in time shows what a search claims. */
export type Shows = (simulation: Simulation, steps: readonly Stimulus[]) => boolean;

/** A timer set so short that nothing gets hot before it has run out, seconds; longer than several stimuli take. */
const SHORT_DELAY = 2;
/** Delays that end before a fuse clears what would burn later. */
const SHORTER_DELAYS = [0.1, 0.03, 0.01, 0] as const;
/** And one so long that it does not run out before another. */
const LONG_DELAY = 600;

/**
 * The script of a sequence that a search found, so that it shows in time what the search found without: where that hangs
 * on which armature is quicker, a stimulus names the order of arrival; where heat would come between, or one timer
 * before another, the timers are set for it. The plainest script that shows it is taken.
 */
export function directed(
  solver: Solver,
  exploration: Exploration,
  { root, legs }: { readonly root: MechanicalState; readonly legs: readonly Leg[] },
  shows: Shows,
): { readonly steps: Stimulus[]; readonly shown: boolean } {
  const atOnce = worked(solver, [], true).state;
  const steps = ordered(
    solver,
    exploration,
    isSame(atOnce, root) ? legs : [...powered(solver, (state) => isSame(state, root)), ...legs],
    shows,
  );
  const plain = worked(solver, steps);
  if (shows(plain, steps)) return { steps, shown: true };
  const timers = [...new Set(steps.flatMap((step) => ('elapse' in step ? [step.elapse] : [])))];
  const blown = plain.solver.circuit.mechanisms.filter(
    ({ kind, index }) => kind === 'switchgear' && plain.state[index] === TRIPPED,
  );
  const variants = [
    ...(timers.length > 0 ? timerSettings(solver, timers).map((settings) => [...settings, ...steps]) : []),
    // What a fuse or breaker has ended shows again for a moment when it is put back.
    ...(blown.length > 0
      ? [[...steps, ...blown.map(({ device }): Stimulus => ({ reset: device.tag }))]]
      : []),
  ];
  const found = variants.find((variant) => shows(worked(solver, variant), variant));
  return { steps: found ?? steps, shown: found !== undefined };
}

/** Switching off and on again, so that a bench comes on in a certain one of the ways in which it may. */
export function powered(solver: Solver, goal: Leg['goal']): Leg[] {
  const supplies = solver.circuit.mechanisms.filter(({ kind }) => kind === 'supply');
  const off = supplies.map(({ device }): Stimulus => ({ open: device.tag }));
  const started = worked(solver, off, true).state;
  return [
    ...off.map((stimulus): Leg => ({ stimulus, started, goal: () => true })),
    ...supplies.map(({ device, index }, k): Leg => {
      started[index] = 0;
      return {
        stimulus: { close: device.tag },
        started: started.slice(),
        goal: k === supplies.length - 1 ? goal : () => true,
      };
    }),
  ];
}

export const isSame = (one: MechanicalState, other: MechanicalState): boolean =>
  one.every((state, k) => state === other[k]);

/** A fresh bench worked by some steps, as a run works it. */
export function worked(solver: Solver, steps: readonly Stimulus[], mechanicsAlone = false): Simulation {
  const simulation = new Simulation(solver, undefined, mechanicsAlone);
  for (const step of steps) simulation.work(step);
  return simulation;
}

function ordered(solver: Solver, exploration: Exploration, legs: readonly Leg[], shows: Shows): Stimulus[] {
  const steps: Stimulus[] = [];
  legs.forEach(({ stimulus, started, goal }, k) => {
    const last = k === legs.length - 1;
    const reaches = (step: Stimulus): boolean => {
      const so = [...steps, step];
      const simulation = worked(solver, so, true);
      return goal(simulation.state) || (last && shows(simulation, so));
    };
    if (reaches(stimulus)) {
      steps.push(stimulus);
      return;
    }
    const way = exploration.wayTo(started, goal);
    const variants = way ? namings(exploration, way).map((first): Stimulus => ({ ...stimulus, first })) : [];
    steps.push(variants.find(reaches) ?? variants[0] ?? stimulus);
  });
  return steps;
}

/**
 * Ways of naming an order of arrival, the shortest first: what falls back must not be named, or it would be carried in;
 * what has not arrived when the goal is reached comes last.
 */
function namings(exploration: Exploration, { state, arrivals, moving }: Way): string[][] {
  const { mechanisms } = exploration.circuit;
  const tag = (mechanism: number) => mechanisms[mechanism]?.device.tag ?? '';
  const fallen = new Set<number>(
    arrivals.flatMap(({ mechanism, fellBack }) => (fellBack ? [mechanism] : [])),
  );
  const all: number[] = arrivals.filter(({ fellBack }) => !fellBack).map(({ mechanism }) => mechanism);
  const standing = all.filter((mechanism) => !fallen.has(mechanism));
  const under: number[] = mechanisms.flatMap((mechanism): number[] =>
    isMoving(mechanism, state[mechanism.index]!) ? [mechanism.index] : [],
  );
  // What was under way and turned back has come later than all that arrived.
  const late: number[] = moving.filter(
    (mechanism) => !under.includes(mechanism) && !arrivals.some((arrival) => arrival.mechanism === mechanism),
  );
  const lists = [[...standing, ...under, ...late], [...standing, ...under], [...all, ...under], standing];
  // Each with every arrival named once, and as often as it arrives.
  return lists
    .flatMap((list) => [[...new Set(list)], list].map((one) => one.map(tag)))
    .filter((list) => list.length > 0);
}

/** Settings before the first step with which timers run out in the order of a sequence, nothing gets hot, or both. */
function timerSettings(solver: Solver, timers: readonly string[]): Stimulus[][] {
  const others = solver.circuit.mechanisms.flatMap(({ kind, device }) =>
    kind === 'timer' && !timers.includes(device.tag) ? [device.tag] : [],
  );
  const set = (tag: string, seconds: number): Stimulus => ({ set: `${tag}.delay`, to: seconds });
  const long = others.map((tag) => set(tag, LONG_DELAY));
  return [
    timers.map((tag) => set(tag, SHORT_DELAY)),
    ...SHORTER_DELAYS.map((delay) => timers.map((tag) => set(tag, delay))),
    [...timers.map((tag, k) => set(tag, SHORT_DELAY * (k + 1))), ...long],
    [...timers.map((tag, k) => set(tag, SHORT_DELAY * 10 ** k)), ...long],
  ];
}
