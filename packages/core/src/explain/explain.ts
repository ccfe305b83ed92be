import { BURNT, REST } from '../catalogue/index.js';
import {
  contactPlace,
  isArmature,
  isIn,
  isSupplySwitch,
  returns,
  feeds,
  stateName,
  type Circuit,
  type MechanicalState,
  type Mechanism,
  type Switch,
  type TerminalIndex,
} from '../circuit/index.js';
import { coilVolts, describeShort, isShorted, lampState, type Solver } from '../electrics/index.js';
import { blocking } from './blocks.js';
import { conductingPath, type Path } from './conducting.js';
import { Ways } from './ways.js';
import { WhatIf, targetIn, type Target } from './what-if.js';

/** Why a coil, a lamp or a motor is as it is. */
export interface Explanation {
  readonly of: string;
  /** As scripts say it: `in`, `out`, `lit`, `dim`, `dark`, `forward`, `none` … */
  readonly state: string;
  /**
   * Contacts in order from the supply to the return; null without a path. Opening any of them drops it, but
   * for those that stand in `beside`.
   */
  readonly path: readonly string[] | null;
  /** The fewest open contacts that, closed by hand, would energise it; null where it is, or none would. */
  readonly blocks: readonly string[] | null;
  /** Parts of the path beside which others conduct as well; a load where no contact is named. */
  readonly beside: readonly { readonly through: readonly string[]; readonly or: readonly string[] }[];
  readonly sentence: string;
}

/**
 * Explains a coil, a lamp or a motor of a board that has come to rest in a state.
 *
 * @throws where the device has neither.
 */
export function explain(solver: Solver, state: MechanicalState, tag: string): Explanation {
  const { circuit } = solver;
  const target = targetIn(circuit, tag);
  if (!target) throw new Error(`${tag} has no coil, no lamp and no motor`);
  const board = new WhatIf(circuit, state, target, solver);
  const word = stateOf(board);
  const isOn = board.isEnergised();
  const path = isOn ? conductingPath(board) : null;
  const blocks = isOn || isShorted(solver.at(state)) ? null : blocking(board);
  const told = { of: tag, state: word, beside: besideOf(path) };
  if (isOn)
    return {
      ...told,
      path: path?.all.map(contactPlace) ?? null,
      blocks: null,
      sentence: heldWords(board, path),
    };
  return {
    ...told,
    path: null,
    blocks: blocks?.map(contactPlace) ?? null,
    sentence: blocks ? blockedWords(board, blocks) : wrongWords(board),
  };
}

/** Everything on a board that can be explained, in its order. */
export const explained = ({ coils, lamps, motors }: Circuit): string[] => [
  ...new Set([...coils, ...lamps, ...motors].map(({ tag }) => tag)),
];

const besideOf = (path: Path | null): Explanation['beside'] =>
  (path?.beside ?? []).map(({ through, or }) => ({
    through: through.map(contactPlace),
    or: or.map(contactPlace),
  }));

function stateOf({ circuit, state, target, solver, field }: WhatIf): string {
  const electrical = solver.at(state);
  if (target.kind === 'motor') return field();
  if (target.kind === 'lamp') return lampState(circuit, electrical, state, target.k);
  const { mechanism } = circuit.coils[target.k]!;
  return stateName(circuit.mechanisms[mechanism]!, state[mechanism]!) ?? 'moving';
}

// ── sentences ─────────────────────────────────────────────────────────────────────────────────────

const listed = (words: readonly string[], last = 'and'): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} ${last} ${words.at(-1)!}`;

const said = (of: string, { tag, spec }: Switch): string =>
  tag === of ? `its own ${spec.name}` : `${tag} ${spec.name}`;

/** The contacts of a path in words, those that have another way beside them with it. */
function pathWords({ kind, tag }: Target, { all, beside }: Path): string {
  if (kind === 'motor') return byDevice(all);
  const words: string[] = [];
  for (const contact of all) {
    const run = beside.find(({ through }) => through.includes(contact));
    if (!run) words.push(said(tag, contact));
    else if (run.through[0] === contact) {
      const own = listed(run.through.map((one) => said(tag, one)));
      const or = listed(run.or.map((one) => said(tag, one)));
      words.push(or ? `${own} (or ${or})` : own);
    }
  }
  return listed(words);
}

/** `Q1 1-2, 3-4 and 5-6, KM1 1-2, 3-4 and 5-6`. */
function byDevice(contacts: readonly Switch[]): string {
  const tags = [...new Set(contacts.map(({ tag }) => tag))];
  return tags
    .map((tag) => `${tag} ${listed(contacts.filter((one) => one.tag === tag).map(({ spec }) => spec.name))}`)
    .join(', ');
}

const FIELDS = { forward: 'forward', reverse: 'in reverse' } as const;

function heldWords(board: WhatIf, path: Path | null): string {
  const { circuit, state, target } = board;
  const { tag } = target;
  const through =
    path && path.all.length > 0 ? ` through ${pathWords(target, path)}` : ' without any contact';
  if (target.kind === 'lamp') return `${tag} is lit${through}.`;
  if (target.kind === 'motor')
    return `${tag} is driven ${FIELDS[board.field() as keyof typeof FIELDS]}${through}.`;
  const { mechanism } = circuit.coils[target.k]!;
  const moved = circuit.mechanisms[mechanism]!;
  if (isArmature(moved) && state[mechanism] === REST)
    return `${tag} has its voltage${through}, but ${heldOutBy(board, mechanism)}.`;
  if (!isArmature(moved)) return `${tag} is energised${through}.`;
  const isHeld = path?.all.some((one) => one.tag === tag) ?? false;
  return `${tag} is ${isHeld ? 'held' : 'in'}${through}.`;
}

function heldOutBy({ circuit, state }: WhatIf, mechanism: number): string {
  const others = circuit.interlocks
    .filter((group) => group.some((one) => one === mechanism))
    .flatMap((group) => group.filter((one) => one !== mechanism && isIn(state[one]!)))
    .map((one) => circuit.mechanisms[one]!.device.tag);
  return others.length > 0
    ? `the mechanical interlock keeps it out while ${listed(others)} is in`
    : 'its armature does not move';
}

/** What something that is not energised does not do. */
const IDLE: Readonly<Record<Target['kind'], string>> = {
  coil: 'is not energised',
  lamp: 'is not lit',
  motor: 'is not driven',
};

function idleWords({ circuit, state, target, solver, field }: WhatIf): string {
  const { tag, kind, k } = target;
  if (kind === 'motor' && field() === 'single-phase') return `${tag} hums on two lines`;
  if (kind === 'lamp' && lampState(circuit, solver.at(state), state, k) === 'dim') return `${tag} only glows`;
  if (kind === 'coil' && isArmature(circuit.mechanisms[circuit.coils[k]!.mechanism]!))
    return `${tag} does not pull in`;
  return `${tag} ${IDLE[kind]}`;
}

/** Why a contact is open, by what its device is doing. */
const BECAUSE: Readonly<Record<string, string>> = {
  released: 'is not pressed',
  pressed: 'is pressed',
  open: 'is switched off',
  tripped: 'has tripped',
  blown: 'has blown',
  idle: 'does not time',
  timing: 'is still timing',
  done: 'has timed out',
};

/** Why each open contact is open; contacts of one device together. */
function blockedWords(board: WhatIf, blocks: readonly Switch[]): string {
  const { circuit, state } = board;
  const tags = [...new Set(blocks.map(({ tag }) => tag))];
  const parts = tags.map((tag) => {
    const own = blocks.filter((one) => one.tag === tag);
    const { mechanism } = own[0]!;
    const word = stateName(circuit.mechanisms[mechanism]!, state[mechanism]!);
    const because = word === null ? 'is between two positions' : (BECAUSE[word] ?? `is ${word}`);
    const names = listed(own.map(({ spec }) => spec.name));
    const whose = tag === board.target.tag ? 'its own ' : `${tag} `;
    const isOpen = `${whose}${names} ${own.length > 1 ? 'are' : 'is'} open`;
    return tags.length === 1 ? `${isOpen}, because ${tag} ${because}` : `${isOpen} (${tag} ${because})`;
  });
  return `${idleWords(board)}: ${listed(parts)}.`;
}

/** What is wrong where no contact that is open is at fault. */
function wrongWords(board: WhatIf): string {
  const { circuit, solver, state, target } = board;
  const { kind, k } = target;
  const electrical = solver.at(state);
  const idle = idleWords(board);
  if (isShorted(electrical)) {
    const { path } = describeShort(solver, state, electrical);
    return `${idle}: the board is short-circuited at ${listed(path)}.`;
  }
  const off = circuit.mechanisms.filter((one) => isSupplySwitch(one) && state[one.index] !== 0);
  if (off.length > 0 && off.length === circuit.mechanisms.filter(isSupplySwitch).length)
    return `${idle}: ${suppliesOff(off, state)}.`;
  if (kind === 'motor') return `${idle}: no contact that is open would drive it by all its lines.`;
  const { a, b, voltage } = kind === 'coil' ? circuit.coils[k]! : circuit.lamps[k]!;
  const burnt = kind === 'coil' ? circuit.coils[k]!.winding : circuit.lamps[k]!.mechanism;
  if (state[burnt] === BURNT)
    return `${idle}: its ${kind === 'coil' ? 'coil' : 'filament'} is burnt through.`;
  const { ac, dc } = kind === 'coil' ? coilVolts(electrical, k) : { ac: electrical.lampVolts[k]!, dc: 0 };
  const perCent = Math.round((100 * Math.max(ac, dc)) / voltage);
  if (perCent >= 1) return `${idle}: it has ${perCent} % of its ${voltage} V.`;
  return `${idle}: ${floating(board, a, b)}.`;
}

/** `G1 is switched off`, of supplies none of which is on. */
function suppliesOff(off: readonly Mechanism[], state: MechanicalState): string {
  const [first] = off;
  const isTripped = first !== undefined && stateName(first, state[first.index]!) === 'tripped';
  return `${listed(off.map(({ device }) => device.tag))} is ${isTripped ? 'tripped' : 'switched off'}`;
}

/** Which end reaches nothing, whatever closes. */
function floating({ circuit, solver, state }: WhatIf, a: TerminalIndex, b: TerminalIndex): string {
  const ways = new Ways(solver, circuit, state);
  const all = [...feeds(circuit), ...returns(circuit)];
  const loose = [a, b].filter((end) => !ways.canMeet(end, all));
  if (loose.length > 0) {
    const ends = listed(loose.map((end) => circuit.terminals[end]!.replace(':', ' ')));
    return `${ends} ${loose.length > 1 ? 'are' : 'is'} joined to no supply, whatever closes`;
  }
  return 'no few contacts that are open would give it its voltage';
}
