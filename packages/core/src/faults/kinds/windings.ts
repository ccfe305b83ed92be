import { contactEnds } from '../../catalogue/index.js';
import { splitRef } from '../../bench/index.js';
import type { Circuit, Element } from '../../circuit/index.js';
import { at, withElement, type FaultAt, type FaultForm } from '../fault.js';

/** `"M1:U1-U2"`: the two ends of a winding. */
const windingEnds = (place: string): { readonly tag: string; readonly ends: readonly string[] } => {
  const { tag, terminal } = splitRef(place);
  return { tag, ends: terminal.includes('-') ? contactEnds(terminal) : [terminal] };
};

type Ends = Element['windings'][number];

/** A net inside a device that no terminal lies on; −1 is a star point. */
const INSIDE = -2;

const motorElement = (circuit: Circuit, tag: string): number =>
  circuit.elements.findIndex((one) => one.law.kind === 'motor' && one.tag === tag);

/** The motor's windings with one of them changed; null where the place names no winding. */
function changedWinding(
  circuit: Circuit,
  place: string,
  change: (ends: Ends, k: number) => Ends,
): Circuit | null {
  const { tag, ends } = windingEnds(place);
  const element = motorElement(circuit, tag);
  const motor = circuit.motors.find((one) => one.tag === tag);
  if (element < 0 || !motor || ends.length !== 2) return null;
  const names = ends.map((name) => circuit.indexOf.get(`${tag}:${name}`));
  const k = motor.windings.findIndex(([a, b]) => names.includes(a as never) && names.includes(b as never));
  if (k < 0 || names[0] === names[1]) return null;
  const one = circuit.elements[element]!;
  const windings = one.windings.map((winding, n) => (n === k ? change(winding, n) : winding));
  return withElement(circuit, element, { ...one, windings });
}

/** Lead U of a motor with three leads is broken inside: its windings meet without it. */
function withoutLead(circuit: Circuit, place: string): Circuit | null {
  const { tag } = windingEnds(place);
  const element = motorElement(circuit, tag);
  const lead = circuit.indexOf.get(place);
  const one = circuit.elements[element];
  if (!one || lead === undefined || !one.windings.some((ends) => ends.includes(lead))) return null;
  const inner = (end: number) => (end === lead ? INSIDE : end);
  const windings = one.windings.map(([a, b]): Ends => [inner(a), inner(b)]);
  return withElement(circuit, element, { ...one, windings });
}

const inOpenMotors = ({ motors, terminals }: Circuit): readonly FaultAt[] =>
  motors.flatMap(({ connection, windings }) =>
    connection === 'open' || connection === 'single'
      ? windings.map(([a, b]) => {
          const { tag, ends } = windingEnds(terminals[a]!);
          return at(`${tag}:${ends[0]!}-${windingEnds(terminals[b]!).ends[0]!}`);
        })
      : [],
  );

/** `"M1:U1-U2"`: the winding is broken; of a motor with three leads `"M1:U"`, the lead inside. */
export const windingOpen: FaultForm = {
  words: ({ place }) => `winding ${place} open`,
  apply: (circuit, { place }) =>
    changedWinding(circuit, place, ([a], k) => [a, INSIDE - k]) ?? withoutLead(circuit, place),
  possible: (circuit) => [
    ...inOpenMotors(circuit),
    ...circuit.motors.flatMap(({ connection, terminals }) =>
      connection === 'star' || connection === 'delta'
        ? terminals.map((terminal) => at(circuit.terminals[terminal]!))
        : [],
    ),
  ],
};

/** `"M1:U1-U2"`: the ends of the winding are exchanged inside. */
export const windingReversed: FaultForm = {
  words: ({ place }) => `winding ${place} reversed`,
  apply: (circuit, { place }) => changedWinding(circuit, place, ([a, b]) => [b, a]),
  possible: (circuit) =>
    inOpenMotors(circuit).filter(
      ({ place }) => circuit.motors.find(({ tag }) => tag === windingEnds(place).tag)?.connection === 'open',
    ),
};
