/** What can go wrong with a board: one entry a kind, each a change to a circuit whose indices stay. */
import type { Circuit, WrittenFault } from '../circuit/index.js';
import type { FaultAt, FaultForm, When } from './fault.js';
import { armatureJammed } from './kinds/armature-jammed.js';
import { coilOpen, coilShorted, wrongCoilVoltage } from './kinds/coils.js';
import { contactStuckClosed, contactStuckOpen } from './kinds/contact-stuck.js';
import { inputDead, plcStopped } from './kinds/controllers.js';
import { earthFault } from './kinds/earth-fault.js';
import { extraWire } from './kinds/extra-wire.js';
import { interlockMissing } from './kinds/interlock-missing.js';
import {
  blownFuse,
  lampFailed,
  overloadMisset,
  overloadWillNotReset,
  overloadWillNotTrip,
  timerDead,
  timerMisset,
  wrongTap,
} from './kinds/settings.js';
import { lostPhase, openEarth, openNeutral, swappedPhases } from './kinds/supply.js';
import { windingOpen, windingReversed } from './kinds/windings.js';
import { looseWire, openWire, wrongWire } from './kinds/wires.js';

export type { WrittenFault } from '../circuit/index.js';
export type { FaultAt, FaultValues, When } from './fault.js';

/** Every kind of fault, in the order in which single ones are tried. */
export const FAULTS = {
  'contact-stuck-closed': contactStuckClosed,
  'contact-stuck-open': contactStuckOpen,
  'open-wire': openWire,
  'earth-fault': earthFault,
  'interlock-missing': interlockMissing,
  'extra-wire': extraWire,
  'coil-open': coilOpen,
  'coil-shorted': coilShorted,
  'wrong-coil-voltage': wrongCoilVoltage,
  'armature-jammed': armatureJammed,
  'loose-wire': looseWire,
  'wrong-wire': wrongWire,
  'overload-misset': overloadMisset,
  'overload-will-not-reset': overloadWillNotReset,
  'overload-will-not-trip': overloadWillNotTrip,
  'timer-misset': timerMisset,
  'timer-dead': timerDead,
  'blown-fuse': blownFuse,
  'lamp-failed': lampFailed,
  'lost-phase': lostPhase,
  'swapped-phases': swappedPhases,
  'open-neutral': openNeutral,
  'open-earth': openEarth,
  'winding-open': windingOpen,
  'winding-reversed': windingReversed,
  'wrong-tap': wrongTap,
  'input-dead': inputDead,
  'plc-stopped': plcStopped,
} as const satisfies Readonly<Record<string, FaultForm>>;

export type FaultKind = keyof typeof FAULTS;
export const FAULT_KINDS = Object.keys(FAULTS) as FaultKind[];

/** One fault at one place; always there where it does not say when. */
export interface Fault extends FaultAt {
  readonly kind: FaultKind;
  readonly when?: When | undefined;
  /** A lead that somebody has taken off to test: never written in a document. */
  readonly byHand?: true | undefined;
}

const formOf = (kind: FaultKind): FaultForm => FAULTS[kind];

/** The fault that a document's words mean. Throws where no kind is named, which a schema has checked. */
export function readFault(written: WrittenFault): Fault {
  const kind = FAULT_KINDS.find((one) => Object.hasOwn(written, one));
  if (!kind) throw new Error('no kind of fault is named');
  const { [kind]: place, ...more } = written;
  return { kind, place: String(place), ...more };
}

/** A fault as documents write it. */
export function writeFault({ kind, place, ...more }: Fault): WrittenFault {
  const said = Object.entries(more).filter(([, value]) => value !== undefined);
  return { [kind]: place, ...Object.fromEntries(said) };
}

/** A place that names two things, whichever is named first. */
export const unordered = (place: string): string => place.split(' ').sort().join(' ');

/** Same key, same fault: wires have no direction. */
export function faultKey({ kind, place, ...more }: Fault): string {
  const sorted = formOf(kind).isPair ? unordered(place) : place;
  const said = Object.entries(more)
    .filter(([, value]) => value !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  return JSON.stringify([kind, sorted, said]);
}

const ORDINALS: Readonly<Record<number, string>> = { 1: 'single', 2: 'second', 3: 'third' };
const ordinal = (n: number): string => ORDINALS[n] ?? `${n}th`;

const whenWords = (when: When): string =>
  'every' in when
    ? `in every ${ordinal(when.every)} operation`
    : 'hotter' in when
      ? `while hotter than ${when.hotter} of the trip`
      : `from ${when.from} s to ${when.to} s${when.period === undefined ? '' : ` of every ${when.period} s`}`;

/** A fault in words. */
export const describeFault = ({ kind, when, ...fault }: Fault): string =>
  `${formOf(kind).words(fault)}${when ? `, ${whenWords(when)}` : ''}`;

/** The circuit with one fault in it, or why there is no such place on this bench. */
export function withFault(circuit: Circuit, fault: Fault): { circuit: Circuit } | { problem: string } {
  const faulty = formOf(fault.kind).apply(circuit, fault);
  return faulty
    ? { circuit: faulty }
    : { problem: `"${fault.place}" is no place for ${fault.kind} on this bench` };
}

/**
 * The circuit with several faults in it; one that finds no place any more beside the others changes
 * nothing.
 */
export function withFaults(circuit: Circuit, faults: readonly Fault[]): Circuit {
  return faults.reduce((before, fault) => formOf(fault.kind).apply(before, fault) ?? before, circuit);
}

/** Why a fault cannot befall a circuit's bench; null where it can. */
export function faultProblem(circuit: Circuit, fault: Fault): string | null {
  if (fault.to !== undefined && !circuit.indexOf.has(fault.to))
    return `"${fault.to}" is not a terminal of this bench`;
  const outcome = withFault(circuit, fault);
  return 'problem' in outcome ? outcome.problem : null;
}

/** Every single fault whose safety is worth proving on a board; what no wire reaches cannot fail. */
export function credibleFaults(circuit: Circuit): Fault[] {
  return FAULT_KINDS.flatMap((kind) =>
    (formOf(kind).tried?.(circuit) ?? []).map((place): Fault => ({ kind, place })),
  );
}

/** Every single fault that can befall a board by itself, made from the board. */
export function possibleFaults(circuit: Circuit): Fault[] {
  const seen = new Set<string>();
  return FAULT_KINDS.flatMap((kind) =>
    formOf(kind)
      .possible(circuit)
      .map((fault): Fault => ({ kind, ...fault })),
  ).filter((fault) => {
    const key = faultKey(fault);
    return !seen.has(key) && seen.add(key);
  });
}

/** True of a fault that is gone when a hand sets, or resets, the device in which it is. */
export const isMendedBy = (act: 'set' | 'reset', { kind }: Pick<Fault, 'kind'>): boolean =>
  formOf(kind).mendedBy === act;

/** Devices that a fault may be in: those that its place names, in their order. */
export const devicesOf = ({ place }: Pick<Fault, 'place'>): string[] => [
  ...new Set(place.split(' ').map((part) => part.split(':')[0]!)),
];

/** Terminals at which a fault is, of a bench's leads or of the devices that its place names; to point at it. */
export function terminalsAt(
  { bench, indexOf }: Circuit,
  { place, to }: Pick<Fault, 'place' | 'to'>,
): string[] {
  const wired = bench.wires.flatMap(({ from, to: other }) => [from, other]);
  const found = [...place.split(' '), ...(to === undefined ? [] : [to])].flatMap((part) => {
    const [tag = '', name] = part.split(':');
    if (name === undefined) return wired.filter((ref) => ref.startsWith(`${tag}:`));
    return indexOf.has(part) ? [part] : name.split('-').map((end) => `${tag}:${end}`);
  });
  return [...new Set<string>(found)].filter((ref) => indexOf.has(ref));
}
