import { isClosed, wiredTerminals, type Switch } from '../circuit/index.js';
import { LAMP_LIT } from '../tolerances.js';
import type { WhatIf } from './what-if.js';
import { Ways } from './ways.js';

/** Sets that are tried before it is said that no few contacts would do. */
const MOST_TRIED = 80;

/**
 * The fewest open contacts that, closed by hand while everything else stays where it is, would energise a
 * coil, light a lamp, or drive a motor by all its lines; null where none would.
 */
export function blocking(board: WhatIf): Switch[] | null {
  return board.target.kind === 'motor' ? ofMotor(board) : ofTwoEnds(board);
}

function ofTwoEnds(board: WhatIf): Switch[] | null {
  const { circuit, solver, state, target } = board;
  const ways = new Ways(solver, circuit, state);
  if (target.kind === 'lamp') {
    const { a, b, voltage } = circuit.lamps[target.k]!;
    return firstThatDoes(
      board,
      ways.joining(a, b, (volts) => volts >= LAMP_LIT * voltage),
    );
  }
  const { a, b, own, other, kind } = circuit.coils[target.k]!;
  const isEnough = (volts: number, isDc: boolean) => {
    const limits = isDc === (kind === 'dc') ? own : other;
    return limits !== null && volts >= limits.pickUp;
  };
  return firstThatDoes(board, ways.joining(a, b, isEnough));
}

/** The best of the smallest sets that do; a single contact by whatever way, through loads too. */
function firstThatDoes(board: WhatIf, sets: readonly (readonly Switch[])[]): Switch[] | null {
  const tried = sets.filter(({ length }) => length > 0).slice(0, MOST_TRIED);
  const ordered = tried
    .map((set) => [...set])
    .sort((x, y) => x.length - y.length || oddness(board, x) - oddness(board, y));
  const found = ordered.find((set) => board.with(set, true)) ?? null;
  if (found?.length === 1) return found;
  return single(board) ?? found;
}

/**
 * What a person thinks of last: closing the contact of what is not in yet, and a pole where a control or an
 * auxiliary contact would do.
 */
const oddness = ({ target }: WhatIf, set: readonly Switch[]): number =>
  set.reduce((sum, { tag, spec }) => sum + (tag === target.tag ? 2 : 0) + (spec.role === 'pole' ? 1 : 0), 0);

/** Contacts that are open, with a lead at either end. */
function openContacts({ circuit, state }: WhatIf): Switch[] {
  const wired = wiredTerminals(circuit);
  return circuit.switches.filter((one) => !isClosed(one, state) && wired.has(one.a) && wired.has(one.b));
}

/**
 * The same beyond doubt: every set of two is tried where more are named, through loads and around what is blown.
 * It takes a hundred solutions and more where `blocking` takes a few.
 */
export function fewestBlocking(board: WhatIf): Switch[] | null {
  const found = blocking(board);
  if (!found || found.length < 3) return found;
  for (const pair of subsets(openContacts(board), 2)) if (board.with(pair, true)) return pair;
  return found;
}

function single(board: WhatIf): Switch[] | null {
  const ordered = openContacts(board).sort((x, y) => oddness(board, [x]) - oddness(board, [y]));
  const found = ordered.find((one) => board.with([one], true));
  return found ? [found] : null;
}

/** Subsets of a list of one size, in order. */
function* subsets<T>(list: readonly T[], size: number, from = 0): Generator<T[]> {
  if (size === 0) {
    yield [];
    return;
  }
  for (let k = from; k < list.length; k += 1)
    for (const rest of subsets(list, size - 1, k + 1)) yield [list[k]!, ...rest];
}

/** Most devices whose open contacts a motor may want at once. */
const MOST_DEVICES = 3;

/** Poles move together: the open ones of few devices are tried, and then each is left out that need not be. */
function ofMotor(board: WhatIf): Switch[] | null {
  const open = openContacts(board).filter((one) => one.spec.role === 'pole');
  const tags = [...new Set(open.map(({ tag }) => tag))];
  for (let size = 1; size <= Math.min(MOST_DEVICES, tags.length); size += 1) {
    const found = [...subsets(tags, size)].flatMap((chosen) => {
      const set = open.filter(({ tag }) => chosen.includes(tag));
      return board.with(set, true) ? [leastOf(board, set)] : [];
    });
    if (found.length > 0) return found.sort((x, y) => x.length - y.length)[0]!;
  }
  return null;
}

function leastOf(board: WhatIf, set: readonly Switch[]): Switch[] {
  return set.reduce<Switch[]>(
    (left, one) => {
      const without = left.filter((other) => other !== one);
      return board.with(without, true) ? without : left;
    },
    [...set],
  );
}
