import { useEffect, useMemo, useState } from 'react';
import { Alert, Button, Progress, Segmented, Tag } from 'antd';
import { useStore } from 'zustand';
import {
  bySurprise,
  type Exercise,
  type Objection,
  type PropertyId,
  type Readiness,
  type Trial,
} from '@contactum/core';
import type { MarkingCost } from '@contactum/contract';
import { Board } from '../board/Board.js';
import { sequenceWords, stimuliOf } from '../slip/steps.js';
import { askSetter, followDryRun } from './ask-setter.js';
import type { SetterStore } from './store.js';

/**
 * Before it is set: the reference against what is asked of it, and a dry run of wirings as students make
 * them.
 */
export function CheckPane({ setter, onPublish }: { setter: SetterStore; onPublish: () => void }) {
  const exercise = useStore(setter, (state) => state.exercise);
  const readiness = useReadiness(exercise);
  const dry = useDryRun(exercise);
  const [shown, setShown] = useState<Trial | null>(null);
  return (
    <div className="check-pane">
      <section className="check-left">
        <Ready readiness={readiness} setter={setter} onPublish={onPublish} />
        <DryRun dry={dry} shown={shown} onShow={setShown} isReady={readiness?.ready ?? false} />
      </section>
      <section className="check-right" aria-label="A wiring of the dry run">
        {shown ? (
          <TrialView trial={shown} />
        ) : (
          <p className="quiet">Open a wiring of the dry run to see it on the board.</p>
        )}
      </section>
    </div>
  );
}

/** What stands against the exercise as it is now, asked anew when it has been left alone for a moment. */
function useReadiness(exercise: Exercise): Readiness | null {
  const [readiness, setReadiness] = useState<Readiness | null>(null);
  useEffect(() => {
    let gone = false;
    setReadiness(null);
    const timer = setTimeout(() => {
      askSetter((thread) => thread.ready(exercise))
        .then((answer) => !gone && setReadiness(answer))
        .catch((error: unknown) => {
          const found = (error as Error).message;
          const objections: Objection[] = [
            { part: 'exercise', id: 'broken', title: 'Cannot be looked at', found, refuses: true },
          ];
          if (!gone) setReadiness({ ready: false, objections, score: 0, max: 0 });
        });
    }, 150);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [exercise]);
  return readiness;
}

function Ready({
  readiness,
  setter,
  onPublish,
}: {
  readiness: Readiness | null;
  setter: SetterStore;
  onPublish: () => void;
}) {
  if (!readiness) return <p role="status">Working the reference in every order …</p>;
  const { ready, objections, score, max } = readiness;
  return (
    <>
      <div className="ready-head" data-ready={ready ? 'yes' : 'no'}>
        <strong>
          {ready ? '✓ The reference stands up to everything that is asked.' : '✕ It cannot be set as it is.'}
        </strong>
        <span>
          The reference earns {score} of {max}.{ready && <Cost setter={setter} />}
        </span>
        <Button type="primary" disabled={!ready} onClick={onPublish}>
          Publish
        </Button>
      </div>
      <ul className="objections">
        {objections.map((one) => (
          <ObjectionRow key={`${one.part} ${one.id}`} objection={one} setter={setter} />
        ))}
      </ul>
    </>
  );
}

/** What marking one attempt takes, measured on the server before anybody waits for it. */
function Cost({ setter }: { setter: SetterStore }) {
  const exercise = useStore(setter, (state) => state.exercise);
  const [cost, setCost] = useState<MarkingCost | null>(null);
  useEffect(() => {
    let gone = false;
    setCost(null);
    setter.actions
      .cost()
      .then((found) => !gone && setCost(found))
      .catch(() => undefined);
    return () => {
      gone = true;
    };
  }, [setter, exercise]);
  if (!cost) return null;
  return <span data-heavy={isHeavy(cost) ? 'yes' : undefined}> {costWords(cost)}</span>;
}

const isHeavy = ({ seconds, most }: MarkingCost): boolean => seconds === null || seconds > most / 4;

function costWords({ seconds, most }: MarkingCost): string {
  if (seconds === null)
    return (
      `! Marking takes more than ${most} s: it waits behind the others’ work, and the proof may stop ` +
      'before it is complete. Divide the board.'
    );
  const time = seconds < 1 ? 'less than a second' : `about ${Math.round(seconds)} s`;
  return `Marking one attempt takes ${time}.`;
}

function ObjectionRow({ objection, setter }: { objection: Objection; setter: SetterStore }) {
  const { part, id, title, found, steps, refuses } = objection;
  const lesson = (setter.getState().exercise.lesson ?? []).includes(id as PropertyId);
  return (
    <li data-refuses={refuses ? 'yes' : 'no'}>
      <strong>
        {refuses ? '✕' : '!'} {title}
      </strong>{' '}
      <span className="quiet">{part}</span>
      <p>{found}</p>
      {steps && steps.length > 0 && <p className="mono steps-line">{sequenceWords(stimuliOf(steps))}</p>}
      {part === 'safety' && !lesson && (
        <Button
          size="small"
          onClick={() =>
            setter.actions.change((one) => ({ ...one, lesson: [...(one.lesson ?? []), id as PropertyId] }))
          }
        >
          Deliberately unsafe
        </Button>
      )}
    </li>
  );
}

interface Dry {
  readonly trials: readonly Trial[];
  readonly of: number;
  readonly state: 'none' | 'running' | 'done' | 'old';
  readonly why: string | null;
  readonly seconds: number;
  readonly start: () => void;
  readonly stop: () => void;
}

/** A dry run in threads of its own; what it found is old once the exercise is another. */
function useDryRun(exercise: Exercise): Dry {
  // The exercise is taken as it is when the run is begun.
  const [asked, setAsked] = useState<{ exercise: Exercise; seed: number } | null>(null);
  const [run, setRun] = useState<{
    exercise: Exercise;
    trials: readonly Trial[];
    of: number;
    done: boolean;
    why: string | null;
    seconds: number;
  } | null>(null);
  useEffect(() => {
    if (!asked) return undefined;
    const begun = performance.now();
    setRun({ exercise: asked.exercise, trials: [], of: 0, done: false, why: null, seconds: 0 });
    const seconds = () => (performance.now() - begun) / 1000;
    return followDryRun(
      asked,
      (trial, of) =>
        setRun((now) => now && { ...now, trials: [...now.trials, trial], of, seconds: seconds() }),
      (why) => setRun((now) => now && { ...now, done: true, why, seconds: seconds() }),
    );
  }, [asked]);
  const state = !run ? 'none' : run.exercise !== exercise ? 'old' : run.done ? 'done' : 'running';
  return {
    trials: run?.trials ?? [],
    of: run?.of ?? 0,
    why: run?.why ?? null,
    seconds: run?.seconds ?? 0,
    state,
    start: () => setAsked((before) => ({ exercise, seed: (before?.seed ?? 0) + 1 })),
    stop: () => {
      setAsked(null);
      setRun((now) => now && { ...now, done: true });
    },
  };
}

type Filter = 'surprises' | 'wrong' | 'right';

function DryRun({
  dry,
  shown,
  onShow,
  isReady,
}: {
  dry: Dry;
  shown: Trial | null;
  onShow: (trial: Trial) => void;
  isReady: boolean;
}) {
  return (
    <div className="dry-run">
      <div className="dry-head">
        <h2>Dry run</h2>
        {dry.state === 'running' ? (
          <Button size="small" onClick={dry.stop}>
            Stop
          </Button>
        ) : (
          <Button
            size="small"
            type={isReady && dry.state === 'none' ? 'primary' : 'default'}
            onClick={dry.start}
          >
            {dry.state === 'none' ? 'Mark sixty wirings, right and wrong' : 'Run it again, with others'}
          </Button>
        )}
      </div>
      {dry.state === 'running' && (
        <Progress percent={Math.round((100 * dry.trials.length) / Math.max(1, dry.of))} size="small" />
      )}
      {dry.why && <Alert type="error" title={dry.why} />}
      {dry.state === 'none' && (
        <p className="quiet">
          Marks the usual mistakes on your reference, and other right wirings of it, so that you see what the
          marks say before a student does.
        </p>
      )}
      {dry.state === 'old' && <p className="setter-message">The exercise has changed since this run.</p>}
      {dry.trials.length > 0 && <Trials dry={dry} shown={shown} onShow={onShow} />}
    </div>
  );
}

/** The wirings with their marks, and how many say something else than they should. */
function Trials({ dry, shown, onShow }: { dry: Dry } & Shown) {
  const [filter, setFilter] = useState<Filter>('surprises');
  const sorted = useMemo(() => bySurprise(dry.trials), [dry.trials]);
  const surprises = sorted.filter(({ surprise }) => surprise > 0.5);
  const list = filter === 'surprises' ? sorted : sorted.filter(({ kind }) => kind === filter);
  return (
    <>
      <p role="status">
        {surprises.length === 0
          ? `${dry.trials.length} wirings marked: every mark says what it should.`
          : `${surprises.length} of ${dry.trials.length} marks say something else than a careful instructor would.`}
        {dry.state === 'done' && <span className="quiet"> {dry.seconds.toFixed(1)} s</span>}
      </p>
      <Segmented<Filter>
        size="small"
        aria-label="Which wirings"
        value={filter}
        onChange={setFilter}
        options={[
          { value: 'surprises', label: 'worst surprises first' },
          { value: 'wrong', label: 'wrong' },
          { value: 'right', label: 'right' },
        ]}
      />
      <TrialList list={list} shown={shown} onShow={onShow} />
    </>
  );
}

interface Shown {
  readonly shown: Trial | null;
  readonly onShow: (trial: Trial) => void;
}

function TrialList({ list, shown, onShow }: { list: readonly Trial[] } & Shown) {
  return (
    <ol className="trials">
      {list.map((trial) => (
        <li key={`${trial.kind} ${trial.title}`}>
          <button type="button" aria-pressed={trial === shown} onClick={() => onShow(trial)}>
            <span className={trial.surprise > 0.5 ? 'wrong-mark' : 'right-mark'} aria-hidden="true">
              {trial.surprise > 0.5 ? '!' : '✓'}
            </span>
            <span className="trial-title">
              {trial.title}
              <span className="quiet">{trial.says}</span>
            </span>
            <span className="mono">{trial.recorded}</span>
            <Tag color={trial.passed ? 'success' : 'error'}>{trial.passed ? 'passes' : 'fails'}</Tag>
          </button>
        </li>
      ))}
    </ol>
  );
}

/** One wiring with what it loses. */
function TrialView({ trial }: { trial: Trial }) {
  const { bench, title, score, recorded, max, passed, reason, losses, worse, says } = trial;
  return (
    <>
      <h2>{title}</h2>
      <p>
        <strong>
          {score} of {max}, {passed ? 'passes' : 'does not pass'}
          {recorded === score ? '' : `, recorded as ${recorded}`}
        </strong>
        : {says}. {reason ?? ''}
      </p>
      {worse.length > 0 && <p>Protects less than the reference: {worse.join('; ')}.</p>}
      <Board bench={bench} label={title} />
      <ul className="trial-losses">
        {losses.map(({ part, title: lost, found }) => (
          <li key={`${part} ${lost}`}>
            <span className="quiet">{part}</span> {lost}: {found}
          </li>
        ))}
        {losses.length === 0 && <li>No points lost.</li>}
      </ul>
    </>
  );
}
