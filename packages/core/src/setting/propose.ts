import {
  isLatchingButton,
  isLimitSwitch,
  isOverloadRelay,
  isPushbutton,
  isThreePhaseMotor,
  positionsOn,
  anatomy,
  isSupply,
  type Device,
} from '../catalogue/index.js';
import { compile, type Stimulus } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { observableByDefault } from '../simulation/index.js';
import { referenceBench, type Behaviour, type Exercise } from '../marking/index.js';
import { Worked, changes, same, type Values } from './worked.js';

/**
 * What a wiring's reference is watched by where nobody says: contactors, relays, lamps, fields; how a motor
 * of six leads is joined.
 */
export function proposeObserve(exercise: Pick<Exercise, 'bench' | 'reference'>): string[] {
  const circuit = compile(exercise.bench);
  const changing = circuit.bench.devices.flatMap((device) =>
    isThreePhaseMotor(device) && anatomy(device).motor?.connection === 'open'
      ? [`${device.tag}.connection`]
      : [],
  );
  return [...observableByDefault(circuit), ...changing];
}

/** A way of setting something going: buttons pushed and let go, or held; a selector turned. */
interface Start {
  readonly tag: string;
  /** It goes on when the hand has left it. */
  readonly holds: boolean;
  readonly does: readonly Stimulus[];
  readonly letGo: readonly Stimulus[];
  readonly state: Values;
}

/** A timer of the board, or of a program on it; seconds. */
interface Timed {
  readonly tag: string;
  readonly delay: number;
  readonly pause: number;
  readonly isOfProgram: boolean;
}

interface Controls {
  readonly buttons: readonly Device[];
  readonly stops: readonly string[];
  readonly emergencies: readonly string[];
  readonly overloads: readonly string[];
  readonly limits: readonly Device[];
  readonly timers: readonly Timed[];
  readonly supply: string | undefined;
}

function controlsOf(devices: readonly Device[]): Controls {
  const tags = (admits: (device: Device) => boolean) => devices.filter(admits).map(({ tag }) => tag);
  return {
    buttons: devices.filter((one) => isPushbutton(one) && one.duty !== 'stop'),
    stops: tags((one) => isPushbutton(one) && one.duty === 'stop'),
    emergencies: tags(isLatchingButton),
    overloads: tags(isOverloadRelay),
    limits: devices.filter(isLimitSwitch),
    timers: devices.flatMap((one) => {
      return anatomy(one).actuators.flatMap((actuator): Timed[] => {
        if (actuator.kind === 'timer')
          return [{ tag: one.tag, delay: actuator.delay, pause: actuator.pause, isOfProgram: false }];
        // A program that somebody else writes has timers of other names: they are waited for.
        return actuator.kind === 'program-timer'
          ? [{ tag: `${one.tag}.${actuator.name}`, delay: actuator.delay, pause: 0, isOfProgram: true }]
          : [];
      });
    }),
    supply: devices.find(isSupply)?.tag,
  };
}

/** The positions of a selector but the one in which it stands. */
function otherPositions(device: Device): string[] {
  const [first] = anatomy(device).actuators;
  return positionsOn(device).filter((_, k) => k !== first?.initial);
}

/** Weights as houses give them (common practice, no source). */
const POINTS = {
  holds: 6,
  momentary: 6,
  stops: 5,
  emergency: 6,
  overload: 6,
  supply: 4,
  interlock: 6,
  timer: 8,
  limit: 6,
};

/** Most behaviours that are proposed; of every kind there is one, whatever is cut. */
const MOST = 36;

/**
 * What a reference wiring does, as behaviours with what is so on the way: each control, each way of
 * stopping, each trip, the loss of the supply, each timer, each end of a travel, each button while
 * something else runs. All are found by simulation of the reference, so all hold for it; whether they are
 * what should be is for the instructor to say.
 */
export function proposeBehaviours(exercise: Exercise): Behaviour[] {
  const solver = new Solver(compile(referenceBench(exercise)));
  const observe = exercise.observe.length > 0 ? exercise.observe : proposeObserve(exercise);
  return new Proposal(solver, observe, controlsOf(referenceBench(exercise).devices)).behaviours();
}

/** A behaviour that is proposed, and what it is about: the first of each subject is never cut. */
interface Proposed {
  readonly subject: string;
  readonly behaviour: Behaviour;
  /** Observed values that are not always the same in it. */
  readonly moves: ReadonlySet<string>;
}

class Proposal {
  private readonly made: Proposed[] = [];
  private readonly starts: readonly Start[];
  /** What goes on when the hand has left it; where nothing does, what runs while it is held. */
  private readonly running: readonly Start[];
  /** Of what runs, one start for each state that it leads to: two stations that do the same are one. */
  private readonly distinct: readonly Start[];

  constructor(
    private readonly solver: Solver,
    private readonly observe: readonly string[],
    private readonly controls: Controls,
  ) {
    this.starts = this.findStarts();
    const holding = this.starts.filter(({ holds }) => holds);
    this.running = holding.length > 0 ? holding : this.starts;
    this.distinct = this.running.filter(
      (one, k) => this.running.findIndex(({ state }) => same(state, one.state)) === k,
    );
  }

  behaviours(): Behaviour[] {
    for (const start of this.starts) this.startsOn(start);
    for (const start of this.distinct) this.elapses(start);
    for (const [k, start] of this.distinct.entries())
      for (const stop of this.controls.stops.slice(0, k === 0 ? undefined : 1)) this.stopsOn(start, stop);
    for (const start of this.distinct) this.othersWhile(start);
    for (const start of this.distinct) this.reachesEnd(start);
    this.emergency();
    for (const relay of this.controls.overloads) this.trips(relay);
    this.losesSupply();
    this.movesTheRest();
    return this.chosen();
  }

  /**
   * What is proposed: all of it, or as much as is allowed, each subject and each observed value with at
   * least one of its own.
   */
  private chosen(): Behaviour[] {
    if (this.made.length <= MOST) return this.made.map(({ behaviour }) => behaviour);
    const first = new Set(
      this.made.filter(({ subject }, k) => this.made.findIndex((one) => one.subject === subject) === k),
    );
    for (const what of this.observe)
      if (![...first].some(({ moves }) => moves.has(what))) {
        const mover = this.made.find(({ moves }) => moves.has(what));
        if (mover) first.add(mover);
      }
    for (const one of this.made) if (first.size < MOST) first.add(one);
    return this.made.filter((one) => first.has(one)).map(({ behaviour }) => behaviour);
  }

  /** What is observed and stood still in everything so far: moved by whatever moves it. */
  private movesTheRest(): void {
    for (const what of this.observe) {
      if (this.made.some(({ moves }) => moves.has(what))) continue;
      for (const way of this.waysToMove()) {
        const bench = this.bench();
        bench.do(...way);
        if (!bench.moved.has(what)) continue;
        this.add(
          `moves-${what}`,
          `${what}: ${changes(bench.rest, bench.last)}`,
          POINTS.momentary,
          bench,
          what,
        );
        break;
      }
    }
  }

  /** Everything that can be done to a fresh board, and to one that runs. */
  private *waysToMove(): Generator<Stimulus[]> {
    const { buttons, stops, emergencies, overloads, limits, supply } = this.controls;
    const presses = [
      ...buttons.map(({ tag }) => tag),
      ...stops,
      ...emergencies,
      ...limits.map(({ tag }) => tag),
    ];
    const deeds: Stimulus[] = [
      ...presses.map((tag): Stimulus => ({ press: tag })),
      ...overloads.map((tag): Stimulus => ({ trip: tag })),
      ...(supply === undefined ? [] : [{ open: supply }]),
    ];
    for (const deed of deeds) yield [deed];
    for (const { does, letGo, holds } of this.distinct)
      for (const deed of deeds) yield [...does, ...(holds ? letGo : []), deed];
    for (const one of deeds) for (const other of deeds) if (one !== other) yield [one, other];
  }

  private bench(): Worked {
    return new Worked(this.solver, this.observe);
  }

  private add(id: string, title: string, points: number, { steps, moved }: Worked, subject: string): void {
    const slug = id
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, '-')
      .slice(0, 50);
    const ids = this.made.map(({ behaviour }) => behaviour.id);
    const taken = ids.filter((one) => one === slug || one.startsWith(`${slug}-`)).length;
    const behaviour = { id: taken > 0 ? `${slug}-${taken + 1}` : slug, title, points, steps };
    this.made.push({ subject, behaviour, moves: moved });
  }

  private findStarts(): Start[] {
    const { devices } = this.solver.circuit.bench;
    const buttons = this.controls.buttons.map(({ tag }) =>
      this.startBy(tag, [{ press: tag }], [{ release: tag }]),
    );
    const turned = devices.flatMap((device) => {
      const { tag } = device;
      return otherPositions(device).map((to) => this.startBy(`${tag} ${to}`, [{ turn: tag, to }], []));
    });
    const alone = [...buttons, ...turned].filter((one) => !same(one.state, this.bench().rest));
    return [...alone, ...this.inPositions()];
  }

  private startBy(tag: string, does: readonly Stimulus[], letGo: readonly Stimulus[]): Start {
    const bench = this.bench();
    const state = bench.do(...does);
    const after = letGo.length > 0 ? bench.do(...letGo) : state;
    const holds = !same(after, bench.rest);
    return { tag, holds, does, letGo, state: holds ? after : state };
  }

  /** Buttons that do something else once a selector is turned. */
  private inPositions(): Start[] {
    return this.solver.circuit.bench.devices.flatMap((device) => {
      const { tag } = device;
      return otherPositions(device).flatMap((to) =>
        this.controls.buttons.flatMap((button): Start[] => {
          const turn: Stimulus = { turn: tag, to };
          const push: Stimulus = { press: button.tag };
          const start = this.startBy(`${button.tag} (${tag} ${to})`, [turn, push], [{ release: button.tag }]);
          return same(start.state, this.startBy('', [turn], []).state) ? [] : [start];
        }),
      );
    });
  }

  /** The bench after a start, its hand gone where it holds. */
  private started({ holds, does, letGo }: Start): Worked {
    const bench = this.bench();
    bench.do(...does, ...(holds ? letGo : []));
    return bench;
  }

  private startsOn(start: Start): void {
    const { tag, holds, does, letGo } = start;
    const bench = this.bench();
    const told = changes(bench.rest, bench.do(...does));
    bench.do(...letGo);
    if (holds) bench.do({ wait: 1 });
    else if (letGo.length > 0) bench.do(...does, ...letGo);
    const title = holds ? `On ${tag}: ${told}; it holds` : `Only while ${tag} is held: ${told}`;
    this.add(
      `${holds ? 'starts' : 'while'}-${tag}`,
      title,
      holds ? POINTS.holds : POINTS.momentary,
      bench,
      `start ${tag}`,
    );
  }

  private stopsOn(start: Start, stop: string): void {
    const bench = this.started(start);
    const before = bench.last;
    const pressed = bench.do({ press: stop });
    bench.do({ release: stop });
    const title = same(pressed, bench.rest)
      ? `${stop} stops what ${start.tag} has started`
      : `${stop} while it runs from ${start.tag}: ${changes(before, pressed) || 'nothing changes'}`;
    this.add(`stops-${stop}-${start.tag}`, title, POINTS.stops, bench, `stop ${stop}`);
  }

  /** What a timer does that a start sets going: nothing shortly before its time, its change shortly after. */
  private elapses(start: Start): void {
    for (const { tag, delay, pause, isOfProgram } of this.controls.timers) {
      const bench = this.started(start);
      if (bench.stateOf(tag) !== 'timing') continue;
      const before = bench.do({ wait: round(delay * 0.9) });
      const after = bench.do({ wait: round(delay * 0.1 + pause + 0.5) });
      if (same(before, after)) continue;
      bench.do({ wait: 2 });
      this.add(
        `time-${tag}-${start.tag}`,
        `When ${tag} has run out: ${changes(before, after)}`,
        POINTS.timer,
        bench,
        `time ${tag}`,
      );
      const [stop] = this.controls.stops;
      if (stop === undefined) continue;
      const again = this.started(start);
      const runsOut = isOfProgram ? { wait: round(delay + pause + 0.5) } : { elapse: tag };
      again.do(runsOut, { press: stop }, { release: stop });
      again.do(...start.does, ...start.letGo);
      this.add(
        `stops-after-${tag}`,
        `${stop} stops it after ${tag} too, and it starts anew`,
        POINTS.stops,
        again,
        `again ${tag}`,
      );
    }
  }

  /** Every other button while something runs. */
  private othersWhile(start: Start): void {
    for (const { tag, duty } of this.controls.buttons) {
      if (start.does.some((one) => 'press' in one && one.press === tag)) continue;
      const bench = this.started(start);
      const before = bench.last;
      const pressed = bench.do({ press: tag });
      const left = bench.do({ release: tag });
      const isStill = same(before, pressed) && same(before, left);
      // Another way to the same thing says nothing.
      if (isStill && (duty === 'start' || this.leadsTo(tag, start.state))) continue;
      const title = isStill
        ? `${tag} does nothing while it runs from ${start.tag}`
        : `${tag} while it runs from ${start.tag}: ${changes(before, same(before, pressed) ? left : pressed)}`;
      this.add(`while-${start.tag}-${tag}`, title, POINTS.interlock, bench, 'others');
    }
  }

  private leadsTo(tag: string, state: Values): boolean {
    const start = this.starts.find((one) => one.tag === tag);
    return start !== undefined && same(start.state, state);
  }

  /** The end of a travel that a start runs into. */
  private reachesEnd(start: Start): void {
    for (const device of this.controls.limits) {
      const bench = this.started(start);
      const running = bench.last;
      const seconds = this.secondsTo(start, device);
      const there = seconds === null ? bench.do({ press: device.tag }) : bench.do({ wait: seconds });
      if (seconds === null && same(running, there)) continue;
      bench.do(...start.does, ...start.letGo);
      const back = this.running.find((one) => one !== start && !same(one.state, start.state));
      if (back) bench.do(...back.does, ...back.letGo, { wait: 1 });
      const title = `At ${device.tag}: ${changes(running, there) || 'nothing stops'}${back ? '; it leaves the other way' : ''}`;
      this.add(`end-${device.tag}-${start.tag}`, title, POINTS.limit, bench, `end ${device.tag}`);
    }
  }

  /** Seconds after which the load works a switch, where it does within a minute; null where no load does. */
  private secondsTo(start: Start, device: Device): number | null {
    if (!anatomy(device).travel) return null;
    const bench = this.started(start);
    for (let seconds = 1; seconds <= 60; seconds += 1) {
      bench.pass({ wait: 1 });
      if (bench.stateOf(device.tag) === 'pressed') return seconds + 1;
    }
    return null;
  }

  private emergency(): void {
    const [start] = this.running;
    if (!start) return;
    for (const tag of this.controls.emergencies) {
      const bench = this.started(start);
      bench.do(
        { press: tag },
        ...start.does,
        ...start.letGo,
        { release: tag },
        ...start.does,
        ...start.letGo,
      );
      this.add(
        `emergency-${tag}`,
        `${tag} stops it; in, nothing starts; out, only a start does`,
        POINTS.emergency,
        bench,
        `emergency ${tag}`,
      );
    }
  }

  private trips(relay: string): void {
    for (const start of this.distinct) {
      const bench = this.started(start);
      const before = bench.last;
      if (same(before, bench.do({ trip: relay }))) continue;
      bench.do(...start.does, ...start.letGo, { reset: relay }, ...start.does, ...start.letGo);
      this.add(
        `trip-${relay}-${start.tag}`,
        `A trip of ${relay} stops it; it starts only after a reset`,
        POINTS.overload,
        bench,
        `trip ${relay}`,
      );
    }
  }

  private losesSupply(): void {
    const [start] = this.running;
    const { supply } = this.controls;
    if (!start || supply === undefined) return;
    const bench = this.started(start);
    bench.do({ open: supply });
    const back = bench.do({ close: supply });
    const title = same(back, bench.rest)
      ? 'Stays off when the supply comes back'
      : 'The supply lost and back';
    bench.do(...start.does, ...start.letGo);
    this.add('supply-loss', title, POINTS.supply, bench, 'supply');
  }
}

const round = (seconds: number): number => Math.round(seconds * 100) / 100;
