import { Checkbox, Input, InputNumber, Select, Switch } from 'antd';
import { useStore } from 'zustand';
import {
  plural,
  FAMILIES,
  HINT_DEGREES,
  HOUSE_RULES,
  PARTS,
  PROPERTY_IDS,
  RULE_FIELDS,
  SHOWN,
  TOOLS,
  propertyTitle,
  type Exercise,
  type Field,
  type PropertyId,
  type RuleKey,
  type Shown,
  type Tool,
} from '@contactum/core';
import { HINT_WORDS } from '../bench/TakenHints.js';
import { FieldRow } from './FieldForm.js';
import type { SetterStore } from './store.js';

type ToShow = Exclude<Shown, 'board' | 'drawing'>;

const SHOWN_WORDS: Readonly<Record<ToShow, string>> = {
  reference: 'the reference as a drawing',
  progress: 'how many potentials are complete',
  tests: 'how each function is tested',
  proof: 'what the wiring can do so far',
  causes: 'in a search, which causes are left',
};
/** Board and drawing are what questions are asked about. */
const TO_SHOW = SHOWN.filter((one): one is ToShow => one !== 'board' && one !== 'drawing');

/** Text, marks, house rules, work practice, and what the student may see. */
export function MarksPane({ setter }: { setter: SetterStore }) {
  const exercise = useStore(setter, (state) => state.exercise);
  const set = (change: Partial<Exercise>) => setter.actions.change((one) => ({ ...one, ...change }));
  return (
    <div className="marks-pane">
      <section>
        <h2>Brief</h2>
        <Input.TextArea
          aria-label="Brief"
          value={exercise.brief}
          maxLength={8000}
          autoSize={{ minRows: 4, maxRows: 9 }}
          onChange={({ target }) => set({ brief: target.value })}
        />
        <label className="field-row">
          <span>Family</span>
          <Select
            size="small"
            aria-label="Family"
            value={exercise.family}
            options={FAMILIES.map((value) => ({ value, label: value }))}
            onChange={(family) => set({ family })}
          />
        </label>
        <Points exercise={exercise} set={set} />
        <Lesson exercise={exercise} set={set} />
      </section>
      <section>
        <h2>House rules</h2>
        <Rules exercise={exercise} set={set} />
      </section>
      <section>
        <h2>Work practice</h2>
        <Practice exercise={exercise} set={set} />
        <MaySee exercise={exercise} set={set} />
      </section>
    </div>
  );
}

interface Given {
  readonly exercise: Exercise;
  readonly set: (change: Partial<Exercise>) => void;
}

/** What the student may see, and the instruments of a search. */
function MaySee({ exercise, set }: Given) {
  return (
    <>
      <h2>The student may see</h2>
      <Checkbox.Group
        className="column-boxes"
        aria-label="What the student may see"
        value={[...(exercise.shows ?? [])]}
        options={TO_SHOW.map((value) => ({ value, label: SHOWN_WORDS[value] }))}
        onChange={(shows) => set({ shows })}
      />
      <Checkbox
        checked={exercise.repair === 'marked'}
        onChange={({ target }) => set({ repair: target.checked ? 'marked' : 'never' })}
      >
        the repair of the wiring, once it is marked
      </Checkbox>
      {(exercise.task ?? 'wire') === 'wire' && <HintCosts exercise={exercise} set={set} />}
      {exercise.task === 'find' && (
        <>
          <h2>Instruments</h2>
          <Checkbox.Group
            className="column-boxes"
            aria-label="Instruments"
            value={[...(exercise.tools ?? TOOLS)]}
            options={TOOLS.map((value: Tool) => ({ value, label: value }))}
            onChange={(tools) => set({ tools })}
          />
        </>
      )}
    </>
  );
}

/** What each hint costs when one is begun with, points (common practice, no source). */
const USUAL_COSTS = { symptom: 1, net: 2, lead: 4 } as const;

/** Whether the student may take hints, and what each costs. */
function HintCosts({ exercise: { hints }, set }: Given) {
  return (
    <>
      <Checkbox
        checked={hints !== undefined}
        onChange={({ target }) => set({ hints: target.checked ? USUAL_COSTS : undefined })}
      >
        hints, not in an assessment
      </Checkbox>
      {hints &&
        HINT_DEGREES.map((degree) => (
          <label key={degree} className="field-row">
            <span>{HINT_WORDS[degree]}</span>
            <InputNumber
              size="small"
              aria-label={`Cost of a hint: ${HINT_WORDS[degree]}`}
              min={0}
              max={1000}
              value={hints[degree]}
              suffix="points"
              onChange={(next) => set({ hints: { ...hints, [degree]: next ?? 0 } })}
            />
          </label>
        ))}
    </>
  );
}

function Points({ exercise: { marks }, set }: Given) {
  const sum = PARTS.reduce((all, part) => all + marks[part], 0);
  return (
    <>
      <h2>Marks</h2>
      {[...PARTS, 'pass' as const].map((part) => (
        <label key={part} className="field-row">
          <span>{part === 'pass' ? 'To pass' : part}</span>
          <InputNumber
            size="small"
            aria-label={`Points: ${part}`}
            min={0}
            max={1000}
            value={marks[part]}
            suffix="points"
            onChange={(next) => set({ marks: { ...marks, [part]: next ?? 0 } })}
          />
        </label>
      ))}
      <p className="quiet">
        {sum} points in all; to pass also every safety property, every essential behaviour, and what else is
        needed to pass.
      </p>
    </>
  );
}

function Lesson({ exercise: { lesson = [] }, set }: Given) {
  return (
    <label className="observed">
      <span>Deliberately unsafe: expected to fail</span>
      <Select
        mode="multiple"
        size="small"
        aria-label="Properties whose failure is the lesson"
        placeholder="nothing: every safety property must hold"
        value={[...lesson]}
        options={PROPERTY_IDS.map((value) => ({ value, label: propertyTitle(value) }))}
        onChange={(next: PropertyId[]) => set({ lesson: next.length > 0 ? next : undefined })}
      />
    </label>
  );
}

/**
 * Each rule as its record says it; a rule that is off asks nothing, and one that is on may be needed to
 * pass.
 */
function Rules({ exercise: { rules, essentialRules = [] }, set }: Given) {
  const values = rules as Readonly<Record<string, unknown>>;
  const keep = (keys: readonly RuleKey[]) => (keys.length > 0 ? keys : undefined);
  const put = (key: string, value: unknown) => {
    const rest = Object.fromEntries(Object.entries(values).filter(([other]) => other !== key));
    if (value === undefined)
      set({ rules: rest, essentialRules: keep(essentialRules.filter((other) => other !== key)) });
    else set({ rules: { ...rest, [key]: value } });
  };
  return (
    <div className="rules-list">
      {Object.entries(RULE_FIELDS as Readonly<Record<string, Field>>).map(([key, field]) => {
        const rule = HOUSE_RULES.find((one) => one === key);
        return (
          <RuleRow
            key={key}
            field={field}
            value={values[key]}
            onChange={(value) => put(key, value)}
            essential={rule ? essentialRules.includes(rule) : null}
            onEssential={(on) =>
              rule &&
              set({
                essentialRules: keep([
                  ...essentialRules.filter((other) => other !== rule),
                  ...(on ? [rule] : []),
                ]),
              })
            }
          />
        );
      })}
    </div>
  );
}

/**
 * One rule: whether it is on, what it asks for, and whether nobody passes without it (null where it cannot
 * be so).
 */
function RuleRow({
  field,
  value,
  onChange,
  essential,
  onEssential,
}: {
  field: Field;
  value: unknown;
  onChange: (value: unknown) => void;
  essential: boolean | null;
  onEssential: (on: boolean) => void;
}) {
  const isOn = value !== undefined && value !== false;
  const first = field.shape.kind === 'flag' ? true : beginning(field);
  return (
    <div className="rule-row">
      <Checkbox checked={isOn} onChange={({ target }) => onChange(target.checked ? first : undefined)}>
        {field.label}
      </Checkbox>
      {isOn && field.shape.kind !== 'flag' && (
        <FieldRow field={field} label="" value={value} onChange={onChange} />
      )}
      {isOn && essential !== null && (
        <Checkbox
          className="rule-essential"
          aria-label={`${field.label}: needed to pass`}
          checked={essential}
          onChange={({ target }) => onEssential(target.checked)}
        >
          needed to pass
        </Checkbox>
      )}
    </div>
  );
}

/** What a rule says when it is switched on. */
function beginning({ shape, default: standard }: Field): unknown {
  if (standard !== undefined) return standard;
  switch (shape.kind) {
    case 'choice':
      return shape.of[0];
    case 'number':
      return shape.min ?? 2;
    case 'list':
      return shape.of.shape.kind === 'choice' ? [shape.of.shape.of[0]] : [];
    case 'limits':
      return [1, 10];
    case 'group':
      return Object.fromEntries(
        Object.entries(shape.fields).flatMap(([key, field]) =>
          field.leftOut === 'none' ? [] : [[key, beginning(field)]],
        ),
      );
    default:
      return true;
  }
}

function Practice({ exercise: { practice = {}, deadTest = [] }, set }: Given) {
  const put = (change: Exercise['practice']) => {
    const next = Object.fromEntries(
      Object.entries({ ...practice, ...change }).filter(
        ([, value]) => value !== undefined && value !== false,
      ),
    );
    set({ practice: Object.keys(next).length > 0 ? next : undefined });
  };
  return (
    <div className="rules-list">
      <span className="rule-row">
        <Switch
          size="small"
          aria-label="Dead test is judged"
          checked={practice.deadTest !== undefined && practice.deadTest !== false}
          onChange={(on) => put({ deadTest: on ? (deadTest.length > 0 ? deadTest : true) : undefined })}
        />
        Tested dead first{deadTest.length > 0 ? `, ${plural(deadTest.length, 'reading')}` : ''}
      </span>
      <Checkbox
        checked={practice.permission === true}
        onChange={({ target }) => put({ permission: target.checked })}
      >
        Energised only with permission
      </Checkbox>
      <Limit
        label="Time for the work"
        unit="min"
        least={1}
        standard={45}
        value={practice.minutes}
        onChange={(minutes) => put({ minutes })}
      />
      <Limit
        label="Incidents that cost nothing"
        unit=""
        least={0}
        standard={0}
        value={practice.incidents}
        onChange={(incidents) => put({ incidents })}
      />
      <label className="field-row">
        <span>Order of wiring</span>
        <Select
          size="small"
          allowClear
          aria-label="Order of wiring"
          placeholder="any"
          value={practice.wiringOrder ?? null}
          options={[
            { value: 'power-first', label: 'power first' },
            { value: 'control-first', label: 'control first' },
          ]}
          onChange={(wiringOrder: 'power-first' | 'control-first' | undefined) => put({ wiringOrder })}
        />
      </label>
    </div>
  );
}

/** A number that is asked for, or not. */
function Limit({
  label,
  unit,
  least,
  standard,
  value,
  onChange,
}: {
  label: string;
  unit: string;
  least: number;
  standard: number;
  value: number | undefined;
  onChange: (value: number | undefined) => void;
}) {
  return (
    <span className="rule-row">
      <Checkbox
        checked={value !== undefined}
        onChange={({ target }) => onChange(target.checked ? standard : undefined)}
      >
        {label}
      </Checkbox>
      {value !== undefined && (
        <InputNumber
          size="small"
          aria-label={label}
          min={least}
          max={10_000}
          value={value}
          suffix={unit}
          onChange={(next) => onChange(next ?? standard)}
        />
      )}
    </span>
  );
}
