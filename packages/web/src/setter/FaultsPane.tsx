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
