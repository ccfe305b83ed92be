import type { Bench } from '../../bench/index.js';
import type { Device } from '../../catalogue/index.js';
import type { Stimulus } from '../../circuit/index.js';
import type { BoardObservation, Read } from '../../diagnosis/index.js';
import { expectedOhms, isOhmsExpected } from '../../marking/index.js';
import type { Expected } from '../../simulation/index.js';
import { holding } from '../dead-tests/index.js';
import { ohmsOf, type OhmsRead, type SheetEntries } from './entries.js';
import type { BenchSheet } from './sheet.js';

/** What was entered, as observations of a board, each with its place on the sheet. */
export interface Observed {
  readonly place: string;
  /** It is what a right board shows. */
  readonly right: boolean;
  readonly observation: BoardObservation;
}

const readOf = (read: OhmsRead): Read => (typeof read === 'number' ? expectedOhms(read) : read);

/** Everything that was read and seen, as observations of a fresh board. */
export function observedOn(
  bench: Pick<Bench, 'devices'>,
  sheet: BenchSheet,
  entries: SheetEntries,
): Observed[] {
  const dead = sheet.deadTests.tests.flatMap((test, k): Observed[] => {
    const read = entries.dead[String(k)];
    if (read === undefined) return [];
    return [
      {
        place: `dead test ${k + 1}`,
        right: isOhmsExpected(ohmsOf(read), test.expect),
        observation: {
          dead: true,
          steps: holding(bench, test.hold),
          meter: { mode: 'ohms', between: test.between },
          read: readOf(read),
        },
      },
    ];
  });
  const functions = sheet.functions.flatMap(({ id, title, rows }) => {
    const steps: Stimulus[] = [];
    const own = entries.functions[id] ?? {};
    // After the first row that is otherwise it is another test: what was entered of it says nothing of the
    // rest.
    const last = rows.findIndex((_, k) => typeof own[String(k)] === 'object');
    return rows.slice(0, last < 0 ? rows.length : last + 1).flatMap((row, k): Observed[] => {
      steps.push(...row.steps);
      const seen = own[String(k)];
      if (seen === undefined) return [];
      const right = seen === 'as expected';
      // Of a row that was otherwise only what was said of it is known.
      const see: Readonly<Record<string, Expected>> = right ? row.expect : seen;
      return [{ place: `${title}, row ${k + 1}`, right, observation: { steps: [...steps], see } }];
    });
  });
  return [...dead, ...functions];
}

/** The board as its settings were read. */
export function withSettings(bench: Bench, settings: SheetEntries['settings']): Bench {
  const read = Object.entries(settings).map(([key, value]) => {
    const dot = key.lastIndexOf('.');
    return { tag: key.slice(0, dot), own: { [key.slice(dot + 1)]: value } };
  });
  return {
    ...bench,
    devices: bench.devices.map((device) =>
      read
        .filter(({ tag }) => tag === device.tag)
        .reduce(
          (before, { own }) => ({ ...before, settings: { ...before.settings, ...own } }) as Device,
          device,
        ),
    ),
  };
}
