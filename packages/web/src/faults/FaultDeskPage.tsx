import { useMemo, useState } from 'react';
import { Alert, Button, Progress, Select, Spin, Tabs } from 'antd';
import { Link, useSearchParams } from 'react-router';
import {
  DEGREES,
  DEGREE_WORDS,
  REPORTED_SYMPTOMS,
  devicesOf,
  pickFaults,
  plural,
  type Exercise,
  type FaultEffect,
  type ReportedSymptom,
} from '@contactum/core';
import type { Person } from '@contactum/contract';
import { useExercise, useExercises } from '../api/queries.js';
import { ClassBenches } from './ClassBenches.js';
import { FaultStage } from './FaultStage.js';
import { OwnSet, type OwnFault } from './OwnSet.js';
import { useEffects } from './use-effects.js';
import './faults.css';

/**
 * The instructor's desk: what can go wrong with a board, what each fault does, and putting it into benches.
 */
export function FaultDeskPage({ person }: { person: Person }) {
  const exercises = useExercises();
  const [params, setParams] = useSearchParams();
  const list = exercises.data ?? [];
  const id = params.get('board') ?? list.find(({ task }) => task === 'find')?.id ?? '';
  const exercise = useExercise(id);
  if (exercises.isPending) return <Spin className="waiting" />;
  return (
    <main className="page fault-desk">
      <header className="page-head">
        <h1>Fault desk</h1>
        <Select
          showSearch={{ optionFilterProp: 'label' }}
          aria-label="Board"
          value={id}
          options={list.map((one) => ({ value: one.id, label: one.title }))}
          onChange={(next: string) => setParams({ board: next })}
          style={{ width: 380 }}
        />
        <Link to={`/diagnose/${id}`}>Diagnose a physical board</Link>
      </header>
      {exercise.isError && <Alert type="error" showIcon title={exercise.error.message} />}
      {exercise.data && <Desk key={id} exercise={exercise.data.exercise} person={person} />}
    </main>
  );
}

function Desk({ exercise, person }: { exercise: Exercise; person: Person }) {
  const { effects, part, problem, stop, stopped } = useEffects(exercise);
  const [chosen, setChosen] = useState<FaultEffect | null>(null);
  const [own, setOwn] = useState<readonly OwnFault[]>([]);
  const add = (fault: OwnFault) => setOwn((before) => [...before, fault]);
  return (
    <Tabs
      items={[
        {
          key: 'browse',
          label: 'What can go wrong',
          children: effects ? (
            <Browse exercise={exercise} effects={effects} chosen={chosen} onChoose={setChosen} onAdd={add} />
          ) : (
            <div className="working-out">
              {problem !== null && <Alert type="error" showIcon title={problem} />}
              <p>
                {stopped ? 'Stopped.' : 'Every fault of this board is worked through all of its functions …'}
              </p>
              <Progress percent={Math.round(part * 100)} aria-label="Faults worked out" />
              {!stopped && <Button onClick={stop}>Cancel</Button>}
            </div>
          ),
        },
        {
          key: 'set',
          label: `My set (${own.length})`,
          children: <OwnSet exercise={exercise} own={own} onOwn={setOwn} />,
        },
        {
          key: 'benches',
          label: 'Live benches',
          children: <ClassBenches exercise={exercise} chosen={chosen} person={person} />,
        },
      ]}
    />
  );
}

interface Filter {
  readonly tag: string | undefined;
  readonly reportedSymptom: ReportedSymptom | 'nothing' | undefined;
}

function admits({ fault, reportedSymptoms }: FaultEffect, { tag, reportedSymptom }: Filter): boolean {
  if (tag !== undefined && !devicesOf(fault).includes(tag)) return false;
  if (reportedSymptom === undefined) return true;
  return reportedSymptom === 'nothing'
    ? reportedSymptoms.length === 0
    : reportedSymptoms.includes(reportedSymptom);
}

function Filters({
  exercise,
  effects,
  filter,
  onFilter,
}: {
  exercise: Exercise;
  effects: readonly FaultEffect[];
  filter: Filter;
  onFilter: (filter: Filter) => void;
}) {
  const reportedSymptoms = (Object.keys(REPORTED_SYMPTOMS) as ReportedSymptom[]).filter((reportedSymptom) =>
    effects.some((one) => one.reportedSymptoms.includes(reportedSymptom)),
  );
  return (
    <>
      <Select
        allowClear
        aria-label="Device"
        placeholder="Device"
        options={exercise.bench.devices.map(({ tag }) => ({ value: tag, label: tag }))}
        onChange={(tag: string | undefined) => onFilter({ ...filter, tag })}
        style={{ width: 110 }}
      />
      <Select
        allowClear
        aria-label="Symptom"
        placeholder="Symptom"
        options={[
          ...reportedSymptoms.map((reportedSymptom) => ({
            value: reportedSymptom,
            label: REPORTED_SYMPTOMS[reportedSymptom],
          })),
          { value: 'nothing' as const, label: 'Nothing to see' },
        ]}
        onChange={(reportedSymptom: Filter['reportedSymptom']) => onFilter({ ...filter, reportedSymptom })}
        style={{ width: 330 }}
      />
    </>
  );
}

interface Browsing {
  readonly exercise: Exercise;
  readonly effects: readonly FaultEffect[];
  readonly chosen: FaultEffect | null;
  readonly onChoose: (effect: FaultEffect) => void;
}

function Browse({ onAdd, ...browsing }: Browsing & { onAdd: (fault: OwnFault) => void }) {
  const { exercise, effects, chosen } = browsing;
  return (
    <div className="fault-browse">
      <FaultList {...browsing} />
      <section className="fault-detail" aria-label="What the chosen fault does">
        {chosen ? (
          <Detail exercise={exercise} effects={effects} effect={chosen} onAdd={onAdd} />
        ) : (
          <p className="quiet">Choose a fault to see what it does; nothing is injected by looking.</p>
        )}
        <Degrees effects={effects} onAdd={onAdd} />
      </section>
    </div>
  );
}

function FaultList({ exercise, effects, chosen, onChoose }: Browsing) {
  const [filter, setFilter] = useState<Filter>({ tag: undefined, reportedSymptom: undefined });
  const shown = useMemo(() => effects.filter((effect) => admits(effect, filter)), [effects, filter]);
  return (
    <section className="fault-list">
      <div className="fault-filters" role="search">
        <Filters exercise={exercise} effects={effects} filter={filter} onFilter={setFilter} />
        <span className="quiet" role="status">
          {shown.length} of {effects.length} faults
        </span>
      </div>
      <ul className="faults" aria-label="Faults">
        {shown.map((effect) => (
          <li key={effect.title}>
            <button type="button" aria-pressed={chosen === effect} onClick={() => onChoose(effect)}>
              <span>{effect.title}</span>
              <span className="quiet">
                {effect.symptoms.length === 0 ? 'nothing to see' : plural(effect.symptoms.length, 'function')}{' '}
                · {plural(effect.readings, 'reading')}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Detail({
  exercise,
  effects,
  effect,
  onAdd,
}: {
  exercise: Exercise;
  effects: readonly FaultEffect[];
  effect: FaultEffect;
  onAdd: (fault: OwnFault) => void;
}) {
  const { title, fault, incidents, reportedSymptoms, readings, alike } = effect;
  return (
    <>
      <header>
        <h2>{title}</h2>
        <Button
          onClick={() =>
            onAdd({
              faults: [fault],
              complaint: REPORTED_SYMPTOMS[reportedSymptoms[0] ?? 'otherwise'],
              minutes: 20,
            })
          }
        >
          Add to my set
        </Button>
      </header>
      <dl className="effect">
        <dt>The operator sees</dt>
        <dd>
          {reportedSymptoms.length > 0
            ? reportedSymptoms
                .slice(0, 3)
                .map((reportedSymptom) => REPORTED_SYMPTOMS[reportedSymptom])
                .join(' ')
            : 'Nothing, until it is tested.'}
        </dd>
        <dt>Incidents</dt>
        <dd>{incidents.length === 0 ? 'none' : incidents.join(', ')}</dd>
        <dt>Readings an expert needs</dt>
        <dd>{readings}</dd>
        {alike.length > 0 && (
          <>
            <dt>Behaves the same as</dt>
            <dd>{alike.map((k) => effects[k]?.title).join('; ')}</dd>
          </>
        )}
      </dl>
      <FaultStage exercise={exercise} fault={fault} />
    </>
  );
}

/** Sets by degree: picked by chance, and again by another. */
function Degrees({ effects, onAdd }: { effects: readonly FaultEffect[]; onAdd: (fault: OwnFault) => void }) {
  return (
    <div className="degrees">
      <h3>Choose by difficulty</h3>
      {DEGREES.map((degree) => (
        <Button
          key={degree}
          size="small"
          onClick={() => {
            const picked = pickFaults(effects, degree, Math.floor(Math.random() * 1e9));
            if (picked) onAdd(picked);
          }}
        >
          {degree}: {DEGREE_WORDS[degree]}
        </Button>
      ))}
    </div>
  );
}
