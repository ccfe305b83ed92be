import { anatomy, isSupply, type Device } from '../catalogue/index.js';
import { compile, type Stimulus } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import {
  Simulation,
  momentOf,
  observableByDefault,
  observerOf,
  type Observer,
  type Step,
} from '../simulation/index.js';
import { referenceBench, type Behaviour, type Exercise } from '../marking/index.js';

/** What a wiring's reference is watched by where nobody says: contactors, relays, lamps, fields; how a motor of six leads is joined. */
export function proposeObserve(exercise: Pick<Exercise, 'bench' | 'reference'>): string[] {
  const circuit = compile(exercise.bench);
  const changing = circuit.bench.devices.flatMap((device) =>
    device.type === 'motor-3' && anatomy(device).motor?.connection === 'open'
      ? [`${device.tag}.connection`]
      : [],
  );
  return [...observableByDefault(circuit), ...changing];
}

type Values = Readonly<Record<string, string>>;

/** A bench that is worked, with everything that is observed written down after each thing done. */
class Worked {
  private readonly simulation: Simulation;
  private readonly observers: readonly Observer[];
  readonly steps: Step[] = [];
  readonly rest: Values;
  last: Values;

  constructor(
    private readonly solver: Solver,
    observe: readonly string[],
  ) {
    this.simulation = new Simulation(solver);
    this.observers = observe.flatMap((what) => {
      const outcome = observerOf(solver.circuit, what);
      // Numbers are for a person to say: a range is a judgement.
      return 'problem' in outcome || outcome.observer.numeric ? [] : [outcome.observer];
    });
    this.rest = this.look();
    this.last = this.rest;
    if (this.observers.length > 0) this.steps.push({ expect: this.rest });
  }

  private look(): Values {
    const now = momentOf(this.simulation);
    return Object.fromEntries(this.observers.map((one) => [one.what, String(one.read(now))]));
  }

  /** Does something, and writes down what is so afterwards. */
  do(...stimuli: Stimulus[]): Values {
    for (const stimulus of stimuli) {
      this.simulation.work(stimulus);
      this.last = this.look();
      this.steps.push(stimulus);
      if (this.observers.length > 0) this.steps.push({ expect: this.last });
    }
    return this.last;
  }

  /** Does something in passing: only the last of it is looked at. */
  pass(...stimuli: Stimulus[]): Values {
    for (const stimulus of stimuli) {
      this.simulation.work(stimulus);
      this.steps.push(stimulus);
    }
    this.last = this.look();
    this.steps.push({ expect: this.last });
    return this.last;
  }

  stateOf(tag: string): string {
    const outcome = observerOf(this.solver.circuit, tag);
    return 'problem' in outcome ? '' : String(outcome.observer.read(momentOf(this.simulation)));
  }
}

const same = (a: Values, b: Values): boolean => Object.keys(a).every((key) => a[key] === b[key]);

/** What is other in some values than in others, as it is told. */
const changes = (before: Values, after: Values): string =>
  Object.keys(after)
    .filter((key) => after[key] !== before[key])
    .map((key) => (key.endsWith('.driven') ? `motor ${after[key]!}` : `${key} ${after[key]!}`))
    .join(', ');

/** A way of setting something going: buttons pushed and let go, or held; a selector turned. */
interface Start {
  readonly tag: string;
  /** It goes on when the hand has left it. */
  readonly holds: boolean;
  readonly does: readonly Stimulus[];
  readonly letGo: readonly Stimulus[];
  readonly state: Values;
}

interface Controls {
  readonly buttons: readonly Device[];
  readonly stops: readonly string[];
  readonly emergencies: readonly string[];
  readonly overloads: readonly string[];
  readonly limits: readonly Device[];
  readonly timers: readonly { readonly tag: string; readonly delay: number; readonly pause: number }[];
  readonly supply: string | undefined;
}

function controlsOf(devices: readonly Device[]): Controls {
  const tags = (admits: (device: Device) => boolean) => devices.filter(admits).map(({ tag }) => tag);
  return {
    buttons: devices.filter((one) => one.type === 'pushbutton' && one.duty !== 'stop'),
    stops: tags((one) => one.type === 'pushbutton' && one.duty === 'stop'),
    emergencies: tags((one) => one.type === 'estop'),
    overloads: tags((one) => one.type === 'overload'),
    limits: devices.filter((one) => one.type === 'limit-switch'),
    timers: devices.flatMap((one) => {
      const { mechanism } = anatomy(one);
      return mechanism?.kind === 'timer'
        ? [{ tag: one.tag, delay: mechanism.delay, pause: mechanism.pause }]
        : [];
    }),
    supply: devices.find(isSupply)?.tag,
  };
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

/** Most behaviours that are proposed. */
const MOST = 24;

/**
 * What a reference wiring does, as behaviours with what is so on the way: each control, each way of stopping, each trip, the loss
 * of the supply, each timer, each end of a travel, each button while something else runs. All are found by simulation of the
 * reference, so all hold for it; whether they are what should be is for the instructor to say.
 */
export function proposeBehaviours(exercise: Exercise): Behaviour[] {
  const solver = new Solver(compile(referenceBench(exercise)));
  const observe = exercise.observe.length > 0 ? exercise.observe : proposeObserve(exercise);
  return new Proposal(solver, observe, controlsOf(exercise.bench.devices)).behaviours().slice(0, MOST);
}

class Proposal {
  private readonly made: Behaviour[] = [];
  private readonly starts: readonly Start[];
  /** What goes on when the hand has left it; where nothing does, what runs while it is held. */
  private readonly running: readonly Start[];

  constructor(
    private readonly solver: Solver,
    private readonly observe: readonly string[],
    private readonly controls: Controls,
  ) {
    this.starts = this.findStarts();
    const holding = this.starts.filter(({ holds }) => holds);
    this.running = holding.length > 0 ? holding : this.starts;
  }

  behaviours(): Behaviour[] {
    for (const start of this.starts) this.startsOn(start);
    for (const start of this.running) this.elapses(start);
    for (const [k, start] of this.running.entries())
      for (const stop of this.controls.stops.slice(0, k === 0 ? undefined : 1)) this.stopsOn(start, stop);
    for (const start of this.running) this.othersWhile(start);
    for (const start of this.running) this.reachesEnd(start);
    this.emergency();
    for (const relay of this.controls.overloads) this.trips(relay);
    this.losesSupply();
    return this.made;
  }

  private bench(): Worked {
    return new Worked(this.solver, this.observe);
  }

  private add(id: string, title: string, points: number, { steps }: Worked): void {
    const slug = id
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, '-')
      .slice(0, 50);
    const taken = this.made.filter((one) => one.id === slug || one.id.startsWith(`${slug}-`)).length;
    this.made.push({ id: taken > 0 ? `${slug}-${taken + 1}` : slug, title, points, steps });
  }

  private findStarts(): Start[] {
    const { devices } = this.solver.circuit.bench;
    const buttons = this.controls.buttons.map(({ tag }) =>
      this.startBy(tag, [{ press: tag }], [{ release: tag }]),
    );
    const turned = devices.flatMap((device) => {
      if (device.type !== 'selector') return [];
      const { tag, options, settings } = device;
      return options.positions
        .filter((position) => position !== settings.position)
        .map((to) => this.startBy(`${tag} ${to}`, [{ turn: tag, to }], []));
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
      if (device.type !== 'selector') return [];
      const { tag, options, settings } = device;
      return options.positions
        .filter((position) => position !== settings.position)
        .flatMap((to) =>
          this.controls.buttons.flatMap((button): Start[] => {
            const turn: Stimulus = { turn: tag, to };
            const push: Stimulus = { press: button.tag };
            const start = this.startBy(
              `${button.tag} (${tag} ${to})`,
              [turn, push],
              [{ release: button.tag }],
            );
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
    this.add(`${holds ? 'starts' : 'while'}-${tag}`, title, holds ? POINTS.holds : POINTS.momentary, bench);
  }

  private stopsOn(start: Start, stop: string): void {
    const bench = this.started(start);
    const before = bench.last;
    const pressed = bench.do({ press: stop });
    bench.do({ release: stop });
    const title = same(pressed, bench.rest)
      ? `${stop} stops what ${start.tag} has started`
      : `${stop} while it runs from ${start.tag}: ${changes(before, pressed) || 'nothing changes'}`;
    this.add(`stops-${stop}-${start.tag}`, title, POINTS.stops, bench);
  }

  /** What a timer does that a start sets going: nothing shortly before its time, its change shortly after. */
  private elapses(start: Start): void {
    for (const { tag, delay, pause } of this.controls.timers) {
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
      );
      const [stop] = this.controls.stops;
      if (stop === undefined) continue;
      const again = this.started(start);
      again.do({ elapse: tag }, { press: stop }, { release: stop });
      again.do(...start.does, ...start.letGo);
      this.add(
        `stops-after-${tag}`,
        `${stop} stops it after ${tag} too, and it starts anew`,
        POINTS.stops,
        again,
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
      this.add(`while-${start.tag}-${tag}`, title, POINTS.interlock, bench);
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
      this.add(`end-${device.tag}-${start.tag}`, title, POINTS.limit, bench);
    }
  }

  /** Seconds after which the load works a switch, where it does within a minute; null where no load does. */
  private secondsTo(start: Start, device: Device): number | null {
    if (device.type !== 'limit-switch' || !device.options.travel) return null;
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
      );
    }
  }

  private trips(relay: string): void {
    for (const start of this.running) {
      const bench = this.started(start);
      const before = bench.last;
      if (same(before, bench.do({ trip: relay }))) continue;
      bench.do(...start.does, ...start.letGo, { reset: relay }, ...start.does, ...start.letGo);
      this.add(
        `trip-${relay}-${start.tag}`,
        `A trip of ${relay} stops it; it starts only after a reset`,
        POINTS.overload,
        bench,
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
    this.add('supply-loss', title, POINTS.supply, bench);
  }
}

const round = (seconds: number): number => Math.round(seconds * 100) / 100;
