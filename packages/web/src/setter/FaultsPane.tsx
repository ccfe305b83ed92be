import { useMemo, useState } from 'react';
import { Button, Checkbox, Input, InputNumber, Select } from 'antd';
import { useStore } from 'zustand';
import {
  compile,
  describeFault,
  possibleFaults,
  readFault,
  referenceBench,
  writeFault,
  type Exercise,
  type Fault,
  type Survival,
} from '@contactum/core';
import { ImportList } from './ImportList.js';
import type { SetterStore } from './store.js';

const idOf = (text: string): string =>
  text
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replaceAll(/^-|-$/g, '')
    .slice(0, 60);

interface Given {
  readonly exercise: Exercise;
  readonly set: (change: Partial<Exercise>) => void;
  readonly possible: readonly Fault[];
}

/** Faults that are looked for on this board, and those that it must bear. */
export function FaultsPane({ setter }: { setter: SetterStore }) {
  const exercise = useStore(setter, (state) => state.exercise);
  const possible = useMemo(() => possibleOn(exercise), [exercise]);
  const set = (change: Partial<Exercise>) => setter.actions.change((one) => ({ ...one, ...change }));
  return (
    <div className="faults-pane">
      <FaultsToFind {...{ exercise, set, possible }} />
      {exercise.task !== 'find' && <FaultsToBear {...{ exercise, set, possible }} />}
    </div>
  );
}

/** One more of what can befall this board. */
function FaultPicker({
  label,
  possible,
  onPick,
}: {
  label: string;
  possible: readonly Fault[];
  onPick: (fault: Fault) => void;
}) {
  const [text, setText] = useState('');
  return (
    <Select
      showSearch={{ optionFilterProp: 'label', searchValue: text, onSearch: setText }}
      aria-label={label}
      placeholder={`Add one of ${possible.length} faults that can befall this board`}
      value={null}
      options={possible.map((fault, k) => ({ value: k, label: describeFault(fault) }))}
      onChange={(k: number | null) => {
        const fault = k === null ? undefined : possible[k];
        if (fault) onPick(fault);
      }}
      style={{ width: 460 }}
    />
  );
}

function FaultsToFind({ exercise, set, possible }: Given) {
  const { faults } = exercise;
  const put = (next: Exercise['faults']) => set({ faults: next });
  const add = (fault: Fault) => {
    const title = describeFault(fault);
    const base = idOf(title);
    const taken = faults.filter(({ id }) => id.startsWith(base)).length;
    put([...faults, { id: taken > 0 ? `${base}-${taken + 1}` : base, title, fault: writeFault(fault) }]);
  };
  return (
    <section>
      <h2>Faults to find</h2>
      <p className="quiet">
        The Fault desk makes searches of them, and practice chooses others by difficulty.
      </p>
      <FaultPicker label="Add a fault" possible={possible} onPick={add} />
      <FaultImport exercise={exercise} onTake={(list) => put([...faults, ...list])} />
      <ul className="fault-list">
        {faults.map(({ id, title, fault }) => (
          <li key={id}>
            <Input
              aria-label={`Title of ${id}`}
              value={title}
              maxLength={200}
              onChange={({ target }) =>
                put(faults.map((one) => (one.id === id ? { ...one, title: target.value } : one)))
              }
            />
            <span className="mono quiet">{describeFault(readFault(fault))}</span>
            <Button size="small" type="text" onClick={() => put(faults.filter((one) => one.id !== id))}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {faults.length === 0 && <p className="quiet">None yet.</p>}
    </section>
  );
}

/** What a fault weighs that is new here, as those of the exercises that ship. */
const POINTS = 3;

/** Single faults with which every wiring must keep what the reference keeps with them. */
function FaultsToBear({ exercise, set, possible }: Given) {
  const survive = exercise.survive ?? [];
  const put = (next: readonly Survival[]) => set({ survive: next.length > 0 ? next : undefined });
  const keyOf = ({ fault }: Pick<Survival, 'fault'>): string => JSON.stringify(fault);
  const named = new Set(survive.map(keyOf));
  // A right wiring may have no lead there: what must be borne is in a device.
  const left = possible.filter(
    (fault) => !fault.kind.endsWith('-wire') && !named.has(keyOf({ fault: writeFault(fault) })),
  );
  const change = (k: number, more: Partial<Survival>) =>
    put(survive.map((one, n) => (n === k ? { ...one, ...more } : one)));
  return (
    <section>
      <h2>Faults the board must withstand</h2>
      <p className="quiet">
        Each is there from the beginning, and every order of working is tried with it: a wiring keeps every
        safety property that the reference keeps. A contactor that sticks in shows what an interlock is worth.
      </p>
      <FaultPicker
        label="Add a fault to withstand"
        possible={left}
        onPick={(fault) =>
          put([...survive, { fault: writeFault(fault), title: describeFault(fault), points: POINTS }])
        }
      />
      <ul className="fault-list bear-list">
        {survive.map((one, k) => (
          <FaultToBear
            key={keyOf(one)}
            one={one}
            number={k + 1}
            change={(more) => change(k, more)}
            remove={() => put(survive.filter((_, n) => n !== k))}
          />
        ))}
      </ul>
      {survive.length === 0 && (
        <p className="quiet">None: single faults are told on the slip and cost nothing.</p>
      )}
    </section>
  );
}

function FaultToBear({
  one,
  number,
  change,
  remove,
}: {
  one: Survival;
  number: number;
  change: (more: Partial<Survival>) => void;
  remove: () => void;
}) {
  return (
    <li>
      <Input
        aria-label={`Title of fault ${number} to withstand`}
        value={one.title}
        maxLength={200}
        onChange={({ target }) => change({ title: target.value })}
      />
      <span className="mono quiet">{describeFault(readFault(one.fault))}</span>
      <InputNumber
        size="small"
        aria-label={`Weight of fault ${number} to withstand`}
        min={0}
        max={1000}
        value={one.points}
        suffix="points"
        onChange={(points) => change({ points: points ?? 0 })}
      />
      <Checkbox
        checked={one.essential ?? true}
        onChange={({ target }) => change({ essential: target.checked ? undefined : false })}
      >
        needed to pass
      </Checkbox>
      <Button size="small" type="text" onClick={remove}>
        Remove
      </Button>
    </li>
  );
}

function possibleOn(exercise: Exercise) {
  return possibleFaults(compile(referenceBench(exercise)));
}

/** Faults from a list, as a list of symptoms has them. */
function FaultImport({
  exercise,
  onTake,
}: {
  exercise: Exercise;
  onTake: (faults: Exercise['faults']) => void;
}) {
  const first = exercise.faults.length + 1;
  return (
    <ImportList
      label="Import a list of faults"
      hint="A first line with Kind and Place, then a line a fault, as a list of symptoms has them."
      read={async (text) => {
        const { readFaultList } = await import('@contactum/core/exchange');
        return readFaultList(text, compile(referenceBench(exercise)));
      }}
      words={({ title }) => title}
      onTake={(list) =>
        onTake(list.map(({ fault, title }, k) => ({ id: `list-${first + k}`, title, fault })))
      }
    />
  );
}
