import type { RungElement, RungSeries } from '../program/index.js';

/** A contact between the points from which it has power and its own. */
export interface Wired {
  readonly id: string;
  readonly from: readonly string[];
  readonly element: RungElement;
}

interface Edge {
  readonly from: string;
  readonly to: string;
  readonly series: RungSeries;
  /** Where the place that it leads to names it, by which branches are ordered. */
  readonly order: number;
  /** Of an edge that is nothing but branches. */
  readonly branches?: readonly { readonly series: RungSeries; readonly order: number }[];
}

const keyOf = (points: readonly string[]): string => [...new Set(points)].sort().join(' ');
const pointsOf = (key: string): string[] => key.split(' ');

/**
 * The series of contacts and branches between a rail and some points; null where the contacts form no such
 * network. Points that meet are one place; where all points of a place are among those of another, a plain
 * wire leads on from it. Edges in series and in parallel are put together until one is left (Duffin 1965).
 */
export function seriesBetween(
  rail: string,
  contacts: readonly Wired[],
  ends: readonly string[],
): RungSeries | null {
  const goal = keyOf(ends);
  // By place: its points in the order in which they are written.
  const places = new Map(
    [...contacts.map(({ from }) => from), ends].map((points) => [keyOf(points), points]),
  );
  if (goal === rail) return contacts.length === 0 ? [] : null;
  const edges = edgesBetween(contacts, places);
  return edges && reduced(edges, rail, goal);
}

function edgesBetween(
  contacts: readonly Wired[],
  places: ReadonlyMap<string, readonly string[]>,
): Edge[] | null {
  const ends = new Map<string, Pick<Edge, 'to' | 'order'>>();
  const edges: Edge[] = [];
  const holds = (place: string, other: string) =>
    pointsOf(other).every((one) => pointsOf(place).includes(one));
  for (const [to, written] of places) {
    const order = (point: string) => written.indexOf(point);
    const within = [...places.keys()].filter((other) => other !== to && holds(to, other));
    const largest = within.filter((one) => !within.some((other) => other !== one && holds(other, one)));
    for (const from of largest)
      edges.push({ from, to, series: [], order: Math.min(...pointsOf(from).map(order)) });
    for (const point of pointsOf(to)) {
      if (largest.some((from) => pointsOf(from).includes(point))) continue;
      if (ends.has(point)) return null;
      ends.set(point, { to, order: order(point) });
    }
  }
  for (const { id, from, element } of contacts) {
    const end = ends.get(id);
    if (!end) return null;
    edges.push({ from: keyOf(from), ...end, series: [element] });
  }
  return edges;
}

function reduced(given: readonly Edge[], rail: string, goal: string): RungSeries | null {
  let edges = [...given];
  for (;;) {
    const before = edges.length;
    edges = inSeries(inParallel(edges), rail, goal);
    const [only] = edges;
    if (edges.length === 1 && only?.from === rail && only.to === goal) return only.series;
    if (edges.length === before) return null;
  }
}

function inParallel(edges: readonly Edge[]): Edge[] {
  const groups = new Map<string, Edge[]>();
  for (const edge of edges) {
    const key = `${edge.from} > ${edge.to}`;
    groups.set(key, [...(groups.get(key) ?? []), edge]);
  }
  return [...groups.values()].map((group) => {
    const [head] = group as [Edge];
    if (group.length === 1) return head;
    const branches = group
      .flatMap((edge) => edge.branches ?? [{ series: edge.series, order: edge.order }])
      .sort((a, b) => a.order - b.order);
    return { ...head, series: [{ any: branches.map(({ series }) => series) }], branches };
  });
}

function inSeries(given: readonly Edge[], rail: string, goal: string): Edge[] {
  let edges = [...given];
  for (const place of new Set(given.map(({ to }) => to))) {
    if (place === rail || place === goal) continue;
    const into = edges.filter(({ to }) => to === place);
    const on = edges.filter(({ from }) => from === place);
    const [a, b] = [into[0], on[0]];
    if (!a || !b || into.length > 1 || on.length > 1) continue;
    const one = { from: a.from, to: b.to, series: [...a.series, ...b.series], order: b.order };
    edges = [...edges.filter((edge) => edge !== a && edge !== b), one];
  }
  return edges;
}
