import { useState } from 'react';
import { Alert, Button, Input, Modal } from 'antd';
import type { Preview } from '@contactum/core/exchange';

/**
 * A list from a file or typed in; every line says what it would do, or what is wrong with it, before
 * anything is taken.
 */
export function ImportList<T>({
  label,
  hint,
  read,
  words,
  onTake,
}: {
  label: string;
  hint: string;
  read: (text: string) => Promise<Preview<T>>;
  words: (value: T) => string;
  onTake: (values: readonly T[]) => void;
}) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [preview, setPreview] = useState<Preview<T> | null>(null);
  const look = (next: string) => {
    setText(next);
    if (next.trim() === '') setPreview(null);
    else void read(next).then(setPreview);
  };
  const values = preview?.lines.flatMap(({ value }) => (value === null ? [] : [value])) ?? [];
  const isWhole = values.length === preview?.lines.length;
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        {label}
      </Button>
      <Modal
        open={open}
        width={680}
        title={label}
        okText={`Take ${values.length} ${isWhole ? '' : 'good '}lines`}
        okButtonProps={{ disabled: values.length === 0 }}
        onOk={() => {
          onTake(values);
          setOpen(false);
        }}
        onCancel={() => setOpen(false)}
      >
        <p>{hint}</p>
        <input
          type="file"
          accept=".csv,text/csv,text/plain"
          aria-label="CSV file"
          onChange={({ target }) => void target.files?.[0]?.text().then(look)}
        />
        <Input.TextArea
          rows={6}
          className="mono"
          aria-label="Lines"
          value={text}
          onChange={({ target }) => look(target.value)}
        />
        {preview?.problem && <Alert type="error" showIcon title={preview.problem} />}
        {preview && <Lines preview={preview} words={words} />}
      </Modal>
    </>
  );
}

function Lines<T>({ preview, words }: { preview: Preview<T>; words: (value: T) => string }) {
  return (
    <ul className="import-lines">
      {preview.lines.slice(0, 200).map(({ line, text, value, problem }) => (
        <li key={line} data-bad={problem === null ? undefined : 'yes'}>
          {value === null ? `! line ${line}, ${text}: ${problem ?? ''}` : `+ ${words(value)}`}
        </li>
      ))}
    </ul>
  );
}
