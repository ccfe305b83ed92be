/** What can go wrong with a board: one file a kind, each a change to a circuit whose indices stay. */
import type { Circuit } from '../circuit/index.js';
import type { FaultForm } from './fault.js';
import { armatureJammed } from './kinds/armature-jammed.js';
import { coilOpen } from './kinds/coil-open.js';
import { contactStuckClosed, contactStuckOpen } from './kinds/contact-stuck.js';
import { earthFault } from './kinds/earth-fault.js';
import { extraWire } from './kinds/extra-wire.js';
import { interlockMissing } from './kinds/interlock-missing.js';
import { openWire } from './kinds/open-wire.js';

/** Every kind of fault, in the order in which single ones are tried. */
const FAULTS = {
  'contact-stuck-closed': contactStuckClosed,
  'contact-stuck-open': contactStuckOpen,
  'open-wire': openWire,
  'earth-fault': earthFault,
  'interlock-missing': interlockMissing,
  'extra-wire': extraWire,
  'coil-open': coilOpen,
  'armature-jammed': armatureJammed,
} as const satisfies Readonly<Record<string, FaultForm>>;

export type FaultKind = keyof typeof FAULTS;
export const FAULT_KINDS = Object.keys(FAULTS) as FaultKind[];

/** One fault at one place. */
export interface Fault {
  readonly kind: FaultKind;
  readonly place: string;
}

/** A fault in words. */
export const describeFault = ({ kind, place }: Fault): string => FAULTS[kind].words(place);

/** The circuit with one fault in it, or why there is no such place on this bench. */
export function withFault(
  circuit: Circuit,
  { kind, place }: Fault,
): { circuit: Circuit } | { problem: string } {
  const faulty = FAULTS[kind].apply(circuit, place);
  return faulty ? { circuit: faulty } : { problem: `"${place}" is no place for ${kind} on this bench` };
}

/** Every single fault that is worth trying on a board; what no wire reaches cannot fail. */
export function credibleFaults(circuit: Circuit): Fault[] {
  return FAULT_KINDS.flatMap((kind) => {
    const { tried }: FaultForm = FAULTS[kind];
    return (tried?.(circuit) ?? []).map((place): Fault => ({ kind, place }));
  });
}
