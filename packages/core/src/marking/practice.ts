import { applyEdit, foldEdits, splitRef, type Bench, type Edit } from '../bench/index.js';
import { anatomy } from '../catalogue/index.js';
import type { Stimulus } from '../circuit/index.js';
import { LiveBench } from '../live/index.js';
import type { Incident } from '../simulation/index.js';
import type { DeadTest, Practice } from './exercise.js';
import type { Evidence } from './report.js';
import type { RuleVerdict } from './rules.js';

/** What was done at the bench during an attempt, in order; seconds from its beginning, never running back. */
export type WorkEvent = { readonly t: number } & (
  | { readonly kind: 'edit'; readonly edit: Edit }
  | { readonly kind: 'supply'; readonly on: boolean }
  | { readonly kind: 'act'; readonly stimulus: Stimulus }
  /** The ohmmeter laid on two terminals. */
  | { readonly kind: 'reading'; readonly from: string; readonly to: string }
  | { readonly kind: 'permission' }
  | { readonly kind: 'hand-in' }
);

/** What a replay of the work found: nothing of it is taken from anybody's word. */
export interface WorkFindings {
  /** The board was switched on; the reading and editing before it are those up to this place of the log. */
  readonly energised: readonly { readonly t: number; readonly at: number; readonly permitted: boolean }[];
  readonly incidents: readonly Incident[];
  readonly readings: readonly Reading[];
}

export interface Reading {
  readonly t: number;
  /** Place in the log. */
  readonly at: number;
  readonly between: readonly [string, string];
  /** Buttons that were held, in order of their tags. */
  readonly held: readonly string[];
  /** Infinity where nothing joins the two. */
  readonly ohms: number;
  /** With every supply off. */
  readonly dead: boolean;
}

/** Longest time that is worked through between two acts, seconds: what is to happen to a board has happened by then. */
const LONGEST_PAUSE = 600;
/** Ohms up to which two terminals are joined by wires and contacts alone. */
const JOINED = 1;

/** Works a board again through everything that was logged, on a bench of one's own. */
export function replayWork(board: Bench, log: readonly WorkEvent[]): WorkFindings {
  const live = new LiveBench();
  const locked = board.wires.length;
  const energised: { t: number; at: number; permitted: boolean }[] = [];
  const incidents: Incident[] = [];
  const readings: Reading[] = [];
  const held = new Set<string>();
  let bench = board;
  let permitted = false;
  let before = 0;
  // A wiring is put on the bench when something is done with it: of a hundred edits in a row the last one counts.
  let isLoaded = false;
  log.forEach((event, at) => {
    if (!isLoaded && event.kind !== 'edit') {
      live.load(bench);
      isLoaded = true;
    }
    live.advance(Math.min(LONGEST_PAUSE, Math.max(0, event.t - before)));
    before = Math.max(before, event.t);
    switch (event.kind) {
      case 'edit': {
        const result = applyEdit(bench, event.edit, locked);
        if (!result.ok) throw new Error(`log[${at}]: ${result.reason}`);
        bench = result.bench;
        permitted = false;
        isLoaded = false;
        held.clear();
        break;
      }
      case 'supply':
        if (event.on && !live.isSupplied) energised.push({ t: event.t, at, permitted });
        switchSupplies(live, event.on);
        break;
      case 'act': {
        noteHeld(held, event.stimulus);
        live.act(event.stimulus);
        live.settle();
        break;
      }
      case 'reading':
        readings.push({
          t: event.t,
          at,
          between: [event.from, event.to],
          held: [...held].sort(),
          ohms: live.ohms(event.from, event.to),
          dead: !live.isSupplied,
        });
        break;
      case 'permission':
        permitted = true;
        break;
      case 'hand-in':
    }
    // What a board suffered while somebody worked it is told at the time of the log.
    for (const incident of live.news().incidents) incidents.push({ ...incident, t: event.t });
  });
  return { energised, incidents, readings };
}

function switchSupplies(live: LiveBench, on: boolean): void {
  for (const { kind, device } of live.circuit?.mechanisms ?? []) {
    if (kind !== 'supply') continue;
    if (on) live.act({ reset: device.tag });
    live.act(on ? { close: device.tag } : { open: device.tag });
  }
  live.settle();
}

/** What the dead test of a board asks for: the exercise's table, or the frames' earth and the supply's conductors as the reference has them. */
export function deadTestsOf(practice: Practice, reference: Bench): readonly DeadTest[] {
  const { deadTest } = practice;
  if (deadTest === undefined || deadTest === false) return [];
  if (deadTest !== true) return deadTest;
  const live = new LiveBench();
  live.load(reference);
  const bodies = reference.devices.map((device) => ({ tag: device.tag, ...anatomy(device) }));
  const supplies = bodies
    .filter(({ sources }) => sources.length > 0)
    .map(({ tag, terminals }) => ({
      tag,
      names: terminals.map(({ name }) => name).filter((name) => name !== 'PE'),
    }));
  const frames = bodies.filter(({ motor }) => motor !== undefined);
  const pairs = [
    ...frames.map(({ tag }): DeadTest['between'] => [`${supplies[0]?.tag ?? ''}:PE`, `${tag}:PE`]),
    ...supplies.flatMap(({ tag, names }) =>
      names.flatMap((a, k) =>
        names.slice(k + 1).map((b): DeadTest['between'] => [`${tag}:${a}`, `${tag}:${b}`]),
      ),
    ),
  ];
  return pairs.map((between) => ({ between, hold: [], expect: expectedOf(live.ohms(...between)) }));
}

/** A value that a meter of moderate accuracy would call the same. */
function expectedOf(ohms: number): DeadTest['expect'] {
  if (!Number.isFinite(ohms)) return 'open';
  return ohms <= JOINED ? 'closed' : { min: 0.7 * ohms, max: 1.3 * ohms };
}

/** Keeps a set of the buttons that are held by what was done. */
export function noteHeld(held: Set<string>, stimulus: Stimulus): void {
  if ('press' in stimulus) held.add(stimulus.press);
  if ('release' in stimulus) held.delete(stimulus.release);
}

/** An ohmmeter's reading in words, to three figures. */
export const describeOhms = (ohms: number): string =>
  Number.isFinite(ohms) ? `${Number(ohms.toPrecision(3))} Ω` : 'no connection';

const isAsExpected = (ohms: number, expect: DeadTest['expect']): boolean =>
  expect === 'open'
    ? !Number.isFinite(ohms)
    : expect === 'closed'
      ? ohms <= JOINED
      : ohms >= (expect.min ?? 0) && ohms <= (expect.max ?? Number.MAX_VALUE);

/** True where a reading is one that a table asks for. */
export function isReadingOf(
  { between, hold }: Pick<DeadTest, 'between' | 'hold'>,
  reading: Pick<Reading, 'between' | 'held'>,
): boolean {
  const ends = (pair: readonly string[]) => [...pair].sort().join();
  return (
    ends(between) === ends(reading.between) && [...hold].sort().join() === [...reading.held].sort().join()
  );
}

/** Work practice as the exercise asks for it, judged from the log of an attempt worked again. */
export function judgePractice(
  practice: Practice,
  log: readonly WorkEvent[],
  { board, reference }: { readonly board: Bench; readonly reference: Bench },
): RuleVerdict[] {
  const verdicts: RuleVerdict[] = [];
  const findings = replayWork(board, log);
  const { energised, incidents } = findings;
  const never: Evidence | null = energised.length === 0 ? { found: 'the board was never energised' } : null;
  const tests = deadTestsOf(practice, reference);
  if (tests.length > 0)
    verdicts.push({
      id: 'dead-test',
      title: 'Dead test before the first energising',
      ...deadTest(tests, log, findings),
    });
  if (practice.permission) {
    const wrong = energised.filter(({ permitted }) => !permitted);
    const found = `energised without permission ${wrong.length === 1 ? 'once' : `${wrong.length} times`}, first${at(wrong[0])}`;
    verdicts.push({
      id: 'permission',
      title: 'Energised only with permission',
      broken: never ?? (wrong.length === 0 ? null : { found }),
    });
  }
  if (practice.incidents !== undefined) {
    const over = incidents.length - practice.incidents;
    const title =
      practice.incidents === 0
        ? 'No incident while working'
        : `At most ${practice.incidents} incidents while working`;
    const found = `${incidents.length} incidents: ${incidents
      .slice(0, 6)
      .map((incident) => `${incident.kind}${at(incident)}`)
      .join(', ')}`;
    if (never) verdicts.push({ id: 'incidents', title, broken: never });
    else
      verdicts.push(
        over > 0
          ? { id: 'incidents', title, broken: { found }, kept: 0.5 ** over }
          : { id: 'incidents', title, broken: null },
      );
  }
  if (practice.minutes !== undefined) {
    const first = log.find(({ kind }) => kind === 'edit');
    const last = log.at(-1);
    const used = first && last ? (last.t - first.t) / 60 : 0;
    const over = used - practice.minutes;
    const title = `Done within ${practice.minutes} minutes`;
    verdicts.push(
      over > 0
        ? {
            id: 'time',
            title,
            broken: { found: `${used.toFixed(0)} minutes were used` },
            kept: Math.max(0, 1 - over / practice.minutes),
          }
        : { id: 'time', title, broken: null },
    );
  }
  if (practice.wiringOrder) {
    const title =
      practice.wiringOrder === 'power-first'
        ? 'Power circuit wired before the control circuit'
        : 'Control circuit wired before the power circuit';
    verdicts.push({ id: 'wiring-order', title, ...wiringOrder(practice.wiringOrder, log, board) });
  }
  return verdicts;
}

const at = (event: { readonly t: number } | undefined): string =>
  event ? ` at ${Math.floor(event.t / 60)} min ${Math.floor(event.t % 60)} s` : '';

const testName = ({ between, hold }: DeadTest): string =>
  `${between.join(' to ')}${hold.length > 0 ? ` with ${hold.join(' and ')} held` : ''}`;

/** Every reading that is asked for, made dead on the wiring that was then energised, and right there. */
function deadTest(
  tests: readonly DeadTest[],
  log: readonly WorkEvent[],
  { energised, readings }: WorkFindings,
): Pick<RuleVerdict, 'broken' | 'kept'> {
  const until = energised[0]?.at ?? log.length;
  const changed = log.slice(0, until).findLastIndex(({ kind }) => kind === 'edit');
  const made = readings.filter((reading) => reading.dead && reading.at < until);
  const valid = made.filter((reading) => reading.at > changed);
  const missing: string[] = [];
  const ignored: string[] = [];
  for (const test of tests) {
    const last = valid.findLast((reading) => isReadingOf(test, reading));
    if (!last) missing.push(testName(test));
    else if (!isAsExpected(last.ohms, test.expect))
      ignored.push(`${testName(test)} read ${describeOhms(last.ohms)}`);
  }
  const wrong = missing.length + ignored.length;
  if (wrong === 0) return { broken: null };
  const stale =
    missing.length > 0 && valid.length < made.length ? 'the wiring was changed after a dead test; ' : '';
  const parts = [
    ...(missing.length > 0
      ? [
          `not tested: ${missing.slice(0, 4).join(', ')}${missing.length > 4 ? ` and ${missing.length - 4} more` : ''}`,
        ]
      : []),
    ...(ignored.length > 0 ? [`energised although ${ignored.join(', ')}`] : []),
  ];
  return {
    broken: {
      found: `${stale}${parts.join('; ')}${energised.length > 0 ? `; energised${at(energised[0])}` : ''}`,
    },
    kept: 1 - wrong / tests.length,
  };
}

const POWER = /^([1-6]|L[123]|[UVW][12]?)$/;
/** Which circuit a lead belongs to by its ends: power where both are main terminals. */
function circuitOf({ from, to }: { from: string; to: string }): 'power' | 'control' | null {
  if (from.endsWith(':PE') || to.endsWith(':PE')) return null;
  return [from, to].every((ref) => POWER.test(splitRef(ref).terminal)) ? 'power' : 'control';
}

/** Of the leads that stayed, those of the later circuit that went in before the last of the earlier one. */
function wiringOrder(
  order: 'power-first' | 'control-first',
  log: readonly WorkEvent[],
  bench: Bench,
): Pick<RuleVerdict, 'broken' | 'kept'> {
  const edits = log.flatMap((event) => (event.kind === 'edit' ? [event.edit] : []));
  const placed: { circuit: 'power' | 'control'; when: number; name: string }[] = [];
  const stays = new Set(
    foldEdits(bench, edits, bench.wires.length).wires.map(({ from, to }) => `${from} ${to}`),
  );
  edits.forEach((edit, when) => {
    const wire = edit.do === 'connect' ? edit.wire : edit.do === 'move' ? edit.to : null;
    const circuit = wire && circuitOf(wire);
    if (wire && circuit && stays.has(`${wire.from} ${wire.to}`))
      placed.push({ circuit, when, name: `${wire.from} to ${wire.to}` });
  });
  const first = order === 'power-first' ? 'power' : 'control';
  const lastOfFirst = Math.max(
    -1,
    ...placed.filter(({ circuit }) => circuit === first).map(({ when }) => when),
  );
  const later = placed.filter(({ circuit }) => circuit !== first);
  const early = later.filter(({ when }) => when < lastOfFirst);
  if (early.length === 0) return { broken: null };
  return {
    broken: {
      found: `${early.length} of ${later.length} leads of the other circuit went in before the ${first} circuit was complete, first ${early[0]?.name ?? ''}`,
    },
    kept: 1 - early.length / later.length,
  };
}
