import type { Device } from '../catalogue/index.js';
import { anatomy } from '../catalogue/index.js';

/** `TAG:TERMINAL`. */
export type TerminalRef = `${string}:${string}`;

/** A conductor between two terminals. */
export interface Wire {
  readonly from: TerminalRef;
  readonly to: TerminalRef;
  /** IEC 60757 name or code. */
  readonly colour?: string | undefined;
  /** mm2 */
  readonly area?: number | undefined;
  /** Ferrule text. */
  readonly number?: string | undefined;
  /** Metres. */
  readonly length?: number | undefined;
}

export interface Interlock {
  readonly kind: 'mechanical';
  readonly between: readonly string[];
}

/** Most wires that a board takes. */
export const MOST_WIRES = 600;

/** A trainer board: its supply, its devices and its wires. */
export interface Bench {
  readonly contactum: 'bench/1';
  readonly title: string;
  readonly devices: readonly Device[];
  readonly wires: readonly Wire[];
  readonly interlocks: readonly Interlock[];
}

export function terminalRef(tag: string, terminal: string): TerminalRef {
  return `${tag}:${terminal}`;
}

/** Splits a terminal into its device's tag and its own name. */
export function splitRef(ref: string): { tag: string; terminal: string } {
  const colon = ref.indexOf(':');
  return { tag: ref.slice(0, colon), terminal: ref.slice(colon + 1) };
}

/** A terminal as it is spoken: `KM1 13`. */
export const spellRef = (ref: string): string => ref.replace(':', ' ');

/** The same for a lead whichever of its ends is named first. */
export const endsOf = ({ from, to }: Pick<Wire, 'from' | 'to'>): string => [from, to].sort().join(' ');

/** A lead as it is spoken, by its ends: `KM1 13 – S2 14`. */
export const spellWire = ({ from, to }: Pick<Wire, 'from' | 'to'>): string =>
  `${spellRef(from)} – ${spellRef(to)}`;

/** Every terminal of a bench, in the order of its devices. */
export function terminalsOf(bench: Pick<Bench, 'devices'>): TerminalRef[] {
  return bench.devices.flatMap((device) =>
    anatomy(device).terminals.map(({ name }) => terminalRef(device.tag, name)),
  );
}

export function deviceOf(bench: Bench, tag: string): Device | undefined {
  return bench.devices.find((device) => device.tag === tag);
}

/** Something wrong in a document, and the JSON path where it stands. */
export interface Problem {
  readonly path: string;
  readonly message: string;
}

/** Conductors on each terminal that has any. */
export function conductorsByTerminal(wires: readonly Wire[]): Map<TerminalRef, number> {
  const count = new Map<TerminalRef, number>();
  for (const wire of wires) {
    for (const end of [wire.from, wire.to]) count.set(end, (count.get(end) ?? 0) + 1);
  }
  return count;
}
