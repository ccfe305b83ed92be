import type { DrawnLine } from './drawing.js';
import type { At } from './shape.js';

/** A straight line along one axis: `fixed` is the coordinate that both ends share. */
interface Span {
  readonly net: number;
  readonly vertical: boolean;
  readonly fixed: number;
  readonly from: number;
  readonly to: number;
}

const spanOf = ({ points: [a, b], net }: DrawnLine): Span => {
  const [[x1, y1], [x2, y2]] = [a, b];
  return x1 === x2
    ? { net, vertical: true, fixed: x1, from: Math.min(y1, y2), to: Math.max(y1, y2) }
    : { net, vertical: false, fixed: y1, from: Math.min(x1, x2), to: Math.max(x1, x2) };
};

const lineOf = ({ net, vertical, fixed, from, to }: Span): DrawnLine => ({
  net,
  points: vertical
    ? [
        [fixed, from],
        [fixed, to],
      ]
    : [
        [from, fixed],
        [to, fixed],
      ],
});

/** Joins lines of one net that lie in one another or end to end. Lines are of two points, along x or y. */
export function merged(lines: readonly DrawnLine[]): DrawnLine[] {
  const groups = new Map<string, Span[]>();
  for (const line of lines) {
    const span = spanOf(line);
    if (span.from === span.to) continue;
    const key = `${span.net} ${span.vertical} ${span.fixed}`;
    groups.set(key, [...(groups.get(key) ?? []), span]);
  }
  return [...groups.values()].flatMap((group) => {
    const whole: Span[] = [];
    for (const span of group.toSorted((a, b) => a.from - b.from)) {
      const last = whole.at(-1);
      if (last && span.from <= last.to) whole[whole.length - 1] = { ...last, to: Math.max(last.to, span.to) };
      else whole.push(span);
    }
    return whole.map(lineOf);
  });
}

export const same = (a: At, b: At): boolean => a[0] === b[0] && a[1] === b[1];

/** True where a point lies on a line. */
export function liesOn([x, y]: At, { points }: DrawnLine): boolean {
  const [[x1, y1], [x2, y2]] = points;
  return x1 === x2
    ? x === x1 && y >= Math.min(y1, y2) && y <= Math.max(y1, y2)
    : y === y1 && x >= Math.min(x1, x2) && x <= Math.max(x1, x2);
}

/** Where two lines at right angles meet; null where they do not. */
function meeting(a: DrawnLine, b: DrawnLine): At | null {
  const [p, q] = [spanOf(a), spanOf(b)];
  if (p.vertical === q.vertical) return null;
  const [v, h] = p.vertical ? [p, q] : [q, p];
  const isMet = h.from <= v.fixed && v.fixed <= h.to && v.from <= h.fixed && h.fixed <= v.to;
  return isMet ? [v.fixed, h.fixed] : null;
}

/** Dots: where three or more ways of one net meet. */
export function dotsOf(lines: readonly DrawnLine[], terminals: readonly { at: At; net: number }[]): At[] {
  const dots: At[] = [];
  lines.forEach((line, k) => {
    for (const other of lines.slice(k + 1)) {
      if (other.net !== line.net) continue;
      const at = meeting(line, other);
      if (!at) continue;
      const ways = [line, other].reduce(
        (count, { points }) => count + (points.some((point) => same(point, at)) ? 1 : 2),
        0,
      );
      const isTerminal = terminals.some((terminal) => terminal.net === line.net && same(terminal.at, at));
      if (ways + (isTerminal ? 1 : 0) >= 3 && !dots.some((dot) => same(dot, at))) dots.push(at);
    }
  });
  return dots;
}
