import Papa from 'papaparse';

/** Most students of one list. */
const MOST_LINES = 1_000;

/** Headings of lists as offices and gradebooks write them, by what they mean (common practice, no source). */
const HEADINGS: Readonly<Record<'name' | 'first' | 'last' | 'login' | 'group', readonly string[]>> = {
  name: ['name', 'full name', 'student', 'student name'],
  first: ['first name', 'given name', 'forename'],
  last: ['last name', 'surname', 'family name'],
  login: ['login', 'user', 'username', 'user name', 'sign-in', 'id', 'student id', 'email', 'e-mail'],
  group: ['group', 'section', 'set'],
};

/** A student as a line of a list names one; what it says may still be empty. */
export interface ListedStudent {
  /** In the file, from 1. */
  readonly line: number;
  readonly name: string;
  readonly login: string;
  readonly group: string;
}

/** Reads a list of students: with a line of headings in any order, or name, login and group in this order. */
export function readClassList(
  text: string,
): { readonly students: readonly ListedStudent[] } | { readonly problem: string } {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: false });
  const rows = data.map((cells, k) => ({ line: k + 1, cells: cells.map((cell) => cell.trim()) }));
  const filled = rows.filter(({ cells }) => cells.some((cell) => cell !== ''));
  const [head, ...rest] = filled;
  if (!head) return { problem: 'has no line' };
  if (filled.length > MOST_LINES) return { problem: `has more than ${MOST_LINES} lines` };
  const at = (what: keyof typeof HEADINGS) =>
    head.cells.findIndex((cell) => HEADINGS[what].includes(cell.toLowerCase()));
  const columns = {
    name: at('name'),
    first: at('first'),
    last: at('last'),
    login: at('login'),
    group: at('group'),
  };
  const isHeaded = columns.login >= 0 && (columns.name >= 0 || columns.last >= 0);
  if (!isHeaded)
    return {
      students: filled.map(({ line, cells: [name = '', login = '', group = ''] }) => ({
        line,
        name,
        login,
        group,
      })),
    };
  const cell = (cells: readonly string[], k: number) => (k < 0 ? '' : (cells[k] ?? ''));
  return {
    students: rest.map(({ line, cells }) => ({
      line,
      name: cell(cells, columns.name) || `${cell(cells, columns.first)} ${cell(cells, columns.last)}`.trim(),
      login: cell(cells, columns.login),
      group: cell(cells, columns.group),
    })),
  };
}
