import { useEffect, type KeyboardEvent } from 'react';
import { Button, Input, Tooltip } from 'antd';
import { ArrowDownOutlined, ArrowUpOutlined, PlusOutlined } from '@ant-design/icons';
import { contactOf, elementAt, examined, type ContactKind, type Program, type Rung } from '@contactum/core';
import { PartPanel, type Naming } from './PartPanel.js';
import { RungView } from './RungView.js';
import { useDropped } from './dropped.js';
import {
  addRung,
  commentRung,
  insertBranch,
  insertContact,
  moveRung,
  placeTerminal,
  removeChosen,
  replaceContact,
  type Chosen,
  type Wired,
} from './rung-parts.js';

/** Keys that make another contact of the chosen one. */
const KIND_KEYS: Readonly<Record<string, ContactKind>> = { n: 'nc', o: 'no', p: 'rising', f: 'falling' };

interface LadderProps {
  readonly program: Program;
  readonly naming: Naming;
  readonly on: ReadonlySet<string> | null;
  readonly elapsed: ReadonlyMap<string, number> | undefined;
  readonly onChange: ((program: Program) => void) | undefined;
}

interface WholeProps extends LadderProps {
  readonly wired: Wired;
  /** The variable that is looked for. */
  readonly found: string | undefined;
  readonly chosen: Chosen | null;
  readonly setChosen: (chosen: Chosen | null) => void;
}

/** The rungs of a program; the chosen part can be changed by its buttons, by keys, and by terminals let go over it. */
export function Ladder(props: WholeProps) {
  const { program, naming, wired, found, on, elapsed, onChange, chosen, setChosen } = props;
  const put = (next: { program: Program; chosen: Chosen | null } | null) => {
    if (!next || !onChange) return;
    onChange(next.program);
    setChosen(next.chosen);
  };
  const onKey = (event: KeyboardEvent) => {
    if (!chosen || !onChange || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement) return;
    const next = keyed(event.key, program, chosen);
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    put(next);
  };
  const rungs = useDropped((ref, rung) => put(placeTerminal(program, wired, rung, ref)));
  useEffect(() => {
    if (found) rungs.current?.querySelector('[data-found]')?.scrollIntoView({ block: 'nearest' });
  }, [found, rungs]);
  return (
    <div className="rungs" ref={rungs} onKeyDown={onKey}>
      {program.rungs.map((rung, k) => (
        <RungSection
          key={k}
          {...{ program, rung, k, naming, found, on, elapsed, onChange, put }}
          chosen={chosen?.rung === k ? chosen : null}
          onChoose={setChosen}
        />
      ))}
      {onChange && (
        <Button
          icon={<PlusOutlined />}
          disabled={addRung(program, program.rungs.length - 1) === null}
          onClick={() => put(addRung(program, program.rungs.length - 1))}
        >
          Add rung
        </Button>
      )}
      {program.rungs.length === 0 && (
        <p className="quiet">
          {program.variables.length === 0
            ? 'No variables yet: add the wired terminals under Variables, then add a rung.'
            : 'No rungs yet.'}
        </p>
      )}
      {onChange && chosen && (
        <p className="quiet">
          Keys: Enter inserts a contact, B a branch; O and N make it NO or NC, P and F an edge; Delete removes
          it.
        </p>
      )}
    </div>
  );
}

interface RungProps extends LadderProps {
  readonly found: string | undefined;
  readonly rung: Rung;
  readonly k: number;
  readonly chosen: Chosen | null;
  readonly onChoose: (chosen: Chosen) => void;
  readonly put: (next: { program: Program; chosen: Chosen | null }) => void;
}

/** A rung with its comment, and what can be done with the part that is chosen. */
function RungSection({
  program,
  rung,
  k,
  naming,
  found,
  on,
  elapsed,
  chosen,
  onChoose,
  onChange,
  put,
}: RungProps) {
  return (
    <section className="rung" data-rung={k} data-chosen={chosen ? true : undefined}>
      <header>
        <button
          type="button"
          className="rung-number"
          aria-label={`Rung ${k + 1}`}
          onClick={() => onChoose({ rung: k })}
        >
          {k + 1}
        </button>
        {onChange ? (
          <Input
            key={rung.comment ?? ''}
            size="small"
            variant="borderless"
            aria-label={`Comment of rung ${k + 1}`}
            placeholder="comment"
            defaultValue={rung.comment ?? ''}
            onFocus={() => onChoose({ rung: k })}
            onBlur={({ target }) => {
              const text = target.value.trim();
              if (text !== (rung.comment ?? '')) onChange(commentRung(program, k, text));
            }}
          />
        ) : (
          <span>{rung.comment}</span>
        )}
        {onChange && chosen && <Moves program={program} k={k} put={put} />}
      </header>
      <div className="rung-body">
        <RungView {...{ program, rung, chosen, found, on, onChoose }} elapsed={elapsed} number={k} />
      </div>
      {onChange && chosen && (
        <PartPanel
          {...{ program, chosen, naming }}
          onChange={(next, to) => put({ program: next, chosen: to })}
        />
      )}
    </section>
  );
}

/** Moves a rung up or down. */
function Moves({
  program,
  k,
  put,
}: {
  program: Program;
  k: number;
  put: (next: { program: Program; chosen: Chosen }) => void;
}) {
  const by = (step: -1 | 1) => () => put({ program: moveRung(program, k, step), chosen: { rung: k + step } });
  return (
    <>
      <Tooltip title="Up">
        <Button
          size="small"
          type="text"
          aria-label={`Rung ${k + 1} up`}
          icon={<ArrowUpOutlined />}
          disabled={k === 0}
          onClick={by(-1)}
        />
      </Tooltip>
      <Tooltip title="Down">
        <Button
          size="small"
          type="text"
          aria-label={`Rung ${k + 1} down`}
          icon={<ArrowDownOutlined />}
          disabled={k === program.rungs.length - 1}
          onClick={by(1)}
        />
      </Tooltip>
    </>
  );
}

/** What a key does with what is chosen; null where it does nothing. */
function keyed(
  key: string,
  program: Program,
  chosen: Chosen,
): { program: Program; chosen: Chosen | null } | null {
  if (key === 'Enter' || key === 'Insert') return insertContact(program, chosen);
  if (key === 'Delete' || key === 'Backspace')
    return { program: removeChosen(program, chosen), chosen: null };
  if (!('path' in chosen)) return null;
  if (key.toLowerCase() === 'b') return insertBranch(program, chosen);
  const kind = KIND_KEYS[key.toLowerCase()];
  const rung = program.rungs[chosen.rung];
  const element = rung && elementAt(rung.when, chosen.path);
  if (!kind || !element || 'any' in element) return null;
  return { program: replaceContact(program, chosen, contactOf(kind, examined(element))), chosen };
}
