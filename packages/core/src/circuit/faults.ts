import { splitRef } from '../bench/index.js';
import { BURNT } from '../catalogue/index.js';
import type { Circuit, Conductor, Switch, TerminalIndex } from './circuit.js';

/** Kinds of single fault that a circuit can be given, and how their place is written. */
export const FAULT_KINDS = [
  'open-wire',
  'extra-wire',
  'contact-stuck-open',
  'contact-stuck-closed',
  'coil-open',
  'armature-jammed',
  'earth-fault',
  'interlock-missing',
] as const;
export type FaultKind = (typeof FAULT_KINDS)[number];

/**
 * One fault at one place: `"A:1 B:2"` of a wire, `"KM1:13-14"` of a contact, `"KM1"` of a coil or an armature, `"S2:14"`
 * of an earth fault, `"KM1 KM2"` of a mechanical interlock.
 */
export interface Fault {
  readonly kind: FaultKind;
  readonly place: string;
}

/** A fault in words. */
export function describeFault({ kind, place }: Fault): string {
  const [first = '', second = ''] = place.split(' ');
  switch (kind) {
    case 'open-wire':
      return `wire ${first} to ${second} broken`;
    case 'extra-wire':
      return `${first} bridged to ${second}`;
    case 'contact-stuck-open':
      return `${place} does not close`;
    case 'contact-stuck-closed':
      return /:[1-6]-[1-6]$/.test(place) ? `pole ${place} welded` : `${place} does not open`;
    case 'coil-open':
      return `coil of ${place} open`;
    case 'armature-jammed':
      return `armature of ${place} jammed out`;
    case 'earth-fault':
      return `earth fault at ${place}`;
    case 'interlock-missing':
      return `mechanical interlock of ${first} and ${second} broken`;
  }
}

/** The circuit with one fault in it, or why there is no such place on this bench. */
export function withFault(circuit: Circuit, fault: Fault): { circuit: Circuit } | { problem: string } {
  const { kind, place } = fault;
  const [first = '', second = ''] = place.split(' ');
  const terminal = (ref: string) => circuit.indexOf.get(ref);
  const none = { problem: `"${place}" is no place for ${kind} on this bench` };
  switch (kind) {
    case 'open-wire': {
      const wire = circuit.bench.wires.findIndex(
        ({ from, to }) => (from === first && to === second) || (from === second && to === first),
      );
      return wire < 0 ? none : { circuit: withoutWire(circuit, wire) };
    }
    case 'extra-wire': {
      const [a, b] = [terminal(first), terminal(second)];
      return a === undefined || b === undefined || a === b
        ? none
        : { circuit: joined(circuit, a, b, 'extra wire') };
    }
    case 'earth-fault': {
      const at = terminal(place);
      const earth = circuit.earthed.find((k) => splitRef(circuit.terminals[k] as string).terminal === 'PE');
      return at === undefined || earth === undefined || at === earth
        ? none
        : { circuit: joined(circuit, at, earth, 'earth fault') };
    }
    case 'contact-stuck-open':
    case 'contact-stuck-closed': {
      const contact = circuit.switches.find(({ tag, spec }) => `${tag}:${spec.name}` === place);
      return contact ? { circuit: stuck(circuit, contact, kind === 'contact-stuck-closed') } : none;
    }
    case 'coil-open': {
      const coil = circuit.coils.find(({ tag }) => tag === place);
      if (!coil) return none;
      const initial = circuit.initial.slice();
      initial[coil.winding] = BURNT;
      return { circuit: { ...circuit, initial } };
    }
    case 'armature-jammed': {
      const armature = circuit.mechanismOf.get(place);
      return armature === undefined || circuit.mechanisms[armature]?.kind !== 'armature'
        ? none
        : { circuit: { ...circuit, jammed: [...circuit.jammed, armature] } };
    }
    case 'interlock-missing': {
      const [a, b] = [circuit.mechanismOf.get(first), circuit.mechanismOf.get(second)];
      const interlocks = circuit.interlocks.filter(
        (group) => a === undefined || b === undefined || !group.includes(a) || !group.includes(b),
      );
      return interlocks.length === circuit.interlocks.length ? none : { circuit: { ...circuit, interlocks } };
    }
  }
}

const withoutWire = (circuit: Circuit, wire: number): Circuit => ({
  ...circuit,
  conductors: circuit.conductors.filter((conductor) => conductor.wire !== wire),
});

function joined(circuit: Circuit, a: TerminalIndex, b: TerminalIndex, tag: string): Circuit {
  const conductor: Conductor = { a, b, wire: -1, tag, ohms: 0.01 };
  return { ...circuit, conductors: [...circuit.conductors, conductor] };
}

/**
 * A welded pole keeps the armature from coming back: its NC contacts stay open (mirror contacts, IEC 60947-4-1 annex F,
 * from memory), and a mechanical interlock keeps the other armature out.
 */
function stuck(circuit: Circuit, contact: Switch, closed: boolean): Circuit {
  const always = (value: boolean) => contact.closedIn.map(() => value);
  const welded =
    closed && contact.spec.role === 'pole' && circuit.coils.some(({ tag }) => tag === contact.tag);
  const switches = circuit.switches.map((other): Switch => {
    if (other === contact) return { ...other, closedIn: always(closed) };
    return welded && other.tag === contact.tag && other.spec.normally === 'closed'
      ? { ...other, closedIn: other.closedIn.map(() => false) }
      : other;
  });
  if (!welded) return { ...circuit, switches };
  const partners = circuit.interlocks
    .filter((group) => group.includes(contact.mechanism))
    .flatMap((group) => group.filter((other) => other !== contact.mechanism));
  return { ...circuit, switches, jammed: [...circuit.jammed, ...partners] };
}
