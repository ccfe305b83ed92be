import {
  isClosed,
  isLiveSupplyNode,
  wayBetween,
  type Circuit,
  type MechanicalState,
  type Switch,
  type TerminalIndex,
  type TerminalWay,
} from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import type { WhatIf } from './what-if.js';

/** A part of a path beside which another conducts as well: opening one of them alone drops nothing. */
interface Beside {
  readonly through: readonly Switch[];
  readonly or: readonly Switch[];
}

/** What conducts to what is explained, from the supply to the return. */
export interface Path {
  /** Every contact on the way, in order; opening one that stands in no part of `beside` drops it. */
  readonly all: readonly Switch[];
  readonly beside: readonly Beside[];
}

const closedWithout =
  (state: MechanicalState, without: ReadonlySet<Switch>) =>
  (contact: Switch): boolean =>
    isClosed(contact, state) && !without.has(contact);

/** Terminals of live line conductors, and of those that are earthed or a reference. */
function conductors({ network }: Solver, state: MechanicalState) {
  const live = network.supplyNodes.filter((one) => isLiveSupplyNode(one, state));
  const isLine = ({ re, im }: { readonly re: number; readonly im: number }) => re !== 0 || im !== 0;
  return {
    lines: live.filter(isLine).map(({ terminal }) => terminal),
    returns: live.filter((one) => !isLine(one)).map(({ terminal }) => terminal),
  };
}

/** Ways by closed contacts from a supply to one end of a coil or lamp, and on to the other conductor. */
function twoEnds(
  circuit: Circuit,
  solver: Solver,
  state: MechanicalState,
  [a, b]: readonly [TerminalIndex, TerminalIndex],
  without: ReadonlySet<Switch>,
): TerminalWay[] | null {
  const { lines, returns } = conductors(solver, state);
  const through = closedWithout(state, without);
  const way = (from: readonly TerminalIndex[], to: TerminalIndex) => wayBetween(circuit, from, [to], through);
  const back = (from: TerminalIndex, to: readonly TerminalIndex[]) =>
    wayBetween(circuit, [from], to, through);
  for (const [first, second] of [[a, b] as const, [b, a] as const]) {
    const [there, home] = [way(lines, first), back(second, returns)];
    if (there && home) return [there, home];
  }
  // Between two lines: the second is another one than the first.
  const there = way(lines, a);
  const home =
    there &&
    back(
      b,
      lines.filter((line) => line !== there.from),
    );
  if (there && home) return [there, home];
  for (const { primary, secondary } of circuit.transformers)
    for (const [first, second] of [[a, b] as const, [b, a] as const]) {
      const ends = [...secondary];
      const [to, from] = [way(ends, first), back(second, ends)];
      if (!to || !from || to.from === from.to) continue;
      const fed = twoEnds(circuit, solver, state, primary, without);
      if (fed) return [fed[0]!, to, from, ...fed.slice(1)];
    }
  return null;
}

/** Ways by closed contacts from the lines to a motor's terminals. */
function ofMotor(
  circuit: Circuit,
  solver: Solver,
  state: MechanicalState,
  terminals: readonly TerminalIndex[],
  without: ReadonlySet<Switch>,
): TerminalWay[] | null {
  const { lines, returns } = conductors(solver, state);
  const feeds = terminals.length <= 2 ? [...lines, ...returns] : lines;
  const ways = terminals.flatMap(
    (end) => wayBetween(circuit, feeds, [end], closedWithout(state, without)) ?? [],
  );
  return ways.length > 0 ? ways : null;
}

function waysOf({ circuit, solver, state, target }: WhatIf, without: ReadonlySet<Switch> = new Set()) {
  if (target.kind === 'motor')
    return ofMotor(circuit, solver, state, circuit.motors[target.k]!.terminals, without);
  const { a, b } = target.kind === 'coil' ? circuit.coils[target.k]! : circuit.lamps[target.k]!;
  return twoEnds(circuit, solver, state, [a, b], without);
}

const contactsOf = (ways: readonly TerminalWay[]): Switch[] => [
  ...new Set(ways.flatMap(({ contacts }) => contacts)),
];

/**
 * The path by which something that is energised has its voltage; null where no way by contacts alone leads
 * to it. What lies on the way and may be opened without dropping it has another way beside it.
 */
export function conductingPath(board: WhatIf): Path | null {
  const ways = waysOf(board);
  if (!ways) return null;
  const all = contactsOf(ways);
  const beside: Beside[] = [];
  let run: Switch[] = [];
  const close = (): void => {
    if (run.length === 0) return;
    const other = waysOf(board, new Set(run));
    const or = other ? contactsOf(other).filter((contact) => !all.includes(contact)) : [];
    beside.push({ through: run, or });
    run = [];
  };
  for (const contact of all) {
    if (!board.with([contact], false)) close();
    else run.push(contact);
  }
  close();
  return { all, beside };
}
