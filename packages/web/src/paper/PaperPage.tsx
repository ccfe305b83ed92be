import { useEffect, useMemo, useState } from 'react';
import { Alert, Button, Dropdown, Spin, Tabs } from 'antd';
import { DownloadOutlined } from '@ant-design/icons';
import { Link, useParams } from 'react-router';
import {
  controllerTables,
  plural,
  deadTestsTable,
  leadMaterialsTable,
  materialsTable,
  orderTable,
  planningPaper,
  referenceBench,
  sequenceTables,
  terminalsTable,
  wireListTable,
  type Bench,
  type DeadTestTable,
  type DrawingForm,
  type Exercise,
  type Paper,
  type PaperTable,
  type PlanningPaper,
  usualForm,
} from '@contactum/core';
import { useExercise, useSlip } from '../api/queries.js';
import { DrawingView } from '../drawing/DrawingView.js';
import { FormSwitch } from '../drawing/FormSwitch.js';
import { askTable } from './ask-paper.js';
import { PaperTableView } from './PaperTableView.js';
import { saveCsv, savePlanning } from './save.js';
import './paper.css';
import { useToasts } from '../shell/toasts.js';

/** The planning paper of an exercise's reference. */
export function ExercisePaperPage() {
  const { id = '' } = useParams();
  const query = useExercise(id);
  if (query.isPending) return <Spin className="waiting" />;
  if (query.isError) return <Alert className="page" type="error" showIcon title={query.error.message} />;
  const { exercise } = query.data;
  return (
    <PaperOf
      back={{ to: `/exercises/${exercise.id}`, text: exercise.title }}
      bench={referenceBench(exercise)}
      exercise={exercise}
      says="The reference as it is to be built."
    />
  );
}

/** The planning paper of a wiring as somebody has really laid it. */
export function WiredPaperPage() {
  const { id = '' } = useParams();
  const query = useSlip(id);
  if (query.isPending) return <Spin className="waiting" />;
  if (query.isError) return <Alert className="page" type="error" showIcon title={query.error.message} />;
  const { bench, exercise, student } = query.data;
  return (
    <PaperOf
      back={{ to: `/slip/${id}`, text: exercise.title }}
      bench={bench}
      exercise={null}
      says={`As ${student.name} has wired it.`}
    />
  );
}

interface Shown {
  readonly key: string;
  readonly label: string;
  readonly tables: readonly PaperTable[];
}

function tabsOf(paper: PlanningPaper, table: DeadTestTable | null): Shown[] {
  const dead = table && deadTestsTable(table);
  const { materials, leads, orders, terminals, sequence, controllers } = paper;
  return [
    {
      key: 'materials',
      label: 'Materials',
      tables: [materialsTable(materials), leadMaterialsTable(materials)],
    },
    { key: 'wires', label: `Wire list (${leads.length})`, tables: [wireListTable(leads)] },
    { key: 'rungs', label: 'Order by rung', tables: [orderTable(orders.byRung)] },
    { key: 'places', label: 'Order by place', tables: [orderTable(orders.byPlace)] },
    { key: 'terminals', label: 'Terminals', tables: [terminalsTable(terminals)] },
    ...(controllers.length > 0
      ? [{ key: 'inputs', label: 'Inputs and outputs', tables: controllers.flatMap(controllerTables) }]
      : []),
    ...(sequence.parts.length > 0
      ? [{ key: 'sequence', label: 'Sequence', tables: sequenceTables(sequence) }]
      : []),
    {
      key: 'dead',
      label: dead ? `Dead tests (${dead.rows.length})` : 'Dead tests',
      tables: dead ? [dead] : [],
    },
  ];
}

/** The dead-test table of a board, made in a thread of its own. */
function useTable(bench: Bench): DeadTestTable | null {
  const [table, setTable] = useState<DeadTestTable | null>(null);
  useEffect(() => {
    const ending = new AbortController();
    void askTable(bench, ending.signal).then(setTable);
    return () => ending.abort();
  }, [bench]);
  return table;
}

function PaperOf({
  back,
  bench,
  exercise,
  says,
}: {
  back: { readonly to: string; readonly text: string };
  bench: Bench;
  exercise: Exercise | null;
  says: string;
}) {
  const [form, setForm] = useState<DrawingForm>(usualForm(bench));
  const paper = useMemo(() => planningPaper(bench, exercise ?? {}, form), [bench, exercise, form]);
  const table = useTable(bench);
  const tabs = tabsOf(paper, table);
  const [tab, setTab] = useState('materials');
  const name = exercise?.title ?? bench.title;
  const drawing = {
    key: 'drawing',
    label: 'Drawing',
    children: (
      <>
        <FormSwitch form={form} onForm={setForm} />
        <DrawingView drawing={paper.drawings[form]} label={`Drawing of ${name}`} />
      </>
    ),
  };
  return (
    <main className="page paper-page">
      <div className="page-head">
        <div>
          <p className="crumb">
            <Link to={back.to}>{back.text}</Link>
          </p>
          <h1>Planning paper</h1>
          <p className="quiet">{says}</p>
        </div>
        <PaperActs paper={paper} name={name} shown={tabs.find(({ key }) => key === tab)} />
      </div>
      <Tabs
        activeKey={tab}
        onChange={setTab}
        items={[
          ...tabs.map(({ key, label, tables }) => ({
            key,
            label,
            children: <Tables of={key} tables={tables} table={table} />,
          })),
          drawing,
        ]}
      />
    </main>
  );
}

function Tables({
  of,
  tables,
  table,
}: {
  of: string;
  tables: readonly PaperTable[];
  table: DeadTestTable | null;
}) {
  if (of === 'dead' && !table)
    return (
      <p className="quiet">
        <Spin size="small" /> Every single wiring mistake is being tried …
      </p>
    );
  return (
    <>
      {of === 'dead' && table && <DeadTestNote table={table} />}
      {tables.map((one) => (
        <PaperTableView key={one.title} table={one} strikes={of === 'rungs' || of === 'places'} />
      ))}
    </>
  );
}

function PaperActs({ paper, name, shown }: { paper: PlanningPaper; name: string; shown: Shown | undefined }) {
  return (
    <span className="page-acts">
      {shown && shown.tables.length > 0 && (
        <Button
          icon={<DownloadOutlined />}
          onClick={() => void saveCsv(shown.tables, `${name} ${shown.label}`)}
        >
          This table as CSV
        </Button>
      )}
      <PdfButton paper={paper} name={name} />
    </span>
  );
}

/** What the table finds, how short it could be at best, and what no dead test shows. */
function DeadTestNote({ table }: { table: DeadTestTable }) {
  const { tests, mistakes, unseen, bound, complete } = table;
  return (
    <>
      <p>
        {plural(tests.length, 'reading')} find {mistakes - unseen.length} of {mistakes} single wiring
        mistakes; no table that finds as many has fewer than {bound}. Supply off, locked and proved dead.
      </p>
      {!complete && (
        <p>
          This board is too large for every mistake to be tried: leads left out and leads exchanged on one
          device were, a lead on a wrong device was not.
        </p>
      )}
      {unseen.length > 0 && (
        <details className="paper-unseen">
          <summary>{unseen.length} mistakes do not show with the board dead</summary>
          <ul>
            {unseen.slice(0, 60).map((title) => (
              <li key={title}>{title}</li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

function PdfButton({ paper, name }: { paper: PlanningPaper; name: string }) {
  const message = useToasts();
  const [making, setMaking] = useState(false);
  const make = (size: Paper) => {
    setMaking(true);
    savePlanning(paper, name, size)
      .catch((error: unknown) => message.error((error as Error).message))
      .finally(() => setMaking(false));
  };
  return (
    <Dropdown.Button
      type="primary"
      loading={making}
      onClick={() => make('A4')}
      menu={{ items: [{ key: 'LETTER', label: 'PDF (Letter)' }], onClick: () => make('LETTER') }}
    >
      PDF (A4)
    </Dropdown.Button>
  );
}
