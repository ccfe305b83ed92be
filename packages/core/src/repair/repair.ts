import type { RepairEdit, Repair, RepairTask, RepairOptions } from './task.js';
import type { Bench, Wire } from '../bench/index.js';
import { programOf, withProgram } from '../catalogue/index.js';
import { compile, heatersOf, wiredTogether } from '../circuit/index.js';
import { Solver } from '../electrics/index.js';
import { runSteps } from '../simulation/index.js';
import { firstLost } from './first-lost.js';
import { storyOf } from './checkpoints.js';
import { repairProgram } from './program.js';
import { Search, editsKey } from './search.js';

const MOST = 3;
const LIST = 24;
const EFFORT = 1_000_000;
const LISTING = 4_000;
/**
 * The fewest edits that make a wiring behave rightly and hold every safety property. Each wiring is judged
 * first at checkpoints, the settled moments of the exercise's behaviours, and by what earlier wirings
 * failed in; what it fails to do says which wires or potentials an edit must touch, so only such edits are
 * tried, one deeper at a time. What no checkpoint refuses is proved and tried in full.
 */
export function repair(task: RepairTask, options: RepairOptions = {}): Repair {
  if (!task.program) return repairWiring(task, options);
  const asItIs = repairWiring(task, { ...options, most: 0 });
  if (asItIs.found) return asItIs;
  const { excused } = storyOf(task);
  // A program that does on the right board what is asked is not at fault.
  if (task.program === 'too' && isRight(task, withPrograms(task.reference, task.bench), excused))
    return repairWiring(task, options);
  const program = repairProgram(task, excused, options);
  const isEnough = program !== null && program.repairs.length > 0;
  // Where its program alone makes it right, or is all that may be changed, no lead is looked at.
  const wiring = isEnough || task.program === 'alone' ? asItIs : repairWiring(task, options);
  return program ? { ...wiring, program } : wiring;
}

/** A board with the programs of another one. */
const withPrograms = (board: Bench, other: Pick<Bench, 'devices'>): Bench => ({
  ...board,
  devices: board.devices.map((device) =>
    withProgram(device, programOf(other.devices.find(({ tag }) => tag === device.tag))),
  ),
});

/** Whether a board does what is asked and holds every property that the reference holds. */
function isRight({ behaviours }: RepairTask, bench: Bench, excused: ReadonlySet<string>): boolean {
  const solver = new Solver(compile(bench));
  return (
    behaviours.every((steps) => runSteps(solver, steps, { untilWrong: true }).ok) &&
    firstLost(solver, excused).lost === null
  );
}

function repairWiring(
  task: RepairTask,
  {
    most = MOST,
    list = LIST,
    stop = () => false,
    watch = () => undefined,
    effort = EFFORT,
    listing = LISTING,
  }: RepairOptions = {},
): Repair {
  const search = new Search(task, { list, stop, watch, effort, listing });
  const verdicts = new Map<string, boolean>();
  const confirmed = (edits: readonly RepairEdit[]): boolean => {
    const key = editsKey(edits);
    const verdict =
      verdicts.get(key) ??
      (search.passed(wiresAfter(task.bench.wires, edits)) || isConfirmed(task, search.excused, edits));
    verdicts.set(key, verdict);
    return verdict;
  };
  const known = search.towardsReference();
  const limit = Math.min(most, known.length);
  for (let cost = 0; cost <= limit; cost += 1) {
    // What the reference joins is always a repair: at as many edits others are only listed beside it.
    const asReference = cost === known.length && confirmed(known) ? known : null;
    const found = search.look(cost, asReference).filter(confirmed);
    const { more, tried, stopped } = search;
    const byReference = asReference !== null || (stopped && known.length <= most && confirmed(known));
    const repairs = fewest(task, [...found, ...(byReference ? [known] : [])], confirmed);
    if (repairs.length > 0 || stopped)
      return {
        found: repairs.length > 0,
        repairs,
        more,
        searched: stopped ? Math.max(0, cost - 1) : (repairs[0]?.length ?? cost),
        tried,
        stopped,
      };
  }
  return { found: false, repairs: [], more: false, searched: limit, tried: search.tried, stopped: false };
}

/**
 * The shortest of some repairs, each once: without edits that change nothing, and without those that are
 * not needed.
 */
function fewest(
  task: RepairTask,
  repairs: readonly (readonly RepairEdit[])[],
  confirmed: (edits: readonly RepairEdit[]) => boolean,
): (readonly RepairEdit[])[] {
  const [first, ...others] = repairs.map((edits) => withoutIdle(task, edits));
  if (!first) return [];
  const least = needed(first, confirmed);
  const all = [least, ...others];
  const length = Math.min(...all.map((edits) => edits.length));
  const once = new Map(
    all.filter((edits) => edits.length === length).map((edits) => [editsKey(edits), edits] as const),
  );
  return [...once.values()];
}

/** Edits without those that leave everything joined as it is without them. */
function withoutIdle(task: RepairTask, edits: readonly RepairEdit[]): readonly RepairEdit[] {
  const joints = (list: readonly RepairEdit[]) => jointsAfter(task, list);
  const idle = edits.findIndex((_, k) => joints(edits) === joints(edits.toSpliced(k, 1)));
  return idle < 0 ? edits : withoutIdle(task, edits.toSpliced(idle, 1));
}

/** Edits without those that are not needed for the repair. */
function needed(
  edits: readonly RepairEdit[],
  confirmed: (edits: readonly RepairEdit[]) => boolean,
): readonly RepairEdit[] {
  const more = edits.findIndex((_, k) => confirmed(edits.toSpliced(k, 1)));
  return more < 0 ? edits : needed(edits.toSpliced(more, 1), confirmed);
}

/** What wires and inner links join after some edits, as one text; the two ends of a heater count as two. */
function jointsAfter({ bench }: RepairTask, edits: readonly RepairEdit[]): string {
  const circuit = compile({ ...bench, wires: wiresAfter(bench.wires, edits) });
  const heaters = heatersOf(circuit);
  const conductors = circuit.conductors.filter((conductor) => !heaters.includes(conductor));
  const sets = wiredTogether({ ...circuit, conductors });
  return circuit.terminals.map((_, k) => sets.find(k)).join();
}

/**
 * Whether the repaired board itself does what is asked. The search works on the board's potentials, where
 * one end of a heater is as good as the other and an edit may be written down in more than one way; what it
 * lists is worked and proved.
 */
function isConfirmed(task: RepairTask, excused: ReadonlySet<string>, edits: readonly RepairEdit[]): boolean {
  const { bench } = task;
  return isRight(task, { ...bench, wires: wiresAfter(bench.wires, edits) }, excused);
}

const joins = (one: Wire, other: Wire): boolean =>
  (one.from === other.from && one.to === other.to) || (one.from === other.to && one.to === other.from);

function wiresAfter(wires: readonly Wire[], edits: readonly RepairEdit[]): Wire[] {
  const left = [...wires];
  for (const edit of edits) {
    const gone = 'remove' in edit ? edit.remove : 'move' in edit ? edit.move : null;
    const k = gone ? left.findIndex((wire) => joins(wire, gone)) : -1;
    if (k >= 0) left.splice(k, 1);
    if ('add' in edit) left.push(edit.add);
    if ('move' in edit) left.push(edit.to);
  }
  return left;
}
