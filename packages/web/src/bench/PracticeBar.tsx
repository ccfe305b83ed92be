import { useState } from 'react';
import { Button, Select } from 'antd';
import dayjs from 'dayjs';
import { useStore } from 'zustand';
import { describeOhms, isReadingOf, type DeadTest as DeadTestRow, type TerminalRef } from '@contactum/core';
import type { AttemptView } from '@contactum/contract';
import { usePermission } from '../api/queries.js';
import type { LiveBench } from './live.js';
import type { BenchStore } from './store.js';

/** What the exercise asks of the way of working, and whether it is done: the dead tests, and the permission to energise. */
export function PracticeBar({
  view,
  store,
  live,
}: {
  view: AttemptView;
  store: BenchStore;
  live: LiveBench;
}) {
  const { practice, deadTests } = view.exercise;
  if (deadTests.length === 0 && !practice?.permission) return null;
  return (
    <div className="practice" role="group" aria-label="Before you switch on">
      <strong>Before you switch on</strong>
      {deadTests.length > 0 && <DeadTests view={view} store={store} live={live} />}
      {practice?.permission && <Permission view={view} store={store} />}
    </div>
  );
}

/** A terminal is found as it is spoken, "KM1 13", or as it is written, "KM1:13". */
const finds = (text: string, option: { label: string } | undefined): boolean =>
  option?.label.toLowerCase().includes(text.trim().replace(':', ' ').toLowerCase()) ?? false;

type Row = Pick<DeadTestRow, 'between' | 'hold'>;

const spoken = ({ between: [a, b], hold }: Row): string =>
  `${a.replace(':', ' ')} – ${b.replace(':', ' ')}${hold.length > 0 ? `, ${hold.join(' and ')} held` : ''}`;

/** Each reading that is asked for as a button that lays the probes, ticked once it was taken on the wiring as it is. */
function DeadTests({ view, store, live }: { view: AttemptView; store: BenchStore; live: LiveBench }) {
  const readings = useStore(store, (state) => state.readings);
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const shape = useStore(live.store, (state) => state.shape);
  const rows = view.exercise.deadTests;
  const taken = rows.map((row) => readings.some((reading) => isReadingOf(row, reading)));
  const [from, setFrom] = useState<TerminalRef | null>(null);
  const [to, setTo] = useState<TerminalRef | null>(null);
  const [reading, setReading] = useState('');
  const options = (shape?.terminals ?? []).map((ref) => ({
    value: ref as TerminalRef,
    label: ref.replace(':', ' '),
  }));
  const read = (): void => {
    if (!from || !to) return;
    void live.ohms(from, to).then((ohms) => {
      setReading(describeOhms(ohms));
      store.actions.noteReading(from, to);
    });
  };
  const lay = ({ between: [a, b] }: Row): void => {
    setFrom(a);
    setTo(b);
    setReading('');
  };
  const done = taken.filter(Boolean).length;
  return (
    <span className="practice-dead">
      <span className="practice-part" data-done={done === rows.length ? 'yes' : undefined}>
        <span className="practice-state">
          {done === rows.length ? '✓ Tested dead' : `○ Test dead: ${done} of ${rows.length}`}
        </span>
      </span>
      <span className="practice-rows">
        {rows.map((row, k) => (
          <Button
            key={spoken(row)}
            size="small"
            type="text"
            className="mono"
            data-taken={taken[k] ? 'yes' : undefined}
            onClick={() => lay(row)}
            title="Lay the probes here"
          >
            {taken[k] ? '✓' : '○'} {spoken(row)}
          </Button>
        ))}
      </span>
      <span className="practice-meter">
        <Select
          aria-label="Dead test from"
          size="small"
          showSearch={{ filterOption: finds }}
          placeholder="from"
          value={from}
          options={options}
          onChange={setFrom}
        />
        <Select
          aria-label="Dead test to"
          size="small"
          showSearch={{ filterOption: finds }}
          placeholder="to"
          value={to}
          options={options}
          onChange={setTo}
        />
        <Button size="small" disabled={supplyOn || !from || !to || from === to} onClick={read}>
          Read ohms
        </Button>
        <output>{supplyOn ? 'switch off first' : reading}</output>
      </span>
    </span>
  );
}

function Permission({ view, store }: { view: AttemptView; store: BenchStore }) {
  const query = usePermission(view.attempt.id);
  const editedSeq = useStore(store, (state) => state.editedSeq);
  const { permittedAt: at, permittedAfter } = query.data ?? view;
  const holds = at !== null && permittedAfter >= editedSeq;
  return (
    <span className="practice-part" data-done={holds ? 'yes' : undefined}>
      <span className="practice-state">
        {holds
          ? `✓ Permission given at ${dayjs(at).format('HH:mm')}`
          : '○ Ask your instructor for permission'}
      </span>
      {!holds && at !== null && <span className="quiet">the wiring was changed after the last one</span>}
    </span>
  );
}
