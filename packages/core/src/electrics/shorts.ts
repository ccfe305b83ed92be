import type { Circuit, MechanicalState, TerminalIndex } from '../circuit/index.js';
import type { Short, ShortKind } from './electrical.js';
import type { Solver } from './solver.js';

/** A short circuit as a person would name it: what met, and the way the current takes. */
export interface ShortFound {
  readonly kind: ShortKind;
  /** Supply terminals that were joined. */
  readonly joined: readonly [string, string];
  /** Terminals along the shortest joining path, in order. */
  readonly path: readonly string[];
  /** Switchgear whose pole lies on the path. */
  readonly through: readonly string[];
}

/**
 * Names the nearest of the shorts in a contact state: for each pair of conductors the shortest joining path
 * by breadth-first search over wires, links and closed contacts, and of these the shortest.
 */
export function describeShort(solver: Solver, state: MechanicalState, shorts: readonly Short[]): ShortFound {
  const { circuit, conductors } = solver;
  const found = shorts.flatMap((short): ShortFound[] => {
    const from = conductors[short.a];
    const to = conductors[short.b];
    const way = from && to && shortestPath(circuit, state, from.terminal, to.terminal);
    if (!way) return [];
    return [
      {
        kind: kindOf(from.name, to.name),
        joined: [`${from.tag}:${from.name}`, `${to.tag}:${to.name}`],
        path: way.terminals.map((terminal) => circuit.terminals[terminal] as string),
        through: way.through,
      },
    ];
  });
  const [nearest] = found.sort((a, b) => a.path.length - b.path.length);
  if (!nearest) throw new Error('a short without a path that joins it');
  return nearest;
}

function kindOf(a: string, b: string): ShortKind {
  const names = [a, b];
  if (names.includes('+') || names.includes('-')) return 'dc-short';
  if (names.includes('PE')) return 'phase-to-earth';
  if (names.includes('N')) return 'phase-to-neutral';
  return 'phase-to-phase';
}

interface Edge {
  readonly to: number;
  readonly tag: string;
}

function shortestPath(circuit: Circuit, state: MechanicalState, from: TerminalIndex, to: TerminalIndex): { terminals: number[]; through: string[] } | null {
  const edges: Edge[][] = circuit.terminals.map(() => []);
  const join = (a: number, b: number, tag: string) => {
    edges[a]?.push({ to: b, tag });
    edges[b]?.push({ to: a, tag });
  };
  for (const { a, b } of circuit.conductors) join(a, b, '');
  for (const { a, b, mechanism, closedIn, tag } of circuit.switches) if (closedIn[state[mechanism] as number]) join(a, b, tag);
  const came = new Map<number, { from: number; tag: string }>([[from, { from: -1, tag: '' }]]);
  const queue: number[] = [from];
  for (const terminal of queue) {
    if (terminal === to) break;
    for (const edge of edges[terminal] ?? []) {
      if (came.has(edge.to)) continue;
      came.set(edge.to, { from: terminal, tag: edge.tag });
      queue.push(edge.to);
    }
  }
  const terminals: number[] = [];
  const through: string[] = [];
  for (let k: number = to; k >= 0;) {
    terminals.unshift(k);
    const step = came.get(k);
    if (!step) return null;
    if (step.tag && through[0] !== step.tag) through.unshift(step.tag);
    k = step.from;
  }
  return { terminals, through: [...new Set(through)] };
}
