import { BURNT, TRIPPED } from '../catalogue/index.js';
import {
  isSupplySwitch,
  isSwitchgear,
  isClockwork,
  STIMULI,
  isMoving,
  verbOf,
  type MechanicalState,
  type Stimulus,
} from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { Simulation } from '../simulation/index.js';
import type { Exploration, Way } from './exploration.js';

/** One step of a sequence as the search took it: what was done, and where that led. */
export interface Segment {
  readonly stimulus: Stimulus;
  /** The state in which the stimulus has begun. */
  readonly started: MechanicalState;
  /** The situation that the search went on from, or in which it found what it claims. */
  readonly goal: (state: MechanicalState) => boolean;
}

/** Whether a bench worked in time shows what a search claims. */
export type Shows = (simulation: Simulation, steps: readonly Stimulus[]) => boolean;

/**
 * A timer set so short that nothing gets hot before it has run out, seconds; longer than several stimuli
 * take.
 */
const SHORT_DELAY = 2;
/** Delays that end before a fuse clears what would burn later. */
const SHORTER_DELAYS = [0.1, 0.03, 0.01, 0] as const;
/** And one so long that it does not run out before another. */
const LONG_DELAY = 600;

/**
 * The script of a sequence that a search found, so that it shows in time what the search found without:
 * where that hangs on which armature is quicker, a stimulus names the order of arrival; where heat would
 * come between, or one timer before another, the timers are set for it. The plainest script that shows it
 * is taken; `then` is done at its end.
 */
export function directed(
  solver: Solver,
  exploration: Exploration,
  { root, segments }: { readonly root: MechanicalState; readonly segments: readonly Segment[] },
  shows: Shows,
  then: readonly Stimulus[] = [],
): Directed {
  // Most sequences need no naming and no setting: they are worked once, as a run works them.
  const plain = [...segments.map(({ stimulus }) => stimulus), ...then];
  if (shows(worked(solver, plain), plain)) return { steps: plain, shown: true, burns: false };
  const fresh = worked(solver, [], true);
  const way = isSame(fresh.state, root)
    ? segments
    : [...powered(solver, (state) => isSame(state, root)), ...segments];
  return replayed(solver, ordered(fresh, exploration, way, shows), shows, then);
}

/** Steps, or the nearest to them, that show what was claimed. */
export function replayed(
  solver: Solver,
  steps: readonly Stimulus[],
  shows: Shows,
  then: readonly Stimulus[] = [],
): Directed {
  const plain = [...steps, ...then];
  const first = worked(solver, plain);
  if (shows(first, plain)) return { steps: plain, shown: true, burns: false };
  const isShown = (variant: Stimulus[]) => shows(worked(solver, variant), variant);
  for (const variant of spared(solver, steps))
    if (isShown([...variant, ...then])) return { steps: [...variant, ...then], shown: true, burns: false };
  const burns = first.incidents.some(({ kind }) => HEAT.has(kind));
  return { steps: plain, shown: false, burns };
}

/** What heat does to a board: a situation before which it always comes does not come about. */
const HEAT: ReadonlySet<string> = new Set(['lamp-burnt', 'fuse-blown', 'breaker-trip', 'overload-trip']);

/**
 * The script of a sequence, whether it shows in time what was claimed, and if not, whether heat came
 * before.
 */
export interface Directed {
  readonly steps: Stimulus[];
  readonly shown: boolean;
  readonly burns: boolean;
}

/**
 * The same steps spared what heat does to them in time: timers that run out before anything gets hot, a
 * lamp that is put in when its voltage is right again, a relay whose heaters are left alone, and what a
 * fuse or breaker has ended put back.
 */
function* spared(solver: Solver, steps: readonly Stimulus[]): Generator<Stimulus[]> {
  const plain = worked(solver, steps);
  const { circuit } = plain.solver;
  // Timers that a screwdriver sets; those of a program are written in it.
  const isSet = (tag: string) =>
    isClockwork(circuit.mechanisms[circuit.mechanismOf.get(tag) ?? -1] ?? { kind: 'winding' });
  const elapsed = steps.flatMap((step) => ('elapse' in step ? [step.elapse] : []));
  const timers = [...new Set(elapsed)].filter(isSet);
  const tripped = circuit.mechanisms.filter((one) => isSwitchgear(one) && plain.state[one.index] === TRIPPED);
  const burnt = circuit.lamps.filter(({ mechanism }) => plain.state[mechanism] === BURNT);
  const warm = plain.incidents.flatMap(({ kind, where }) => (kind === 'overload-trip' ? where : []));
  const relays = [...new Set(warm)].map((tag): Stimulus => ({ inject: { 'overload-will-not-trip': tag } }));
  const lamps = burnt.map(({ tag }) => ({ 'lamp-failed': tag }));
  const again = tripped.map(({ device }): Stimulus => ({ reset: device.tag }));
  const quick =
    timers.length > 0 ? [...timerSettings(solver, timers), ...justInTime(solver, steps, timers)] : [];
  for (const settings of quick) yield [...settings, ...steps];
  if (again.length > 0) yield [...steps, ...again];
  if (lamps.length > 0) {
    const taken = lamps.map((lamp): Stimulus => ({ inject: lamp }));
    const put = lamps.map((lamp): Stimulus => ({ clear: lamp }));
    // Put in before the last thing that is done, or after it.
    yield [...taken, ...steps, ...put];
    yield [...taken, ...steps.slice(0, -1), ...put, ...steps.slice(-1)];
    const last = steps.at(-1);
    if (last && STIMULI[verbOf(last)].atAnInstant) {
      const { first, ...act } = last;
      const together = { together: [...put, act as Stimulus], ...(first ? { first } : {}) };
      yield [...taken, ...steps.slice(0, -1), together];
    }
  }
  if (relays.length > 0) {
    yield [...relays, ...steps];
    for (const settings of quick) yield [...relays, ...settings, ...steps];
  }
}

/** Seconds by which a timer runs out after what was done before it has come to rest. */
const SOON = [0.0005, 0.002, 0.004, 0.007] as const;

/** Timers set to run out just after the step before has come to rest, so that nothing has time to get hot. */
function justInTime(solver: Solver, steps: readonly Stimulus[], timers: readonly string[]): Stimulus[][] {
  const long = timers.map((tag): Stimulus => ({ set: `${tag}.delay`, to: LONG_DELAY }));
  const simulation = worked(solver, long, true);
  const begun = new Map<string, number>();
  const settled = new Map<string, number>();
  for (const step of steps) {
    if ('elapse' in step) {
      const since = begun.get(step.elapse);
      if (since !== undefined && !settled.has(step.elapse)) settled.set(step.elapse, simulation.t - since);
    }
    simulation.work(step);
    for (const { t, what, state } of simulation.events)
      if (state === 'timing' && timers.includes(what)) begun.set(what, t);
  }
  return SOON.map((soon) =>
    [...settled].map(([tag, seconds]): Stimulus => ({ set: `${tag}.delay`, to: round(seconds + soon) })),
  ).filter((settings) => settings.length > 0);
}

const round = (seconds: number): number => Math.round(seconds * 1e6) / 1e6;

/** Switching off and on again, so that a bench comes on in a certain one of the ways in which it may. */
export function powered(solver: Solver, goal: Segment['goal']): Segment[] {
  const supplies = solver.circuit.mechanisms.filter(isSupplySwitch);
  const off = supplies.map(({ device }): Stimulus => ({ open: device.tag }));
  const started = worked(solver, off, true).state;
  return [
    ...off.map((stimulus): Segment => ({ stimulus, started, goal: () => true })),
    ...supplies.map(({ device, index }, k): Segment => {
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

/** The steps of some segments, with the order of arrival where one is needed; goes on from a fresh board. */
function ordered(
  fresh: Simulation,
  exploration: Exploration,
  segments: readonly Segment[],
  shows: Shows,
): Stimulus[] {
  const { solver } = fresh;
  const steps: Stimulus[] = [];
  // Stands where the steps so far lead to.
  let board = fresh;
  segments.forEach(({ stimulus, started, goal }, k) => {
    const last = k === segments.length - 1;
    const reaches = (step: Stimulus): boolean => {
      const so = [...steps, step];
      board.work(step);
      if (goal(board.state) || (last && shows(board, so))) return true;
      board = worked(solver, steps, true);
      return false;
    };
    if (reaches(stimulus)) {
      steps.push(stimulus);
      return;
    }
    // A way on which nothing falls back is told by the order of arrivals alone.
    const ways = [exploration.wayTo(started, goal), exploration.wayTo(started, goal, false)];
    const variants = ways.flatMap((way) =>
      way ? namings(exploration, way).map((first): Stimulus => ({ ...stimulus, first })) : [],
    );
    const found = variants.find(reaches);
    const step = found ?? variants[0] ?? stimulus;
    steps.push(step);
    if (!found) board.work(step);
  });
  return steps;
}

/**
 * Ways of naming an order of arrival, the shortest first: what falls back must not be named, or it would be
 * carried in; what has not arrived when the goal is reached comes last.
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

/**
 * Settings before the first step with which timers run out in the order of a sequence, nothing gets hot, or
 * both.
 */
function timerSettings(solver: Solver, timers: readonly string[]): Stimulus[][] {
  const others = solver.circuit.mechanisms.flatMap((one) =>
    isClockwork(one) && !timers.includes(one.device.tag) ? [one.device.tag] : [],
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
