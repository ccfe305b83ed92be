import { wiredBoard, benchOf, type Bench } from '../../bench/index.js';
import { Suspects, describeObservation } from '../../diagnosis/index.js';
import {
  criteriaOf,
  grade,
  markedBy,
  referenceBench,
  type Evidence,
  type Exercise,
  type Judged,
  type PhysicalFindings,
  type Report,
} from '../../marking/index.js';
import type { SheetEntries } from './entries.js';
import { PROPERTY_IDS, propertyTitle } from '../../proof/index.js';
import { observedOn, withSettings, type Observed } from './observed.js';
import type { BenchSheet, SheetCheck, SheetFunction } from './sheet.js';
import { explain } from './suspects.js';

const NOT_TESTED: Evidence = { found: 'was not tested on the board' };
/** Criteria of work practice that the sheet itself answers. */
const DEAD_TEST = 'workmanship/dead-test';
const PERMISSION = 'workmanship/permission';

/** Who has signed a sheet by an act of their own; undefined where nobody has. */
export interface Signatures {
  readonly isolatedBy: string | undefined;
  readonly permittedBy: string | undefined;
}

/**
 * Entries with the signatures that were really given. A name that was only typed, and a check that says that
 * permission was given, count for nothing without one.
 */
export function signedEntries(entries: SheetEntries, { isolatedBy, permittedBy }: Signatures): SheetEntries {
  const { [PERMISSION]: said, ...checks } = entries.checks;
  const kept = said === undefined || (said && permittedBy === undefined) ? {} : { [PERMISSION]: said };
  return { ...entries, isolatedBy, permittedBy, checks: { ...checks, ...kept } };
}

/**
 * Marks a physical board by what was entered at it, with the criteria, points and conditions of the same
 * exercise on the screen: a function keeps its points up to the first row that was otherwise or was not
 * tried; safety, rules and workmanship count as they were judged at the board. Where the wiring was entered
 * too, and nothing that was read contradicts it, what nobody judged by eye is judged on that wiring.
 */
export function markSheet(exercise: Exercise, sheet: BenchSheet, entries: SheetEntries): Report {
  const observed = observedOn(exercise.bench, sheet, entries);
  const wired = entries.asWired ? enteredBench(exercise, entries) : null;
  const contradictions = wired ? contradictionsOf(wired, observed) : [];
  const byWiring =
    wired && contradictions.length === 0 ? grade(exercise, wired, { log: [], faults: false }) : null;
  const of = (part: SheetCheck['part']): Judged[] =>
    sheet.checks
      .filter((check) => check.part === part)
      .map((check) => judgeCheck(check, sheet, entries, observed, byWiring));
  const judged = {
    behaviour: sheet.functions.map((one, k) => judgeFunction(one, entries, exercise.behaviours[k]!.points)),
    safety: of('safety').filter(({ id }) => !exercise.lesson?.some((lesson) => lesson === id)),
    rules: of('rules'),
    workmanship: of('workmanship'),
  };
  const properties = judged.safety.flatMap(({ id, broken }) => {
    const property = PROPERTY_IDS.find((one) => one === id);
    return property
      ? [
          {
            id: property,
            holds: broken === null || broken === NOT_TESTED,
            tested: broken !== NOT_TESTED,
            trace: [],
            found: broken?.found ?? '',
          },
        ]
      : [];
  });
  const wrong = observed.filter(({ right }) => !right);
  const untested = properties.find(({ tested }) => !tested);
  // Nobody signs for a board on which a reading stands that should be another.
  const dead = wrong.find(({ observation }) => observation.dead);
  const against =
    (untested ? `“${propertyTitle(untested.id)}” was not tested` : null) ??
    (dead ? `${dead.place} reads otherwise than a right board` : null);
  return {
    ...markedBy(exercise, criteriaOf(exercise, judged), properties, (usual) => usual ?? against),
    proof: { complete: false, states: 0, situations: 0 },
    equivalence: { equivalent: false, complete: false, pairs: 0, counterexample: null },
    incidents: [],
    tolerance: null,
    physical: findingsOf({ exercise, sheet, entries, observed, wrong, contradictions, byWiring }),
  };
}

/** The exercise's board with the leads and settings that were entered. */
function enteredBench(exercise: Exercise, { asWired = [], settings }: SheetEntries): Bench {
  return withSettings(benchOf(wiredBoard(exercise.bench, asWired)), settings);
}

function judgeFunction(
  { id, title, essential, rows }: SheetFunction,
  entries: SheetEntries,
  weight: number,
): Judged {
  const seen = entries.functions[id] ?? {};
  const first = rows.findIndex((_, k) => seen[String(k)] !== 'as expected');
  if (first < 0) return { id, title, weight, essential, broken: null };
  const row = rows[first]!;
  const otherwise = seen[String(first)];
  const after = row.does.length > 0 ? `after ${row.does.join(', ')} ` : '';
  const found =
    otherwise === undefined || otherwise === 'as expected'
      ? `row ${first + 1} was not tried on the board`
      : `${after}${Object.entries(otherwise)
          .map(([what, value]) => `${what} was ${value}`)
          .join(', ')}; it should be ${row.expected}`;
  const steps = rows.slice(0, first + 1).flatMap((one) => one.steps);
  return { id, title, weight, essential, broken: { found, steps }, kept: first / Math.max(1, rows.length) };
}

function judgeCheck(
  { part, id, title, points, essential = false }: SheetCheck,
  sheet: BenchSheet,
  entries: SheetEntries,
  observed: readonly Observed[],
  byWiring: Report | null,
): Judged {
  const key = `${part}/${id}`;
  const base = { id, title, weight: points, ...(essential ? { essential } : {}) };
  if (key === DEAD_TEST) return { ...base, ...deadTestsMade(sheet, observed) };
  const said = entries.checks[key] ?? (key === PERMISSION && entries.permittedBy ? true : undefined);
  if (said === true) return { ...base, broken: null };
  if (said === false) return { ...base, broken: { found: 'was found otherwise at the board' } };
  const criterion = byWiring?.criteria.find((one) => one.part === part && one.id === id);
  if (!criterion) return { ...base, broken: NOT_TESTED };
  return {
    ...base,
    broken: criterion.evidence,
    kept: criterion.max > 0 ? criterion.points / criterion.max : 0,
  };
}

function deadTestsMade(
  { deadTests }: BenchSheet,
  observed: readonly Observed[],
): Pick<Judged, 'broken' | 'kept'> {
  const made = observed.filter(({ observation }) => observation.dead);
  const right = made.filter((one) => one.right).length;
  const all = deadTests.tests.length;
  if (right === all) return { broken: null };
  if (made.length === 0) return { broken: NOT_TESTED };
  return {
    broken: { found: `${made.length} of ${all} dead tests were made, ${right} as they should be` },
    kept: right / all,
  };
}

/** Observations that the wiring as it was entered does not show, each with what it shows. */
function contradictionsOf(wired: Bench, observed: readonly Observed[]): PhysicalFindings['contradictions'] {
  const board = new Suspects({ bench: wired, behaviours: [] }, []);
  return observed.flatMap(({ place, observation }) => {
    if (board.explains([], observation)) return [];
    const simulated = board.show(board.worked([], observation), observation).join(', ');
    return [{ place, entered: describeObservation(observation), simulated }];
  });
}

function findingsOf({
  exercise,
  sheet,
  entries,
  observed,
  wrong,
  contradictions,
  byWiring,
}: {
  exercise: Exercise;
  sheet: BenchSheet;
  entries: SheetEntries;
  observed: readonly Observed[];
  wrong: readonly Observed[];
  contradictions: PhysicalFindings['contradictions'];
  byWiring: Report | null;
}): PhysicalFindings {
  const board = withSettings(referenceBench(exercise), entries.settings);
  const { suspects, next } =
    wrong.length === 0 ? { suspects: [], next: null } : explain(board, exercise.behaviours, observed);
  const rows = sheet.functions.reduce((sum, one) => sum + one.rows.length, 0);
  return {
    deviations: wrong.map(({ place, observation }) => ({ place, found: describeObservation(observation) })),
    contradictions,
    suspects,
    next,
    made: observed.length + Object.keys(entries.checks).length + Object.keys(entries.settings).length,
    of: sheet.deadTests.tests.length + rows + sheet.checks.length + sheet.settings.length,
    wiringEntered: byWiring !== null,
    remarks: entries.remarks ?? '',
  };
}
