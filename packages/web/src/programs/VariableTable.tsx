import { Button, Input, InputNumber, Select, Tooltip } from 'antd';
import { DeleteOutlined } from '@ant-design/icons';
import { useState } from 'react';
import {
  COUNTERS,
  LONGEST_PRESET,
  MOST_COUNTS,
  TIMERS,
  freshVariable,
  isConnected,
  isCounter,
  isTimer,
  renamed,
  wiredVariables,
  without,
  type Connection,
  type Program,
  type ProgramVariable,
} from '@contactum/core';

interface Props {
  readonly program: Program;
  readonly connections: readonly Connection[];
  /** Nothing where the program is only looked at. */
  readonly onChange: ((program: Program) => void) | undefined;
}

const KINDS = ['Memory', ...TIMERS, ...COUNTERS] as const;
type Kind = (typeof KINDS)[number];

function made(program: Program, kind: Kind): ProgramVariable {
  const timer = TIMERS.find((one) => one === kind);
  const counter = COUNTERS.find((one) => one === kind);
  if (timer) return { name: freshVariable(program, 'Time'), timer, preset: 5 };
  if (counter) return { name: freshVariable(program, 'Count'), counter, preset: 3 };
  return { name: freshVariable(program, 'Memo') };
}

/** The list of inputs and outputs, with what their leads go to, and the program's own variables. */
export function VariableTable({ program, connections, onChange }: Props) {
  const missing = wiredVariables(program, connections);
  const to = new Map(connections.map((one) => [one.at, one.to]));
  return (
    <div className="variables">
      {onChange && missing.length > 0 && (
        <Button
          size="small"
          type={program.variables.length === 0 ? 'primary' : 'default'}
          onClick={() => onChange({ ...program, variables: [...program.variables, ...missing] })}
        >
          Add wired terminals ({missing.length})
        </Button>
      )}
      <table className="variable-table">
        <thead>
          <tr>
            <th scope="col">Variable</th>
            <th scope="col">Address</th>
            <th scope="col">Leads to</th>
            <th scope="col">Comment</th>
            <th aria-label="Remove" />
          </tr>
        </thead>
        <tbody>
          {program.variables.map((variable, k) => (
            <Row
              key={variable.name}
              {...{ program, variable, k, onChange }}
              leadsTo={isConnected(variable) ? to.get(variable.at) || 'not wired' : ''}
            />
          ))}
        </tbody>
      </table>
      {onChange && <More {...{ program, connections, onChange }} />}
    </div>
  );
}

function Row({
  program,
  variable,
  k,
  leadsTo,
  onChange,
}: Pick<Props, 'program' | 'onChange'> & {
  variable: ProgramVariable;
  k: number;
  leadsTo: string;
}) {
  const put = (to: ProgramVariable) => onChange?.({ ...program, variables: program.variables.with(k, to) });
  const { name } = variable;
  return (
    <tr>
      <td>
        <Name program={program} name={name} onChange={onChange} />
      </td>
      <td>
        {isConnected(variable) ? variable.at : <Block variable={variable} onChange={onChange && put} />}
      </td>
      <td className="quiet">{leadsTo}</td>
      <td>{onChange ? <Comment variable={variable} onChange={put} /> : variable.comment}</td>
      <td>
        {onChange && (
          <Tooltip title={`Remove ${name}`}>
            <Button
              size="small"
              type="text"
              aria-label={`Remove ${name}`}
              icon={<DeleteOutlined />}
              onClick={() => onChange({ ...program, variables: program.variables.toSpliced(k, 1) })}
            />
          </Tooltip>
        )}
      </td>
    </tr>
  );
}

function Comment({
  variable,
  onChange,
}: {
  variable: ProgramVariable;
  onChange: (variable: ProgramVariable) => void;
}) {
  return (
    <Input
      size="small"
      variant="borderless"
      aria-label={`Comment of ${variable.name}`}
      defaultValue={variable.comment ?? ''}
      onBlur={({ target }) => {
        const text = target.value.trim();
        if (text === (variable.comment ?? '')) return;
        const plain: ProgramVariable = without(variable, 'comment');
        onChange(text === '' ? plain : { ...plain, comment: text });
      }}
    />
  );
}

/** Further variables: bits and blocks of the program's own, and what stands at an address that is still free. */
function More({ program, connections, onChange }: Required<Props>) {
  return (
    <div className="hand-row">
      {KINDS.map((kind) => (
        <Button
          key={kind}
          size="small"
          onClick={() => onChange?.({ ...program, variables: [...program.variables, made(program, kind)] })}
        >
          {kind === 'Memory' ? 'Memory bit' : kind}
        </Button>
      ))}
      <AddAddress {...{ program, connections, onChange }} />
    </div>
  );
}

/** The name of a variable; another one is taken over wherever it stands. */
function Name({ program, name, onChange }: { program: Program; name: string; onChange: Props['onChange'] }) {
  const [text, setText] = useState(name);
  if (!onChange) return <span className="mono">{name}</span>;
  const take = () => {
    const to = text.trim();
    const isTaken = program.variables.some(
      (one) => one.name !== name && one.name.toUpperCase() === to.toUpperCase(),
    );
    if (to === name) return;
    if (!/^[A-Za-z_][A-Za-z0-9_]{0,31}$/.test(to) || isTaken) setText(name);
    else onChange(renamed(program, name, to));
  };
  return (
    <Input
      size="small"
      variant="borderless"
      className="mono"
      aria-label={`Name of ${name}`}
      value={text}
      onChange={({ target }) => setText(target.value)}
      onBlur={take}
      onPressEnter={take}
    />
  );
}

/** What a variable without an address is: a bit, or a block with its preset. */
function Block({
  variable,
  onChange,
}: {
  variable: ProgramVariable;
  onChange: ((variable: ProgramVariable) => void) | undefined;
}) {
  if (!isTimer(variable) && !isCounter(variable)) return <span className="quiet">bit</span>;
  const type = isTimer(variable) ? variable.timer : variable.counter;
  const unit = isTimer(variable) ? 's' : '';
  if (!onChange)
    return (
      <span>
        {type} {variable.preset} {unit}
      </span>
    );
  return (
    <InputNumber
      size="small"
      aria-label={`Preset of ${variable.name}`}
      className="preset"
      prefix={type}
      suffix={unit}
      min={0}
      max={isTimer(variable) ? LONGEST_PRESET : MOST_COUNTS}
      value={variable.preset}
      onChange={(preset) => preset !== null && onChange({ ...variable, preset })}
    />
  );
}

/** A variable at an input or output that is still free. */
function AddAddress({ program, connections, onChange }: Required<Props>) {
  const taken = new Set(program.variables.flatMap((one) => (isConnected(one) ? [one.at] : [])));
  const free = connections.filter(({ at }) => !taken.has(at));
  return (
    <Select
      size="small"
      className="part-name"
      aria-label="Variable at an input or output"
      placeholder="Input or output"
      value={null}
      options={free.map(({ at, to }) => ({ value: at, label: to ? `${at} ${to}` : at }))}
      onChange={(at: string | null) => {
        if (at === null) return;
        const name = freshVariable(program, at.startsWith('I') ? 'In' : 'Out');
        onChange?.({ ...program, variables: [...program.variables, { name, at }] });
      }}
    />
  );
}
