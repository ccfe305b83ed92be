import { useState } from 'react';
import { Segmented, Select } from 'antd';
import {
  plural,
  programWarnings,
  workedBy,
  type Connection,
  type Program,
  type ProgramHint,
} from '@contactum/core';
import { Ladder } from './Ladder.js';
import type { Naming } from './PartPanel.js';
import { ProgramFiles } from './ProgramFiles.js';
import { TextPane } from './TextPane.js';
import { VariableTable, type Forcing } from './VariableTable.js';
import type { Chosen } from './rung-parts.js';
import './programs.css';

interface Props {
  /** Designation of the controller. */
  readonly tag: string;
  readonly program: Program | null;
  readonly title: string;
  readonly connections: readonly Connection[];
  readonly hints: readonly ProgramHint[];
  /** Why it cannot be changed now; nothing where it can. */
  readonly note?: string | undefined;
  /** What is on, by name; null where nothing runs. */
  readonly on: ReadonlySet<string> | null;
  /** Seconds for which each timer has run, by name. */
  readonly elapsed?: ReadonlyMap<string, number> | undefined;
  /** Values that are held by hand; nothing where nobody may. */
  readonly forcing?: Forcing | undefined;
  /** Nothing where the program is only looked at. */
  readonly onChange?: ((program: Program) => void) | undefined;
}

const PARTS = ['Ladder', 'Variables', 'Text'] as const;
type PartName = (typeof PARTS)[number];

/** A program as a ladder, its variables, and its text. */
export function ProgramEditor(props: Props) {
  const { tag, program, title, connections, hints, note, on, elapsed, forcing, onChange } = props;
  const [part, setPart] = useState<PartName>(
    program && program.variables.length > 0 ? 'Ladder' : 'Variables',
  );
  const [naming, setNaming] = useState<Naming>('iec');
  const [found, setFound] = useState<string | undefined>();
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const shown: Program = program ?? { contactum: 'program/1', title, variables: [], rungs: [] };
  const goTo = (rung: number, name: string) => {
    setPart('Ladder');
    setFound(name);
    setChosen({ rung });
  };
  return (
    <div className="program">
      <div className="view-tools">
        <Segmented<PartName>
          size="small"
          aria-label="Part of the program"
          value={part}
          options={[...PARTS]}
          onChange={setPart}
        />
        {part === 'Ladder' && <LadderTools {...{ naming, setNaming, found, setFound }} program={shown} />}
        <ProgramFiles {...{ connections, onChange }} program={shown} />
        {note && <span className="quiet">{note}</span>}
      </div>
      <Notes program={shown} hints={hints} forced={forcing?.forced.size ?? 0} />
      {part === 'Ladder' && (
        <Ladder
          {...{ naming, found, on, elapsed, onChange, chosen, setChosen }}
          program={shown}
          wired={{ controller: tag, connections }}
        />
      )}
      {part === 'Variables' && (
        <VariableTable {...{ connections, onChange, forcing }} program={shown} onRung={goTo} />
      )}
      {part === 'Text' && <TextPane program={shown} onChange={onChange} />}
    </div>
  );
}

/** How contacts are named, and a search for a variable. */
function LadderTools({
  program,
  naming,
  setNaming,
  found,
  setFound,
}: {
  program: Program;
  naming: Naming;
  setNaming: (naming: Naming) => void;
  found: string | undefined;
  setFound: (name: string | undefined) => void;
}) {
  return (
    <>
      <Segmented<Naming>
        size="small"
        aria-label="Names of contacts"
        value={naming}
        options={[
          { value: 'iec', label: 'NO, NC' },
          { value: 'examine', label: 'Examine on, off' },
        ]}
        onChange={setNaming}
      />
      <Select
        size="small"
        showSearch
        allowClear
        className="part-name"
        aria-label="Find a variable"
        placeholder="Find"
        value={found ?? null}
        options={program.variables.map(({ name }) => ({ value: name, label: name }))}
        onChange={(name: string | null | undefined) => setFound(name ?? undefined)}
      />
    </>
  );
}

/** What is allowed and seldom meant. */
function Notes({
  program,
  hints,
  forced,
}: {
  program: Program;
  hints: readonly ProgramHint[];
  forced: number;
}) {
  const double = programWarnings(program).map(({ path }) => {
    const [, rung = '0', action = '0'] = /rungs\[(\d+)\]\.then\[(\d+)\]/.exec(path) ?? [];
    const coil = program.rungs[Number(rung)]?.then[Number(action)];
    return `Rung ${Number(rung) + 1}: ${coil ? workedBy(coil) : ''} has more than one coil, and the last one wins.`;
  });
  const notes = [
    ...(forced > 0 ? [`${plural(forced, 'value')} forced: wiring and program have no effect there.`] : []),
    ...double,
    ...hints.map(({ words }) => `${words}.`),
  ];
  if (notes.length === 0) return null;
  return (
    <ul className="program-notes" aria-label="Warnings">
      {notes.map((note) => (
        <li key={note}>{note}</li>
      ))}
    </ul>
  );
}
