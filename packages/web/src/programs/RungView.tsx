import { memo, type KeyboardEvent } from 'react';
import {
  examined,
  isConnected,
  isCounter,
  isTimer,
  kindOfAction,
  kindOfContact,
  ladderRung,
  variableOf,
  workedBy,
  type ContactKind,
  type PlacedContact,
  type Program,
  type ProgramVariable,
  type Rung,
  type RungAction,
} from '@contactum/core';
import { CONTACT_WORDS, ACTION_WORDS, type Chosen } from './rung-parts.js';

/** Sizes on screen, pixels. */
const COLUMN = 104;
const ROW = 58;
const RAIL = 14;
const MIDDLE = 30;
const DOES = 132;
const SYMBOL = 13;

interface Props {
  readonly program: Program;
  readonly rung: Rung;
  readonly number: number;
  readonly chosen: Chosen | null;
  /** What is on, by name; null where the program does not run. */
  readonly on: ReadonlySet<string> | null;
  readonly onChoose: (chosen: Chosen) => void;
}

/** A rung as it is read: contacts from the left rail, what it does at the right (IEC 61131-3, from memory). */
export const RungView = memo(function RungView({ program, rung, number, chosen, on, onChoose }: Props) {
  const { columns, rows, contacts, actions, lines } = ladderRung(rung.when, rung.then);
  const end = RAIL + columns * COLUMN;
  const width = end + DOES + RAIL;
  const height = rows * ROW;
  const y = (row: number) => row * ROW + MIDDLE;
  const x = (column: number) => RAIL + column * COLUMN;
  const isChosen = (path: readonly number[]) =>
    chosen !== null && 'path' in chosen && chosen.path.join() === path.join();
  return (
    <svg className="ladder" width={width} height={height} role="group" aria-label={`Rung ${number + 1}`}>
      <line className="ladder-rail" x1={RAIL} x2={RAIL} y1={0} y2={height} />
      <line className="ladder-rail" x1={width - RAIL} x2={width - RAIL} y1={0} y2={height} />
      {lines.map(({ from, to }, k) => (
        <line key={k} className="ladder-line" x1={x(from[0])} y1={y(from[1])} x2={x(to[0])} y2={y(to[1])} />
      ))}
      {contacts.map((placed) => (
        <ContactView
          key={placed.path.join()}
          placed={placed}
          at={[x(placed.column), y(placed.row)]}
          address={addressOf(program, examined(placed.contact))}
          chosen={isChosen(placed.path)}
          lit={isLit(placed, on)}
          onChoose={() => onChoose({ rung: number, path: placed.path })}
        />
      ))}
      {actions.map(({ action, index, row }) => (
        <ActionView
          key={index}
          program={program}
          action={action}
          at={[end, y(row)]}
          chosen={chosen !== null && 'action' in chosen && chosen.action === index}
          lit={on?.has(outputOf(action)) ?? false}
          onChoose={() => onChoose({ rung: number, action: index })}
        />
      ))}
    </svg>
  );
});

const outputOf = (action: RungAction): string =>
  'timer' in action || 'counter' in action ? `${workedBy(action)}.Q` : workedBy(action);

function addressOf({ variables }: Program, bit: string): string {
  const found = variables.find(({ name }) => name === variableOf(bit));
  return found && isConnected(found) ? found.at : '';
}

function isLit({ contact }: PlacedContact, on: ReadonlySet<string> | null): boolean {
  if (!on) return false;
  const bit = examined(contact);
  return 'no' in contact ? on.has(bit) : 'nc' in contact ? !on.has(bit) : false;
}

const choosing = (onChoose: () => void) => ({
  role: 'button',
  tabIndex: 0,
  onClick: onChoose,
  onFocus: onChoose,
  onKeyDown: (event: KeyboardEvent) => {
    if (event.key === ' ') {
      event.preventDefault();
      onChoose();
    }
  },
});

const LETTERS: Readonly<Record<ContactKind, string>> = { no: '', nc: '', rising: 'P', falling: 'N' };

function ContactView({
  placed: { contact },
  at: [x, y],
  address,
  chosen,
  lit,
  onChoose,
}: {
  placed: PlacedContact;
  at: readonly [number, number];
  address: string;
  chosen: boolean;
  lit: boolean;
  onChoose: () => void;
}) {
  const kind = kindOfContact(contact);
  const middle = x + COLUMN / 2;
  const [left, right] = [middle - SYMBOL / 2, middle + SYMBOL / 2];
  return (
    <g
      className="ladder-part"
      data-chosen={chosen || undefined}
      data-lit={lit || undefined}
      aria-label={`${CONTACT_WORDS[kind].iec} ${examined(contact)}`}
      {...choosing(onChoose)}
    >
      <rect className="ladder-hit" x={x + 3} y={y - MIDDLE + 2} width={COLUMN - 6} height={ROW - 6} rx={4} />
      <path
        className="ladder-symbol"
        d={`M${x} ${y}H${left}M${left} ${y - 10}v20M${right} ${y - 10}v20M${right} ${y}H${x + COLUMN}`}
      />
      {kind === 'nc' && (
        <line className="ladder-symbol" x1={left - 4} y1={y + 11} x2={right + 4} y2={y - 11} />
      )}
      <text className="ladder-letter" x={middle} y={y + 4}>
        {LETTERS[kind]}
      </text>
      <text className="ladder-name" x={middle} y={y - 15}>
        {examined(contact)}
      </text>
      <text className="ladder-address" x={middle} y={y + 23}>
        {address}
      </text>
    </g>
  );
}

const COIL_LETTERS: Readonly<Record<string, string>> = { coil: '', negated: '/', set: 'S', reset: 'R' };

function ActionView({
  program,
  action,
  at: [x, y],
  chosen,
  lit,
  onChoose,
}: {
  program: Program;
  action: RungAction;
  at: readonly [number, number];
  chosen: boolean;
  lit: boolean;
  onChoose: () => void;
}) {
  const kind = kindOfAction(action);
  const name = workedBy(action);
  const variable = program.variables.find((one) => one.name === name);
  const middle = x + DOES / 2;
  return (
    <g
      className="ladder-part"
      data-chosen={chosen || undefined}
      data-lit={lit || undefined}
      aria-label={`${ACTION_WORDS[kind]} ${name}`}
      {...choosing(onChoose)}
    >
      <rect className="ladder-hit" x={x + 3} y={y - MIDDLE + 2} width={DOES - 6} height={ROW - 6} rx={4} />
      {kind === 'timer' || kind === 'counter' ? (
        <BlockSymbol at={[x, y]} variable={variable} />
      ) : (
        <CoilSymbol at={[x, y]} letter={COIL_LETTERS[kind] ?? ''} />
      )}
      <text className="ladder-name" x={middle} y={y - 15}>
        {name}
      </text>
      <text className="ladder-address" x={middle} y={y + 23}>
        {'counter' in action && action.reset !== undefined
          ? `reset by ${action.reset}`
          : addressOf(program, name)}
      </text>
    </g>
  );
}

type At = readonly [number, number];

/** A timer or counter as a box with its preset. */
function BlockSymbol({ at: [x, y], variable }: { at: At; variable: ProgramVariable | undefined }) {
  const middle = x + DOES / 2;
  const said = !variable
    ? '?'
    : isTimer(variable)
      ? `${variable.timer} ${variable.preset} s`
      : isCounter(variable)
        ? `${variable.counter} ${variable.preset}`
        : '?';
  return (
    <>
      <path className="ladder-symbol" d={`M${x} ${y}H${middle - 46}M${middle + 46} ${y}H${x + DOES}`} />
      <rect className="ladder-block" x={middle - 46} y={y - 12} width={92} height={24} rx={2} />
      <text className="ladder-letter" x={middle} y={y + 4}>
        {said}
      </text>
    </>
  );
}

function CoilSymbol({ at: [x, y], letter }: { at: At; letter: string }) {
  const middle = x + DOES / 2;
  const brackets = `M${middle - 8} ${y - 11}q-8 11 0 22M${middle + 8} ${y - 11}q8 11 0 22`;
  return (
    <>
      <path
        className="ladder-symbol"
        d={`M${x} ${y}H${middle - 12}M${middle + 12} ${y}H${x + DOES}${brackets}`}
      />
      <text className="ladder-letter" x={middle} y={y + 4}>
        {letter}
      </text>
    </>
  );
}
