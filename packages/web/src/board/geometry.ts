import type { BoardPlan, Point, TerminalPoint } from '@contactum/core';

/** Questions about a plan of a board, and the leads that hang loosely. */

/** Board millimetres right of which controls stand. */
const CONTROLS_FROM = 560;

type Hook = Point & { readonly side?: 'top' | 'bottom' };

/**
 * A hanging lead from one terminal to another (or to the pointer), as an SVG path. Leads of one terminal
 * fan out by their order.
 */
export function hangingPath(from: Hook, to: Hook, order = 0): string {
  const distance = Math.hypot(to.x - from.x, to.y - from.y);
  const reach = Math.min(26 + distance * 0.28, 130) + (order % 4) * 7;
  const out = ({ side }: Hook) => (side === 'top' ? -1 : side === 'bottom' ? 1 : 0);
  // Two terminals on the same side of two devices: the lead arcs over; opposite sides: it hangs between.
  const lean = Math.max(-1, Math.min(1, (to.x - from.x) / 220)) * (8 + (order % 3) * 5);
  // A long lead down the board swings out, clear of the devices that it passes: to the right beside the
  // power circuit, to the left beside the controls, whose buttons stand on their right.
  const down = Math.abs(to.y - from.y);
  const aside = Math.min(from.x, to.x) > CONTROLS_FROM ? -1 : 1;
  const swing =
    down > 100 && Math.abs(to.x - from.x) < 190 ? aside * (Math.min(down * 0.5, 118) + (order % 4) * 7) : 0;
  const c1 = { x: from.x + lean + swing, y: from.y + out(from) * reach * 0.6 };
  const c2 = { x: to.x - lean + swing, y: to.y + out(to) * reach * 0.6 };
  const n = (value: number) => value.toFixed(1);
  return `M${n(from.x)} ${n(from.y)}C${n(c1.x)} ${n(c1.y)} ${n(c2.x)} ${n(c2.y)} ${n(to.x)} ${n(to.y)}`;
}

/** A lead by its corners, as an SVG path. */
export const corneredPath = (points: readonly Point[]): string =>
  points.map(({ x, y }, k) => `${k === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`).join('');

/** The terminal nearest to a point within reach; null where none is. */
export function terminalNear(plan: BoardPlan, point: Point, reach: number): TerminalPoint | null {
  let best: TerminalPoint | null = null;
  let bestDistance = reach;
  for (const terminal of plan.terminal.values()) {
    const distance = Math.hypot(terminal.x - point.x, terminal.y - point.y);
    if (distance <= bestDistance) {
      best = terminal;
      bestDistance = distance;
    }
  }
  return best;
}

/** The next terminal from one in a direction of the arrow keys: the nearest inside a right-angled cone. */
export function terminalTowards(plan: BoardPlan, ref: string, dx: number, dy: number): string {
  const here = plan.terminal.get(ref);
  if (!here) return plan.terminal.keys().next().value ?? ref;
  let best = ref;
  let bestCost = Number.POSITIVE_INFINITY;
  for (const other of plan.terminal.values()) {
    if (other.ref === ref) continue;
    const along = (other.x - here.x) * dx + (other.y - here.y) * dy;
    const across = Math.abs((other.x - here.x) * dy) + Math.abs((other.y - here.y) * dx);
    if (along <= 0.5 || across > along * 1.5) continue;
    const cost = along + across * 2;
    if (cost < bestCost) {
      best = other.ref;
      bestCost = cost;
    }
  }
  return best;
}
