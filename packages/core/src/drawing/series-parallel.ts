import { isCoilSymbol } from './drawing.js';
import { isLoad, type Part } from './parts.js';

/**
 * A circuit between two nets as series and parallel blocks (series-parallel reduction of two-terminal
 * graphs; Duffin 1965). What hangs from one net alone is open at its other end. A graph that is not
 * series-parallel is cut at an end of an edge, where the drawing puts a link, until it is.
 */
export type Block =
  | { readonly kind: 'part'; readonly part: Part; readonly flipped: boolean }
  | { readonly kind: 'wire' }
  | { readonly kind: 'series'; readonly of: readonly Block[] }
  | { readonly kind: 'parallel'; readonly of: readonly Branch[] };

/** A branch that is not open goes from the upper net of its block to the lower one. */
export interface Branch {
  readonly block: Block;
  readonly open: 'top' | 'bottom' | null;
}

/** An edge of the graph: its block leads from net u to net v. */
export interface Edge {
  readonly u: number;
  readonly v: number;
  readonly block: Block;
}

const WIRE: Block = { kind: 'wire' };

function flip(block: Block): Block {
  switch (block.kind) {
    case 'part':
      return { ...block, flipped: !block.flipped };
    case 'wire':
      return block;
    case 'series':
      return { kind: 'series', of: block.of.map(flip).reverse() };
    case 'parallel':
      return { kind: 'parallel', of: block.of.map(turned) };
  }
}

const OTHER_END = { top: 'bottom', bottom: 'top' } as const;
const turned = ({ block, open }: Branch): Branch => ({
  block: flip(block),
  open: open && OTHER_END[open],
});

const partsIn = (block: Block): readonly Part[] => {
  switch (block.kind) {
    case 'part':
      return [block.part];
    case 'wire':
      return [];
    case 'series':
      return block.of.flatMap(partsIn);
    case 'parallel':
      return block.of.flatMap((branch) => partsIn(branch.block));
  }
};

const series = (of: readonly Block[]): Block => ({
  kind: 'series',
  of: of.flatMap((block) => (block.kind === 'series' ? block.of : [block])),
});

/** Order of branches from left to right: contacts worked by hand, contacts of coils, loads, what hangs. */
function rank({ block, open }: Branch): readonly [number, number, number] {
  const parts = partsIn(block);
  const load = parts.find(isLoad);
  const first = load ?? parts[0];
  const isCoil = load !== undefined && isCoilSymbol(load.symbol);
  const isWorked = first !== undefined && first.operator !== 'none';
  const kind = load ? (isCoil ? 2 : 3) : isWorked ? 0 : 1;
  return [open ? 1 : 0, first ? kind : 4, first?.order ?? 0];
}

function inOrder(branches: readonly Branch[]): Branch[] {
  return branches
    .map((branch) => ({ branch, key: rank(branch) }))
    .sort((a, b) => a.key[0] - b.key[0] || a.key[1] - b.key[1] || a.key[2] - b.key[2])
    .map(({ branch }) => branch);
}

function parallel(branches: readonly Branch[]): Block {
  const flat = branches.flatMap((branch): readonly Branch[] =>
    branch.open === null && branch.block.kind === 'parallel' ? branch.block.of : [branch],
  );
  const [only] = flat;
  return flat.length === 1 && only?.open === null ? only.block : { kind: 'parallel', of: inOrder(flat) };
}

const through = (block: Block): Branch => ({ block, open: null });
const hanging = (block: Block): Branch => ({ block, open: 'bottom' });

/** What is left of a graph while it is reduced towards its two rails. */
class Reduction {
  edges: Edge[];
  /** By net: what hangs from it. */
  readonly hung: Map<number, Block[]>;

  constructor(
    edges: readonly Edge[],
    private readonly rails: ReadonlySet<number>,
    hung: ReadonlyMap<number, readonly Block[]> = new Map(),
  ) {
    this.edges = [...edges];
    this.hung = new Map([...hung].map(([net, blocks]) => [net, [...blocks]]));
  }

  copy(edges: readonly Edge[]): Reduction {
    return new Reduction(edges, this.rails, this.hung);
  }

  hang(net: number, block: Block): void {
    this.hung.set(net, [...(this.hung.get(net) ?? []), block]);
  }

  /** A block with what hangs from its upper net beside it. */
  private withHung(net: number, block: Block): Block {
    const beside = this.hung.get(net) ?? [];
    return beside.length === 0 ? block : parallel([through(block), ...beside.map(hanging)]);
  }

  /** Reduces as far as series, parallel, loops and ends go. */
  run(): void {
    while (this.loops() || this.parallels() || this.chains());
  }

  private loops(): boolean {
    const loops = this.edges.filter(({ u, v }) => u === v);
    if (loops.length === 0) return false;
    for (const { u, block } of loops) this.hang(u, parallel([through(block), through(WIRE)]));
    this.edges = this.edges.filter(({ u, v }) => u !== v);
    return true;
  }

  private parallels(): boolean {
    const between = new Map<string, Edge[]>();
    for (const edge of this.edges) {
      const key = `${Math.min(edge.u, edge.v)} ${Math.max(edge.u, edge.v)}`;
      between.set(key, [...(between.get(key) ?? []), edge]);
    }
    if (between.size === this.edges.length) return false;
    this.edges = [...between.values()].map((group): Edge => {
      const [{ u, v }] = group as [Edge, ...Edge[]];
      if (group.length === 1) return group[0]!;
      const branches = group.map((edge) => through(edge.u === u ? edge.block : flip(edge.block)));
      return { u, v, block: parallel(branches) };
    });
    return true;
  }

  /** Takes one net with a single edge, or with two, away. */
  private chains(): boolean {
    const at = new Map<number, Edge[]>();
    for (const edge of this.edges)
      for (const net of [edge.u, edge.v]) at.set(net, [...(at.get(net) ?? []), edge]);
    for (const [net, [one, two, ...more]] of at) {
      if (this.rails.has(net) || !one || more.length > 0) continue;
      const upper = one.v === net ? one.block : flip(one.block);
      const top = one.v === net ? one.u : one.v;
      if (!two) {
        const below = this.hung.get(net) ?? [];
        const end = below.length > 0 ? [{ kind: 'parallel', of: inOrder(below.map(hanging)) } as const] : [];
        this.hang(top, end.length > 0 ? series([upper, ...end]) : upper);
        this.edges = this.edges.filter((edge) => edge !== one);
      } else {
        const lower = two.u === net ? two.block : flip(two.block);
        const bottom = two.u === net ? two.v : two.u;
        const block = series([upper, this.withHung(net, lower)]);
        this.edges = [
          ...this.edges.filter((edge) => edge !== one && edge !== two),
          { u: top, v: bottom, block },
        ];
      }
      this.hung.delete(net);
      return true;
    }
    return false;
  }
}

/**
 * The block of a connected graph between two rails. `fresh` gives the number of a net that does not exist,
 * for an end that is cut. Where there is no lower rail everything hangs from the upper one.
 */
export function reduce(
  edges: readonly Edge[],
  top: number,
  bottom: number | null,
  fresh: () => number,
): readonly Branch[] {
  const rails = new Set(bottom === null ? [top] : [top, bottom]);
  let reduction = new Reduction(edges, rails);
  reduction.run();
  const isDone = ({ edges: left }: Reduction) =>
    left.every(({ u, v }) => rails.has(u) && rails.has(v)) && left.length <= 1;
  while (!isDone(reduction)) {
    // The cut after which least is left; the first of equals.
    let best: Reduction | null = null;
    for (const [k, edge] of reduction.edges.entries())
      for (const end of ['v', 'u'] as const) {
        const cut = reduction.copy(reduction.edges.with(k, { ...edge, [end]: fresh() }));
        cut.run();
        if (best === null || cut.edges.length < best.edges.length) best = cut;
      }
    reduction = best!;
  }
  const [edge] = reduction.edges;
  const main = edge ? [through(edge.u === top ? edge.block : flip(edge.block))] : [];
  const whole = main.flatMap((branch) => (branch.block.kind === 'parallel' ? branch.block.of : [branch]));
  const hung = (net: number | null) => (net === null ? [] : (reduction.hung.get(net) ?? []));
  return inOrder([
    ...whole,
    ...hung(top).map(hanging),
    ...hung(bottom).map((block) => turned(hanging(block))),
  ]);
}
