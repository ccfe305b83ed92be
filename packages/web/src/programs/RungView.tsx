import { memo, useMemo, type KeyboardEvent } from 'react';
import {
  WORDS_AT,
  ladderPicture,
  variableOf,
  type PicturedAction,
  type PicturedContact,
  type Program,
  type Rung,
} from '@contactum/core';
import { CONTACT_WORDS, ACTION_WORDS, type Chosen } from './rung-parts.js';

interface Props {
  readonly program: Program;
  readonly rung: Rung;
  readonly number: number;
  readonly chosen: Chosen | null;
  /** The variable that is looked for. */
  readonly found?: string | undefined;
  /** What is on, by name; null where the program does not run. */
  readonly on: ReadonlySet<string> | null;
  /** Seconds for which each timer has run, by name. */
  readonly elapsed?: ReadonlyMap<string, number> | undefined;
  readonly onChoose: (chosen: Chosen) => void;
}

/** Share of its size to which a rung gives way before it scrolls. */
const LEAST = 0.74;

/** A rung as it is read; each part can be chosen by pointer and by keyboard. */
export const RungView = memo(function RungView({
  program,
  rung,
  number,
  chosen,
  found,
  on,
  elapsed,
  onChoose,
}: Props) {
  const picture = useMemo(() => ladderPicture(program, rung), [program, rung]);
  const { width, height, rails, lines, contacts, actions } = picture;
  const isChosen = (path: readonly number[]) =>
    chosen !== null && 'path' in chosen && chosen.path.join() === path.join();
  return (
    <svg
      className="ladder"
      viewBox={`0 0 ${width} ${height}`}
      // It gives way to a narrow dock as long as its words can be read.
      style={{ width, maxWidth: '100%', minWidth: width * LEAST }}
      role="group"
      aria-label={`Rung ${number + 1}`}
    >
      {rails.map((x) => (
        <line key={x} className="ladder-rail" x1={x} x2={x} y1={0} y2={height} />
      ))}
      <path className="ladder-line" d={lines} />
      {contacts.map((part) => (
        <PartView
          key={part.path.join()}
          part={part}
          label={`${CONTACT_WORDS[part.kind].iec} ${part.name}`}
          chosen={isChosen(part.path)}
          lit={isLit(part, on)}
          found={found === variableOf(part.name)}
          onChoose={() => onChoose({ rung: number, path: part.path })}
        />
      ))}
      {actions.map((part) => (
        <PartView
          key={part.index}
          part={runningPart(part, elapsed)}
          label={`${ACTION_WORDS[part.kind]} ${part.name}`}
          chosen={chosen !== null && 'action' in chosen && chosen.action === part.index}
          found={found === part.name}
          lit={on?.has(part.block ? `${part.name}.Q` : part.name) ?? false}
          onChoose={() => onChoose({ rung: number, action: part.index })}
        />
      ))}
    </svg>
  );
});

/** A timer that runs says for how long it has. */
function runningPart(part: PicturedAction, elapsed: Props['elapsed']): PicturedAction {
  const seconds = elapsed?.get(part.name);
  return seconds === undefined ? part : { ...part, below: `runs, ${seconds.toFixed(1)} s` };
}

function isLit({ kind, name }: PicturedContact, on: ReadonlySet<string> | null): boolean {
  if (!on) return false;
  return kind === 'no' ? on.has(name) : kind === 'nc' && !on.has(name);
}

function PartView({
  part: { box, at, strokes, block, letter, name, shown, below },
  label,
  chosen,
  lit,
  found,
  onChoose,
}: {
  part: PicturedContact | PicturedAction;
  label: string;
  chosen: boolean;
  lit: boolean;
  found: boolean;
  onChoose: () => void;
}) {
  const [x, y] = at;
  return (
    <g
      className="ladder-part"
      data-chosen={chosen || undefined}
      data-lit={lit || undefined}
      data-found={found || undefined}
      aria-label={label}
      role="button"
      tabIndex={0}
      onClick={onChoose}
      onFocus={onChoose}
      onKeyDown={(event: KeyboardEvent) => {
        if (event.key !== ' ') return;
        event.preventDefault();
        onChoose();
      }}
    >
      <rect className="ladder-hit" {...box} rx={4} />
      <path className="ladder-symbol" d={strokes} />
      {block && <rect className="ladder-block" {...block} rx={2} />}
      <text className="ladder-letter" x={x} y={y + WORDS_AT.letter}>
        {letter}
      </text>
      <text className="ladder-name" x={x} y={y + WORDS_AT.name}>
        {shown}
      </text>
      {shown !== name && <title>{name}</title>}
      <text className="ladder-address" x={x} y={y + WORDS_AT.below}>
        {below}
      </text>
    </g>
  );
}
