import type { Circuit, Conductor, Element, TerminalIndex } from '../circuit/index.js';
import { FAULT_OHMS } from '../tolerances.js';

/** What some kinds of fault say besides their place. */
export interface FaultValues {
  /** Resistance of a loose wire, ohms. */
  readonly ohms?: number | undefined;
  /** Terminal on which a wrong wire really ends. */
  readonly to?: string | undefined;
  /** Where a jammed armature stands. */
  readonly position?: 'in' | 'out' | undefined;
  /** Amperes to which an overload relay is really set. */
  readonly dial?: number | undefined;
  /** Seconds to which a timer is really set. */
  readonly delay?: number | undefined;
  /** Rating of the coil that is really fitted, volts. */
  readonly volts?: number | undefined;
  /** Secondary volts of the tap that is really used. */
  readonly secondaryVoltage?: number | undefined;
}

/** When a fault that comes and goes is there. */
export type When =
  /** In each n-th operation of the device, from its beginning to that of the next. */
  | { readonly every: number }
  /** While the heat of an overload relay is above this, per unit of its trip. */
  | { readonly hotter: number }
  /** Seconds after the supply came on, over and over with a period. */
  | { readonly from: number; readonly to: number; readonly period?: number | undefined };

/** A fault's place and what it says besides. */
export interface FaultAt extends FaultValues {
  readonly place: string;
}

/** How large a number under a key may be. */
export interface FaultKey {
  readonly kind: 'number' | 'terminal' | 'position';
  readonly needed: boolean;
}

/** What is known of a kind of fault, once. A place is written as the kind's own form says. */
export interface FaultForm {
  /** Its place names two things, whichever is named first. */
  readonly isPair?: true;
  /** What a hand does to the device that puts it right. */
  readonly mendedBy?: 'set' | 'reset';
  /** Keys besides the place. */
  readonly keys?: { readonly [K in keyof FaultValues]?: FaultKey };
  /** A fault at a place, in words. */
  readonly words: (fault: FaultAt) => string;
  /**
   * The circuit with the fault in it; null where there is no such place on this bench. Indices stay as they
   * are.
   */
  readonly apply: (circuit: Circuit, fault: FaultAt) => Circuit | null;
  /** Places at which it is worth trying on a wired board, where single faults are proved. */
  readonly tried?: (circuit: Circuit) => readonly string[];
  /** Everything of this kind that can befall a wired board by itself. */
  readonly possible: (circuit: Circuit) => readonly FaultAt[];
}

/** A number that must be given, and one that need not. */
export const NEEDED: FaultKey = { kind: 'number', needed: true };
export const OPTIONAL: FaultKey = { kind: 'number', needed: false };

/** The two parts of a place that names two things. */
export function pairOf(place: string): readonly [string, string] {
  const [first = '', second = ''] = place.split(' ');
  return [first, second];
}

export const at = (place: string): FaultAt => ({ place });

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

/**
 * The conductor that a wire between two terminals is, in whichever direction; undefined where there is
 * none.
 */
export function conductorAt(circuit: Circuit, place: string): Conductor | undefined {
  const [first, second] = pairOf(place);
  const wire = circuit.bench.wires.findIndex(
    ({ from, to }) => (from === first && to === second) || (from === second && to === first),
  );
  return wire < 0 ? undefined : circuit.conductors.find((conductor) => conductor.wire === wire);
}

/** Every wire of a bench, as places. */
export const wirePlaces = ({ bench }: Circuit): readonly FaultAt[] =>
  bench.wires.map(({ from, to }) => at(`${from} ${to}`));

/** A circuit in which one thing of a list is another. */
export const exchanged = <T>(list: readonly T[], place: number, by: T): T[] =>
  list.map((one, k) => (k === place ? by : one));

/** A circuit whose fresh state has a mechanism in another state. */
export function withInitial(circuit: Circuit, mechanism: number, state: number): Circuit {
  const initial = circuit.initial.slice();
  initial[mechanism] = state;
  return { ...circuit, initial };
}

/** A circuit with another element in one place of its list. */
export const withElement = (circuit: Circuit, place: number, element: Element): Circuit => ({
  ...circuit,
  elements: exchanged(circuit.elements, place, element),
});
