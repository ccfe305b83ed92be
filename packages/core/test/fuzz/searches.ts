/** Searches made at random: the true fault must explain everything that was really seen on its board. */
import {
  Eye,
  Suspects,
  compile,
  describeFaults,
  finished,
  possibleAt,
  possibleFaults,
  eliminate,
  referenceCircuitOf,
  visibleOf,
  type Bench,
  type Candidate,
  type Fault,
  type BoardObservation,
  type SearchEntry,
  type SearchEvent,
  type ReferenceCircuit,
  type Stimulus,
} from '@contactum/core';
import { withoutControllers, seeded, solverOf } from '../help.js';

const all = withoutControllers();
/** Boards that are worked quickly, and all. */
const [quick, every] = [all.filter(({ family }) => family !== 'star-delta'), all].map((list) =>
  list.map(referenceCircuitOf),
) as [ReferenceCircuit[], ReferenceCircuit[]];

type Random = () => number;

function pickerOf(random: Random) {
  return <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
}

/**
 * Which fault was dropped, or null; beside it some others of its board are candidates, or all where none
 * are named.
 */
export function droppedByFindings(seed: number, others?: number): string | null {
  const random = seeded(seed);
  const pick = pickerOf(random);
  const board = pick(others === undefined ? every : quick);
  const faults = possibleFaults(compile(board.bench));
  const truth: Candidate = [pick(faults)];
  const suspects = new Suspects(board, [truth, ...faults.slice(0, others).map((fault) => [fault])]);
  for (let n = 0; n < 4; n += 1) suspects.observe(findingOf(board, truth, random));
  return suspects.remaining.includes(truth) ? null : `seed ${seed}: ${describeFaults(truth)}`;
}

/** The same of a live search with several faults, and faults that come and go. */
export function droppedBySearch(seed: number, others?: number): string | null {
  const random = seeded(seed);
  const pick = pickerOf(random);
  const board = pick(others === undefined ? every : quick);
  const faults = possibleFaults(compile(board.bench));
  const when = random() < 0.25 ? { every: 2 } : random() < 0.2 ? { from: 1, to: 3, period: 4 } : undefined;
  const truth: Candidate = (random() < 0.2 ? [pick(faults), pick(faults)] : [pick(faults)]).map(
    (fault): Fault => (when ? { ...fault, when } : fault),
  );
  const log = randomSearch(board.bench, random);
  const beside = faults.slice(0, others).map((fault): Candidate => [fault]);
  const elimination = finished(eliminate(board.bench, truth, log, [truth, ...beside]));
  return possibleAt(elimination, log.length).includes(0) ? null : `seed ${seed}: ${describeFaults(truth)}`;
}

/** Some of the true fault's board: what a test of it would have shown. */
function findingOf(board: ReferenceCircuit, truth: Candidate, random: Random): BoardObservation {
  const pick = pickerOf(random);
  const solver = solverOf(board.bench);
  const { circuit } = solver;
  const eye = new Eye(circuit);
  const behaviour = pick(board.behaviours);
  const stimuli = behaviour.steps.filter((step): step is Stimulus => !('expect' in step));
  const steps = stimuli.slice(0, 1 + Math.floor(random() * stimuli.length));
  const suspects = new Suspects(board, [truth]);
  const kind = random();
  if (kind < 0.5) {
    const what = pick(visibleOf(circuit));
    const probe: BoardObservation = { steps, see: {} };
    const simulation = suspects.worked(truth, probe);
    return { steps, see: { [what]: eye.read(simulation, what) } };
  }
  const between = [pick(circuit.terminals), pick(circuit.terminals)] as [string, string];
  if (between[0] === between[1]) return findingOf(board, truth, random);
  const mode = kind < 0.75 ? 'volts' : 'ohms';
  const test: BoardObservation = {
    dead: mode === 'ohms',
    steps: mode === 'ohms' ? steps.slice(0, 1) : steps,
    meter: { mode, between: between as never },
  };
  const value = Number(eye.read(suspects.worked(truth, test), `${mode}(${between.join(', ')})`));
  return {
    ...test,
    read: Number.isFinite(value)
      ? { min: value - Math.abs(value) * 0.01 - 0.01, max: value + Math.abs(value) * 0.01 + 0.01 }
      : 'open',
  };
}

function randomSearch(bench: Bench, random: Random): SearchEvent[] {
  const pick = pickerOf(random);
  const { terminals } = compile(bench);
  const buttons = bench.devices.filter(({ type }) => type === 'pushbutton').map(({ tag }) => tag);
  const supplies = bench.devices.filter(({ type }) => type.startsWith('supply')).map(({ tag }) => tag);
  let t = 0;
  const events: SearchEvent[] = supplies.map((close) => ({ t: (t += 1), kind: 'act', stimulus: { close } }));
  for (let n = 0; n < 12; n += 1) {
    const kind = random();
    const entry: SearchEntry =
      kind < 0.35
        ? { kind: 'act', stimulus: random() < 0.5 ? { press: pick(buttons) } : { release: pick(buttons) } }
        : kind < 0.55
          ? { kind: 'read', request: { mode: 'volts', at: [pick(terminals), pick(terminals)] } }
          : kind < 0.65
            ? { kind: 'read', request: { mode: 'ohms', at: [pick(terminals), pick(terminals)] } }
            : kind < 0.75
              ? { kind: 'read', request: { mode: 'amps', lead: Math.floor(random() * bench.wires.length) } }
              : kind < 0.85
                ? { kind: random() < 0.5 ? 'lift' : 'refit', wire: Math.floor(random() * bench.wires.length) }
                : kind < 0.93
                  ? {
                      kind: 'act',
                      stimulus: random() < 0.5 ? { open: pick(supplies) } : { close: pick(supplies) },
                    }
                  : { kind: 'exchange', tag: pick(bench.devices).tag };
    events.push({ t: (t += 0.2 + 3 * random()), ...entry });
  }
  return events;
}
