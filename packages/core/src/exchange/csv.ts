import Papa from 'papaparse';

/** A line of a file that is taken, or why it is not. */
export interface ImportLine<T> {
  /** In the file, from 1. */
  readonly line: number;
  readonly text: string;
  readonly value: T | null;
  /** What is wrong; null where the line is taken. */
  readonly problem: string | null;
}

/** What a file would do, line by line. */
export interface Preview<T> {
  readonly lines: readonly ImportLine<T>[];
  /** What is wrong with the file as a whole; then no line is taken. */
  readonly problem: string | null;
}

/** Longest file of lines that is read. */
const MOST_LINES = 5_000;
/** What a table program would take for a formula is kept from that. */
const FORMULA = /^[=+@\t\r]|^-(?!\d*\.?\d+$)/;

/**
 * Writes rows under their columns; commas, quotation marks and line ends inside a cell are kept (RFC 4180,
 * from memory).
 */
export const writeCsv = (columns: readonly string[], rows: readonly (readonly string[])[]): string =>
  `${Papa.unparse(
    [columns, ...rows].map((row) => row.map((cell) => (FORMULA.test(cell) ? `'${cell}` : cell))),
    { newline: '\r\n' },
  )}\r\n`;

/** A row by the names of its columns, in small letters without their units. */
export type CsvRow = Readonly<Record<string, string>>;

const columnName = (title: string): string =>
  title
    .replace(/[,(].*$/, '')
    .trim()
    .toLowerCase();

/**
 * Reads a file with a line of column names; each further line becomes a value or says what is wrong with
 * it.
 */
export function readCsv<T>(
  text: string,
  needed: readonly string[],
  take: (row: CsvRow) => { readonly value: T } | { readonly problem: string },
): Preview<T> {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' });
  const [head, ...rows] = data;
  if (!head) return { lines: [], problem: 'the file is empty' };
  if (rows.length > MOST_LINES) return { lines: [], problem: `more than ${MOST_LINES} lines` };
  const names = head.map(columnName);
  const missing = needed.filter((name) => !names.includes(name));
  if (missing.length > 0)
    return { lines: [], problem: `the first line names no column “${missing.join('”, “')}”` };
  const lines = rows.map((cells, k): ImportLine<T> => {
    const row = Object.fromEntries(
      names.map((name, n) => {
        const cell = (cells[n] ?? '').trim();
        return [name, cell.startsWith("'") && FORMULA.test(cell.slice(1)) ? cell.slice(1) : cell];
      }),
    );
    const base = { line: k + 2, text: cells.join(', ') };
    if (cells.length > names.length) return { ...base, value: null, problem: 'has more cells than columns' };
    const taken = take(row);
    return 'value' in taken
      ? { ...base, value: taken.value, problem: null }
      : { ...base, value: null, problem: taken.problem };
  });
  return { lines, problem: null };
}

/** Values of the lines that are taken. */
export const takenOf = <T>({ lines }: Preview<T>): T[] =>
  lines.flatMap(({ value }) => (value === null ? [] : [value]));

/** A number of a cell; null where it is none. */
export function numberIn(cell: string): number | null {
  const value = Number(cell.replace(',', '.'));
  return cell.trim() === '' || !Number.isFinite(value) ? null : value;
}
