import { splitRef, type Bench } from '../bench/index.js';
import type { Drawing } from '../drawing/index.js';
import { planBoard, type BoardPlan, type Point } from '../layout/index.js';
import type { PlannedLead } from './leads.js';

/** The two habits: along the drawing, or where the hand is. */
export const WIRING_HABITS = ['by rung', 'by place'] as const;
export type WiringHabit = (typeof WIRING_HABITS)[number];

export interface WiringOrder {
  readonly habit: WiringHabit;
  /** Leads in order; each is begun at `from`. */
  readonly leads: readonly PlannedLead[];
  /** Where each stretch of the work begins, and what it is called. */
  readonly parts: readonly { readonly title: string; readonly at: number }[];
  /** Metres that the hand goes from terminal to terminal. */
  readonly walk: number;
}

/** Both orders of wiring a board: along its drawing, and where its devices stand. */
export function wiringOrders(bench: Bench, leads: readonly PlannedLead[], drawing: Drawing) {
  const plan = planBoard(bench);
  return { byRung: byRung(drawing, plan, leads), byPlace: byPlace(plan, leads) };
}

const turned = (lead: PlannedLead): PlannedLead => ({ ...lead, from: lead.to, to: lead.from });

/** Where a terminal first stands in the drawing: sheet, path, and how far along it. */
type Stand = readonly [sheet: number, path: number, along: number];

/** Path by path: straight along each, then back for the parallel branch; the power circuit first. */
function byRung({ form, sheets }: Drawing, plan: BoardPlan, leads: readonly PlannedLead[]): WiringOrder {
  const stand = new Map<string, Stand>();
  const numberAt = (sheet: number, path: number) =>
    sheets[sheet]!.paths.findLast(({ at }) => at <= path + 1)?.number ?? 1;
  sheets.forEach(({ symbols, circuit }, sheet) => {
    const runsDown = form === 'iec' || circuit === 'power';
    for (const { device, terminals } of symbols)
      for (const [name, [x, y]] of Object.entries(terminals)) {
        const own: Stand = runsDown ? [sheet, x, y] : [sheet, y, x];
        const known = stand.get(`${device}:${name}`);
        if (!known || compare(own, known) < 0) stand.set(`${device}:${name}`, own);
      }
  });
  const nowhere: Stand = [sheets.length, 0, 0];
  const standOf = (ref: string) => stand.get(ref) ?? nowhere;
  const placed = leads.map((lead) => {
    const [a, b] = [standOf(lead.from), standOf(lead.to)];
    const forward = compare(a, b) <= 0;
    const [begin, end] = forward ? [a, b] : [b, a];
    // A lead to another path is laid when that path is reached.
    const key: Stand = [end[0], Math.max(begin[1], end[1]), Math.min(begin[2], end[2])];
    return { lead: forward ? lead : turned(lead), key };
  });
  placed.sort((a, b) => compare(a.key, b.key) || a.lead.n - b.lead.n);
  const parts: { title: string; at: number }[] = [];
  placed.forEach(({ key: [sheet, path] }, at) => {
    const circuit = sheets[sheet]?.circuit;
    const title =
      circuit === undefined
        ? 'Earth and others'
        : circuit === 'power'
          ? 'Power circuit'
          : `Control, ${form === 'iec' ? 'path' : 'rung'} ${numberAt(sheet, path)}`;
    if (parts.at(-1)?.title !== title) parts.push({ title, at });
  });
  const ordered = placed.map(({ lead }) => lead);
  return { habit: 'by rung', leads: ordered, parts, walk: walkOf(plan, ordered) };
}

const compare = (a: Stand, b: Stand): number => a[0] - b[0] || a[1] - b[1] || a[2] - b[2];

const ZONE_TITLES = {
  door: 'On the door',
  panel: 'On the panel',
  field: 'At the motors',
  between: 'From the door to the panel',
} as const;
type Place = keyof typeof ZONE_TITLES;
/** All the buttons on the door first, then over to the contactors, then out. */
const PLACES: readonly Place[] = ['door', 'between', 'panel', 'field'];

/**
 * Place by place, and within each by a short walk: from a lead's end to the nearest next one, then with
 * stretches turned round while that is shorter.
 */
function byPlace(plan: BoardPlan, leads: readonly PlannedLead[]): WiringOrder {
  const zone = new Map(plan.devices.map((one) => [one.device.tag, one.zone]));
  const zoneOf = (ref: string) => zone.get(splitRef(ref).tag) ?? 'panel';
  const placeOf = ({ from, to }: PlannedLead): Place => {
    const zones = [zoneOf(from), zoneOf(to)];
    if (zones[0] === zones[1]) return zones[0]!;
    return zones.includes('field') ? 'field' : 'between';
  };
  const at = (ref: string): Point => plan.terminal.get(ref)!;
  const parts: { title: string; at: number }[] = [];
  const ordered: PlannedLead[] = [];
  let hand: Point = { x: 0, y: 0 };
  for (const place of PLACES) {
    const own = leads.filter((lead) => placeOf(lead) === place);
    if (own.length === 0) continue;
    parts.push({ title: ZONE_TITLES[place], at: ordered.length });
    ordered.push(...shortWalk(own, hand, at));
    hand = at(ordered.at(-1)!.to);
  }
  return { habit: 'by place', leads: ordered, parts, walk: walkOf(plan, ordered) };
}

const distance = (a: Point, b: Point): number => Math.abs(a.x - b.x) + Math.abs(a.y - b.y);

/**
 * Leads in an order and each in a direction, so that the hand goes a short way in all: nearest first, then
 * improved by turning stretches (2-opt; Croes 1958, from memory).
 */
function shortWalk(leads: readonly PlannedLead[], start: Point, at: (ref: string) => Point): PlannedLead[] {
  const left = [...leads];
  const order: PlannedLead[] = [];
  let hand = start;
  while (left.length > 0) {
    let best = { way: Number.POSITIVE_INFINITY, k: 0, turn: false };
    left.forEach(({ from, to }, k) => {
      const [toFrom, toTo] = [distance(hand, at(from)), distance(hand, at(to))];
      if (Math.min(toFrom, toTo) < best.way) best = { way: Math.min(toFrom, toTo), k, turn: toTo < toFrom };
    });
    const [next] = left.splice(best.k, 1);
    order.push(best.turn ? turned(next!) : next!);
    hand = at(order.at(-1)!.to);
  }
  const gap = (i: number, j: number) => distance(i < 0 ? start : at(order[i]!.to), at(order[j]!.from));
  for (let better = true, rounds = 0; better && rounds < 40; rounds += 1) {
    better = false;
    for (let i = 0; i < order.length; i += 1)
      for (let j = i; j < order.length; j += 1) {
        const before = gap(i - 1, i) + (j + 1 < order.length ? gap(j, j + 1) : 0);
        const [first, last] = [order[i]!, order[j]!];
        const after =
          distance(i === 0 ? start : at(order[i - 1]!.to), at(last.to)) +
          (j + 1 < order.length ? distance(at(first.from), at(order[j + 1]!.from)) : 0);
        if (after < before - 1e-9) {
          order.splice(
            i,
            j - i + 1,
            ...order
              .slice(i, j + 1)
              .reverse()
              .map(turned),
          );
          better = true;
        }
      }
  }
  return order;
}

/** Metres between the end of each lead and the beginning of the next. */
function walkOf({ terminal }: BoardPlan, leads: readonly PlannedLead[]): number {
  const at = (ref: string) => terminal.get(ref)!;
  const way = leads.slice(1).reduce((sum, { from }, k) => sum + distance(at(leads[k]!.to), at(from)), 0);
  return Math.round(way / 10) / 100;
}
