import { isIn, type Circuit, type MechanicalState, type Stimulus } from '../../circuit/index.js';
import { directed, isSame, worked } from '../directed.js';
import type { Judging } from '../judging.js';
import { NUISANCE, type Lead, type PropertyRule } from './property.js';

export const noRace: PropertyRule = {
  title: 'No outcome hangs on which armature is quicker',
  weight: NUISANCE,
  applies: ({ coils }) => coils.length > 0,
  tested: ({ hasEnergised }) => hasEnergised,
  suspects: (search, { outcome: { ends }, by }) =>
    ends.length > 1 && by !== null && search.startsHeld(search.exploration.state(ends[0]!)) <= 1,
  lead: findRace,
};

function armaturesIn({ coils }: Circuit, state: MechanicalState): string {
  const tags = coils.filter(({ mechanism }) => isIn(state[mechanism]!)).map(({ tag }) => tag);
  return tags.length > 0 ? `${tags.join(', ')} in` : 'nothing in';
}

/**
 * One stimulus, at most one start held, and two ends: told with the order that the devices' own travel
 * would not take.
 */
function findRace(search: Judging, { outcome, started, from, by }: Lead): void {
  const { exploration, solver, circuit } = search;
  const states = outcome.ends.map((end) => exploration.state(end));
  if (!by) return;
  const before = search.segments(from);
  const tried = states.map((state) => {
    const goal = (other: MechanicalState) => isSame(state, other);
    const segments = [...before.segments, { stimulus: by, started: started.slice(), goal }];
    return directed(solver, exploration, { root: before.root, segments }, (simulation) =>
      goal(simulation.state),
    );
  });
  const plain = tried.find(({ steps }) => steps.at(-1)?.first === undefined) ?? tried[0];
  const others = tried.filter((one) => one !== plain);
  // Each sequence is worked in time once.
  const ends = new Map<readonly Stimulus[], MechanicalState>();
  const endOf = (steps: readonly Stimulus[]): MechanicalState => {
    const end = ends.get(steps) ?? worked(solver, steps).state;
    ends.set(steps, end);
    return end;
  };
  const differs = ({ steps }: (typeof tried)[number]) =>
    plain !== undefined && !isSame(endOf(plain.steps), endOf(steps));
  const other = others.find((one) => one.shown && differs(one)) ?? others.find(differs) ?? others[0];
  const named = new Set(states.map((state) => `{ ${armaturesIn(circuit, state)} }`));
  search.note(
    'no-race',
    {
      trace: other?.steps ?? [],
      found: `ends with ${[...named].join(' or ')}, as one or another is quicker`,
      ...(plain ? { otherwise: plain.steps } : {}),
    },
    { shown: other !== undefined && differs(other), burns: tried.some((one) => one.burns) },
  );
}
