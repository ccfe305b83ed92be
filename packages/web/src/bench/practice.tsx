import { useState } from 'react';
import { Button } from 'antd';
import { group } from 'd3';
import dayjs from 'dayjs';
import { useStore } from 'zustand';
import {
  describeOhms,
  isReadingOf,
  spellRef,
  type DeadTest as DeadTestRow,
  type TerminalRef,
} from '@contactum/core';
import type { AttemptView } from '@contactum/contract';
import { usePermission } from '../api/queries.js';
import type { LiveBench } from './live.js';
import type { BenchStore } from './store.js';
import './practice.css';

const NONE: readonly string[] = [];

type Row = Pick<DeadTestRow, 'between' | 'hold'>;

const spoken = ({ between: [a, b], hold }: Row): string =>
  `${spellRef(a)} – ${spellRef(b)}${hold.length > 0 ? `, ${hold.join(' and ')} held` : ''}`;

/** Where the probes of the ohmmeter lie, and what it read there. */
interface Probes {
  readonly from: TerminalRef | null;
  readonly to: TerminalRef | null;
  /** What is to be held while it is read. */
  readonly hold: readonly string[];
  readonly reading: string;
}

/**
 * The dead test: each reading that is asked for as a button that lays the probes, ticked once it was taken
 * on the wiring as it is.
 */
export function DeadTests({ view, store, live }: { view: AttemptView; store: BenchStore; live: LiveBench }) {
  const readings = useStore(store, (state) => state.readings);
  const [probes, setProbes] = useState<Probes>({ from: null, to: null, hold: NONE, reading: '' });
  // What was read where, to be seen beside what is asked.
  const [read, setRead] = useState<Readonly<Record<string, string>>>({});
  const keep = (between: readonly [string, string], reading: string) =>
    setRead((known) => ({ ...known, [[...between].sort().join()]: reading }));
  const rows = view.exercise.deadTests.map((row) => ({
    row,
    taken: readings.some((reading) => isReadingOf(row, reading)),
  }));
  const done = rows.filter(({ taken }) => taken).length;
  const isDone = done === rows.length;
  return (
    <div className="practice">
      <span className="practice-part" data-done={isDone ? 'yes' : undefined}>
        <span className="practice-state">
          {isDone ? '✓ Tested dead' : `○ Test dead: ${done} of ${rows.length}`}
        </span>
      </span>
      <span className="practice-rows">
        {rows.map(({ row, taken }) => (
          <Button
            key={spoken(row)}
            size="small"
            type="text"
            className="mono"
            data-taken={taken ? 'yes' : undefined}
            onClick={() =>
              setProbes({ from: row.between[0], to: row.between[1], hold: row.hold, reading: '' })
            }
            title="Lay the probes here"
          >
            {taken ? '✓' : '○'} {spoken(row)}
            <span className="practice-value">{taken ? read[[...row.between].sort().join()] : ''}</span>
          </Button>
        ))}
      </span>
      <Ohmmeter store={store} live={live} probes={probes} onProbes={setProbes} onRead={keep} />
    </div>
  );
}

function Ohmmeter({
  store,
  live,
  probes,
  onProbes,
  onRead,
}: {
  store: BenchStore;
  live: LiveBench;
  probes: Probes;
  onProbes: (probes: Probes) => void;
  onRead: (between: readonly [string, string], reading: string) => void;
}) {
  const { from, to, reading } = probes;
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const terminals = useStore(live.store, (state) => state.shape?.terminals ?? NONE);
  const read = async (): Promise<void> => {
    if (!from || !to) return;
    const ohms = await live.ohms(from, to);
    onProbes({ ...probes, reading: describeOhms(ohms) });
    onRead([from, to], describeOhms(ohms));
    store.actions.noteReading(from, to);
  };
  return (
    <span className="practice-meter">
      <Probe
        end="from"
        at={from}
        terminals={terminals}
        onPut={(next) => onProbes({ ...probes, from: next, hold: NONE })}
      />
      <Probe
        end="to"
        at={to}
        terminals={terminals}
        onPut={(next) => onProbes({ ...probes, to: next, hold: NONE })}
      />
      <Button size="small" disabled={supplyOn || !from || !to || from === to} onClick={() => void read()}>
        Read ohms
      </Button>
      <output>{supplyOn ? 'switch off first' : reading}</output>
      <HoldFirst live={live} hold={probes.hold} />
    </span>
  );
}

/** How a device stands that nobody holds. */
const LET_GO = ['', 'released', 'out'];

/** Says what must be held for a reading, and how, while it is not held. */
function HoldFirst({ live, hold }: { live: LiveBench; hold: readonly string[] }) {
  const isHeld = useStore(live.store, ({ frame, shape }) =>
    hold.every((tag) => !LET_GO.includes(frame?.states[shape?.devices.indexOf(tag) ?? -1] ?? '')),
  );
  if (isHeld) return null;
  return (
    <p className="practice-hold">
      Hold {hold.join(' and ')} while you read: click it with Shift, or keep a finger on it.
    </p>
  );
}

/** Where one probe lies, chosen among the terminals of each device. */
function Probe({
  end,
  at,
  terminals,
  onPut,
}: {
  end: 'from' | 'to';
  at: TerminalRef | null;
  terminals: readonly string[];
  onPut: (ref: TerminalRef | null) => void;
}) {
  const devices = [...group(terminals, (ref) => ref.split(':')[0] ?? '')];
  return (
    <select
      className="plain-select"
      aria-label={`Dead test ${end}`}
      value={at ?? ''}
      onChange={({ target }) => onPut(target.value === '' ? null : (target.value as TerminalRef))}
    >
      <option value="">{end}</option>
      {devices.map(([tag, refs]) => (
        <optgroup key={tag} label={tag}>
          {refs.map((ref) => (
            <option key={ref} value={ref}>
              {spellRef(ref)}
            </option>
          ))}
        </optgroup>
      ))}
    </select>
  );
}

/** Whether the instructor has given permission to energise the wiring as it is. */
export function Permission({ view, store }: { view: AttemptView; store: BenchStore }) {
  const query = usePermission(view.attempt.id);
  const editedSeq = useStore(store, (state) => state.editedSeq);
  const asks = useStore(store, (state) => state.asks);
  const { permittedAt: at, permittedAfter } = query.data ?? view;
  const holds = at !== null && permittedAfter >= editedSeq;
  return (
    <span className="practice-part" data-done={holds ? 'yes' : undefined}>
      <span className="practice-state">
        {holds
          ? `✓ Permission given at ${dayjs(at).format('HH:mm')}`
          : asks
            ? '○ Asked; your instructor sees it'
            : '○ Ask your instructor for permission'}
      </span>
      {!holds && (
        <Button size="small" onClick={() => store.actions.patch({ asks: !asks })}>
          {asks ? 'Take it back' : 'Ask'}
        </Button>
      )}
      {!holds && at !== null && <span className="quiet">the wiring was changed after the last one</span>}
    </span>
  );
}
