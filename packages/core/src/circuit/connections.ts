import { anatomy, purposeOf, type Device } from '../catalogue/index.js';
import { splitRef, type Bench, type TerminalRef } from '../bench/index.js';
import { isConnected, type Program, type ProgramVariable } from '../program/index.js';
import type { Circuit } from './circuit.js';
import { compile } from './compile.js';
import { meets } from './roles.js';
import { wiredTerminals, wiredTogether } from './wiring.js';

/** An input or output of a controller, and what leads join it to. */
export interface Connection {
  /** `I0.0`, `Q0.2`. */
  readonly at: string;
  /** Device and contact or coil at the other end, in words; empty where no lead reaches it. */
  readonly to: string;
  /** A name for the variable there: the device that it belongs to. */
  readonly name: string;
  readonly isWired: boolean;
  /** Terminals of other devices that leads join to it. */
  readonly refs: readonly TerminalRef[];
}

/**
 * Inputs and outputs of a controller with what is joined to them by leads alone: the list of inputs and
 * outputs of a board.
 */
export function connectionsOf(bench: Bench, tag: string): Connection[] {
  const circuit = compile(bench);
  const wired = wiredTerminals(circuit);
  const sets = wiredTogether(circuit);
  const controller = bench.devices.find((device) => device.tag === tag);
  if (!controller) return [];
  return circuit.mechanisms.flatMap((mechanism): Connection[] => {
    const { kind, name: at, device } = mechanism;
    if (device !== controller || (kind !== 'input' && kind !== 'output')) return [];
    const own = circuit.indexOf.get(`${tag}:${at}`);
    if (own === undefined || !wired.has(own)) return [{ at, to: '', name: '', isWired: false, refs: [] }];
    const others = circuit.terminals.filter(
      (ref, k) => splitRef(ref).tag !== tag && sets.find(k) === sets.find(own),
    );
    const joined = joinedTo(bench, others);
    // What an output works lies behind the interlocks that it leads through.
    const worked = kind === 'output' ? coilBehind(circuit, own) : null;
    return [{ at, ...joined, ...(worked ? { name: identifier(worked) } : {}), isWired: true, refs: others }];
  });
}

const identifier = (tag: string): string => tag.replace(/[^A-Za-z0-9_]/g, '_').replace(/^(?=[0-9])/, '_');

/** The only device whose coil a terminal reaches through leads and contacts at rest; null where there is none. */
function coilBehind(circuit: Circuit, terminal: number): string | null {
  const sets = wiredTogether(circuit, ({ spec }) => spec.normally === 'closed');
  const reached = circuit.coils.filter(({ a, b }) => meets(sets, [a, b], terminal));
  const tags = new Set(reached.map(({ tag }) => tag));
  const [only] = tags;
  return only !== undefined && tags.size === 1 ? only : null;
}

function joinedTo(bench: Bench, refs: readonly string[]): { to: string; name: string } {
  const found = refs.flatMap((ref) => {
    const { tag, terminal } = splitRef(ref);
    const device = bench.devices.find((one) => one.tag === tag);
    const part = device && partAt(device, terminal);
    return device && part ? [{ device, part }] : [];
  });
  const [first] = found;
  if (!first) return { to: '', name: '' };
  const purpose = first.device.duty ? purposeOf(first.device) : '';
  return {
    to:
      found.map(({ device, part }) => `${device.tag} ${part}`).join(', ') + (purpose ? ` (${purpose})` : ''),
    name: identifier(first.device.tag),
  };
}

/**
 * The input or output that a terminal stands for: the controller's own, one that leads join it to, or the only
 * one that leads join its device to; null where that is none.
 */
export function connectionAt(
  connections: readonly Connection[],
  controller: string,
  ref: TerminalRef,
): Connection | null {
  const { tag, terminal } = splitRef(ref);
  if (tag === controller) return connections.find(({ at }) => at === terminal) ?? null;
  const joined = connections.find(({ refs }) => refs.includes(ref));
  if (joined) return joined;
  const own = connections.filter(({ refs }) => refs.some((one) => splitRef(one).tag === tag));
  return own.length === 1 ? own[0]! : null;
}

/** The contact or coil of a device that one of its terminals belongs to. */
function partAt(device: Device, terminal: string): string | null {
  const { contacts, coils, lamps } = anatomy(device);
  const contact = contacts.find(({ a, b }) => a === terminal || b === terminal);
  if (contact)
    return `${contact.normally === 'closed' ? 'NC ' : contact.normally === 'open' ? 'NO ' : ''}${contact.name}`;
  const coil = coils.find(({ a, b }) => a === terminal || b === terminal);
  if (coil) return 'coil';
  return lamps.some(({ a, b }) => a === terminal || b === terminal) ? 'lamp' : null;
}

/**
 * Variables for the inputs and outputs that leads reach and no variable of a program stands at, named by what
 * they go to. What an output works has the device's name; what reports to an input is told apart.
 */
export function wiredVariables(
  { variables }: Program,
  connections: readonly Connection[],
): readonly ProgramVariable[] {
  const placed = new Set(variables.flatMap((one) => (isConnected(one) ? [one.at] : [])));
  const taken = new Set(variables.map(({ name }) => name.toUpperCase()));
  const worked = new Set(connections.flatMap(({ at, name }) => (at.startsWith('Q') ? [name] : [])));
  return connections.flatMap(({ at, to: comment, name: device, isWired }): ProgramVariable[] => {
    if (!isWired || device === '' || placed.has(at)) return [];
    const base = at.startsWith('I') && worked.has(device) ? `${device}_in` : device;
    let name = base;
    for (let k = 2; taken.has(name.toUpperCase()); k += 1) name = `${base}_${k}`;
    taken.add(name.toUpperCase());
    return [{ name, at, comment }];
  });
}
