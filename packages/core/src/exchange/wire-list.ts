import { type Bench, type TerminalRef, type Wire } from '../bench/index.js';
import { wireListTable, wireOfLead, plannedLeads } from '../planning/index.js';
import { numberIn, readCsv, writeCsv, type CsvRow, type Preview } from './csv.js';

/** The wire list of a bench. */
export function writeWireList(bench: Bench): string {
  const { columns, rows } = wireListTable(plannedLeads(bench));
  return writeCsv(columns, rows);
}

/** The wires that a wire list of a bench describes. */
export const listedWires = (bench: Bench): Wire[] => plannedLeads(bench).map(wireOfLead);

/** A terminal as people write it: `KM1 13`, `KM1:13`, `KM1.13`, `KM1/13`. */
function refOf(cell: string, known: ReadonlySet<string>): TerminalRef | null {
  const plain = cell.replace(/\s+/g, ' ').trim();
  // A terminal may have a point in its name (`A1 Q0.0`): whatever comes first may stand between.
  const places = [...plain.matchAll(/[ ./]/g)].map(({ index }) => index);
  for (const one of [plain, ...places.map((k) => `${plain.slice(0, k)}:${plain.slice(k + 1)}`)])
    if (known.has(one)) return one as TerminalRef;
  return null;
}

/** Reads leads of a board with these terminals; each line that names none of them says so. */
export function readWireList(text: string, terminals: Iterable<string>): Preview<Wire> {
  const known = new Set<string>(terminals);
  return readCsv<Wire>(text, ['from', 'to'], (row) => {
    const from = refOf(row.from ?? '', known);
    const to = refOf(row.to ?? '', known);
    if (!from) return { problem: `“${row.from ?? ''}” is no terminal of this board` };
    if (!to) return { problem: `“${row.to ?? ''}” is no terminal of this board` };
    if (from === to) return { problem: 'both ends are the same terminal' };
    return wireFrom(row, from, to);
  });
}

function wireFrom(
  { colour = '', color = '', area = '', number = '', length = '' }: CsvRow,
  from: TerminalRef,
  to: TerminalRef,
): { value: Wire } | { problem: string } {
  const numbers: Record<string, number> = {};
  for (const [key, cell] of Object.entries({ area, length })) {
    if (cell === '') continue;
    const value = numberIn(cell);
    if (value === null || value <= 0) return { problem: `${key} “${cell}” is no number above 0` };
    numbers[key] = value;
  }
  const words = { colour: colour || color, number };
  const said = Object.fromEntries(Object.entries(words).filter(([, value]) => value !== ''));
  return { value: { from, to, ...said, ...numbers } };
}
