import { Button, Input, InputNumber, Select, Tooltip } from 'antd';
import { DeleteOutlined } from '@ant-design/icons';
import { useState } from 'react';
import {
  COUNTERS,
  LONGEST_PRESET,
  MOST_COUNTS,
  TIMERS,
  crossReferences,
  freshVariable,
  isConnected,
  isCounter,
  isTimer,
  renamed,
  wiredVariables,
  without,
  type Connection,
  type CrossReference,
  type Program,
  type ProgramVariable,
} from '@contactum/core';

/** Inputs and outputs that an instructor holds on or off while the board runs, by address. */
export interface Forcing {
  readonly forced: ReadonlyMap<string, boolean>;
  readonly force: (at: string, value: boolean | null) => void;
}

interface Props {
  readonly program: Program;
  readonly connections: readonly Connection[];
  readonly forcing?: Forcing | undefined;
  /** Goes to a rung where a variable is written or read. */
  readonly onRung: (rung: number, name: string) => void;
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
export function VariableTable({ program, connections, forcing, onRung, onChange }: Props) {
  const references = crossReferences(program);
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
            <th scope="col">Rungs</th>
            {forcing && <th scope="col">Force</th>}
            <th scope="col">Comment</th>
            <th aria-label="Remove" />
          </tr>
        </thead>
        <tbody>
          {program.variables.map((variable, k) => (
            <Row
              key={variable.name}
              {...{ program, variable, k, forcing, onRung, onChange }}
              references={references.get(variable.name)}
              leadsTo={isConnected(variable) ? to.get(variable.at) || 'not wired' : ''}
            />
          ))}
        </tbody>
      </table>
      {onChange && <More {...{ program, connections }} onChange={onChange} />}
    </div>
  );
}

function Row({
  program,
  variable,
  k,
  leadsTo,
  references,
  forcing,
  onRung,
  onChange,
}: Pick<Props, 'program' | 'forcing' | 'onRung' | 'onChange'> & {
  variable: ProgramVariable;
  k: number;
  leadsTo: string;
  references: CrossReference | undefined;
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
      <td className="references">
        <Rungs words="written" rungs={references?.written ?? []} onRung={(rung) => onRung(rung, name)} />
        <Rungs words="read" rungs={references?.read ?? []} onRung={(rung) => onRung(rung, name)} />
      </td>
      {forcing && <td>{isConnected(variable) && <Force at={variable.at} {...forcing} />}</td>}
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

/** Rungs that write or read a variable; each leads there. */
function Rungs({
  words,
  rungs,
  onRung,
}: {
  words: string;
  rungs: readonly number[];
  onRung: (rung: number) => void;
}) {
  if (rungs.length === 0) return null;
  return (
    <span className="quiet">
      {words}
      {rungs.map((rung) => (
        <Button
          key={rung}
          size="small"
          type="link"
          aria-label={`Rung ${rung}, ${words}`}
          onClick={() => onRung(rung - 1)}
        >
          {rung}
        </Button>
      ))}
    </span>
  );
}

const FORCE = [
  { value: 'no', label: '–' },
  { value: 'on', label: 'on' },
  { value: 'off', label: 'off' },
] as const;

/** Holds a value on or off, whatever is wired or written. */
function Force({ at, forced, force }: Forcing & { at: string }) {
  const held = forced.get(at);
  return (
    <Select
      size="small"
      aria-label={`Force ${at}`}
      className="force"
      value={held === undefined ? 'no' : held ? 'on' : 'off'}
      options={[...FORCE]}
      onChange={(to: (typeof FORCE)[number]['value']) => force(at, to === 'no' ? null : to === 'on')}
    />
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

interface MoreProps extends Pick<Props, 'program' | 'connections'> {
  readonly onChange: (program: Program) => void;
}

/** Further variables: bits and blocks of the program's own, and what stands at an address that is still free. */
function More({ program, connections, onChange }: MoreProps) {
  return (
    <div className="hand-row">
      {KINDS.map((kind) => (
        <Button
          key={kind}
          size="small"
          onClick={() => onChange({ ...program, variables: [...program.variables, made(program, kind)] })}
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
function AddAddress({ program, connections, onChange }: MoreProps) {
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
        onChange({ ...program, variables: [...program.variables, { name, at }] });
      }}
    />
  );
}
