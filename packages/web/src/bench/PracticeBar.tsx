import { useState } from 'react';
import { Button, Select } from 'antd';
import dayjs from 'dayjs';
import { useStore } from 'zustand';
import type { TerminalRef } from '@contactum/core';
import type { AttemptView } from '@contactum/contract';
import { usePermission } from '../api/queries.js';
import type { LiveBench } from './live.js';
import type { BenchStore } from './store.js';

/** What the exercise asks of the way of working, and whether it is done: the dead test, and the permission to energise. */
export function PracticeBar({ view, store, live }: { view: AttemptView; store: BenchStore; live: LiveBench }) {
  const { practice } = view.exercise;
  if (!practice?.deadTest && !practice?.permission) return null;
  return (
    <div className="practice" role="group" aria-label="Before you switch on">
      <strong>Before you switch on</strong>
      {practice.deadTest && <DeadTest view={view} store={store} live={live} />}
      {practice.permission && <Permission view={view} store={store} />}
    </div>
  );
}

/** A terminal is found as it is spoken, "KM1 13", or as it is written, "KM1:13". */
const finds = (text: string, option: { label: string } | undefined): boolean => option?.label.toLowerCase().includes(text.trim().replace(':', ' ').toLowerCase()) ?? false;

function DeadTest({ view, store, live }: { view: AttemptView; store: BenchStore; live: LiveBench }) {
  const tested = useStore(store, (state) => state.tested);
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const shape = useStore(live.store, (state) => state.shape);
  const supply = view.exercise.bench.devices.find(({ type }) => type.startsWith('supply'))?.tag;
  const [from, setFrom] = useState<TerminalRef | null>(null);
  const [to, setTo] = useState<TerminalRef | null>(supply ? `${supply}:PE` : null);
  const [reading, setReading] = useState('');
  const options = (shape?.terminals ?? []).map((ref) => ({ value: ref as TerminalRef, label: ref.replace(':', ' ') }));
  const read = (): void => {
    if (!from || !to) return;
    void live.ohms(from, to).then((ohms) => {
      setReading(Number.isFinite(ohms) ? `${Number(ohms.toPrecision(3))} Ω` : 'no connection');
      store.actions.noteDeadTest(from, to);
    });
  };
  return (
    <span className="practice-part" data-done={tested ? 'yes' : undefined}>
      <span className="practice-state">{tested ? '✓ Tested dead' : '○ Test dead'}</span>
      <Select aria-label="Dead test from" size="small" showSearch={{ filterOption: finds }} placeholder="from" value={from} options={options} onChange={setFrom} />
      <Select aria-label="Dead test to" size="small" showSearch={{ filterOption: finds }} placeholder="to" value={to} options={options} onChange={setTo} />
      <Button size="small" disabled={supplyOn || !from || !to || from === to} onClick={read}>
        Read ohms
      </Button>
      <output>{supplyOn ? 'switch off first' : reading}</output>
    </span>
  );
}

function Permission({ view, store }: { view: AttemptView; store: BenchStore }) {
  const query = usePermission(view.attempt.id);
  const editedAt = useStore(store, (state) => state.editedAt);
  const at = query.data ?? view.permittedAt;
  const holds = at !== null && Date.parse(at) > editedAt;
  return (
    <span className="practice-part" data-done={holds ? 'yes' : undefined}>
      <span className="practice-state">{holds ? `✓ Permission given at ${dayjs(at).format('HH:mm')}` : '○ Ask your instructor for permission'}</span>
      {!holds && at !== null && <span className="quiet">the wiring was changed after the last one</span>}
    </span>
  );
}
