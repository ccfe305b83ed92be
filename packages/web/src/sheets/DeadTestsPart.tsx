import { InputNumber } from 'antd';
import {
  expectedWords,
  isOhmsExpected,
  ohmsOf,
  spellRef,
  type OhmsRead,
  type PlannedTest,
} from '@contactum/core';
import { withEntry } from './entries.js';
import { Choice, type PartProps } from './parts.js';
import { Told } from './Told.js';

/** Each reading of the dead-test table: as it should be at one touch, otherwise what the meter shows. */
export function DeadTestsPart({ sheet, entries, enter }: PartProps) {
  const put = (k: number, read: OhmsRead | null) => enter({ dead: withEntry(entries.dead, String(k), read) });
  return (
    <ol className="sheet-rows">
      {sheet.deadTests.tests.map((test, k) => (
        <DeadTestRow key={k} test={test} read={entries.dead[String(k)]} onRead={(read) => put(k, read)} />
      ))}
    </ol>
  );
}

const CHOICES = [
  ['closed', 'closed'],
  ['open', 'open'],
] as const;

function DeadTestRow({
  test,
  read,
  onRead,
}: {
  test: PlannedTest;
  read: OhmsRead | undefined;
  onRead: (read: OhmsRead | null) => void;
}) {
  const { between, held, expect, ohms, leads } = test;
  const right = read === undefined ? null : isOhmsExpected(ohmsOf(read), expect);
  const name = between.map(spellRef).join(' to ');
  return (
    <li data-right={right === null ? undefined : right ? 'yes' : 'no'}>
      <span className="sheet-what">
        <strong className="mono">{name}</strong>
        {held && <span className="sheet-hold">with {held}</span>}
        <span className="quiet">right: {expectedWords(expect, ohms)}</span>
        {leads.length > 0 && <small className="quiet">proves {leads.join('; ')}</small>}
      </span>
      <span className="sheet-entry">
        <Choice
          label={`${name} reads`}
          value={typeof read === 'string' ? read : null}
          options={CHOICES}
          onChange={onRead}
        />
        <InputNumber
          size="large"
          min={0}
          aria-label={`Ohms ${name}`}
          suffix="Ω"
          value={typeof read === 'number' ? read : null}
          onChange={(value) => onRead(value)}
        />
        <Told right={right} />
      </span>
    </li>
  );
}
