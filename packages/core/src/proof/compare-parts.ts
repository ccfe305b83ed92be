import { UnionFind, controlOf, type Stimulus } from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import type { Reads } from '../simulation/index.js';
import { Side, observersOf, type Shown } from './compared-side.js';
import { Cones } from './cones.js';
import type { Decisions } from './decisions.js';
import { search, stimuliTo } from './pairs.js';
import { partOf } from './part.js';

export interface PartsCompared {
  readonly complete: boolean;
  readonly pairs: number;
  /** The fewest stimuli after which some part shows a difference; null where none does. */
  readonly stimuli: readonly Stimulus[] | null;
}

interface Options {
  readonly what: readonly string[];
  readonly shown: Shown;
  readonly maxPairs: number;
}

/**
 * Compares two boards part by part. What is observed is put together where it rests on an armature or timer
 * in common, on either board: what rests on none shows, after a sequence, every combination of what each can
 * show by itself. Null where that does not decide: the boards are one part, or the reference may end in a
 * short circuit or in chatter, after which no part of it is worked any more.
 */
export function compareByParts(
  solvers: readonly [Solver, Solver],
  decisions: readonly [Decisions, Decisions],
  options: Options,
): PartsCompared | null {
  const boards: Boards = [
    new ComparedBoard(solvers[0], decisions[0], options.what),
    new ComparedBoard(solvers[1], decisions[1], options.what),
  ];
  if (boards.some(({ isReadWhole }) => isReadWhole)) return null;
  const kept = new Map<string, PartsCompared>();
  for (;;) {
    const clusters = clustersOf(boards);
    if (clusters.length < 2) return null;
    let isClosed = true;
    for (const cluster of clusters) {
      const key = keyOf(cluster);
      if (kept.has(key)) continue;
      const compared = compareCluster(boards, cluster, options);
      if (compared === 'needs whole') return null;
      if (compared === 'needs more') isClosed = false;
      else kept.set(key, compared);
    }
    if (isClosed) return meeting(clusters.map((cluster) => kept.get(keyOf(cluster))!));
    for (const board of boards) board.cones.forget();
  }
}

/** The parts' results as one: the shortest difference counts. */
function meeting(parts: readonly PartsCompared[]): PartsCompared {
  const differences = parts.flatMap(({ stimuli }) => (stimuli ? [stimuli] : []));
  const shortest = Math.min(...differences.map(({ length }) => length));
  return {
    complete: parts.every(({ complete }) => complete),
    pairs: parts.reduce((sum, { pairs }) => sum + pairs, 0),
    stimuli: differences.find(({ length }) => length === shortest) ?? null,
  };
}

type Boards = readonly [ComparedBoard, ComparedBoard];

/** What is looked at together on one board. */
interface Subjects {
  readonly inside: Set<number>;
  readonly motors: number[];
  readonly lamps: number[];
  readonly regions: number[];
}

/** What is observed together, and what it rests on, on either board. */
interface Cluster {
  readonly observed: number[];
  readonly on: readonly [Subjects, Subjects];
}

const keyOf = ({ observed, on }: Cluster): string =>
  JSON.stringify([
    observed,
    ...on.map(({ inside, regions }) => [[...inside].sort((a, b) => a - b), regions]),
  ]);

/** Something on one board that a comparison looks at. */
interface Subject {
  readonly inside: ReadonlySet<number>;
  readonly observed?: number;
  readonly motor?: number;
  readonly lamp?: number;
  readonly region?: number;
}

class ComparedBoard {
  readonly cones: Cones;
  /** By what is observed: what of the circuit that reads. */
  private readonly reads: readonly (Reads | null)[];

  constructor(
    readonly solver: Solver,
    readonly decisions: Decisions,
    what: readonly string[],
  ) {
    this.cones = new Cones(solver.circuit, decisions);
    this.reads = observersOf(solver.circuit, what).map(({ reads }) => reads);
  }

  /** Something is observed that only the whole solution tells. */
  get isReadWhole(): boolean {
    return this.reads.includes(null);
  }

  /** What is observed, each armature or timer, and each place where potentials could meet. */
  subjects(): Subject[] {
    const { cones, decisions } = this;
    const { circuit } = this.solver;
    return [
      ...this.reads.map((reads, observed): Subject => {
        const { mechanism, motor, lamp } = reads!;
        const seeds = [
          ...(mechanism === undefined ? [] : [mechanism]),
          ...(motor === undefined ? [] : cones.ofMotor(motor)),
          ...(lamp === undefined ? [] : cones.ofLamp(lamp)),
        ];
        return {
          observed,
          inside: cones.close(seeds),
          ...(motor === undefined ? {} : { motor }),
          ...(lamp === undefined ? {} : { lamp }),
        };
      }),
      ...circuit.mechanisms.flatMap(({ index, coils }) =>
        coils.length > 0 ? [{ inside: cones.close([index]) }] : [],
      ),
      ...Array.from({ length: decisions.regions }, (_, region) => ({
        region,
        inside: cones.close(cones.ofRegion(region)),
      })),
    ];
  }

  /** Mechanisms of the controls with these designations. */
  controls(tags: ReadonlySet<string>): number[] {
    return this.solver.circuit.mechanisms
      .filter((one) => controlOf(one) !== null && tags.has(one.device.tag))
      .map(({ index }) => index);
  }
}

function compareCluster(
  boards: Boards,
  { observed, on }: Cluster,
  { what, shown, maxPairs }: Options,
): PartsCompared | 'needs whole' | 'needs more' {
  const parts = boards.map(({ solver, decisions }, k) => partOf(solver.circuit, decisions, on[k]!));
  const names = observed.map((n) => what[n]!);
  const [left, right] = boards.map(
    ({ solver, decisions }, k) => new Side(solver, names, shown, { decisions, part: parts[k]! }),
  ) as [Side, Side];
  const { difference, complete, pairs } = search(left, right, { maxPairs });
  const missing = boards.map(({ decisions }, k) => decisions.missing(parts[k]!, on[k]!.lamps));
  if (missing.includes(null) || left.mayEnd) return 'needs whole';
  if (missing.some((one) => one!.length > 0)) return 'needs more';
  return { complete, pairs, stimuli: difference && stimuliTo(difference) };
}

/** Puts together what rests on an armature or timer in common, on either board. */
function clustersOf(boards: Boards): Cluster[] {
  const subjects = boards.flatMap((board, k) =>
    board.subjects().map((subject) => ({ ...subject, k, board })),
  );
  const numbers = new Map<string, number>();
  const number = (name: string): number => {
    const known = numbers.get(name) ?? numbers.size;
    numbers.set(name, known);
    return known;
  };
  const members = subjects.map(({ inside, observed, board }, n) => {
    const { mechanisms } = board.solver.circuit;
    const driven = [...inside].filter((m) => mechanisms[m]!.coils.length > 0);
    return [
      number(observed === undefined ? `subject ${n}` : `observed ${observed}`),
      ...driven.map((m) => number(`device ${mechanisms[m]!.device.tag}`)),
    ];
  });
  const sets = new UnionFind(numbers.size);
  for (const [own, ...others] of members) for (const other of others) sets.union(own!, other);
  const clusters = new Map<number, Cluster>();
  subjects.forEach(({ inside, observed, motor, lamp, region, k }, n) => {
    const root = sets.find(members[n]![0]!);
    const cluster = clusters.get(root) ?? { observed: [], on: [nothing(), nothing()] };
    clusters.set(root, cluster);
    const { [k]: on } = cluster.on;
    for (const m of inside) on!.inside.add(m);
    if (observed !== undefined && !cluster.observed.includes(observed)) cluster.observed.push(observed);
    if (motor !== undefined) on!.motors.push(motor);
    if (lamp !== undefined) on!.lamps.push(lamp);
    if (region !== undefined) on!.regions.push(region);
  });
  for (const { on } of clusters.values()) shareControls(boards, on);
  return [...clusters.values()];
}

const nothing = (): Subjects => ({ inside: new Set(), motors: [], lamps: [], regions: [] });

/** A control that is worked on one board is worked on the other as well. */
function shareControls(boards: Boards, on: Cluster['on']): void {
  const tags = new Set(
    boards.flatMap(({ solver: { circuit } }, k) =>
      [...on[k]!.inside].flatMap((m) => {
        const one = circuit.mechanisms[m]!;
        return controlOf(one) === null ? [] : [one.device.tag];
      }),
    ),
  );
  boards.forEach((board, k) => {
    for (const m of board.controls(tags)) on[k]!.inside.add(m);
  });
}
