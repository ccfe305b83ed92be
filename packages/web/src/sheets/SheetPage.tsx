import { plural } from '@contactum/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Alert, Button, Input, Spin, Steps } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import type { SheetEntries } from '@contactum/core';
import type { Person, SheetToTake } from '@contactum/contract';
import { AsWired } from './AsWired.js';
import { ChecksPart } from './ChecksPart.js';
import { DeadTestsPart } from './DeadTestsPart.js';
import { FunctionsPart } from './FunctionsPart.js';
import { PhotoPart } from './PhotoPart.js';
import { Signature, type PartProps } from './parts.js';
import { SheetStore, type KeptSheet } from '../api/kept.js';
import { useSheetStore } from './SheetsPage.js';
import './sheets.css';

const PARTS = ['Isolate', 'Dead tests', 'Functions', 'Checks', 'As wired', 'Done'] as const;

/** One sheet at the bench, part by part, with targets for a thumb. Everything is kept as it is entered. */
export function SheetPage({ person, offline = false }: { person: Person; offline?: boolean }) {
  const { id = '' } = useParams();
  const store = useSheetStore(person);
  const [found, setFound] = useState<{ sheet: KeptSheet; paper: SheetToTake } | null | 'missing'>(null);
  useEffect(() => {
    void store.sheet(id).then(async (sheet) => {
      const paper = sheet && (await store.paper(sheet.settingId));
      setFound(sheet && paper ? { sheet, paper } : 'missing');
    });
  }, [store, id]);
  if (found === null) return <Spin className="waiting" />;
  if (found === 'missing')
    return (
      <Alert className="page" type="warning" showIcon title="This sheet is not saved in this browser." />
    );
  return <Entry store={store} paper={found.paper} first={found.sheet} person={person} offline={offline} />;
}

/** The sheet as it is entered; every change is kept at once. */
function useEntry(store: SheetStore, first: KeptSheet) {
  const [sheet, setSheet] = useState(first);
  const latest = useRef(first);
  const keep = (change: Partial<KeptSheet>) => {
    latest.current = { ...latest.current, ...change, changedAt: new Date().toISOString() };
    setSheet(latest.current);
    void store.put(latest.current);
  };
  const enter = (change: Partial<SheetEntries>) =>
    keep({ entries: { ...latest.current.entries, ...change }, state: 'under way', why: null });
  const end = () =>
    keep({ entries: { ...latest.current.entries, ended: new Date().toISOString() }, state: 'done' });
  return { sheet, keep, enter, end };
}

function Entry({
  store,
  paper,
  first,
  person,
  offline,
}: {
  store: SheetStore;
  paper: SheetToTake;
  first: KeptSheet;
  person: Person;
  offline: boolean;
}) {
  const { sheet, keep, enter, end } = useEntry(store, first);
  const [part, setPart] = useState(0);
  const given = { sheet: paper.sheet, entries: sheet.entries, enter };
  const counts = useMemo(() => countsOf(paper, sheet.entries), [paper, sheet.entries]);
  const parts = [
    <Isolate key="isolate" {...given} person={person} />,
    <DeadTestsPart key="dead" {...given} />,
    <FunctionsPart key="functions" {...given} person={person} />,
    <ChecksPart key="checks" {...given} />,
    <AsWired key="wired" {...given} paper={paper} studentId={sheet.studentId} offline={offline} />,
    <Done
      key="done"
      {...given}
      counts={counts}
      photo={<PhotoPart photo={sheet.photo} onPhoto={(photo) => keep({ photo })} />}
      onDone={end}
      person={person}
    />,
  ];
  return (
    <main className="page sheet-page">
      <SheetHead paper={paper} studentId={sheet.studentId} />
      <PartSteps part={part} counts={counts} onPart={setPart} />
      <section className="sheet-part" aria-label={PARTS[part] ?? ''}>
        {parts[part]}
      </section>
      <div className="sheet-on">
        <Button size="large" disabled={part === 0} onClick={() => setPart(part - 1)}>
          Back
        </Button>
        {part < PARTS.length - 1 && (
          <Button size="large" type="primary" onClick={() => setPart(part + 1)}>
            On to: {PARTS[part + 1]}
          </Button>
        )}
      </div>
    </main>
  );
}

function PartSteps({
  part,
  counts,
  onPart,
}: {
  part: number;
  counts: readonly string[];
  onPart: (part: number) => void;
}) {
  return (
    <Steps
      size="small"
      current={part}
      onChange={onPart}
      items={PARTS.map((title, k) => ({
        title,
        ...(counts[k] ? { content: counts[k] } : {}),
        ...(k === part ? {} : { status: isWhole(counts[k] ?? '') ? ('finish' as const) : ('wait' as const) }),
      }))}
    />
  );
}

function SheetHead({ paper, studentId }: { paper: SheetToTake; studentId: string }) {
  const student = paper.students.find(({ id }) => id === studentId);
  return (
    <>
      <p className="crumb">
        <Link to="/sheets">Bench sheets</Link>
      </p>
      <h1>{student?.name ?? 'Bench sheet'}</h1>
      <p className="quiet">
        {paper.sheet.title} · {paper.sheet.board} · {paper.className}
      </p>
    </>
  );
}

/** True of a part of which nothing is left to enter: `26 of 26`, `signed`. */
function isWhole(count: string): boolean {
  const [made, of] = count.split(' of ');
  return made === of || (of === undefined && count !== '');
}

/** How much of each part is entered, in words. */
function countsOf({ sheet }: SheetToTake, entries: SheetEntries): string[] {
  const rows = sheet.functions.reduce((sum, one) => sum + one.rows.length, 0);
  const seen = Object.values(entries.functions).reduce((sum, one) => sum + Object.keys(one).length, 0);
  const checks = sheet.checks.filter(({ id }) => id !== 'dead-test' && id !== 'permission');
  const read = sheet.settings.filter(({ tag, setting }) => `${tag}.${setting}` in entries.settings).length;
  return [
    entries.isolatedBy ? 'signed' : '',
    `${Object.keys(entries.dead).length} of ${sheet.deadTests.tests.length}`,
    `${seen} of ${rows}`,
    `${Object.keys(entries.checks).length + read} of ${checks.length + sheet.settings.length}`,
    entries.asWired ? plural(entries.asWired.length, 'lead') : '',
    entries.ended ? 'done' : '',
  ];
}

/** Cautions and signatures. */
function Isolate({ sheet, entries, enter, person }: PartProps & { readonly person: Person }) {
  return (
    <>
      <Alert
        type="warning"
        showIcon
        title="Before anything is touched"
        description={
          <ul>
            {sheet.cautions.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        }
      />
      {person.role === 'student' ? (
        <Signature
          words={`I, ${person.name}, have isolated this board, locked it off and proved it dead.`}
          signed={entries.isolatedBy !== undefined}
          onSign={(signed) => enter({ isolatedBy: signed ? person.name : undefined })}
        />
      ) : (
        <label className="sheet-field">
          <span>Isolated, locked off and proved dead by</span>
          <Input
            size="large"
            maxLength={100}
            value={entries.isolatedBy ?? ''}
            onChange={({ target }) => enter({ isolatedBy: target.value || undefined })}
          />
        </label>
      )}
      <p className="quiet">
        Dead tests come next. Permission to energise is given after them, before the functions.
      </p>
    </>
  );
}

function Done({
  sheet,
  entries,
  enter,
  counts,
  photo,
  onDone,
  person,
}: PartProps & {
  readonly counts: readonly string[];
  readonly photo: React.ReactNode;
  readonly onDone: () => void;
  readonly person: Person;
}) {
  const navigate = useNavigate();
  const isDone = entries.ended !== undefined;
  return (
    <>
      <label className="sheet-field">
        <span>Remarks</span>
        <Input.TextArea
          rows={3}
          maxLength={4000}
          value={entries.remarks ?? ''}
          onChange={({ target }) => enter({ remarks: target.value || undefined })}
        />
      </label>
      {photo}
      <p>
        Dead tests {counts[1]}, rows of functions {counts[2]}, checks and settings {counts[3]}. What is not
        entered counts as not tested. {sheet.pass} of {sheet.max} points are needed.
      </p>
      <Button
        type="primary"
        size="large"
        onClick={() => {
          onDone();
          void navigate('/sheets');
        }}
      >
        {isDone ? 'Done again' : 'Done'}: keep it to be sent
      </Button>
      <p className="quiet">
        Entered by {person.name}.
        {person.role === 'student' &&
          ' Your instructor looks at the board and confirms the sheet; until then its mark counts nowhere.'}
      </p>
    </>
  );
}
