import { useMemo, useState, type ReactNode } from 'react';
import { Button, Popconfirm, Segmented } from 'antd';
import { useStore } from 'zustand';
import {
  plural,
  compile,
  isReadingOf,
  judgeWorkmanship,
  practiceSentences,
  ruleSentences,
  type Progress,
} from '@contactum/core';
import type { AttemptView } from '@contactum/contract';
import { useProgress } from '../api/queries.js';
import { DeviceTable } from '../board/DeviceTable.js';
import type { LinkStore } from '../board/link.js';
import { sequenceWords, stimuliOf } from '../slip/steps.js';
import { Hints } from './Hints.js';
import { LeadList } from './LeadList.js';
import { DeadTests, Permission } from './practice.js';
import type { Kit } from './use-workplace.js';
import './job-sheet.css';

/** How far one step of the job is. */
type Mark = 'done' | 'open' | 'none';

interface Work {
  readonly view: AttemptView;
  readonly kit: Kit;
  readonly shown: ReadonlySet<string>;
  /** The exercise says how its functions are proved. */
  readonly isTold: boolean;
}

/** What is asked, point by point; nothing where nothing is. */
function Points({ title, points }: { title: string; points: readonly string[] }) {
  if (points.length === 0) return null;
  return (
    <details className="job-points">
      <summary>{title}</summary>
      <ul className="must">
        {points.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    </details>
  );
}

/** One step of the work, in the order in which practitioners go. */
function JobStep({
  n,
  title,
  mark,
  children,
}: {
  n: number;
  title: string;
  mark: Mark;
  children: ReactNode;
}) {
  const words = { done: 'done', open: 'open', none: '' }[mark];
  return (
    <section className="job-step" data-mark={mark} aria-label={`${n} ${title}${words ? `, ${words}` : ''}`}>
      <h2>
        <span className="job-number" aria-hidden="true">
          {mark === 'done' ? '✓' : n}
        </span>
        {title}
      </h2>
      {children}
    </section>
  );
}

/** What is untidy on the board as it is wired, in sentences. */
function useUntidy({ view, kit: { store } }: Work): readonly string[] {
  const bench = useStore(store, (state) => state.bench);
  const { rules } = view.exercise;
  return useMemo(
    () =>
      judgeWorkmanship(compile(bench), rules).flatMap(({ title, broken }) =>
        broken ? [`${title}: ${broken.found}`] : [],
      ),
    [bench, rules],
  );
}

/** How far the wiring that is stored is complete, where the exercise says it. */
function useWired({ view: { attempt, exercise }, kit: { store } }: Work): Progress | null | undefined {
  const editedSeq = useStore(store, (state) => (state.unsaved === 0 ? state.editedSeq : -1));
  return useProgress(attempt.id, exercise.tellsProgress, editedSeq).data;
}

/** What is still open of an attempt, shortly; told before it is handed in. */
function useOpenItems(work: Work, untidy: readonly string[]): string[] {
  const { exercise } = work.view;
  const { store } = work.kit;
  const readings = useStore(store, (state) => state.readings);
  const progress = useWired(work);
  const untested = exercise.deadTests.filter((row) => !readings.some((one) => isReadingOf(row, one))).length;
  const unproved = exercise.behaviours.filter(({ id }) => !work.shown.has(id)).length;
  return [
    ...(progress && progress.complete < progress.of
      ? [`${plural(progress.of - progress.complete, 'potential')} not complete`]
      : []),
    ...(untested > 0 ? [`${plural(untested, 'dead test')} not made on this wiring`] : []),
    ...(work.isTold && unproved > 0 ? [`${plural(unproved, 'function')} not proved on this wiring`] : []),
    ...(untidy.length > 0 ? [`${untidy.length} to tidy`] : []),
  ];
}

function Job({ work, untidy }: { work: Work; untidy: readonly string[] }) {
  const { view, kit } = work;
  const { practice, deadTests } = view.exercise;
  const steps: readonly (StepOfJob | false)[] = [
    { title: 'The job', mark: 'none', body: <Asked work={work} /> },
    { title: 'Wire it', mark: 'none', body: <Wiring work={work} /> },
    deadTests.length > 0 && {
      title: 'Test dead',
      mark: 'none',
      body: <DeadTests view={view} store={kit.store} live={kit.live} />,
    },
    practice?.permission === true && {
      title: 'Ask to energise',
      mark: 'none',
      body: <Permission view={view} store={kit.store} />,
    },
    { title: 'Prove it', mark: provedMark(work), body: <Functions work={work} /> },
    { title: 'Tidy', mark: untidy.length === 0 ? 'done' : 'open', body: <Untidy untidy={untidy} /> },
  ];
  return (
    <div className="job-scroll">
      {steps
        .filter((step) => step !== false)
        .map(({ title, mark, body }, k) => (
          <JobStep key={title} n={k + 1} title={title} mark={mark}>
            {body}
          </JobStep>
        ))}
      <p className="caution">
        <strong>On a real board:</strong> isolate, lock off and prove dead before you touch it. Nobody
        energises before the instructor says so. A pass here does not make real hardware safe; local codes and
        a licensed person decide.
      </p>
    </div>
  );
}

interface StepOfJob {
  readonly title: string;
  readonly mark: Mark;
  readonly body: ReactNode;
}

function Asked({ work: { view, isTold } }: { work: Work }) {
  const { brief, behaviours, rules, practice } = view.exercise;
  return (
    <>
      <p>{brief}</p>
      {!isTold && <Points title="It must" points={behaviours.map(({ title }) => title)} />}
      <Points title="House rules" points={ruleSentences(rules)} />
      <Points title="Work practice" points={practiceSentences(practice ?? undefined)} />
    </>
  );
}

const provedMark = ({ isTold, shown, view }: Work): Mark =>
  isTold ? (shown.size === view.exercise.behaviours.length ? 'done' : 'open') : 'none';

/** What the board must do, each ticked once it has done it. */
function Functions({ work: { view, shown, isTold } }: { work: Work }) {
  if (!isTold) return <p className="quiet">Switch on and work it in every way that it must stand.</p>;
  const { behaviours } = view.exercise;
  // How the next one is shown; all of them at once would be a wall of text.
  const next = behaviours.find(({ id }) => !shown.has(id));
  return (
    <ul className="prove-list">
      {behaviours.map(({ id, title, steps = [] }) => (
        <li key={id} data-shown={shown.has(id) ? 'yes' : undefined}>
          <span aria-hidden="true">{shown.has(id) ? '✓' : '○'}</span> {title}
          <span className="visually-hidden">{shown.has(id) ? ', shown' : ', not shown yet'}</span>
          {id === next?.id && (
            <span className="prove-steps quiet">
              {sequenceWords(stimuliOf(steps)) || 'as soon as the supply is on'}
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}

function Untidy({ untidy }: { untidy: readonly string[] }) {
  if (untidy.length === 0) return <p className="quiet">Nothing to tidy.</p>;
  return (
    <ul className="must">
      {untidy.map((text) => (
        <li key={text}>{text}</li>
      ))}
    </ul>
  );
}

/** How many of the reference's potentials are whole, where the exercise says it. */
function Wiring({ work }: { work: Work }) {
  const leads = useStore(work.kit.store, (state) => state.bench.wires.length);
  const data = useWired(work);
  if (!data) return <p className="quiet">{plural(leads, 'lead')} laid</p>;
  return (
    <>
      <p className="quiet">
        {data.complete} of {data.of} potentials complete, {plural(leads, 'lead')}
      </p>
      <progress
        className="job-progress"
        value={data.complete}
        max={data.of}
        aria-label="Potentials complete"
      />
    </>
  );
}

/** Hands in, after saying what is still open. */
function HandIn({ open, busy, onHandIn }: { open: readonly string[]; busy: boolean; onHandIn: () => void }) {
  return (
    <Popconfirm
      title="Hand in this board?"
      description={
        <>
          <p>It is marked at once and cannot be changed afterwards.</p>
          {open.length > 0 && <p>Still open: {open.join('; ')}.</p>}
        </>
      }
      okText="Hand in"
      cancelText="Keep wiring"
      onConfirm={onHandIn}
      disabled={busy}
    >
      <Button type="primary" block loading={busy}>
        Hand in
      </Button>
    </Popconfirm>
  );
}

/** What of the job sheet is open. */
type Part = 'job' | 'devices' | 'leads';

/** The sheet beside the board: the job step by step, the devices, the leads laid so far, and handing in. */
export function JobSheet({
  busy,
  onHandIn,
  link,
  ...work
}: Work & { busy: boolean; onHandIn: () => void; link: LinkStore }) {
  const { view, kit } = work;
  const { exercise, attempt, className } = view;
  const leads = useStore(kit.store, (state) => state.bench.wires.length);
  const untidy = useUntidy(work);
  const open = useOpenItems(work, untidy);
  const [part, setPart] = useState<Part>('job');
  return (
    <aside className="job-sheet">
      <header>
        <h1>{exercise.title}</h1>
        <p className="quiet">
          Attempt {attempt.number} · {className}
        </p>
      </header>
      <Segmented<Part>
        className="job-parts"
        aria-label="Job sheet"
        value={part}
        onChange={setPart}
        options={[
          { value: 'job', label: 'Job' },
          { value: 'devices', label: 'Devices' },
          { value: 'leads', label: `Leads (${leads})` },
        ]}
      />
      {/* What was read and chosen in the job stays while another part is looked at. */}
      <div className="job-part" hidden={part !== 'job'}>
        <Job work={work} untidy={untidy} />
      </div>
      {part === 'devices' && (
        <div className="job-part job-scroll">
          <DeviceTable devices={exercise.bench.devices} />
        </div>
      )}
      {part === 'leads' && (
        <div className="job-part">
          <LeadList store={kit.store} />
        </div>
      )}
      <footer>
        <Hints view={view} store={kit.store} link={link} />
        <HandIn open={open} busy={busy} onHandIn={onHandIn} />
      </footer>
    </aside>
  );
}
