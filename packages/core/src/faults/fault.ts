import type { Circuit, Conductor, Switch, TerminalIndex } from '../circuit/index.js';
import { FAULT_OHMS } from '../tolerances.js';

/** What is known of a kind of fault, once. A place is written as the kind's own form says. */
export interface FaultForm {
  /** A fault at a place, in words. */
  readonly words: (place: string) => string;
  /** The circuit with the fault in it; null where there is no such place on this bench. Indices stay as they are. */
  readonly apply: (circuit: Circuit, place: string) => Circuit | null;
  /** Places at which it is worth trying on a wired board, where single faults are tried. */
  readonly tried?: (circuit: Circuit) => readonly string[];
}

/** The two parts of a place that names two things. */
export function pairOf(place: string): readonly [string, string] {
  const [first = '', second = ''] = place.split(' ');
  return [first, second];
}

/** A circuit with one conductor more that no wire of the bench is. */
export function withConductor(
  circuit: Circuit,
  a: TerminalIndex | undefined,
  b: TerminalIndex | undefined,
  tag: string,
): Circuit | null {
  if (a === undefined || b === undefined || a === b) return null;
  const conductor: Conductor = { a, b, wire: -1, tag, ohms: FAULT_OHMS };
  return { ...circuit, conductors: [...circuit.conductors, conductor] };
}

/** The place of a contact, `"KM1:13-14"`. */
export const contactPlace = ({ tag, spec }: Switch): string => `${tag}:${spec.name}`;

export const contactAt = (circuit: Circuit, place: string): Switch | undefined =>
  circuit.switches.find((contact) => contactPlace(contact) === place);
