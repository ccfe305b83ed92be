import type { Bench, TerminalRef } from '../bench/index.js';
import { anatomy, kindOf } from '../catalogue/index.js';
import {
  type UnionFind,
  closedIn,
  compile,
  contactPlace,
  isClosed,
  type Circuit,
  type MechanicalState,
  type Stimulus,
  type Switch,
} from '../circuit/index.js';
import { deadState } from '../diagnosis/index.js';
import { Solver } from '../electrics/index.js';
import { Simulation } from '../simulation/index.js';
import { groupsOf, innerSets, joinLists, meetOf, namedGroups } from './sets.js';

/** What was joined on a dead board while some devices were worked by hand. */
export interface BoardReading {
  /** What a hand has done since the board lay at rest, in order. */
  readonly steps: readonly Stimulus[];
  readonly joined: readonly (readonly TerminalRef[])[];
}

/** The joints that leads make, as far as readings tell. */
export interface FoundLeads {
  readonly joined: readonly (readonly TerminalRef[])[];
  /** Nets that a closed contact joins, or leads, or both: no reading opened it. */
  readonly doubtful: readonly {
    readonly terminals: readonly TerminalRef[];
    readonly through: readonly string[];
    /** What would tell. */
    readonly work: readonly Stimulus[];
  }[];
  /** Contacts that should have been closed in a reading and were open. */
  readonly unlike: readonly {
    readonly contact: string;
    readonly reading: number;
  }[];
}

/**
 * The leads of a dead board by what was joined while its devices were worked: a lead joins in every reading,
 * a contact only where it is closed. What every reading might owe to contacts is named, with what to work
 * to know; a contact that did not move as its device should is named too.
 */
export function leadsFromReadings(bench: Bench, readings: readonly BoardReading[]): FoundLeads {
  const circuit = compile({ ...bench, wires: [] });
  const solver = new Solver(circuit);
  const states = readings.map(({ steps }) => stateAfter(solver, steps));
  const read = readings.map(({ joined }) => joinLists(circuit, innerSets(circuit), joined));
  const together = meetOf(circuit.terminals.length, [
    ...read,
    ...(read.length === 0 ? [innerSets(circuit)] : []),
  ]);
  return {
    joined: namedGroups(circuit, together),
    doubtful: doubtsOf(circuit, together, states),
    unlike: unlikeIn(circuit, read, states),
  };
}

/** A dead board's state after what a hand has done to it. */
export function stateAfter(solver: Solver, steps: readonly Stimulus[]): MechanicalState {
  const simulation = new Simulation(solver, deadState(solver.circuit));
  for (const step of steps) simulation.work(step);
  return simulation.state;
}

/** Nets of which no reading shows that leads alone make them. */
function doubtsOf(
  circuit: Circuit,
  together: UnionFind,
  states: readonly MechanicalState[],
): FoundLeads['doubtful'] {
  const groups = groupsOf(circuit.terminals.length, together).filter((group) => group.length > 1);
  return groups.flatMap((group): FoundLeads['doubtful'] => {
    const isDoubtful = states.every((state) => contactsJoin(circuit, groups, group, state));
    if (!isDoubtful) return [];
    const members = new Set(group);
    const through = circuit.switches.filter(
      (one) => members.has(one.a) && members.has(one.b) && states.some((state) => isClosed(one, state)),
    );
    return [
      {
        terminals: group.map((terminal) => circuit.terminals[terminal]!),
        through: through.map(contactPlace),
        work: through.flatMap((one) => openingOf(circuit, one)),
      },
    ];
  });
}

/**
 * True where contacts and the leads of other nets join terminals of a net in a state. Where that is so in
 * every state, its leads may be fewer than they seem: one contact joins two halves at rest, another one when
 * the device is worked.
 */
function contactsJoin(
  circuit: Circuit,
  groups: readonly (readonly number[])[],
  left: readonly number[],
  state: MechanicalState,
): boolean {
  const inner = innerSets(circuit);
  const sets = innerSets(circuit);
  for (const group of groups) if (group !== left) for (const one of group) sets.union(group[0]!, one);
  for (const contact of circuit.switches.filter(closedIn(state))) sets.union(contact.a, contact.b);
  const innerOf = new Map<number, number>();
  return left.some((terminal) => {
    const own = inner.find(terminal);
    const known = innerOf.get(sets.find(terminal));
    innerOf.set(sets.find(terminal), known ?? own);
    return known !== undefined && known !== own;
  });
}

/** What a hand does to open a contact that is closed at rest; nothing where it does not. */
function openingOf(circuit: Circuit, { tag, spec }: Switch): Stimulus[] {
  const device = circuit.bench.devices.find((one) => one.tag === tag);
  if (!device || spec.normally === 'open') return [];
  const { verbs } = kindOf(device);
  if (verbs.includes('open')) return [{ open: tag }];
  if (verbs.includes('press')) return [{ press: tag }];
  if (verbs.includes('trip')) return [{ trip: tag }];
  return verbs.includes('pushIn') ? [{ pushIn: tag }] : [];
}

/** Contacts that should be closed in a reading, whose ends were apart. */
function unlikeIn(
  circuit: Circuit,
  read: readonly UnionFind[],
  states: readonly MechanicalState[],
): FoundLeads['unlike'] {
  return circuit.switches.flatMap((contact) =>
    states.flatMap((state, k): FoundLeads['unlike'] => {
      const isJoined = read[k]!.find(contact.a) === read[k]!.find(contact.b);
      return isClosed(contact, state) && !isJoined ? [{ contact: contactPlace(contact), reading: k }] : [];
    }),
  );
}

/**
 * The readings that tell every lead of a board from its contacts: at rest, with everything open that stays
 * open by itself, then with each device held beside that whose contacts are closed at rest.
 */
export function readingsFor(bench: Bench): readonly (readonly Stimulus[])[] {
  const circuit = compile({ ...bench, wires: [] });
  const rest = deadState(circuit);
  const opened: Stimulus[] = [];
  const held: Stimulus[] = [];
  for (const device of bench.devices) {
    const closed = circuit.switches.filter((one) => one.tag === device.tag && isClosed(one, rest));
    if (closed.length === 0 || anatomy(device).contacts.length === 0) continue;
    const [work] = closed.flatMap((one) => openingOf(circuit, one));
    if (!work) continue;
    if ('press' in work || 'pushIn' in work) held.push(work);
    else opened.push(work);
  }
  // At rest first: what closes when an overload is tripped is apart then.
  return [[], ...(opened.length > 0 ? [opened] : []), ...held.map((one) => [...opened, one])];
}
