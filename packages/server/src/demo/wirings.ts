import type { TerminalRef, Wire } from '@contactum/core';

/** Numbers in [0, 1) from a seed: a linear congruential generator with the constants of Numerical Recipes. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

/** A slip of the kind that learners make. */
export type Slip = (wires: readonly Wire[], random: () => number) => Wire[];

const joins = (wire: Wire, ref: string) => wire.from === ref || wire.to === ref;
const other = (wire: Wire, ref: string) => (wire.from === ref ? wire.to : wire.from);
const without = (ref: string) => (wires: readonly Wire[]) => wires.filter((wire) => !joins(wire, ref));
const moved = (from: string, to: TerminalRef) => (wires: readonly Wire[]) =>
  wires.map((wire) => (joins(wire, from) ? { ...wire, from: other(wire, from), to } : wire));

function swapped(a: TerminalRef, b: TerminalRef): Slip {
  const place = (ref: TerminalRef) => (ref === a ? b : ref === b ? a : ref);
  return (wires) => wires.map((wire) => ({ ...wire, from: place(wire.from), to: place(wire.to) }));
}

export const SLIPS: Readonly<Record<string, readonly Slip[]>> = {
  'button-lamp-no': [
    without('H1:X2'),
    (wires) => [...wires, { from: 'S1:13', to: 'S1:14', colour: 'red', area: 0.75 }],
  ],
  'brine-pump-three-wire': [
    without('KM1:14'),
    without('KM1:13'),
    // Sealed from before Stop: it will not stop.
    (wires) => [...moved('KM1:13', 'F2:96')(wires)],
    swapped('G1:L1', 'G1:L2'),
    without('M1:PE'),
    without('KM1:A2'),
    // The fuse left out.
    (wires) =>
      wires.map((wire) => (joins(wire, 'F1:2') ? { ...wire, from: other(wire, 'F1:2'), to: 'Q1:2' } : wire)),
    (wires) => [...without('M1:W')(wires)],
    (wires) => [...wires, { from: 'S2:13', to: 'S2:14', colour: 'red', area: 1 }],
    (wires) => [
      ...moved('F2:95', 'S1:21')(without('F2:96')(wires)),
      { from: 'F2:95', to: 'F2:96', colour: 'red', area: 1 },
    ],
  ],
  'salt-harrow-electrical-interlock': [
    // Interlock contacts bridged or left out.
    (wires) => [
      ...wires,
      { from: 'KM1:21', to: 'KM1:22', colour: 'red', area: 1 },
      { from: 'KM2:21', to: 'KM2:22', colour: 'red', area: 1 },
    ],
    (wires) => [...wires, { from: 'KM2:21', to: 'KM2:22', colour: 'red', area: 1 }],
    without('KM2:14'),
    without('M1:PE'),
    swapped('KM2:2', 'KM2:6'),
    swapped('S2:14', 'S3:14'),
    without('KM2:A2'),
  ],
};
