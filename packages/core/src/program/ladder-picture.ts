import { ladderRung, type ElementPath } from './ladder.js';
import {
  blockWords,
  examined,
  isConnected,
  kindOfAction,
  kindOfContact,
  variableOf,
  workedBy,
  type ActionKind,
  type ContactKind,
  type Program,
  type Rung,
  type RungAction,
} from './program.js';

/** Sizes of a rung as it is painted, pixels. */
const LETTER = 7;
const NARROWEST = 78;
const WIDEST = 150;
const ROW = 58;
const RAIL = 14;
/** From the top of a row down to its line. */
const MIDDLE = 30;
const DOES = 116;
/** Half the gap of a contact, of a coil, and half the width of a block. */
const GAP = 6.5;
const BRACKET = 12;
const BLOCK = 46;

const CONTACT_LETTERS: Readonly<Record<ContactKind, string>> = { no: '', nc: '', rising: 'P', falling: 'N' };
const COIL_LETTERS: Readonly<Partial<Record<ActionKind, string>>> = { negated: '/', set: 'S', reset: 'R' };

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A contact, coil or block of a rung with its lines as SVG path data, and what is written at it. */
interface PicturedPart {
  /** Where it can be pointed at. */
  readonly box: Box;
  /** The middle of its line. */
  readonly at: readonly [x: number, y: number];
  readonly strokes: string;
  /** The box of a timer or counter. */
  readonly block: Box | null;
  /** Within the symbol: an edge's or coil's letter, or a block with its preset. */
  readonly letter: string;
  readonly name: string;
  /** The name as it finds room. */
  readonly shown: string;
  /** Below it: the address, or what resets a counter. */
  readonly below: string;
}

export interface PicturedContact extends PicturedPart {
  readonly path: ElementPath;
  readonly kind: ContactKind;
}

export interface PicturedAction extends PicturedPart {
  readonly index: number;
  readonly kind: ActionKind;
}

/** A rung as it is painted on the screen and on paper. */
export interface LadderPicture {
  readonly width: number;
  readonly height: number;
  /** Where the rails stand. */
  readonly rails: readonly [left: number, right: number];
  /** Lines between the parts, as SVG path data. */
  readonly lines: string;
  readonly contacts: readonly PicturedContact[];
  readonly actions: readonly PicturedAction[];
}

/** Above its line, in the middle, and below it: where a part's words stand. */
export const WORDS_AT = { name: -15, letter: 4, below: 23 } as const;

/** Width of a column: the longest name of a program, that short names leave no gaps. */
function columnOf({ variables }: Program): number {
  const longest = Math.max(0, ...variables.map(({ name }) => name.length));
  return Math.min(Math.max(LETTER * longest + 16, NARROWEST), WIDEST);
}

/** A name as it finds room in a column. */
function shortened(name: string, column: number): string {
  const most = Math.floor((column - 8) / LETTER);
  return name.length <= most ? name : `${name.slice(0, most - 1)}…`;
}

/** Paints a rung: contacts from the left rail, what it does at the right (IEC 61131-3, from memory). */
export function ladderPicture(program: Program, { when, then }: Rung): LadderPicture {
  const { columns, rows, contacts, actions, lines } = ladderRung(when, then);
  const wide = columnOf(program);
  const x = (column: number) => RAIL + column * wide;
  const y = (row: number) => row * ROW + MIDDLE;
  const width = x(columns) + DOES + RAIL;
  return {
    width,
    height: rows * ROW,
    rails: [RAIL, width - RAIL],
    lines: lines.map(({ from, to }) => `M${x(from[0])} ${y(from[1])}L${x(to[0])} ${y(to[1])}`).join(''),
    contacts: contacts.map(({ contact, path, column, row }) => {
      const kind = kindOfContact(contact);
      const bit = examined(contact);
      return {
        ...partAt(x(column), y(row), wide),
        path,
        kind,
        strokes: contactStrokes(x(column), y(row), wide, kind),
        block: null,
        letter: CONTACT_LETTERS[kind],
        name: bit,
        shown: shortened(bit, wide),
        below: addressOf(program, variableOf(bit)),
      };
    }),
    actions: actions.map(({ action, index, row }) => ({
      ...partAt(x(columns), y(row), DOES),
      index,
      ...pictured(program, action, x(columns), y(row)),
    })),
  };
}

const partAt = (x: number, y: number, width: number): Pick<PicturedPart, 'box' | 'at'> => ({
  box: { x: x + 3, y: y - MIDDLE + 2, width: width - 6, height: ROW - 6 },
  at: [x + width / 2, y],
});

function contactStrokes(x: number, y: number, wide: number, kind: ContactKind): string {
  const middle = x + wide / 2;
  const [left, right] = [middle - GAP, middle + GAP];
  const plates = `M${x} ${y}H${left}M${left} ${y - 10}v20M${right} ${y - 10}v20M${right} ${y}H${x + wide}`;
  return kind === 'nc' ? `${plates}M${left - 4} ${y + 11}L${right + 4} ${y - 11}` : plates;
}

function pictured(
  program: Program,
  action: RungAction,
  x: number,
  y: number,
): Pick<PicturedAction, 'kind' | 'name' | 'shown' | 'strokes' | 'block' | 'letter' | 'below'> {
  const kind = kindOfAction(action);
  const name = workedBy(action);
  const variable = program.variables.find((one) => one.name === name);
  const middle = x + DOES / 2;
  const isBlock = kind === 'timer' || kind === 'counter';
  const half = isBlock ? BLOCK : BRACKET;
  const ends = `M${x} ${y}H${middle - half}M${middle + half} ${y}H${x + DOES}`;
  const brackets = `M${middle - 8} ${y - 11}q-8 11 0 22M${middle + 8} ${y - 11}q8 11 0 22`;
  return {
    kind,
    name,
    shown: shortened(name, DOES),
    strokes: isBlock ? ends : ends + brackets,
    block: isBlock ? { x: middle - BLOCK, y: y - 12, width: 2 * BLOCK, height: 24 } : null,
    letter: isBlock ? ((variable && blockWords(variable)) ?? '?') : (COIL_LETTERS[kind] ?? ''),
    below:
      'counter' in action && action.reset !== undefined
        ? `reset by ${action.reset}`
        : addressOf(program, name),
  };
}

function addressOf({ variables }: Program, name: string): string {
  const found = variables.find((one) => one.name === name);
  return found && isConnected(found) ? found.at : '';
}
