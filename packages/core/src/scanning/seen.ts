import type { Bench, TerminalRef } from '../bench/index.js';
import { kindOf, positionsOn } from '../catalogue/index.js';
import {
  closedIn,
  compile,
  contactPlace,
  isClosed,
  wiredTogether,
  type MechanicalState,
  type Stimulus,
} from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { rewired, type Rewired } from './joints.js';
import { stateAfter } from './leads.js';
import { areSame, innerSets, joinLists } from './sets.js';

/** What the joints of a physical board at one moment say of it. */
export type BoardSeen =
  /** Its leads are so; nothing may have changed. */
  | ({ readonly kind: 'leads' } & Rewired)
  /** Devices are worked by hand, or let go of: this is what a hand has done now; no lead has changed. */
  | { readonly kind: 'worked'; readonly steps: readonly Stimulus[] }
  /** What should be joined as the board lies is not, and no one device explains it. */
  | { readonly kind: 'unlike'; readonly apart: readonly string[] };

export interface SeenOptions {
  /** What a hand had done to the board a moment before. */
  readonly steps?: readonly Stimulus[];
  /** Leads that are part of the board: the first ones of the bench. */
  readonly fixed?: number;
  /** What joins now is a lead, although a device that is worked would do the same. */
  readonly asLeads?: boolean;
}

/**
 * What joints read at one moment say of a board whose leads were known a moment before. Where they are exactly
 * those of its known leads with one more device worked, or one fewer, a hand has done that and no lead has
 * changed. Otherwise the leads become those that join what was read, with the contacts that are closed as the
 * board lies, by the fewest edits. A lead across a contact that stays closed cannot be seen so:
 * `leadsFromReadings` tells it by readings with the device worked.
 */
export function boardSeen(
  bench: Bench,
  joined: readonly (readonly TerminalRef[])[],
  { steps = [], fixed = 0, asLeads = false }: SeenOptions = {},
): BoardSeen {
  const circuit = compile(bench);
  const solver = new Solver(circuit);
  const read = joinLists(circuit, innerSets(circuit), joined);
  const isSame = (state: MechanicalState) =>
    areSame(wiredTogether(circuit, closedIn(state)), read, circuit.terminals.length);
  const now = stateAfter(solver, steps);
  if (isSame(now)) return { kind: 'leads', bench, cut: [], laid: [] };
  // Everything let go of, one device less, one more.
  const others = asLeads ? [] : [[], ...oneFewer(steps), ...oneMore(bench, steps)];
  const worked = others.find((other) => isSame(stateAfter(solver, other)));
  if (worked) return { kind: 'worked', steps: worked };
  const closed = circuit.switches.filter((one) => isClosed(one, now));
  const isApart = ({ a, b }: { readonly a: number; readonly b: number }) => read.find(a) !== read.find(b);
  const ownLeads = circuit.conductors.filter(({ wire }) => wire >= 0 && wire < fixed);
  const apart = [
    ...closed.filter(isApart).map(contactPlace),
    ...ownLeads
      .filter(isApart)
      .map(({ a, b }) => `${circuit.terminals[a] ?? ''} – ${circuit.terminals[b] ?? ''}`),
  ];
  if (apart.length > 0) return { kind: 'unlike', apart };
  const given = innerSets(circuit);
  for (const { a, b } of closed) given.union(a, b);
  return { kind: 'leads', ...rewired(bench, circuit, { wanted: read, given, fixed }) };
}

const oneFewer = (steps: readonly Stimulus[]): Stimulus[][] =>
  steps.map((_, k) => steps.filter((_step, j) => j !== k));

/** The same with one more device worked: pressed, pushed in, tripped, switched or turned. */
function oneMore({ devices }: Bench, steps: readonly Stimulus[]): Stimulus[][] {
  const more = devices.flatMap((device): Stimulus[] => {
    const { tag } = device;
    const { verbs } = kindOf(device);
    return [
      ...(verbs.includes('press') ? [{ press: tag }] : []),
      ...(verbs.includes('pushIn') ? [{ pushIn: tag }] : []),
      ...(verbs.includes('open') ? [{ open: tag }] : []),
      ...(verbs.includes('trip') ? [{ trip: tag }] : []),
      ...(verbs.includes('turn') ? positionsOn(device).map((to) => ({ turn: tag, to })) : []),
    ];
  });
  return more.map((step) => [...steps, step]);
}
