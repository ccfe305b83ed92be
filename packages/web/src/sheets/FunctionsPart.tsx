import { useState } from 'react';
import { Alert, Input, Select } from 'antd';
import {
  describeExpected,
  doneWords,
  type RowSeen,
  type SheetFunction,
  type SheetRow,
} from '@contactum/core';
import type { Person } from '@contactum/contract';
import { Choice, Signature, type PartProps } from './parts.js';
import { Told } from './Told.js';

/** Each function from a fresh board: row by row as it should be, or what was seen instead. */
export function FunctionsPart({ sheet, entries, enter, person }: PartProps & { readonly person: Person }) {
  const put = (id: string, k: number, seen: RowSeen) =>
    enter({ functions: { ...entries.functions, [id]: { ...entries.functions[id], [String(k)]: seen } } });
  const all = (one: SheetFunction) =>
    enter({
      functions: {
        ...entries.functions,
        [one.id]: Object.fromEntries(one.rows.map((_, k) => [String(k), 'as expected' as const])),
      },
    });
  return (
    <>
      {person.role === 'student' ? (
        <Alert
          type="warning"
          showIcon
          title="Ask your instructor before anything is energised."
          description="They give the permission in person, and say so when they confirm this sheet."
        />
      ) : (
        <>
          <Signature
            words={`I, ${person.name}, have seen the dead tests and give permission to energise.`}
            signed={entries.permittedBy !== undefined}
            onSign={(signed) => enter({ permittedBy: signed ? person.name : undefined })}
          />
          {entries.permittedBy === undefined && (
            <Alert type="warning" showIcon title="Nobody energises before the instructor has signed here." />
          )}
        </>
      )}
      {sheet.functions.map((one) => (
        <section key={one.id} className="sheet-function" aria-label={one.title}>
          <h2>
            {one.title} <span className="quiet">{sheet.points[`behaviour/${one.id}`] ?? 0} points</span>
            <button type="button" className="sheet-all" onClick={() => all(one)}>
              all as it should be
            </button>
          </h2>
          <ol className="sheet-rows">
            {one.rows.map((row, k) => (
              <FunctionRow
                key={k}
                row={row}
                place={k}
                name={`${one.title}, row ${k + 1}`}
                seen={entries.functions[one.id]?.[String(k)]}
                onSeen={(seen) => put(one.id, k, seen)}
              />
            ))}
          </ol>
        </section>
      ))}
    </>
  );
}

const FIELDS = ['none', 'forward', 'reverse', 'single-phase'];
const SHAFTS = ['stopped', 'forward', 'reverse'];
const CONNECTIONS = ['open', 'star', 'delta', 'other'];

/** What may be seen of a thing that is watched, by what is expected of it. */
const SEEN: readonly (readonly string[])[] = [
  ['in', 'out', 'chattering'],
  ['lit', 'dim', 'dark', 'burnt'],
  FIELDS,
  SHAFTS,
  CONNECTIONS,
  ['open', 'closed', 'tripped', 'blown'],
  ['healthy', 'tripped'],
  ['idle', 'timing', 'done'],
  ['pressed', 'released'],
  ['sound', 'short'],
];

function optionsFor(what: string, expected: string): readonly string[] {
  if (what.endsWith('.driven')) return FIELDS;
  if (what.endsWith('.turning')) return SHAFTS;
  if (what.endsWith('.connection')) return CONNECTIONS;
  return SEEN.find((list) => list.includes(expected)) ?? [];
}

function FunctionRow({
  row,
  place,
  name,
  seen,
  onSeen,
}: {
  row: SheetRow;
  place: number;
  name: string;
  seen: RowSeen | undefined;
  onSeen: (seen: RowSeen) => void;
}) {
  const [opened, setOpened] = useState(false);
  const otherwise = seen !== undefined && seen !== 'as expected' ? seen : null;
  const isOpen = otherwise !== null || opened;
  const right = seen === undefined ? null : otherwise === null;
  return (
    <li data-right={right === null ? undefined : right ? 'yes' : 'no'}>
      <span className="sheet-what">
        <span>{doneWords(row.does, place)}</span>
        <strong>{row.expected}</strong>
      </span>
      <span className="sheet-entry">
        <Choice
          label={name}
          value={isOpen ? 'otherwise' : seen === 'as expected' ? 'right' : null}
          options={[
            ['right', 'as it should be'],
            ['otherwise', 'not as expected'],
          ]}
          onChange={(value) => {
            setOpened(value === 'otherwise');
            if (value === 'right') onSeen('as expected');
          }}
        />
        <Told right={right} />
      </span>
      {isOpen && (
        <div className="sheet-otherwise">
          {Object.entries(row.expect).map(([what, expected]) => (
            <OtherValue
              key={what}
              what={what}
              expected={describeExpected(expected)}
              value={otherwise?.[what]}
              onValue={(value) => onSeen({ ...otherwise, [what]: value })}
            />
          ))}
        </div>
      )}
    </li>
  );
}

/** What was seen of one thing instead. */
function OtherValue({
  what,
  expected,
  value,
  onValue,
}: {
  what: string;
  expected: string;
  value: string | undefined;
  onValue: (value: string) => void;
}) {
  const options = optionsFor(what, expected);
  return (
    <label className="sheet-field">
      <span>
        {what}, instead of {expected}
      </span>
      {options.length > 0 ? (
        <Select
          size="large"
          aria-label={`${what} was`}
          value={value ?? null}
          placeholder="was right"
          options={options.filter((one) => one !== expected).map((one) => ({ value: one, label: one }))}
          onChange={onValue}
        />
      ) : (
        <Input
          size="large"
          aria-label={`${what} was`}
          value={value ?? ''}
          onChange={({ target }) => onValue(target.value)}
        />
      )}
    </label>
  );
}
