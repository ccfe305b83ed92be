import { useMemo, useState } from 'react';
import { Button, Input, Select } from 'antd';
import { useStore } from 'zustand';
import {
  compile,
  describeFault,
  possibleFaults,
  readFault,
  referenceBench,
  writeFault,
  type Exercise,
} from '@contactum/core';
import { ImportList } from './ImportList.js';
import type { SetterStore } from './store.js';

const idOf = (text: string): string =>
  text
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replaceAll(/^-|-$/g, '')
    .slice(0, 60);

/** Faults that go with the exercise, picked from what can befall this board. */
export function FaultsPane({ setter }: { setter: SetterStore }) {
  const exercise = useStore(setter, (state) => state.exercise);
  const possible = useMemo(() => possibleOn(exercise), [exercise]);
  const [text, setText] = useState('');
  const { faults } = exercise;
  const put = (next: Exercise['faults']) => setter.actions.change((one) => ({ ...one, faults: next }));
  const add = (k: number) => {
    const fault = possible[k];
    if (!fault) return;
    const title = describeFault(fault);
    const base = idOf(title);
    const taken = faults.filter(({ id }) => id.startsWith(base)).length;
    put([...faults, { id: taken > 0 ? `${base}-${taken + 1}` : base, title, fault: writeFault(fault) }]);
  };
  return (
    <div className="faults-pane">
      <p>
        Faults to find on this board. The Fault desk makes searches of them, and practice picks others by
        degree.
      </p>
      <Select
        showSearch={{ optionFilterProp: 'label', searchValue: text, onSearch: setText }}
        aria-label="Add a fault"
        placeholder={`Add one of ${possible.length} faults that can befall this board`}
        value={null}
        options={possible.map((fault, k) => ({ value: k, label: describeFault(fault) }))}
        onChange={(k: number | null) => k !== null && add(k)}
        style={{ width: 460 }}
      />
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
    </div>
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
      label="From a list of faults"
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
