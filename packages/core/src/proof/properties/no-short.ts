import { wiredTerminals, type MechanicalState } from '../../circuit/index.js';
import { describeShort, isShorted } from '../../electrics/index.js';
import type { Judging } from '../judging.js';
import { DANGER, type Lead, type PropertyRule } from './property.js';

export const noShort: PropertyRule = {
  title: 'No order of working it makes a short circuit',
  weight: DANGER,
  applies: ({ sources }) => sources.length > 0,
  tested({ circuit }) {
    const wired = wiredTerminals(circuit);
    return circuit.sources.some(({ terminal }) => wired.has(terminal));
  },
  suspects: (_, { outcome }) => outcome.short,
  lead: findShort,
};

/** Names the nearest short on the way of a stimulus. */
export function findShort(
  search: Judging,
  { started, from, by }: Pick<Lead, 'started' | 'from' | 'by'>,
): void {
  const { exploration, decisions, solver } = search;
  // A sequence that is worked in time may come by when a fuse has cleared it: the solver is asked, not what
  // was kept.
  const goal = (state: MechanicalState) =>
    decisions.shorted(state) && isShorted(solver.at(state)) && !search.isCleared?.(state);
  const at = exploration.wayTo(started, goal)?.state;
  if (!at) return;
  const { kind, joined, path } = describeShort(solver, at, solver.at(at));
  const way = path.length > 2 ? ` through ${path.slice(1, -1).join(', ')}` : '';
  search.violate(
    'no-short',
    from,
    { stimulus: by, started: started.slice(), goal },
    `${kind} short: ${joined[0]} meets ${joined[1]}${way}`,
    (simulation) => simulation.hasShorted,
  );
}
