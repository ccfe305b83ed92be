import {
  LEAD_PITCH,
  DUCT_EDGE,
  planBoard,
  type BoardPlan,
  type DevicePlace,
  type Point,
  type TerminalPoint,
} from './plan.js';
import { splitRef, type Bench } from '../bench/index.js';
import { crossingsOf, tracksOf, type Run } from '../drawing/index.js';

/** A lead to be laid, by a name that it keeps. */
export interface LeadToLay {
  readonly key: string;
  readonly from: string;
  readonly to: string;
}

/**
 * How a lead runs: straight out of a terminal, along ducts, past rows of devices, straight into the other.
 */
export interface LeadRun {
  readonly key: string;
  readonly from: string;
  readonly to: string;
  /** Ducts that it passes, from the one that its first terminal opens into. */
  readonly ducts: readonly number[];
  /** x at which it enters the first duct, passes each row on its way, and leaves the last. */
  readonly segments: readonly number[];
  /** Track in each of its ducts; null where it passes straight. */
  readonly tracks: readonly (number | null)[];
}

/**
 * A board with its leads laid. Made anew from a bench, or from the one before with few of its leads other.
 */
export interface Layout {
  /** What was laid out; others have another plan. */
  readonly devices: Bench['devices'];
  readonly plan: BoardPlan;
  readonly runs: ReadonlyMap<string, LeadRun>;
  readonly paths: ReadonlyMap<string, readonly Point[]>;
  /** By terminal: how far to either side its leads leave it. */
  readonly spread: ReadonlyMap<string, number>;
}

type Devices = Pick<Bench, 'devices'>;

/**
 * Lays every lead of a board, in the order given, then puts the leads of each duct into an order with few
 * crossings.
 */
export function layLeads(bench: Devices, leads: readonly LeadToLay[]): Layout {
  const plan = planBoard(bench);
  const router = new Router(plan, []);
  for (const lead of leads) router.lay(lead);
  router.untangle();
  return finished(bench, plan, router);
}

/** The layout after some leads have been taken off or added: those that stay lie as they lay. */
export function relayLeads(bench: Devices, before: Layout, leads: readonly LeadToLay[]): Layout {
  const kept = leads.flatMap(({ key, from, to }) => {
    const run = before.runs.get(key);
    return run && run.from === from && run.to === to ? [run] : [];
  });
  const plan =
    before.devices === bench.devices
      ? before.plan
      : planBoard(
          bench,
          before.plan.ducts.map(({ tracks }) => tracks),
        );
  const router = new Router(plan, kept);
  for (const lead of leads) if (!router.runs.has(lead.key)) router.lay(lead);
  return finished(bench, plan, router);
}

function finished(bench: Devices, plan: BoardPlan, router: Router): Layout {
  const wanted = router.depths();
  const fits = wanted.every((tracks, duct) => tracks <= plan.ducts[duct]!.tracks);
  const deep = fits
    ? plan
    : planBoard(
        bench,
        wanted.map((tracks, duct) => Math.max(tracks, plan.ducts[duct]!.tracks)),
      );
  const runs = new Map(router.runs);
  const farthest = Math.max(0, ...[...runs.values()].flatMap(({ segments }) => segments)) + 2 * LEAD_PITCH;
  const own = farthest > deep.width ? { ...deep, width: farthest } : deep;
  const spread = new Map<string, number>();
  for (const { from, to, segments } of runs.values())
    for (const [ref, x] of [
      [from, segments[0]!],
      [to, segments.at(-1)!],
    ] as const)
      spread.set(ref, Math.max(spread.get(ref) ?? 0, Math.abs(x - own.terminal.get(ref)!.x)));
  return {
    devices: bench.devices,
    plan: own,
    runs,
    paths: new Map([...runs].map(([key, run]) => [key, pathOf(own, run)] as const)),
    spread,
  };
}

/** The corners of a lead's way. */
function pathOf(plan: BoardPlan, { from, to, ducts, segments, tracks }: LeadRun): Point[] {
  const [start, end] = [plan.terminal.get(from)!, plan.terminal.get(to)!];
  const points: Point[] = [{ x: segments[0]!, y: start.y }];
  ducts.forEach((duct, k) => {
    const track = tracks[k];
    if (track === null || track === undefined) return;
    const { top } = plan.ducts[duct]!;
    const y = top + DUCT_EDGE + track * LEAD_PITCH;
    points.push({ x: segments[k]!, y }, { x: segments[k + 1]!, y });
  });
  points.push({ x: segments.at(-1)!, y: end.y });
  return points.filter((point, k) => {
    const [before, after] = [points[k - 1], points[k + 1]];
    return !(
      before &&
      after &&
      ((before.x === point.x && point.x === after.x) || (before.y === point.y && point.y === after.y))
    );
  });
}

/** A segment in a duct: whose, where, and towards which side it leaves. */
interface Segment {
  readonly key: string;
  readonly x: number;
}

/** A stub of a lead along a duct. */
interface Stub extends Run {
  readonly key: string;
  track: number;
}

const EPS = 1e-6;
/** What one crossing weighs, in board millimetres of way. */
const CROSSING = 6;

class Router {
  readonly runs = new Map<string, LeadRun>();
  /** By duct: where leads enter and leave it. */
  private readonly segments: Segment[][];
  private readonly stubs: Stub[][];

  constructor(
    private readonly plan: BoardPlan,
    kept: readonly LeadRun[],
  ) {
    this.segments = plan.ducts.map(() => []);
    this.stubs = plan.ducts.map(() => []);
    for (const run of kept) this.note(run);
  }

  /** Tracks that each duct has need of. */
  depths(): number[] {
    return this.stubs.map((own) => Math.max(0, ...own.map(({ track }) => track + 1)));
  }

  private note(run: LeadRun): void {
    this.runs.set(run.key, run);
    run.ducts.forEach((duct, k) => {
      const [a, b] = [run.segments[k]!, run.segments[k + 1]!];
      this.segments[duct]!.push({ key: run.key, x: a }, { key: run.key, x: b });
      const track = run.tracks[k];
      if (track !== null && track !== undefined) this.stubs[duct]!.push({ ...this.stub(run, k), track });
    });
  }

  /** The stub of a run along its kth duct: which way its two segments leave. */
  private stub({ key, from, to, ducts, segments }: Omit<LeadRun, 'tracks'>, k: number): Omit<Stub, 'track'> {
    const [a, b] = [segments[k]!, segments[k + 1]!];
    const isUp = (other: number | undefined, ref: string) =>
      other === undefined ? this.terminal(ref).side === 'bottom' : other < ducts[k]!;
    const ends = [
      { x: a, up: isUp(ducts[k - 1], from) },
      { x: b, up: isUp(ducts[k + 1], to) },
    ];
    return {
      key,
      from: Math.min(a, b),
      to: Math.max(a, b),
      up: ends.flatMap(({ x, up }) => (up ? [x] : [])),
      down: ends.flatMap(({ x, up }) => (up ? [] : [x])),
    };
  }

  private terminal(ref: string): TerminalPoint {
    const place = this.plan.terminal.get(ref);
    if (!place) throw new Error(`no terminal ${ref} on this board`);
    return place;
  }

  private deviceOf(ref: string): DevicePlace {
    const { tag } = splitRef(ref);
    return this.plan.devices.find(({ device }) => device.tag === tag)!;
  }

  private ductOf(ref: string): number {
    return this.deviceOf(ref).row + (this.terminal(ref).side === 'bottom' ? 1 : 0);
  }

  private isFree(duct: number, x: number, key: string): boolean {
    return this.segments[duct]!.every(
      (segment) => segment.key === key || Math.abs(segment.x - x) >= LEAD_PITCH - EPS,
    );
  }

  /** Lays one lead and disturbs no other. */
  lay({ key, from, to }: LeadToLay): void {
    const [start, end] = [this.terminal(from), this.terminal(to)];
    const [d0, d1] = [this.ductOf(from), this.ductOf(to)];
    const step = Math.sign(d1 - d0);
    const ducts = [d0];
    while (ducts.at(-1) !== d1) ducts.push(ducts.at(-1)! + step);
    const segments =
      step === 0 ? this.sameDuct(key, d0, start, end) : this.throughRows(key, ducts, start, end);
    const run = { key, from, to, ducts, segments };
    const tracks = ducts.map((duct, k) =>
      Math.abs(segments[k]! - segments[k + 1]!) < EPS ? null : this.track(duct, this.stub(run, k)),
    );
    this.note({ ...run, tracks });
  }

  /**
   * Where a lead leaves a terminal: its middle, or as near beside it as no other leaves; rather towards
   * where it goes.
   */
  private exit(
    key: string,
    duct: number,
    { x, ref }: TerminalPoint,
    towards: number,
    taken: readonly number[] = [],
  ): number {
    const lean = Math.sign(towards - x) || 1;
    for (let k = 0; ; k += 1)
      for (const sign of k === 0 ? [1] : [lean, -lean]) {
        const at = x + sign * k * LEAD_PITCH;
        const isClear = taken.every((other) => Math.abs(other - at) >= LEAD_PITCH - EPS);
        if (at > CLEARANCE && isClear && this.isFree(duct, at, key) && !this.isBeforeOther(ref, at))
          return at;
      }
  }

  /** True of a place in front of another device of the same row. */
  private isBeforeOther(ref: string, x: number): boolean {
    const own = this.deviceOf(ref);
    return this.plan.devices.some(
      (place) =>
        place.row === own.row &&
        place !== own &&
        x > place.x - CLEARANCE &&
        x < place.x + place.width + CLEARANCE,
    );
  }

  private sameDuct(key: string, duct: number, start: TerminalPoint, end: TerminalPoint): number[] {
    // Terminals that face each other are joined straight where both are free there.
    if (start.side !== end.side && Math.abs(start.x - end.x) < EPS)
      for (const k of [0, 1, -1, 2, -2]) {
        const at = start.x + k * LEAD_PITCH;
        if (this.isFree(duct, at, key)) return [at, at];
      }
    const a = this.exit(key, duct, start, end.x);
    return [a, this.exit(key, duct, end, start.x, [a])];
  }

  private throughRows(
    key: string,
    ducts: readonly number[],
    start: TerminalPoint,
    end: TerminalPoint,
  ): number[] {
    const a = this.exit(key, ducts[0]!, start, end.x);
    const segments = [a];
    const b = this.exit(key, ducts.at(-1)!, end, start.x);
    for (let k = 0; k + 1 < ducts.length; k += 1) {
      const [here, next] = [ducts[k]!, ducts[k + 1]!];
      const others = k + 2 === ducts.length ? [b] : [];
      segments.push(this.passage(key, here, next, segments.at(-1)!, b, others));
    }
    return [...segments, b];
  }

  /**
   * Where a lead passes the row between two ducts: on the shortest way that is free. It may go straight on
   * from a segment of its own.
   */
  private passage(
    key: string,
    here: number,
    next: number,
    from: number,
    goal: number,
    own: readonly number[],
  ): number {
    const row = this.plan.rows[Math.min(here, next)]!;
    const cost = (x: number) => Math.abs(x - from) + Math.abs(x - goal) + (x === from || x === goal ? -2 : 0);
    const fits = (x: number) =>
      this.isFree(here, x, key) &&
      this.isFree(next, x, key) &&
      (x === from || Math.abs(x - from) >= LEAD_PITCH - EPS) &&
      own.every((other) => x === other || Math.abs(x - other) >= LEAD_PITCH - EPS);
    let best: number | null = null;
    let lowest = Infinity;
    const take = (x: number) => {
      if (cost(x) < lowest && fits(x)) {
        best = x;
        lowest = cost(x);
      }
    };
    for (const [left, right] of gapsOf(row.taken, this.plan.width)) {
      const inside = (x: number) => Math.min(Math.max(x, left), right);
      for (const wish of [from, goal]) {
        const nearest = inside(wish);
        // Outwards, until nothing farther can be shorter.
        for (let k = 0; ; k += 1) {
          const sides = [nearest + k * LEAD_PITCH, nearest - k * LEAD_PITCH].filter(
            (x) => x >= left && x <= right,
          );
          for (const x of sides) take(x);
          if (sides.every((x) => cost(x) > lowest)) break;
        }
      }
    }
    // Beyond the last device there is always room.
    for (let x = this.plan.width - LEAD_PITCH; lowest === Infinity; x += LEAD_PITCH) take(x);
    return best!;
  }

  /** The track of a duct in which a stub lies free with the fewest crossings. */
  private track(duct: number, stub: Omit<Stub, 'track'>): number {
    const own = this.stubs[duct]!;
    const count = Math.max(this.plan.ducts[duct]!.tracks, ...own.map(({ track }) => track + 1));
    let best = { track: count, cost: Infinity };
    for (let track = 0; track <= count; track += 1) {
      const isFree = own.every(
        (other) =>
          other.track !== track ||
          other.to + LEAD_PITCH <= stub.from + EPS ||
          other.from - LEAD_PITCH >= stub.to - EPS,
      );
      if (!isFree) continue;
      const crossings = own.reduce(
        (sum, other) =>
          sum +
          (other.track < track
            ? crossingsOf(other, stub)
            : other.track > track
              ? crossingsOf(stub, other)
              : 0),
        0,
      );
      // A duct is not made deeper to save a crossing or two.
      const cost =
        crossings * CROSSING + Math.abs(track - (count - 1) / 2) * 0.5 + (track === count ? 4 * CROSSING : 0);
      if (cost < best.cost) best = { track, cost };
    }
    return best.track;
  }

  /**
   * Puts the stubs of every duct into an order with few crossings, as close together as they go, in the
   * middle of the duct.
   */
  untangle(): void {
    const track = new Map<string, Map<number, number>>();
    this.stubs.forEach((own, duct) => {
      const packed = tracksOf(own, LEAD_PITCH);
      const count = Math.max(0, ...packed.map((one) => one + 1));
      const spare = Math.max(0, Math.floor((this.plan.ducts[duct]!.tracks - count) / 2));
      own.forEach((stub, k) => {
        stub.track = packed[k]! + spare;
        track.set(stub.key, (track.get(stub.key) ?? new Map<number, number>()).set(duct, stub.track));
      });
    });
    for (const [key, run] of this.runs)
      this.runs.set(key, {
        ...run,
        tracks: run.ducts.map((duct, k) =>
          run.tracks[k] === null ? null : (track.get(key)?.get(duct) ?? null),
        ),
      });
  }
}

/** Clear of the faces of devices by this much. */
const CLEARANCE = 5;

/** Where leads pass a row: between its devices, before the first and behind the last. */
function gapsOf(taken: readonly (readonly [number, number])[], width: number): [number, number][] {
  const edges = [
    CLEARANCE * 2,
    ...taken.flatMap(([left, right]) => [left - CLEARANCE, right + CLEARANCE]),
    width - CLEARANCE * 2,
  ];
  const gaps: [number, number][] = [];
  for (let k = 0; k + 1 < edges.length; k += 2)
    if (edges[k]! <= edges[k + 1]!) gaps.push([edges[k]!, edges[k + 1]!]);
  return gaps;
}
