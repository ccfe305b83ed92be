import { Checkbox, Segmented } from 'antd';
import type { SheetEntries } from '@contactum/core';
import type { SheetToTake } from '@contactum/contract';

export interface PartProps {
  readonly sheet: SheetToTake['sheet'];
  readonly entries: SheetEntries;
  readonly enter: (change: Partial<SheetEntries>) => void;
}

/** What one signs for oneself. */
export function Signature({
  words,
  signed,
  onSign,
}: {
  words: string;
  signed: boolean;
  onSign: (signed: boolean) => void;
}) {
  return (
    <Checkbox className="sheet-signature" checked={signed} onChange={({ target }) => onSign(target.checked)}>
      {words}
    </Checkbox>
  );
}

/** A choice that a thumb hits. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T | null;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <Segmented<T | ''>
      size="large"
      aria-label={label}
      value={value ?? ''}
      options={options.map(([key, words]) => ({ value: key, label: words }))}
      onChange={(next) => next !== '' && onChange(next)}
    />
  );
}
