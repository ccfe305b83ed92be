import { without } from '../without.js';
import type { Bench, Wire } from './bench.js';

/**
 * Name of a lead on its board: `f3` the third that was fitted, `w12` the twelfth that was laid. It stays
 * the same whatever else is wired.
 */
export type LeadId = `${'f' | 'w'}${number}`;

/** A conductor on a board that is worked at. */
export interface Lead extends Wire {
  readonly id: LeadId;
  /** By the instructor: it stays where it is. */
  readonly fitted: boolean;
}

/** A bench that is wired lead by lead; its leads stand in order of their names. */
export interface Wiring extends Bench {
  readonly wires: readonly Lead[];
  /** Programs of its controllers are written as it is worked at. */
  readonly programmable?: boolean;
}

/** The number in a lead's name. */
export const leadNumber = (id: LeadId): number => Number(id.slice(1));

/** The name of the nth lead that is laid. */
export const laidLead = (n: number): LeadId => `w${n}`;

/** A board before anybody has wired it: its own wires are fitted. */
export const fittedBoard = (bench: Bench): Wiring => ({
  ...bench,
  wires: bench.wires.map((wire, k) => ({ ...wire, id: `f${k + 1}`, fitted: true })),
});

/** The board with some wires laid on it, one after the other. */
export const wiredBoard = (board: Bench, wires: readonly Wire[]): Wiring => {
  const fitted = fittedBoard(board);
  const laid = wires.map((wire, k): Lead => ({ ...wire, id: laidLead(k + 1), fitted: false }));
  return { ...fitted, wires: [...fitted.wires, ...laid] };
};

/** The bench as its document has it: its leads without their names. */
export const benchOf = (wiring: Wiring): Bench => ({
  ...without(wiring, 'programmable'),
  wires: wiring.wires.map(wireOf),
});

/** A lead as a wire of a document. */
export function wireOf({ from, to, colour, area, number, length }: Wire): Wire {
  return {
    from,
    to,
    ...(colour === undefined ? {} : { colour }),
    ...(area === undefined ? {} : { area }),
    ...(number === undefined ? {} : { number }),
    ...(length === undefined ? {} : { length }),
  };
}

export const leadOf = ({ wires }: Wiring, id: LeadId): Lead | undefined =>
  wires.find((lead) => lead.id === id);

/** Fitted leads come first, then those that were laid, each in order of their numbers. */
export const comesBefore = (one: LeadId, other: LeadId): boolean =>
  one[0] === other[0] ? leadNumber(one) < leadNumber(other) : one.startsWith('f');
