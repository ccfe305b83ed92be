/**
 * Tracks of a channel: lines that run side by side and keep their distance (left-edge channel routing;
 * Hashimoto and Stevens 1971), in an order with few crossings.
 */
export interface Run {
  readonly from: number;
  readonly to: number;
  /** Where it leaves towards the upper side of the channel, and towards the lower. */
  readonly up: readonly number[];
  readonly down: readonly number[];
}

const inside = (at: number, { from, to }: Run): boolean => at > from && at < to;

/** Crossings of two runs where the first lies above the second. */
export const crossingsOf = (above: Run, below: Run): number =>
  below.up.filter((at) => inside(at, above)).length + above.down.filter((at) => inside(at, below)).length;

const PASSES = 6;

/** An order from top to bottom with few crossings: each run is moved to its best place until none moves. */
function orderOf(runs: readonly Run[]): number[] {
  const order = runs.map((_, k) => k);
  const cost = runs.map((p) => runs.map((q) => crossingsOf(p, q)));
  for (let pass = 0; pass < PASSES; pass += 1) {
    let moved = false;
    for (const k of runs.keys()) {
      const rest = order.filter((other) => other !== k);
      let now = rest.reduce((sum, other) => sum + cost[k]![other]!, 0);
      let best = { at: 0, cost: now };
      const costs = [now];
      rest.forEach((other, at) => {
        now += cost[other]![k]! - cost[k]![other]!;
        costs.push(now);
        if (now < best.cost) best = { at: at + 1, cost: now };
      });
      if (best.cost >= costs[order.indexOf(k)]!) continue;
      rest.splice(best.at, 0, k);
      order.splice(0, order.length, ...rest);
      moved = true;
    }
    if (!moved) break;
  }
  return order;
}

/**
 * The track of each run, counted from the top: as few as its order and the distance between neighbours
 * allow.
 */
export function tracksOf(runs: readonly Run[], clearance: number): number[] {
  const track = runs.map(() => 0);
  const placed: number[] = [];
  for (const k of orderOf(runs)) {
    const { from, to } = runs[k]!;
    const above = placed.filter(
      (other) => runs[other]!.from < to + clearance && runs[other]!.to > from - clearance,
    );
    track[k] = Math.max(0, ...above.map((other) => track[other]! + 1));
    placed.push(k);
  }
  return track;
}
