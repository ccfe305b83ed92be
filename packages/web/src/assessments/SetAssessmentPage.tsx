import { useState } from 'react';
import { Alert, Button, DatePicker, Input, InputNumber, Segmented, Select, Spin, Switch } from 'antd';
import dayjs, { type Dayjs } from 'dayjs';
import { useNavigate, useParams } from 'react-router';
import { AIDS, type Aid } from '@contactum/core';
import { useSetAssessment } from '../api/assessments.js';
import { useRoster } from '../api/college.js';
import { useExercises } from '../api/queries.js';
import { useToasts } from '../shell/toasts.js';
import { MoreTimeRows } from './MoreTimeRows.js';
import { TaskRows } from './TaskRows.js';
import { FRESH, exerciseTask, objectionTo, observedTask, requestOf, type Planned } from './plan-store.js';
import { AID_WORDS, TASK_WORDS } from './words.js';
import './assessments.css';
import '../classes/classes.css';

/** Sets an assessment of several tasks to a class. */
export function SetAssessmentPage() {
  const { classId = '' } = useParams();
  const roster = useRoster(classId);
  const [plan, setPlan] = useState<Planned>(FRESH);
  const set = (change: Partial<Planned>) => setPlan((before) => ({ ...before, ...change }));
  if (roster.isError) return <Alert className="page" type="error" showIcon title={roster.error.message} />;
  if (!roster.data) return <Spin className="waiting" />;
  return (
    <main className="page assessment-form">
      <div className="page-head">
        <h1>Set an assessment to {roster.data.name}</h1>
      </div>
      <label className="setting-row">
        <span>Title</span>
        <Input
          aria-label="Title"
          autoFocus
          maxLength={120}
          value={plan.title}
          placeholder="Practical test 1"
          onChange={({ target }) => set({ title: target.value })}
        />
      </label>
      <h2>Tasks</h2>
      <TaskRows tasks={plan.tasks} onTasks={(tasks) => set({ tasks })} />
      <AddTask plan={plan} set={set} />
      <Conditions plan={plan} set={set} />
      <Passing plan={plan} set={set} />
      <h2>More time for single people</h2>
      <MoreTimeRows members={roster.data.members} extra={plan.extra} onExtra={(extra) => set({ extra })} />
      <SetButton classId={classId} plan={plan} />
    </main>
  );
}

interface Part {
  readonly plan: Planned;
  readonly set: (change: Partial<Planned>) => void;
}

function AddTask({ plan, set }: Part) {
  const exercises = useExercises();
  const taken = new Set(plan.tasks.flatMap((task) => (task.kind === 'exercise' ? [task.exerciseId] : [])));
  const options = (exercises.data ?? [])
    .filter(({ id }) => !taken.has(id))
    .map(({ id, title, task }) => ({ value: id, label: `${title} (${TASK_WORDS[task].toLowerCase()})` }));
  return (
    <div className="add-task">
      <Select
        aria-label="Add an exercise"
        placeholder="Add an exercise: type a few letters of its title"
        showSearch={{ optionFilterProp: 'label' }}
        value={null}
        loading={exercises.isPending}
        options={options}
        onChange={(id: string | null) => id !== null && set({ tasks: [...plan.tasks, exerciseTask(id)] })}
      />
      <Button onClick={() => set({ tasks: [...plan.tasks, observedTask()] })}>
        Add criteria to be observed
      </Button>
    </div>
  );
}

/** How long, in which order, with what, and how it begins. */
function Conditions({ plan, set }: Part) {
  return (
    <>
      <h2>Conditions</h2>
      <label className="setting-row">
        <span>Time</span>
        <InputNumber
          aria-label="Minutes of the whole"
          min={1}
          max={600}
          value={plan.minutes}
          suffix="min"
          onChange={(minutes) => set({ minutes: minutes ?? 60 })}
        />
      </label>
      <label className="setting-row">
        <span>Order of the tasks</span>
        <Segmented<Planned['order']>
          aria-label="Order of the tasks"
          value={plan.order}
          options={[
            { value: 'free', label: 'any' },
            { value: 'fixed', label: 'one after the other' },
          ]}
          onChange={(order) => set({ order })}
        />
      </label>
      <label className="setting-row">
        <span>Aids allowed</span>
        <Select
          mode="multiple"
          aria-label="Aids allowed"
          placeholder="none"
          value={[...plan.aids]}
          options={AIDS.map((aid) => ({ value: aid, label: AID_WORDS[aid] }))}
          onChange={(aids: Aid[]) => set({ aids })}
        />
      </label>
      <label className="setting-row">
        <span>Start</span>
        <Segmented<Planned['start']>
          aria-label="Start"
          value={plan.start}
          options={[
            { value: 'together', label: 'the invigilator starts everybody' },
            { value: 'own', label: 'each when they are ready' },
          ]}
          onChange={(start) => set({ start })}
        />
      </label>
      {plan.start === 'own' && <OwnStart plan={plan} set={set} />}
      <AllowedAddresses plan={plan} set={set} />
    </>
  );
}

/** From which addresses and networks it is taken; from any where none is named. */
function AllowedAddresses({ plan, set }: Part) {
  return (
    <label className="setting-row">
      <span>Allowed addresses</span>
      <Select
        mode="tags"
        aria-label="Allowed addresses"
        className="addresses"
        placeholder="any, or IP addresses and networks: 10.20.30.0/24"
        tokenSeparators={[' ', ',', ';']}
        open={false}
        suffix={null}
        value={[...plan.addresses]}
        onChange={(addresses: string[]) => set({ addresses })}
      />
    </label>
  );
}

function OwnStart({ plan, set }: Part) {
  const moment = (label: string, key: 'opensAt' | 'closesAt', none: string) => (
    <label className="setting-row">
      <span>{label}</span>
      <DatePicker
        aria-label={label}
        showTime={{ format: 'HH:mm' }}
        format="D MMM YYYY HH:mm"
        value={plan[key] === null ? null : dayjs(plan[key])}
        placeholder={none}
        onChange={(to: Dayjs | null) => set({ [key]: to ? to.toISOString() : null })}
      />
    </label>
  );
  return (
    <>
      {moment('Opens', 'opensAt', 'at once')}
      {moment('Latest start', 'closesAt', 'no limit')}
      <label className="setting-row">
        <span>Room code</span>
        <Input
          aria-label="Room code"
          style={{ width: 200 }}
          maxLength={12}
          value={plan.code ?? ''}
          placeholder="none"
          onChange={({ target }) => set({ code: target.value === '' ? null : target.value.toUpperCase() })}
        />
      </label>
    </>
  );
}

function Passing({ plan, set }: Part) {
  const { sum, each } = plan.pass;
  return (
    <>
      <h2>Pass rule</h2>
      <label className="setting-row">
        <span>Sum</span>
        <span>
          <Switch
            aria-label="A sum must be reached"
            checked={sum !== null}
            onChange={(on) => set({ pass: { each, sum: on ? 60 : null } })}
          />{' '}
          {sum !== null && (
            <InputNumber
              aria-label="Least per cent"
              min={0}
              max={100}
              value={sum}
              suffix="%"
              onChange={(least) => set({ pass: { each, sum: least ?? 60 } })}
            />
          )}{' '}
          <span className="quiet">of the weighted points of all tasks</span>
        </span>
      </label>
      <label className="setting-row">
        <span>Each task</span>
        <span>
          <Switch
            aria-label="Each task must be passed"
            checked={each}
            onChange={(on) => set({ pass: { sum, each: on } })}
          />{' '}
          <span className="quiet">must be passed by itself</span>
        </span>
      </label>
    </>
  );
}

function SetButton({ classId, plan }: { classId: string; plan: Planned }) {
  const setting = useSetAssessment(classId);
  const navigate = useNavigate();
  const toast = useToasts();
  const objection = objectionTo(plan);
  return (
    <div className="set-button">
      <Button
        type="primary"
        size="large"
        disabled={objection !== null}
        loading={setting.isPending}
        onClick={() =>
          setting.mutate(requestOf(plan), {
            onSuccess: ({ id, title }) => {
              toast.success(`“${title}” is set.`);
              void navigate(`/assessment/${id}`);
            },
          })
        }
      >
        Set the assessment
      </Button>
      {objection !== null && <span className="quiet">{objection}</span>}
      {setting.isError && <Alert type="error" showIcon title={setting.error.message} />}
    </div>
  );
}
