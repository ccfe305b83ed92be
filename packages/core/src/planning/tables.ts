import { spellRef } from '../bench/index.js';
import type { DeadTest } from '../marking/index.js';
import type { ControllerPaper } from './controllers.js';
import type { DeadTestTable } from './dead-tests/index.js';
import type { PlannedLead } from './leads.js';
import type { Materials } from './materials.js';
import type { WiringOrder } from './order.js';
import type { SequenceTable } from './sequence.js';
import type { TerminalPlan } from './terminals.js';

/** A table as it is read on the screen, on paper and in a file of commas. */
export interface PaperTable {
  readonly title: string;
  readonly columns: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

const metres = (value: number): string => value.toFixed(2);

export const materialsTable = ({ devices }: Materials): PaperTable => ({
  title: 'Bill of materials: devices',
  columns: ['Quantity', 'Device', 'Rating', 'Contacts', 'Designations', 'Spare contacts'],
  rows: devices.map(({ quantity, name, rating, contacts, tags, spare }) => [
    String(quantity),
    name,
    rating,
    contacts,
    tags.join(', '),
    spare.join(', '),
  ]),
});

export const leadMaterialsTable = ({ leads }: Materials): PaperTable => ({
  title: 'Bill of materials: leads and ferrules',
  columns: ['Colour', 'Area, mm²', 'Leads', 'Length, m', 'Ferrules'],
  rows: leads.map(({ colour, area, leads: count, metres: length, ferrules }) => [
    colour,
    String(area),
    String(count),
    metres(length),
    String(ferrules),
  ]),
});

export const WIRE_LIST_COLUMNS = [
  'No',
  'From',
  'To',
  'Number',
  'Colour',
  'Area, mm²',
  'Length, m',
  'Circuit',
] as const;

export const wireListTable = (leads: readonly PlannedLead[]): PaperTable => ({
  title: 'Wire list',
  columns: WIRE_LIST_COLUMNS,
  rows: leads.map(({ n, from, to, number, colour, area, length, circuit }) => [
    String(n),
    spellRef(from),
    spellRef(to),
    number,
    colour,
    String(area),
    metres(length),
    circuit,
  ]),
});

/** An order of wiring with a box to strike off each lead. */
export const orderTable = ({ habit, leads, parts, walk }: WiringOrder): PaperTable => ({
  title: `Wiring order ${habit}: the hand goes ${metres(walk)} m`,
  columns: ['Done', 'Step', 'Where', 'From', 'To', 'Number', 'Colour', 'Length, m'],
  rows: leads.map(({ from, to, number, colour, length }, k) => [
    '☐',
    String(k + 1),
    parts.find(({ at }) => at === k)?.title ?? '',
    spellRef(from),
    spellRef(to),
    number,
    colour,
    metres(length),
  ]),
});

/** Every screw that has a lead; those of a device are together. */
export const terminalsTable = (plans: readonly TerminalPlan[]): PaperTable => ({
  title: 'Terminal plan',
  columns: ['Device', 'Terminal', 'First lead', 'Second lead', 'Others'],
  rows: plans.flatMap(({ tag, terminals }) =>
    terminals
      .filter(({ leads }) => leads.length > 0)
      .map(({ terminal, leads }) => {
        const [first = '', second = '', ...others] = leads.map(
          ({ number, to, colour }) => `${number}, ${colour}, to ${spellRef(to)}`,
        );
        return [tag, terminal, first, second, others.join('; ')];
      }),
  ),
});

/** Inputs and outputs of a controller, as they are wired and named. */
export const inputOutputTable = ({ tag, places }: ControllerPaper): PaperTable => ({
  title: `Inputs and outputs of ${tag}`,
  columns: ['Variable', 'Address', 'Device', 'Terminal', 'Lead', 'Comment'],
  rows: places.map(({ variable, at, to, leads, comment }) => [
    variable,
    at,
    to,
    `${tag} ${at}`,
    leads.join('; '),
    comment,
  ]),
});

const rungWords = (rungs: readonly number[]): string => (rungs.length === 0 ? '–' : rungs.join(', '));

/** Where each variable of a program is written and read. */
export const crossReferenceTable = ({
  tag,
  variables,
}: Pick<ControllerPaper, 'tag' | 'variables'>): PaperTable => ({
  title: `Cross references of ${tag}`,
  columns: ['Variable', 'What', 'Written in rung', 'Read in rung', 'Comment'],
  rows: variables.map(({ name, what, written, read, comment }) => [
    name,
    what,
    rungWords(written),
    rungWords(read),
    comment,
  ]),
});

/** The tables of a controller; the second one only where it has a program. */
export const controllerTables = (paper: ControllerPaper): PaperTable[] => [
  inputOutputTable(paper),
  ...(paper.program ? [crossReferenceTable(paper)] : []),
];

/** One function, act by act; what did not change is left empty. */
export const sequenceTables = ({ columns, parts }: SequenceTable): PaperTable[] =>
  parts.map(({ title, rest, rows }) => ({
    title: `Sequence: ${title}`,
    columns: ['Act', ...columns],
    rows: [
      ['supply on', ...rest],
      ...rows.map(({ does, states }, k) => {
        const before = k === 0 ? rest : rows[k - 1]!.states;
        return [does, ...states.map((state, n) => (state === before[n] ? '' : state))];
      }),
    ],
  }));

/** What a dead test expects, in words. */
export function expectedWords(expect: DeadTest['expect'], ohms: number): string {
  if (typeof expect === 'string') return expect;
  return `about ${Number(ohms.toPrecision(2))} Ω (${Number((expect.min ?? 0).toPrecision(2))} to ${Number((expect.max ?? 0).toPrecision(2))})`;
}

export const deadTestsTable = ({ tests }: DeadTestTable): PaperTable => ({
  title: 'Dead tests',
  columns: ['No', 'From', 'To', 'Meanwhile', 'Right', 'Read', 'Proves'],
  rows: tests.map(({ between, held, expect, ohms, leads, others }, k) => [
    String(k + 1),
    spellRef(between[0]),
    spellRef(between[1]),
    held || '–',
    expectedWords(expect, ohms),
    '',
    [
      leads.length > 0 ? `leads ${leads.join('; ')}` : '',
      others > 0 ? `${others} wrong or crossed leads` : '',
    ]
      .filter(Boolean)
      .join('; and '),
  ]),
});
