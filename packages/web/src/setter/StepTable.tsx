import { useMemo, useState } from 'react';
import { DeleteOutlined } from '@ant-design/icons';
import { AutoComplete, Button, Select } from 'antd';
import { describeStimulus, type Bench, type Mismatch } from '@contactum/core';
import { readExpected, stepsOf, writeExpected, type StepRow } from './rows.js';
import { stimuliOf, valuesOf } from './words.js';

/** What is done, row by row, and what is so afterwards, column by column. */
export function StepTable({
  rows,
  columns,
  bench,
  found,
  onPut,
}: {
  rows: readonly StepRow[];
  columns: readonly string[];
  bench: Bench;
  found: readonly Mismatch[] | string;
  onPut: (rows: readonly StepRow[]) => void;
}) {
  return (
    <div className="step-table">
      <table className="plain">
        <thead>
          <tr>
            <th>Do</th>
            {columns.map((what) => (
              <th key={what} className="mono">
                {what}
              </th>
            ))}
            <th aria-label="Rows" />
          </tr>
        </thead>
        <tbody>
          {rows.map((row, k) => (
            <Row
              key={k}
              k={k}
              row={row}
              columns={columns}
              bench={bench}
              wrong={typeof found === 'string' ? [] : found}
              at={stepAt(rows, k)}
              onChange={(next) => onPut(next === null ? rows.toSpliced(k, 1) : rows.with(k, next))}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Index of a row’s expectation among all steps. */
const stepAt = (rows: readonly StepRow[], k: number): number => stepsOf(rows.slice(0, k + 1)).length - 1;

function Row({
  k,
  row,
  columns,
  bench,
  wrong,
  at,
  onChange,
}: {
  k: number;
  row: StepRow;
  columns: readonly string[];
  bench: Bench;
  wrong: readonly Mismatch[];
  at: number;
  onChange: (row: StepRow | null) => void;
}) {
  const set = (what: string, text: string) => {
    const value = readExpected(text);
    const rest = Object.fromEntries(Object.entries(row.expect).filter(([key]) => key !== what));
    onChange({ ...row, expect: value === undefined ? rest : { ...rest, [what]: value } });
  };
  return (
    <tr>
      <th scope="row">{row.stimulus ? describeStimulus(row.stimulus) : 'at rest'}</th>
      {columns.map((what) => {
        const mismatch = wrong.find((one) => one.step === at && one.what === what);
        return (
          <td
            key={what}
            data-wrong={mismatch ? 'yes' : undefined}
            title={mismatch ? `is ${String(mismatch.actual)} on the reference` : undefined}
          >
            <Cell
              value={writeExpected(row.expect[what])}
              label={`${what} after step ${k + 1}`}
              options={valuesOf(bench, what)}
              onChange={(text) => set(what, text)}
            />
            {mismatch && <span className="actual">is {String(mismatch.actual)}</span>}
          </td>
        );
      })}
      <td>
        <Button
          size="small"
          type="text"
          icon={<DeleteOutlined />}
          aria-label={`Remove step ${k + 1}`}
          onClick={() => onChange(null)}
        />
      </td>
    </tr>
  );
}

/** One value, taken when it is whole. */
function Cell({
  value,
  label,
  options,
  onChange,
}: {
  value: string;
  label: string;
  options: readonly string[];
  onChange: (text: string) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const take = () => {
    if (text !== null && text !== value) onChange(text);
    setText(null);
  };
  return (
    <AutoComplete
      size="small"
      variant="borderless"
      aria-label={label}
      value={text ?? value}
      options={options.map((one) => ({ value: one }))}
      onChange={(next: string) => setText(next)}
      onSelect={(next: string) => {
        onChange(next);
        setText(null);
      }}
      onBlur={take}
      popupMatchSelectWidth={120}
    />
  );
}

/** One more thing to do: chosen from what this board can be done to. */
export function AddRow({
  bench,
  isFirst,
  onAdd,
}: {
  bench: Bench;
  isFirst: boolean;
  onAdd: (row: StepRow) => void;
}) {
  const stimuli = useMemo(() => stimuliOf(bench), [bench]);
  return (
    <span className="hand-row">
      <Select
        size="small"
        showSearch={{ optionFilterProp: 'label' }}
        aria-label="Add a step"
        placeholder="Add: press, release, wait …"
        value={null}
        style={{ width: 240 }}
        options={stimuli.map(({ label }, k) => ({ value: k, label }))}
        onChange={(k: number | null) => {
          const stimulus = k === null ? undefined : stimuli[k]?.stimulus;
          if (stimulus) onAdd({ stimulus, expect: {} });
        }}
      />
      {isFirst && (
        <Button size="small" onClick={() => onAdd({ stimulus: null, expect: { bench: 'sound' } })}>
          Begin at rest
        </Button>
      )}
    </span>
  );
}
