import {
  isClosed,
  type Circuit,
  type MechanicalState,
  type SupplyNode,
  type TerminalIndex,
  type Transformer,
} from '../circuit/index.js';
import type { Electrical, Short, ShortKind } from './electrical.js';
import type { Solver } from './solver.js';
import { LEAST_FAULT_OHMS } from '../tolerances.js';

/**
 * A short circuit as a person would name it: what met, the way the current takes, and what could clear it.
 */
export interface ShortFound {
  readonly kind: ShortKind;
  /** Terminals of different potential that were joined. */
  readonly joined: readonly [string, string];
  /** Terminals along the shortest joining path, in order. */
  readonly path: readonly string[];
  /** Devices with a pole in the way of the current, and the amperes that flow there. */
  readonly through: readonly { readonly tag: string; readonly amps: number }[];
  /** Supplies that feed it. */
  readonly supplies: readonly string[];
}

/** True where a contact state joins two potentials, at the supplies or on a transformer's secondary. */
export const isShorted = ({ shorts, shortedTransformers }: Electrical): boolean =>
  shorts.length + shortedTransformers.length > 0;

/**
 * Names the nearest short in a contact state: for each pair of conductors the shortest joining path by
 * breadth-first search over wires, links and closed contacts, and of these the shortest.
 */
export function describeShort(solver: Solver, state: MechanicalState, electrical: Electrical): ShortFound {
  const edges = waysBetween(solver.circuit, state);
  const found = [
    ...electrical.shorts.flatMap((short) => supplyShort(solver, edges, short)),
    ...electrical.shortedTransformers.flatMap((k) => {
      const transformer = solver.circuit.transformers[k];
      return transformer ? secondaryShort(solver, edges, transformer) : [];
    }),
  ];
  const [nearest] = found.sort((a, b) => a.path.length - b.path.length);
  if (!nearest) throw new Error('a short without a path that joins it');
  return nearest;
}

function supplyShort(solver: Solver, edges: Edges, short: Short): ShortFound[] {
  const from = solver.network.supplyNodes[short.a];
  const to = solver.network.supplyNodes[short.b];
  const way = from && to && shortestPath(edges, from.terminal, [to.terminal]);
  if (!way) return [];
  const amps = prospectiveAmps(solver, from, to);
  return [
    {
      kind: kindOf(from.name, to.name),
      joined: [`${from.tag}:${from.name}`, `${to.tag}:${to.name}`],
      path: named(solver.circuit, way.terminals),
      through: way.through.map((tag) => ({ tag, amps })),
      supplies: [...new Set([from.tag, to.tag])],
    },
  ];
}

/** A shorted secondary draws its short-circuit current there, and its ratio's part of it from the supply. */
function secondaryShort(
  solver: Solver,
  edges: Edges,
  { primary, secondary, secondaryVoltage, ratio, series }: Transformer,
): ShortFound[] {
  const way = shortestPath(edges, secondary[0], [secondary[1]]);
  if (!way) return [];
  const amps = secondaryVoltage / Math.max(series.ohms, LEAST_FAULT_OHMS);
  const feeding = solver.network.supplyNodes.filter(({ source }) => source >= 0);
  const upstream = primary.flatMap((end) => {
    const path = shortestPath(
      edges,
      end,
      feeding.map(({ terminal }) => terminal),
    );
    return path ? [path] : [];
  });
  const [a, b] = secondary.map((terminal) => solver.circuit.terminals[terminal] as string);
  return [
    {
      kind: 'phase-to-neutral',
      joined: [a ?? '', b ?? ''],
      path: named(solver.circuit, way.terminals),
      through: [
        ...way.through.map((tag) => ({ tag, amps })),
        ...upstream.flatMap(({ through }) => through.map((tag) => ({ tag, amps: amps / ratio }))),
      ],
      supplies: [
        ...new Set(
          upstream.flatMap(({ terminals }) =>
            feeding.filter(({ terminal }) => terminal === terminals.at(-1)).map(({ tag }) => tag),
          ),
        ),
      ],
    },
  ];
}

function kindOf(a: string, b: string): ShortKind {
  const names = [a, b];
  if (names.includes('+') || names.includes('-')) return 'dc-short';
  if (names.includes('PE')) return 'phase-to-earth';
  if (names.includes('N')) return 'phase-to-neutral';
  return 'phase-to-phase';
}

/** Fault current between two supply conductors, amperes, from the supply's own impedance. */
function prospectiveAmps(solver: Solver, a: SupplyNode, b: SupplyNode): number {
  const specs = [a, b].flatMap(({ source }) => solver.circuit.sources[source] ?? []);
  const ohms = specs.reduce(
    (sum, spec) => sum + Math.hypot(spec.ohms, 2 * Math.PI * spec.frequency * spec.henries),
    0,
  );
  const amps = Math.hypot(a.re - b.re, a.im - b.im) / Math.max(ohms, LEAST_FAULT_OHMS);
  return Math.min(amps, ...specs.map(({ currentLimit }) => currentLimit));
}

interface Edge {
  readonly to: number;
  readonly tag: string;
}

type Edges = readonly Edge[][];

const named = (circuit: Circuit, terminals: readonly number[]) =>
  terminals.map((terminal) => circuit.terminals[terminal] as string);

function waysBetween(circuit: Circuit, state: MechanicalState): Edges {
  const edges: Edge[][] = circuit.terminals.map(() => []);
  const join = (a: number, b: number, tag: string) => {
    edges[a]?.push({ to: b, tag });
    edges[b]?.push({ to: a, tag });
  };
  for (const { a, b } of circuit.conductors) join(a, b, '');
  // N and PE are one node at the source.
  for (const terminal of circuit.earthed.slice(1)) join(circuit.earthed[0] as number, terminal, '');
  for (const contact of circuit.switches)
    if (isClosed(contact, state)) join(contact.a, contact.b, contact.tag);
  return edges;
}

/** Shortest way from a terminal to any of some others, and the devices whose contacts it passes. */
function shortestPath(
  edges: Edges,
  from: TerminalIndex,
  goals: readonly TerminalIndex[],
): { terminals: number[]; through: string[] } | null {
  const came = new Map<number, { from: number; tag: string }>([[from, { from: -1, tag: '' }]]);
  const queue: number[] = [from];
  const wanted = new Set<number>(goals);
  let end = -1;
  for (const terminal of queue) {
    if (wanted.has(terminal)) {
      end = terminal;
      break;
    }
    for (const edge of edges[terminal] ?? []) {
      if (came.has(edge.to)) continue;
      came.set(edge.to, { from: terminal, tag: edge.tag });
      queue.push(edge.to);
    }
  }
  if (end < 0) return null;
  const terminals: number[] = [];
  const through: string[] = [];
  for (let k = end; k >= 0;) {
    terminals.unshift(k);
    const step = came.get(k);
    if (!step) return null;
    if (step.tag) through.unshift(step.tag);
    k = step.from;
  }
  return { terminals, through: [...new Set(through)] };
}
