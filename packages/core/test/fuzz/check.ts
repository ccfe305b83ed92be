import {
  compare,
  compile,
  prove,
  referenceBench,
  run,
  type Bench,
  type Exercise,
  type Property,
  type Step,
} from '@contactum/core';
import { withoutControllers, seeded } from '../help.js';
import { TooLarge, plainVerdicts, plainlyEquivalent } from './plain-checker.js';
import { wrongWiring } from './wrong-wirings.js';

/** What differs between the product and the plain checker, or does not replay. */
export interface Finding {
  readonly seed: number;
  readonly board: string;
  readonly what: 'verdict' | 'equivalence' | 'trace' | 'counterexample' | 'crash';
  readonly text: string;
}

export interface Checked {
  readonly findings: readonly Finding[];
  readonly traces: number;
  /** Too many situations for the plain checker. */
  readonly skipped: boolean;
}

const SHIPPED = withoutControllers();

/** One wrong board by its seed, proved and compared both ways. */
export function checkSeed(seed: number): Checked {
  const exercise = SHIPPED[seed % SHIPPED.length] as Exercise;
  const board = wrongWiring(exercise, seeded(seed));
  const findings: Finding[] = [];
  const find = (what: Finding['what'], text: string) =>
    findings.push({ seed, board: exercise.id, what, text });
  let traces = 0;
  try {
    const proof = prove(board);
    const plain = plainVerdicts(board);
    const broken = proof.properties.filter(({ holds }) => !holds);
    // The plain checker knows no heat.
    const ours = prove(board, { heatless: true }).properties.flatMap(({ id, holds }) =>
      holds ? [] : [id as string],
    );
    const odd = [
      ...ours.filter((id) => !plain.broken.has(id)).map((id) => `+${id}`),
      ...[...plain.broken].filter((id) => !ours.includes(id)).map((id) => `-${id}`),
    ];
    if (odd.length > 0 || !proof.complete) find('verdict', odd.join());
    const tested = proof.properties.find(({ id }) => id === 'stop-drops')?.tested;
    if (tested !== undefined && tested !== (plain.hasRun && !plain.isDead))
      find('verdict', `stop-drops tested: ${String(tested)}`);
    for (const property of broken) {
      traces += 1;
      if (!isShown(board, property)) find('trace', `${property.id}: ${JSON.stringify(property.trace)}`);
    }
    const { observe } = exercise;
    const reference = referenceBench(exercise);
    const { equivalent, counterexample } = compare(reference, board, { observe });
    if (equivalent !== plainlyEquivalent(reference, board, observe)) find('equivalence', String(equivalent));
    if (counterexample) {
      const { steps, expected, actual } = counterexample;
      const replays =
        Object.keys(expected).length > 0 &&
        run(reference, [...steps, { expect: expected }]).ok &&
        run(board, [...steps, { expect: actual }]).ok;
      if (!replays) find('counterexample', JSON.stringify(counterexample));
    }
    return { findings, traces, skipped: false };
  } catch (error) {
    if (error instanceof TooLarge) return { findings, traces, skipped: true };
    find('crash', String(error));
    return { findings, traces, skipped: false };
  }
}

/** Whether a run shows what a property's trace claims. */
function isShown(board: Bench, { id, trace, otherwise }: Property): boolean {
  const expects = (what: string, value: string) =>
    run(board, [...(trace as Step[]), { expect: { [what]: value } }]).ok;
  const { events, incidents } = run(board, trace);
  const motors = board.devices.filter(({ type }) => type === 'motor-3' || type === 'motor-1');
  const armatures = board.devices.filter(({ type }) => type === 'contactor' || type === 'relay');
  switch (id) {
    case 'earth-bonded':
      return true;
    case 'no-short':
      return expects('bench', 'short');
    case 'coil-voltage':
      return events.some(({ what }) => what.startsWith('volts('));
    case 'no-chatter':
      return incidents.some(({ kind }) => kind === 'chatter');
    case 'no-race': {
      const ends = (steps: readonly Step[]) =>
        armatures.map(({ tag }) => run(board, [...steps, { expect: { [tag]: 'in' } }]).ok).join();
      const moved = (steps: readonly Step[]) =>
        JSON.stringify(run(board, steps).events.map(({ what, state }) => `${what} ${state}`));
      return ends(trace) !== ends(otherwise ?? []) || moved(trace) !== moved(otherwise ?? []);
    }
    case 'full-phases':
    case 'overload-in-line':
      return motors.some(({ tag }) => !expects(`${tag}.driven`, 'none'));
    case 'dead-at-rest':
      return isLive(board, trace, motors) && armatures.every(({ tag }) => expects(tag, 'out'));
    case 'isolates':
      // What is closed to show it may meet something else on the way: then it is live with a bang.
      return (
        switchgearOpen(trace, board) && (isLive(board, trace, board.devices) || expects('bench', 'short'))
      );
    case 'earth-carries-nothing':
      return board.devices
        .filter(({ type }) => type === 'supply-3n' || type === 'supply-1n')
        .some(({ tag }) => !within(board, trace, `amps(${tag}:PE)`, 1e-4));
    // It shows in the wiring itself.
    case 'separate-secondary':
      return true;
    default:
      return motors.length > 0
        ? motors.some(({ tag }) => !expects(`${tag}.driven`, 'none'))
        : armatures.some(({ tag }) => expects(tag, 'in'));
  }
}

/** Whether a value stays below a limit after some steps. */
const within = (board: Bench, trace: Property['trace'], what: string, max: number): boolean =>
  run(board, [...(trace as Step[]), { expect: { [what]: { max } } }]).ok;

/** Whether some terminal of some devices has a voltage to earth after some steps. */
function isLive(
  board: Bench,
  trace: Property['trace'],
  devices: readonly Bench['devices'][number][],
): boolean {
  const supply = board.devices.find(({ type }) => type === 'supply-3n' || type === 'supply-1n');
  const { terminals } = compile(board);
  return devices.some(({ tag }) =>
    terminals
      .filter((ref) => ref.startsWith(`${tag}:`) && !/^(G|PS)\d*:/.test(ref))
      .some((ref) => !within(board, trace, `volts(${ref}, ${supply?.tag ?? ''}:PE)`, 40)),
  );
}

/** Every breaker, disconnector and fuse is opened on the way. */
const switchgearOpen = (trace: Property['trace'], { devices }: Bench): boolean =>
  devices
    .filter(({ type }) => type === 'breaker' || type === 'fuse' || type === 'disconnector')
    .every(({ tag }) => trace.some((step) => 'open' in step && step.open === tag));
