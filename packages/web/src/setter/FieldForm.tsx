import { Checkbox, Input, InputNumber, Select, Switch } from 'antd';
import { limitsWithin, type Device, type Field, type Fields } from '@contactum/core';
import { Contacts } from './Contacts.js';

/**
 * A form made from fields: what a device's record says of its options is what can be set here, with units
 * and limits.
 */

type Values = Readonly<Record<string, unknown>>;

interface Given {
  readonly label: string;
  readonly value: unknown;
  readonly onChange: (value: unknown) => void;
  /** Whose field it is, where another of its values limits it. */
  readonly device?: Device | undefined;
  /** Motors of the board, for fields that name one. */
  readonly motors?: readonly string[] | undefined;
  readonly words?: Readonly<Record<string, string>> | undefined;
}

export function FieldForm({
  fields,
  values,
  onChange,
  device,
  motors,
  skip = [],
}: {
  fields: Fields;
  values: Values;
  onChange: (values: Values) => void;
  device?: Device;
  motors?: readonly string[];
  skip?: readonly string[];
}) {
  return (
    <div className="field-form">
      {Object.entries(fields)
        .filter(([key, { shape }]) => !skip.includes(key) && shape.kind !== 'program')
        .map(([key, field]) => (
          <FieldRow
            key={key}
            field={field}
            label={field.label}
            value={values[key]}
            device={device}
            motors={motors}
            onChange={(value) => onChange({ ...values, [key]: value })}
          />
        ))}
    </div>
  );
}

/** Shapes that are entered in several inputs: a label names only one. */
const MANY_INPUTS = new Set(['list', 'contacts', 'limits']);

/** One field with its label. */
export function FieldRow({ field, ...given }: Given & { field: Field }) {
  const { shape } = field;
  if (shape.kind === 'group')
    return (
      <fieldset className="field-group">
        <legend>{given.label}</legend>
        <FieldForm
          fields={shape.fields}
          values={(given.value as Values | undefined) ?? {}}
          onChange={given.onChange}
          {...(given.device ? { device: given.device } : {})}
          {...(given.motors ? { motors: given.motors } : {})}
        />
      </fieldset>
    );
  const inside = (
    <>
      <span>{given.label}</span>
      <FieldInput field={field} {...given} />
    </>
  );
  if (MANY_INPUTS.has(shape.kind))
    return (
      <div role="group" aria-label={given.label} className="field-row">
        {inside}
      </div>
    );
  return <label className="field-row">{inside}</label>;
}

function FieldInput({ field, ...given }: Given & { field: Field }) {
  const { shape } = field;
  const { label, value, onChange, words = {}, motors = [], device } = given;
  switch (shape.kind) {
    case 'number':
      return <NumberInput shape={shape} {...given} />;
    case 'choice':
      return (
        <Select
          size="small"
          aria-label={label}
          value={value}
          options={shape.of.map((one) => ({ value: one, label: words[String(one)] ?? String(one) }))}
          onChange={onChange}
        />
      );
    case 'flag':
      return <Switch size="small" aria-label={label} checked={value === true} onChange={onChange} />;
    case 'contacts':
      return (
        <Contacts label={label} value={(value as readonly string[] | undefined) ?? []} onChange={onChange} />
      );
    case 'limits':
      return <LimitsInput unit={shape.unit} {...given} />;
    case 'motor':
      return (
        <Select
          size="small"
          aria-label={label}
          value={value}
          options={motors.map((tag) => ({ value: tag, label: tag }))}
          onChange={onChange}
        />
      );
    case 'list':
      return (
        <ListInput
          label={label}
          of={shape.of}
          value={(value as readonly unknown[] | undefined) ?? []}
          words={words}
          device={device}
          onChange={onChange}
        />
      );
    default:
      return (
        <Input
          size="small"
          aria-label={label}
          value={(value as string | undefined) ?? ''}
          maxLength={shape.kind === 'text' ? shape.most : 24}
          onChange={({ target }) =>
            onChange(target.value === '' && field.leftOut === 'none' ? undefined : target.value)
          }
        />
      );
  }
}

function NumberInput({
  shape,
  label,
  value,
  device,
  onChange,
}: Given & { shape: Extract<Field['shape'], { kind: 'number' }> }) {
  const within = device ? limitsWithin(device, shape.within) : null;
  return (
    <InputNumber
      size="small"
      aria-label={label}
      value={(value as number | undefined) ?? null}
      min={
        within?.[0] ?? shape.min ?? (shape.above === undefined ? Number.MIN_SAFE_INTEGER : Number.MIN_VALUE)
      }
      max={within?.[1] ?? shape.max ?? Number.MAX_SAFE_INTEGER}
      {...(shape.whole ? { precision: 0 } : {})}
      {...(shape.unit ? { suffix: shape.unit } : {})}
      onChange={(next) => next !== null && onChange(next)}
    />
  );
}

/** Lower and upper limit. */
function LimitsInput({ unit, label, value, onChange }: Given & { unit: string }) {
  const [low, high] = (value as readonly [number, number] | undefined) ?? [1, 1];
  return (
    <span className="field-limits">
      <InputNumber
        size="small"
        aria-label={`${label}, least`}
        value={low}
        min={0.01}
        suffix={unit}
        onChange={(next) => next !== null && onChange([next, high])}
      />
      <InputNumber
        size="small"
        aria-label={`${label}, most`}
        value={high}
        min={0.01}
        suffix={unit}
        onChange={(next) => next !== null && onChange([low, next])}
      />
    </span>
  );
}

/** A list: of choices as boxes to tick, of words as tags, of anything else one below the other. */
function ListInput({
  label,
  of,
  value,
  words,
  device,
  onChange,
}: {
  label: string;
  of: Field;
  value: readonly unknown[];
  words: Readonly<Record<string, string>>;
  device: Device | undefined;
  onChange: (value: unknown) => void;
}) {
  const { shape } = of;
  if (shape.kind === 'choice')
    return (
      <Checkbox.Group
        aria-label={label}
        value={value as string[]}
        options={shape.of.map((one) => ({ value: String(one), label: words[String(one)] ?? String(one) }))}
        onChange={onChange}
      />
    );
  if (shape.kind === 'text') {
    const among =
      shape.among && device ? ((device.options as Values)[shape.among] as string[] | undefined) : undefined;
    return (
      <Select
        size="small"
        mode={among ? 'multiple' : 'tags'}
        aria-label={label}
        value={value as string[]}
        options={(among ?? []).map((one) => ({ value: one, label: one }))}
        onChange={onChange}
      />
    );
  }
  return (
    <span className="field-list">
      {value.map((one, k) => (
        <FieldRow
          key={k}
          field={of}
          label={`${of.label} ${k + 1}`}
          value={one}
          device={device}
          onChange={(next) => onChange(value.map((before, n) => (n === k ? next : before)))}
        />
      ))}
    </span>
  );
}
