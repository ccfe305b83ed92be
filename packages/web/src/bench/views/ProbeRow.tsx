import { Select } from 'antd';
import { useStore } from 'zustand';
import { spellRef, type TerminalRef } from '@contactum/core';
import type { LiveBench } from '../live.js';
import type { Probe } from '../store.js';

const NONE: readonly string[] = [];

/** One probe: armed for the next terminal that is clicked, or put on one by its name. */
export function ProbeRow({
  probe,
  armed,
  at,
  live,
  onArm,
  onPut,
}: {
  probe: Probe;
  armed: boolean;
  at: string | null;
  live: LiveBench;
  onArm: (armed: boolean) => void;
  onPut: (ref: TerminalRef) => void;
}) {
  const terminals = useStore(live.store, (state) => state.shape?.terminals ?? NONE);
  return (
    <div className="probe-row">
      <button
        type="button"
        className={`probe ${probe}`}
        aria-pressed={armed}
        aria-label={`${probe} probe${armed ? ': click a terminal' : ''}`}
        onClick={() => onArm(!armed)}
      >
        {probe}
        {armed ? ': click a terminal' : ' probe'}
      </button>
      <Select
        size="small"
        showSearch
        aria-label={`${probe} probe on`}
        placeholder="terminal"
        value={at as TerminalRef | null}
        options={terminals.map((ref) => ({ value: ref as TerminalRef, label: spellRef(ref) }))}
        onChange={onPut}
      />
    </div>
  );
}
