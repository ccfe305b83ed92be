import { START_DUTIES, anatomy, purposeOf, type Device } from '../catalogue/index.js';
import { splitRef, type Bench } from '../bench/index.js';
import { compile } from './compile.js';
import { isOfController } from './mechanisms/index.js';
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
    if (device !== controller || (kind !== 'input' && kind !== 'output') || !isOfController(mechanism))
      return [];
    const own = circuit.indexOf.get(`${tag}:${at}`);
    if (own === undefined || !wired.has(own)) return [{ at, to: '', name: '', isWired: false }];
    const others = circuit.terminals.filter(
      (ref, k) => splitRef(ref).tag !== tag && sets.find(k) === sets.find(own),
    );
    return [{ at, ...joinedTo(bench, others), isWired: true }];
  });
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
  const purpose =
    START_DUTIES.includes(first.device.duty) || first.device.duty ? purposeOf(first.device) : '';
  return {
    to:
      found.map(({ device, part }) => `${device.tag} ${part}`).join(', ') + (purpose ? ` (${purpose})` : ''),
    name: first.device.tag.replace(/[^A-Za-z0-9_]/g, '_').replace(/^(?=[0-9])/, '_'),
  };
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
