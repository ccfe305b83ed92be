import { useEffect, useMemo, useState } from 'react';
import { LockOutlined, PoweroffOutlined, UnlockOutlined } from '@ant-design/icons';
import { Alert, Button, Popconfirm, Spin, Tabs } from 'antd';
import { useNavigate, useParams } from 'react-router';
import { useStore } from 'zustand';
import { drawingOf, type Report, type Tool, usualForm } from '@contactum/core';
import type { SearchView } from '@contactum/contract';
import { useEndPractice, useHandIn, useSearch } from '../api/queries.js';
import { SittingBar } from '../assessments/SittingBar.js';
import { createLinkStore, type LinkStore } from '../board/link.js';
import { IncidentBanner } from '../bench/IncidentBanner.js';
import { useAct } from '../bench/use-act.js';
import { useProvingOf } from '../bench/use-proving.js';
import { switchSupplies } from '../bench/use-workplace.js';
import { DrawingView } from '../drawing/DrawingView.js';
import { Blank } from '../shell/Blank.js';
import { Instruments } from './Instruments.js';
import { Notebook, clock } from './Notebook.js';
import { PracticeButton } from './PracticeButton.js';
import { SearchBoard } from './SearchBoard.js';
import { SearchReport } from './SearchReport.js';
import { VerdictForm } from './VerdictForm.js';
import { connectBench, type RemoteBench } from './remote.js';
import { createSearchStore, putProbe, type SearchStore } from './search-store.js';
import '../bench/bench-page.css';
import '../bench/job-sheet.css';
import '../bench/toolbar.css';
import '../bench/views/views.css';
import './faults.css';
import { useToasts } from '../shell/toasts.js';

/** The student's place at the fault desk: a board that is wired and does not do what it should. */
export function SearchPage() {
  const { id = '' } = useParams();
  const search = useSearch(id);
  const navigate = useNavigate();
  const view = search.data;
  const slip = view?.attemptId && view.state !== 'open' ? afterHandIn(view) : null;
  useEffect(() => {
    if (slip !== null) void navigate(slip, { replace: true });
  }, [slip, navigate]);
  if (search.isError && !view)
    return <Blank title={search.error.message} act={{ text: 'Back to the exercises', to: '/exercises' }} />;
  if (!view || slip !== null) return <Spin className="waiting" aria-label="Opening the bench" />;
  if (view.report) return <PracticeEnded view={view} report={view.report} />;
  if (view.assessmentId === null) return <OpenSearch key={id} view={view} />;
  return (
    <div className="sitting-place">
      <SittingBar assessmentId={view.assessmentId} />
      <OpenSearch key={id} view={view} />
    </div>
  );
}

/** Where a search is read once it is handed in: on its slip, or among the tasks of its assessment. */
const afterHandIn = ({ assessmentId, attemptId }: SearchView): string =>
  assessmentId === null ? `/slip/${attemptId ?? ''}` : `/sit/${assessmentId}`;

function PracticeEnded({ view, report }: { view: SearchView; report: Report }) {
  return (
    <main className="page search-ended">
      <h1>{view.exercise.title}</h1>
      <p className="quiet">Practice: {view.order.complaint}</p>
      <div className={`verdict ${report.passed ? 'passed' : 'failed'}`}>
        <span className="score">
          {report.recorded}
          <small> of {report.max}</small>
        </span>
        <span>
          <strong>{report.passed ? 'Found, restored and proved' : 'Not done'}</strong>
          {report.reason !== null && <span className="verdict-reason">: {report.reason}</span>}
        </span>
      </div>
      <ul className="criteria">
        {report.criteria.map(({ id, title, points, max, evidence }) => (
          <li key={id}>
            <span className="mono">
              {points} of {max}
            </span>{' '}
            {title}
            {evidence && <span className="quiet">: {evidence.found}</span>}
          </li>
        ))}
      </ul>
      {report.search && <SearchReport findings={report.search} />}
      <PracticeButton exerciseId={view.exercise.id} />
    </main>
  );
}

function OpenSearch({ view }: { view: SearchView }) {
  const [live, setLive] = useState<RemoteBench | null>(null);
  useEffect(() => {
    const opened = connectBench(view.id);
    setLive(opened);
    return () => opened.close();
  }, [view.id]);
  if (!live) return <Spin className="waiting" />;
  return <SearchPlace view={view} live={live} />;
}

/** What puts a hand on the board: nothing is proved of it any more. */
const HANDS: ReadonlySet<string> = new Set(['lift', 'refit', 'exchange', 'renew']);

function SearchPlace({ view, live }: { view: SearchView; live: RemoteBench }) {
  const { bench, exercise } = view;
  const [store] = useState(createSearchStore);
  const [link] = useState(createLinkStore);
  const hand = useAct(live);
  const touched = useStore(live.remote, ({ notes }) => notes.filter(({ kind }) => HANDS.has(kind)).length);
  const { shown, act } = useProvingOf(live, exercise.behaviours, hand, touched);
  const onSupply = (on: boolean) => switchSupplies(bench, act, on);
  const state = useStore(live.remote, ({ link: now }) => now);
  const why = useStore(live.remote, (now) => now.why);
  const incidents = useStore(live.store, (now) => now.incidents);
  return (
    <div className="bench-page search-page">
      <Sheet view={view} live={live} shown={shown} />
      <main className="bench-main">
        <SearchTools view={view} live={live} onSupply={onSupply} />
        <div className="bench-stage">
          <div className="bench-board">
            {state === 'opening' ? (
              <Spin className="waiting" aria-label="Opening the bench" />
            ) : (
              <SearchBoard
                bench={bench}
                live={live}
                act={act}
                store={store}
                link={link}
                hung={exercise.leads === 'hung'}
              />
            )}
            <div className="bench-notes">
              {(state === 'lost' || state === 'ended') && <Alert type="warning" showIcon title={why} />}
              <IncidentBanner incidents={incidents} onClose={live.clearIncidents} />
            </div>
          </div>
          <Side view={view} live={live} store={store} link={link} />
        </div>
      </main>
    </div>
  );
}

/** Supply, lock, and the clock. */
function SearchTools({
  view,
  live,
  onSupply,
}: {
  view: SearchView;
  live: RemoteBench;
  onSupply: (on: boolean) => void;
}) {
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const locked = useStore(live.remote, (state) => state.locked);
  const seconds = useStore(live.store, (state) => Math.floor(state.frame?.t ?? 0));
  const over = seconds > view.order.minutes * 60;
  return (
    <div className="toolbar search-tools" role="toolbar" aria-label="Supply and lock">
      <span className="search-clock" data-over={over ? 'yes' : undefined}>
        {clock(seconds)} of {view.order.minutes}:00 min{over ? ', over time' : ''}
      </span>
      <Button
        icon={locked ? <LockOutlined /> : <UnlockOutlined />}
        aria-pressed={locked}
        disabled={supplyOn}
        onClick={() => void live.do({ kind: 'lock', on: !locked })}
      >
        {locked ? 'Locked off: take the lock away' : 'Lock off'}
      </Button>
      <Button
        className={`supply ${supplyOn ? 'on' : 'off'}`}
        type={supplyOn ? 'default' : 'primary'}
        icon={<PoweroffOutlined />}
        aria-pressed={supplyOn}
        disabled={locked}
        onClick={() => onSupply(!supplyOn)}
      >
        {supplyOn ? 'Supply is on: switch off' : 'Supply is off: switch on'}
      </Button>
    </div>
  );
}

function Side({
  view,
  live,
  store,
  link,
}: {
  view: SearchView;
  live: RemoteBench;
  store: SearchStore;
  link: LinkStore;
}) {
  const { bench, exercise, tools } = view;
  const form = usualForm(bench);
  const drawing = useMemo(() => drawingOf(bench, form), [bench, form]);
  return (
    <aside className="search-side" aria-label="Instruments and verdict">
      <Tabs
        size="small"
        items={[
          {
            key: 'tools',
            label: 'Instruments',
            children: <Instruments bench={bench} live={live} store={store} tools={tools} />,
          },
          {
            key: 'drawing',
            label: 'Drawing',
            children: (
              <DrawingView
                drawing={drawing}
                link={link}
                onTerminal={(ref) => putProbe(store, ref)}
                label={`Drawing of ${exercise.title}`}
              />
            ),
          },
          {
            key: 'verdict',
            label: 'Verdict',
            children: <VerdictForm bench={bench} live={live} link={link} />,
          },
        ]}
      />
    </aside>
  );
}

/** Work order, notebook, what is to be proved, and handing in. */
function Sheet({ view, live, shown }: { view: SearchView; live: RemoteBench; shown: ReadonlySet<string> }) {
  const { exercise, order } = view;
  return (
    <aside className="job-sheet">
      <header>
        <h1>{exercise.title}</h1>
        <p className="quiet">{order.title}</p>
      </header>
      <Tabs
        size="small"
        className="job-tabs"
        items={[
          { key: 'order', label: 'Work order', children: <Order view={view} shown={shown} /> },
          { key: 'notes', label: 'Notebook', children: <Notebook view={view} live={live} /> },
        ]}
      />
      <End view={view} live={live} />
    </aside>
  );
}

const TOOL_WORDS: Readonly<Record<Tool, string>> = {
  volts: 'voltmeter',
  ohms: 'ohmmeter',
  amps: 'clamp',
  sequence: 'phase order',
  lift: 'taking leads off',
  exchange: 'exchanging parts',
};

function Order({ view, shown }: { view: SearchView; shown: ReadonlySet<string> }) {
  const { exercise, order } = view;
  const tells = exercise.behaviours.some(({ steps }) => steps !== undefined);
  return (
    <div className="job-scroll work-order">
      <h2>The operator says</h2>
      <blockquote>{order.complaint}</blockquote>
      <p>{exercise.brief}</p>
      <p className="quiet">
        {order.minutes} minutes. Tools: {view.tools.map((tool) => TOOL_WORDS[tool]).join(', ')}.
      </p>
      <h2>After the repair it must</h2>
      <ul className="prove-list">
        {exercise.behaviours.map(({ id, title }) => (
          <li key={id} data-shown={shown.has(id) ? 'yes' : undefined}>
            <span aria-hidden="true">{tells && shown.has(id) ? '✓' : '○'}</span> {title}
          </li>
        ))}
      </ul>
      <p className="caution">
        <strong>On a real board:</strong> isolate, lock off and prove dead before you touch it; live readings
        only under supervision. Nobody energises before the instructor says so. A pass here does not make real
        hardware safe; local codes and a licensed person decide.
      </p>
    </div>
  );
}

function End({ view, live }: { view: SearchView; live: RemoteBench }) {
  const toast = useToasts();
  const navigate = useNavigate();
  const handIn = useHandIn();
  const end = useEndPractice(view.id);
  const { attemptId } = view;
  const isPractice = attemptId === null;
  const finish = () => {
    const done: Promise<unknown> =
      attemptId === null
        ? end.mutateAsync()
        : handIn.mutateAsync(attemptId).then(() => void navigate(afterHandIn(view)));
    done.then(() => live.close()).catch((error: unknown) => toast.error((error as Error).message));
  };
  const busy = handIn.isPending || end.isPending;
  return (
    <footer>
      <Popconfirm
        title={isPractice ? 'End this practice?' : 'Hand in this search?'}
        description="It is marked at once from what you did, and cannot be changed afterwards."
        okText={isPractice ? 'End practice' : 'Hand in'}
        cancelText="Keep searching"
        onConfirm={finish}
        disabled={busy}
      >
        <Button type="primary" block loading={busy}>
          {isPractice ? 'End the practice' : 'Hand in'}
        </Button>
      </Popconfirm>
    </footer>
  );
}
