import { useMemo, useState } from 'react';
import { DeleteOutlined, PlusOutlined } from '@ant-design/icons';
import { Button, Checkbox, Input, InputNumber, Popconfirm, Select } from 'antd';
import { useStore } from 'zustand';
import {
  compile,
  referenceBench,
  run,
  scriptProblems,
  type Behaviour,
  type Bench,
  type Exercise,
  type Mismatch,
} from '@contactum/core';
import { askSetter } from './ask-setter.js';
import { columnsOf, rowsOf, stepsOf, type StepRow } from './rows.js';
import { AddRow, StepTable } from './StepTable.js';
import type { SetterStore } from './store.js';
import { observablesOf } from './words.js';
import { useToasts } from '../shell/toasts.js';

/**
 * What a wiring must do, as tables: proposed from the reference, edited row by row, and tried on it at
 * once.
 */
export function BehavioursPane({ setter }: { setter: SetterStore }) {
  const exercise = useStore(setter, (state) => state.exercise);
  const [open, setOpen] = useState<string | null>(null);
  const chosen = exercise.behaviours.find(({ id }) => id === open) ?? exercise.behaviours[0];
  const { bench: board, reference } = exercise;
  // The same board as long as neither devices nor leads change, whatever is edited in the tables.
  const bench = useMemo(() => referenceBench({ bench: board, reference }), [board, reference]);
  return (
    <div className="behaviours-pane">
      <aside className="behaviour-side">
        <Proposing setter={setter} exercise={exercise} />
        <Observed setter={setter} exercise={exercise} />
        <BehaviourList
          setter={setter}
          exercise={exercise}
          bench={bench}
          chosen={chosen?.id}
          onOpen={setOpen}
        />
      </aside>
      {chosen ? (
        <BehaviourTable
          key={chosen.id}
          setter={setter}
          behaviour={chosen}
          exercise={exercise}
          bench={bench}
        />
      ) : (
        <p className="quiet behaviour-none">
          No behaviour yet. Wire the reference, then let behaviours be proposed from it.
        </p>
      )}
    </div>
  );
}

/** Behaviours found by working the reference: each control, trip, loss of supply and timer. */
function Proposing({ setter, exercise }: { setter: SetterStore; exercise: Exercise }) {
  const [busy, setBusy] = useState(false);
  const message = useToasts();
  const propose = () => {
    setBusy(true);
    askSetter((thread) => thread.propose(exercise))
      .then(({ behaviours, observe, deadTest }) => {
        setter.actions.change((one) => ({
          ...one,
          behaviours,
          observe,
          ...(deadTest.length > 0 ? { deadTest } : {}),
        }));
        message.success(
          `${behaviours.length} behaviours proposed from the reference. Undo brings the former ones back.`,
        );
      })
      .catch((error: unknown) => message.error((error as Error).message))
      .finally(() => setBusy(false));
  };
  const button = (
    <Button
      type={exercise.behaviours.length === 0 ? 'primary' : 'default'}
      loading={busy}
      disabled={exercise.reference.length === 0}
      block
      {...(exercise.behaviours.length === 0 ? { onClick: propose } : {})}
    >
      Propose from the reference
    </Button>
  );
  if (exercise.behaviours.length === 0) return button;
  return (
    <Popconfirm
      title="Replace these behaviours with the proposed ones?"
      okText="Propose"
      cancelText="Keep these"
      onConfirm={propose}
    >
      {button}
    </Popconfirm>
  );
}

function Observed({ setter, exercise }: { setter: SetterStore; exercise: Exercise }) {
  const options = useMemo(
    () => observablesOf(exercise.bench).map((value) => ({ value, label: value })),
    [exercise.bench],
  );
  return (
    <label className="observed">
      <span>Observed</span>
      <Select
        mode="multiple"
        size="small"
        aria-label="Observed values"
        value={[...exercise.observe]}
        options={options}
        onChange={(observe: string[]) => setter.actions.change((one) => ({ ...one, observe }))}
      />
    </label>
  );
}

const found = new WeakMap<Bench, WeakMap<Behaviour, readonly Mismatch[] | string>>();

/** What of a behaviour the reference does not do; worked once for each behaviour as it is. */
function mismatchesOf(bench: Bench, behaviour: Behaviour): readonly Mismatch[] | string {
  const known = found.get(bench) ?? new WeakMap<Behaviour, readonly Mismatch[] | string>();
  found.set(bench, known);
  const before = known.get(behaviour);
  if (before !== undefined) return before;
  const { steps } = behaviour;
  const [problem] = scriptProblems(compile(bench), steps);
  const mismatches = problem ? problem.message : run(bench, steps).mismatches;
  known.set(behaviour, mismatches);
  return mismatches;
}

function BehaviourList({
  setter,
  exercise,
  bench,
  chosen,
  onOpen,
}: {
  setter: SetterStore;
  exercise: Exercise;
  bench: Bench;
  chosen: string | undefined;
  onOpen: (id: string) => void;
}) {
  const { behaviours } = exercise;
  const wrong = useMemo(
    () => new Set(behaviours.filter((one) => mismatchesOf(bench, one).length > 0).map(({ id }) => id)),
    [behaviours, bench],
  );
  const add = () => {
    const taken = new Set(behaviours.map(({ id }) => id));
    let n = behaviours.length + 1;
    while (taken.has(`behaviour-${n}`)) n += 1;
    const id = `behaviour-${n}`;
    setter.actions.change((one) => ({
      ...one,
      behaviours: [...one.behaviours, { id, title: 'New behaviour', points: 5, steps: [] }],
    }));
    onOpen(id);
  };
  return (
    <>
      <ul className="behaviour-list">
        {behaviours.map(({ id, title, points, essential }) => (
          <li key={id}>
            <button type="button" aria-pressed={id === chosen} onClick={() => onOpen(id)}>
              <span
                className={wrong.has(id) ? 'wrong-mark' : 'right-mark'}
                aria-label={wrong.has(id) ? 'not so on the reference' : 'so on the reference'}
              >
                {wrong.has(id) ? '✕' : '✓'}
              </span>
              <span>
                {title}
                <span className="quiet">
                  {' '}
                  {points} points{essential === false ? ', not essential' : ''}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      <Button size="small" icon={<PlusOutlined />} onClick={add}>
        Add a behaviour
      </Button>
    </>
  );
}

function BehaviourTable({
  setter,
  behaviour,
  exercise,
  bench,
}: {
  setter: SetterStore;
  behaviour: Behaviour;
  exercise: Exercise;
  bench: Bench;
}) {
  const { id, title, steps } = behaviour;
  const rows = rowsOf(steps);
  const found = useMemo(() => mismatchesOf(bench, behaviour), [bench, behaviour]);
  const change = (to: Partial<Behaviour>) =>
    setter.actions.change((one) => ({
      ...one,
      behaviours: one.behaviours.map((other) => (other.id === id ? { ...other, ...to } : other)),
    }));
  const put = (next: readonly StepRow[]) => change({ steps: stepsOf(next) });
  return (
    <section className="behaviour-edit" aria-label={title}>
      <BehaviourHead setter={setter} behaviour={behaviour} change={change} />
      {typeof found === 'string' && <p className="setter-message">{found}</p>}
      <StepTable
        rows={rows}
        columns={columnsOf(rows, exercise.observe)}
        bench={bench}
        found={found}
        onPut={put}
      />
      <AddRow bench={bench} onAdd={(row) => put([...rows, row])} isFirst={rows.length === 0} />
      <p className="quiet">
        Each row is one action and the states after it. Empty cells are not checked; write a range as
        1350..1500. Red cells do not hold on the reference.
      </p>
    </section>
  );
}

/** Title, points, essential or not; and taking it away. */
function BehaviourHead({
  setter,
  behaviour: { id, title, points, essential = true },
  change,
}: {
  setter: SetterStore;
  behaviour: Behaviour;
  change: (to: Partial<Behaviour>) => void;
}) {
  return (
    <div className="behaviour-head">
      <Input
        aria-label="Title"
        value={title}
        maxLength={200}
        onChange={({ target }) => change({ title: target.value })}
      />
      <InputNumber
        aria-label="Points"
        value={points}
        min={0}
        max={1000}
        suffix="points"
        onChange={(next) => change({ points: next ?? 0 })}
      />
      <Checkbox checked={essential} onChange={({ target }) => change({ essential: target.checked })}>
        essential
      </Checkbox>
      <Button
        icon={<DeleteOutlined />}
        aria-label="Remove this behaviour"
        onClick={() =>
          setter.actions.change((one) => ({
            ...one,
            behaviours: one.behaviours.filter((other) => other.id !== id),
          }))
        }
      />
    </div>
  );
}
