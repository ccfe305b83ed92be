import type { RungAction, RungContact, RungElement, RungSeries } from './program.js';

/**
 * Where an element stands in a rung: places in series and branches by turns, from the outside in. `[1]` is
 * the second element of the series, `[1, 0, 2]` the third one of its first branch.
 */
export type ElementPath = readonly number[];

/** A contact in its place on a grid of columns and rows. */
export interface PlacedContact {
  readonly path: ElementPath;
  readonly contact: RungContact;
  readonly column: number;
  readonly row: number;
}

interface PlacedAction {
  readonly index: number;
  readonly action: RungAction;
  readonly row: number;
}

/** A line of the ladder, in columns and rows. */
interface LadderLine {
  readonly from: readonly [column: number, row: number];
  readonly to: readonly [column: number, row: number];
}

/** A rung as it is drawn: contacts from the left rail, what it does at the right. */
export interface LadderRung {
  readonly columns: number;
  readonly rows: number;
  readonly contacts: readonly PlacedContact[];
  readonly actions: readonly PlacedAction[];
  readonly lines: readonly LadderLine[];
}

/** Draws a rung on a grid: a series from left to right, branches below each other (IEC 61131-3). */
export function ladderRung(when: RungSeries, then: readonly RungAction[]): LadderRung {
  const ladder = new Ladder();
  const columns = Math.max(1, widthOf(when));
  ladder.series(when, [], 0, 0, columns);
  const rows = Math.max(heightOf(when), then.length, 1);
  if (then.length > 1) ladder.line([columns, 0], [columns, then.length - 1]);
  return {
    columns,
    rows,
    contacts: ladder.contacts,
    lines: ladder.lines,
    actions: then.map((action, index) => ({ index, action, row: index })),
  };
}

const widthOf = (series: RungSeries): number =>
  series.reduce((sum, element) => sum + ('any' in element ? Math.max(1, ...element.any.map(widthOf)) : 1), 0);

const heightOf = (series: RungSeries): number =>
  Math.max(
    1,
    ...series.map((element) =>
      'any' in element ? element.any.reduce((sum, branch) => sum + heightOf(branch), 0) : 1,
    ),
  );

class Ladder {
  readonly contacts: PlacedContact[] = [];
  readonly lines: LadderLine[] = [];

  line(from: LadderLine['from'], to: LadderLine['to']): void {
    this.lines.push({ from, to });
  }

  /** A series from a column to another; what is left of the way is line. */
  series(series: RungSeries, path: ElementPath, column: number, row: number, end: number): void {
    let at = column;
    series.forEach((element, k) => {
      const width = widthOf([element]);
      this.element(element, [...path, k], at, row, at + width);
      at += width;
    });
    if (at < end) this.line([at, row], [end, row]);
  }

  private element(element: RungElement, path: ElementPath, column: number, row: number, end: number): void {
    if (!('any' in element)) {
      this.contacts.push({ path, contact: element, column, row });
      return;
    }
    let at = row;
    element.any.forEach((branch, k) => {
      this.series(branch, [...path, k], column, at, end);
      if (k < element.any.length - 1) {
        const next = at + heightOf(branch);
        this.line([column, at], [column, next]);
        this.line([end, at], [end, next]);
        at = next;
      }
    });
  }
}

// Edits.

/** The series at a path of even length: the rung's own, or that of a branch. */
function changedAt(
  series: RungSeries,
  path: ElementPath,
  change: (series: RungSeries, place: number) => RungSeries,
): RungSeries {
  const [place = 0, branch, ...rest] = path;
  if (branch === undefined) return change(series, place);
  return series.map((element, k) =>
    k === place && 'any' in element
      ? { any: element.any.map((one, b) => (b === branch ? changedAt(one, rest, change) : one)) }
      : element,
  );
}

/** Puts an element in behind another, or at the beginning where none is named. */
export const insertedAfter = (
  series: RungSeries,
  path: ElementPath | null,
  element: RungElement,
): RungSeries =>
  path === null || path.length === 0
    ? [element, ...series]
    : changedAt(series, path, (list, place) => list.toSpliced(place + 1, 0, element));

/** Puts an element in parallel with another: as one more branch where that is alone in one already. */
export function branchedAt(series: RungSeries, path: ElementPath, element: RungElement): RungSeries {
  return changedAt(series, path, (list, place) =>
    list.map((one, k) => {
      if (k !== place) return one;
      return 'any' in one ? { any: [...one.any, [element]] } : { any: [[one], [element]] };
    }),
  );
}

export const replacedAt = (series: RungSeries, path: ElementPath, element: RungElement): RungSeries =>
  changedAt(series, path, (list, place) => list.with(place, element));

/** Takes an element away; a branch that is left empty goes with it, and one that is left alone is plain. */
export const removedAt = (series: RungSeries, path: ElementPath): RungSeries =>
  tidied(changedAt(series, path, (list, place) => list.toSpliced(place, 1)));

function tidied(series: RungSeries): RungSeries {
  return series.flatMap((element): RungSeries => {
    if (!('any' in element)) return [element];
    const branches = element.any.map(tidied).filter((branch) => branch.length > 0);
    return branches.length < 2 ? (branches[0] ?? []) : [{ any: branches }];
  });
}

/** The element at a path; null where there is none. */
export function elementAt(series: RungSeries, path: ElementPath): RungElement | null {
  const [place = 0, branch, ...rest] = path;
  const element = series[place];
  if (!element) return null;
  if (branch === undefined) return element;
  return 'any' in element ? elementAt(element.any[branch] ?? [], rest) : null;
}

/** A program after one of its variables has another name. */
export function renamed<P>(program: P, from: string, to: string): P {
  const swap = (text: string) => (text === from ? to : text === `${from}.Q` ? `${to}.Q` : text);
  const within = (value: unknown, key = ''): unknown => {
    if (typeof value === 'string')
      return key === 'comment' || key === 'title' || key === 'at' ? value : swap(value);
    if (Array.isArray(value)) return value.map((one) => within(one));
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, within(one, name)]));
  };
  return within(program) as P;
}
