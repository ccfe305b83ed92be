import { useMemo, useState } from 'react';
import { Button, InputNumber, Radio, Select } from 'antd';
import {
  compile,
  contactPlace,
  describeExpected,
  describeFault,
  describeStimulus,
  readFault,
  type Answer,
  type Bench,
  type CauseQuestion,
  type DangerQuestion,
  type Question,
  type StatesQuestion,
  type Stimulus,
  type ValueQuestion,
  type WrittenFault,
} from '@contactum/core';
import { stimuliOf, valuesOf } from '../setter/words.js';
import { rowsOf } from './complete.js';

interface Field<Q> {
  readonly question: Q;
  readonly bench: Bench;
  readonly answer: Answer | undefined;
  readonly disabled: boolean;
  readonly onAnswer: (answer: Answer | null) => void;
}

/** Where a question is answered. */
export function AnswerField(field: Field<Question>) {
  const { question } = field;
  switch (question.ask) {
    case 'states':
      return <StatesField {...field} question={question} />;
    case 'blocks':
    case 'holds':
      return <ContactsField {...field} />;
    case 'value':
      return <ValueField {...field} question={question} />;
    case 'terminal':
      return <TerminalField {...field} />;
    case 'danger':
      return <DangerField {...field} question={question} />;
    case 'cause':
      return <CauseField {...field} question={question} />;
  }
}

/** A value for each device after each step. */
function StatesField({ question: { steps, of }, bench, answer, disabled, onAnswer }: Field<StatesQuestion>) {
  const rows = rowsOf(answer);
  const put = (k: number, what: string, value: string | number | null) =>
    onAnswer(
      steps.map((_, n) => {
        const { [what]: before, ...others } = rows[n] ?? {};
        if (n !== k) return before === undefined ? others : { ...others, [what]: before };
        return value === null ? others : { ...others, [what]: value };
      }),
    );
  return (
    <table className="plain answer-states">
      <thead>
        <tr>
          <th>After</th>
          {of.map((what) => (
            <th key={what} className="mono">
              {what}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {steps.map((step, k) => (
          <tr key={k}>
            <td>{describeStimulus(step)}</td>
            {of.map((what) => (
              <td key={what}>
                <StateCell
                  label={`${what} after step ${k + 1}, ${describeStimulus(step)}`}
                  values={valuesOf(bench, what)}
                  value={rows[k]?.[what]}
                  disabled={disabled}
                  onPut={(value) => put(k, what, value)}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function StateCell({
  label,
  values,
  value,
  disabled,
  onPut,
}: {
  label: string;
  values: readonly string[];
  value: string | number | undefined;
  disabled: boolean;
  onPut: (value: string | number | null) => void;
}) {
  if (values.length === 0)
    return (
      <InputNumber
        size="small"
        aria-label={label}
        disabled={disabled}
        value={typeof value === 'number' ? value : null}
        onChange={onPut}
      />
    );
  return (
    <Select
      size="small"
      className="state-cell"
      aria-label={label}
      disabled={disabled}
      placeholder="?"
      value={value ?? null}
      options={values.map((one) => ({ value: one, label: one }))}
      onChange={(next) => onPut(next)}
    />
  );
}

const namesIn = (answer: Answer | undefined): string[] =>
  Array.isArray(answer) ? answer.filter((one): one is string => typeof one === 'string') : [];

/** Contacts, from a list or tapped. */
function ContactsField({ bench, answer, disabled, onAnswer }: Field<Question>) {
  const contacts = useMemo(() => compile(bench).switches.map(contactPlace), [bench]);
  const chosen = namesIn(answer);
  return (
    <Select
      mode="multiple"
      className="answer-wide"
      aria-label="Contacts"
      disabled={disabled}
      placeholder="Tap a contact’s terminal, or choose"
      value={chosen}
      options={contacts.map((one) => ({ value: one, label: one.replace(':', ' ') }))}
      onChange={(next: string[]) => onAnswer(next.length > 0 ? next : null)}
    />
  );
}

/** A terminal, from a list or tapped. */
function TerminalField({ bench, answer, disabled, onAnswer }: Field<Question>) {
  const terminals = useMemo(() => compile(bench).terminals, [bench]);
  return (
    <Select
      showSearch
      allowClear
      className="answer-wide"
      aria-label="Terminal"
      disabled={disabled}
      placeholder="Tap a terminal, or choose"
      value={typeof answer === 'string' ? answer : null}
      options={terminals.map((one) => ({ value: one, label: one.replace(':', ' ') }))}
      onChange={(next?: string | null) => onAnswer(next ?? null)}
    />
  );
}

/** Units that a value may be given in. */
function unitsOf({ of }: ValueQuestion): readonly string[] {
  if (typeof of !== 'string') return 'volts' in of ? ['V'] : ['A', 'mA'];
  if (of.endsWith('.delay')) return ['s', 'min'];
  return of.endsWith('.va') ? ['VA', 'kVA'] : ['A', 'mA'];
}

/** One of the values that the engine offers. */
function ChoiceField({
  question,
  among,
  answer,
  disabled,
  onAnswer,
}: Field<ValueQuestion> & { among: readonly number[] }) {
  const [unit = ''] = unitsOf(question);
  const given = typeof answer === 'object' && 'value' in answer ? answer.value : answer;
  return (
    <Radio.Group
      aria-label="Value"
      disabled={disabled}
      value={among.find((one) => one === given) ?? null}
      options={among.map((one) => ({ value: one, label: `${one} ${unit}` }))}
      onChange={({ target }) => onAnswer({ value: target.value as number, unit })}
    />
  );
}

function ValueField(field: Field<ValueQuestion>) {
  const { among } = field.question;
  return among ? <ChoiceField {...field} among={among} /> : <NumberField {...field} />;
}

function NumberField({ question, answer, disabled, onAnswer }: Field<ValueQuestion>) {
  const units = unitsOf(question);
  const given =
    typeof answer === 'object' && 'value' in answer ? (answer as { value: number; unit?: string }) : null;
  const [typed, setTyped] = useState<number | null>(given?.value ?? null);
  const [unit, setUnit] = useState(given?.unit ?? units[0] ?? '');
  const give = (value: number | null, own: string) => {
    if (value === (given?.value ?? null) && own === (given?.unit ?? own)) return;
    onAnswer(value === null ? null : { value, unit: own });
  };
  return (
    <span className="answer-value">
      <InputNumber
        aria-label="Value"
        disabled={disabled}
        value={typed}
        onChange={setTyped}
        onBlur={() => give(typed, unit)}
        onPressEnter={() => give(typed, unit)}
      />
      {units.length > 1 ? (
        <Select
          aria-label="Unit"
          disabled={disabled}
          value={unit}
          options={units.map((one) => ({ value: one, label: one }))}
          onChange={(next) => {
            setUnit(next);
            give(typed, next);
          }}
        />
      ) : (
        <span>{unit}</span>
      )}
    </span>
  );
}

/** The steps of a sequence that is answered. */
export const stepsIn = (answer: Answer | undefined): readonly Stimulus[] =>
  Array.isArray(answer) ? (answer as readonly Stimulus[]) : [];

/** A sequence, from a list or worked on the board. */
function DangerField({ bench, answer, disabled, onAnswer }: Field<DangerQuestion>) {
  const all = useMemo(() => stimuliOf(bench), [bench]);
  const steps = stepsIn(answer);
  return (
    <div className="answer-steps">
      {steps.length > 0 && (
        <ol aria-label="Order of working">
          {steps.map((step, k) => (
            <li key={k}>
              {describeStimulus(step)}{' '}
              <Button
                size="small"
                type="text"
                disabled={disabled}
                aria-label={`Remove step ${k + 1}, ${describeStimulus(step)}`}
                onClick={() => {
                  const left = steps.toSpliced(k, 1);
                  onAnswer(left.length > 0 ? left : null);
                }}
              >
                Remove
              </Button>
            </li>
          ))}
        </ol>
      )}
      <Select
        showSearch={{ optionFilterProp: 'label' }}
        className="answer-wide"
        aria-label="Next step"
        disabled={disabled}
        placeholder="Work the board, or choose the next step"
        value={null}
        options={all.map(({ label }, k) => ({ value: k, label }))}
        onChange={(k: number | null) => {
          const next = k === null ? undefined : all[k];
          if (next) onAnswer([...steps, next.stimulus]);
        }}
      />
      <p className="quiet">Nothing moves here. The order is tried when you hand in.</p>
    </div>
  );
}

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** One of some faults, for what was found. */
function CauseField({ question: { among, findings }, answer, disabled, onAnswer }: Field<CauseQuestion>) {
  const chosen = among.findIndex((fault) => isSame(fault, answer));
  return (
    <>
      <ul aria-label="What was found">
        {findings.map(({ steps, see = {} }, k) => (
          <li key={k}>
            {steps.map(describeStimulus).join(', ') || 'With the supply on'}:{' '}
            {Object.entries(see)
              .map(([what, value]) => `${what} ${describeExpected(value)}`)
              .join(', ')}
          </li>
        ))}
      </ul>
      <Radio.Group
        className="answer-causes"
        disabled={disabled}
        value={chosen < 0 ? null : chosen}
        onChange={({ target }) => onAnswer(among[target.value as number] as WrittenFault)}
        options={among.map((fault, k) => ({ value: k, label: describeFault(readFault(fault)) }))}
      />
    </>
  );
}
