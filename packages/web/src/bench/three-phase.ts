import { anatomy, isSupply, splitRef, type Bench, type Device, type TerminalRef } from '@contactum/core';

/** Terminals of a device that go with three lines, in order: one side of its poles, its windings, its conductors. */
function triples(device: Device): readonly (readonly string[])[] {
  const { contacts, heaters, terminals, motor } = anatomy(device);
  const poles = contacts.filter(({ role }) => role === 'pole');
  const windings = motor ? terminals.filter(({ role }) => role === 'winding').map(({ name }) => name) : [];
  const lines = isSupply(device)
    ? terminals.filter(({ role }) => role === 'feed').map(({ name }) => name)
    : [];
  return [
    poles.map(({ a }) => a),
    poles.map(({ b }) => b),
    heaters.map(([a]) => a),
    heaters.map(([, b]) => b),
    windings.slice(0, 3),
    windings.slice(3, 6),
    lines,
  ].filter((names) => names.length === 3);
}

interface Place {
  readonly tag: string;
  readonly names: readonly string[];
  readonly at: number;
}

function placeOf({ devices }: Bench, ref: TerminalRef): Place | null {
  const { tag, terminal } = splitRef(ref);
  const device = devices.find((one) => one.tag === tag);
  const names = device && triples(device).find((list) => list.includes(terminal));
  return names ? { tag, names, at: names.indexOf(terminal) } : null;
}

/** Two terminals that a lead joins. */
export interface Ends {
  readonly from: TerminalRef;
  readonly to: TerminalRef;
}

/**
 * The leads that go with one between two terminals of three lines, itself first: the next line to the next
 * pole, and so round. A lead between other terminals goes alone.
 */
export function threeLeads(bench: Bench, { from, to }: Ends): readonly Ends[] {
  const [a, b] = [placeOf(bench, from), placeOf(bench, to)];
  if (!a || !b || a.tag === b.tag) return [{ from, to }];
  const turned = ({ names, at }: Place) => [...names.slice(at), ...names.slice(0, at)];
  const ends = turned(b);
  return turned(a).map((name, k) => ({ from: `${a.tag}:${name}`, to: `${b.tag}:${ends[k] ?? ''}` }));
}

/** Of the leads that go with one that is laid: those whose terminals have no lead between them yet. */
export function companions(bench: Bench, ends: Ends): readonly Ends[] {
  const isFree = (ref: TerminalRef) => bench.wires.every(({ from, to }) => from !== ref && to !== ref);
  const others = threeLeads(bench, ends).slice(1);
  return others.every(({ to }) => isFree(to)) ? others : [];
}
