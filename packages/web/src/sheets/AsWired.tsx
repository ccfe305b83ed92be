import { useState } from 'react';
import { Alert, Button, Input } from 'antd';
import { plural, spellRef, type Wire } from '@contactum/core';
import type { Preview } from '@contactum/core/exchange';
import type { SheetToTake } from '@contactum/contract';
import { ask } from '../api/client.js';
import type { PartProps } from './parts.js';
import { useToasts } from '../shell/toasts.js';

const asList = (wires: readonly Wire[]): string =>
  wires.map(({ from, to }) => `${spellRef(from)}, ${spellRef(to)}`).join('\n');

/** The leads as they really lie: as a list, or as they were laid on the Bench. */
export function AsWired({
  entries,
  enter,
  paper,
  studentId,
  offline,
}: PartProps & { paper: SheetToTake; studentId: string; offline: boolean }) {
  const [text, setText] = useState(() => asList(entries.asWired ?? []));
  const [preview, setPreview] = useState<Preview<Wire> | null>(null);
  const message = useToasts();
  const read = async (next: string) => {
    setText(next);
    if (next.trim() === '') {
      setPreview(null);
      enter({ asWired: undefined });
      return;
    }
    const { readWireList, takenOf } = await import('@contactum/core/exchange');
    const own = readWireList(/^\s*from\b/i.test(next) ? next : `From,To\n${next}`, paper.terminals);
    setPreview(own);
    enter({ asWired: takenOf(own) });
  };
  const fromBench = () =>
    ask<{ wires: Wire[] }>('GET', `/assignments/${paper.settingId}/wiring/${studentId}`)
      .then(({ wires }) => {
        setText(asList(wires));
        setPreview(null);
        enter({ asWired: wires });
      })
      .catch((error: unknown) => message.error((error as Error).message));
  return (
    <>
      <p>
        A photograph is no proof. With the leads as they lie, the wiring is tried in simulation too, and what
        cannot be true of it and of your readings at once is named. A line a lead: two terminals.
      </p>
      <Input.TextArea
        rows={14}
        className="mono"
        aria-label="Leads as they lie"
        placeholder={'G1 L1, Q1 1\nQ1 2, KM1 1'}
        value={text}
        onChange={({ target }) => void read(target.value)}
      />
      <p>
        {plural(entries.asWired?.length ?? 0, 'lead')} taken.{' '}
        <Button disabled={offline} onClick={() => void fromBench()}>
          Use the wiring from the Bench
        </Button>
      </p>
      {preview && <Bad preview={preview} />}
    </>
  );
}

/** Lines that are not taken, each with what is wrong. */
function Bad({ preview }: { preview: Preview<Wire> }) {
  const bad = preview.lines.filter(({ problem }) => problem !== null);
  return (
    <>
      {preview.problem && <Alert type="error" showIcon title={preview.problem} />}
      {bad.length > 0 && (
        <ul className="sheet-bad" aria-label="Lines that are not taken">
          {bad.map(({ line, text, problem }) => (
            <li key={line}>
              {text}: {problem}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
