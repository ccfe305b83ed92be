import { useMemo, useState } from 'react';
import { Segmented } from 'antd';
import { useStore } from 'zustand';
import {
  benchOf,
  compile,
  connectionsOf,
  isController,
  programHints,
  programOf,
  type Program,
  type Wiring,
} from '@contactum/core';
import type { LiveBench } from '../bench/live.js';
import { bitsOn, timingSince } from './bits.js';
import { ProgramEditor } from './ProgramEditor.js';
import type { Forcing } from './VariableTable.js';

const NONE_RUNS: ReadonlyMap<string, number> = new Map();
const NOTHING_FORCED: ReadonlyMap<string, boolean> = new Map();

/** The programs of a board's controllers beside the board while it runs. */
export function ProgramOnBoard({
  bench,
  live,
  note,
  mayForce,
  onChange,
}: {
  bench: Wiring;
  live: LiveBench;
  /** Why it cannot be changed now. */
  note: string | undefined;
  /** Values may be held by hand while it runs. */
  mayForce: boolean;
  onChange: ((tag: string, before: Program | null, to: Program) => void) | undefined;
}) {
  const events = useStore(live.store, (state) => state.events);
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const controllers = bench.devices.filter(isController);
  const [tag, setTag] = useState(controllers[0]?.tag ?? '');
  const program = programOf(controllers.find((one) => one.tag === tag));
  const board = useMemo(() => benchOf(bench), [bench]);
  const connections = useMemo(() => connectionsOf(board, tag), [board, tag]);
  const hints = useMemo(() => programHints(compile(board), tag), [board, tag]);
  const on = program && supplyOn ? bitsOn(program, tag, events) : null;
  const elapsed = useElapsed(live, program, supplyOn ? tag : null);
  const forcing = useForcing(live, tag);
  const hasEstop = bench.devices.some(({ type }) => type === 'estop');
  return (
    <>
      {controllers.length > 1 && (
        <Segmented size="small" value={tag} options={controllers.map((one) => one.tag)} onChange={setTag} />
      )}
      <ProgramEditor
        key={tag}
        {...{ tag, program, connections, hints, on, elapsed, note }}
        title={bench.title}
        forcing={supplyOn && mayForce ? forcing : undefined}
        onChange={onChange && ((to: Program) => onChange(tag, program, to))}
      />
      {hasEstop && (
        <p className="quiet program-caution">
          An emergency stop is not left to a program: functional safety has standards of its own (ISO 13849-1,
          IEC 62061), and this is a trainer.
        </p>
      )}
    </>
  );
}

/** Times a second that a running timer is painted anew. */
const PAINTED = 5;

/** Seconds for which each timer has run, by name; nothing of it where none runs. */
function useElapsed(
  live: LiveBench,
  program: Program | null,
  tag: string | null,
): ReadonlyMap<string, number> | undefined {
  const events = useStore(live.store, (state) => state.events);
  const since = useMemo(
    () => (program && tag !== null ? timingSince(program, tag, events) : NONE_RUNS),
    [program, tag, events],
  );
  const runs = since.size > 0;
  const now = useStore(live.store, ({ frame }) =>
    runs && frame ? Math.floor(frame.t * PAINTED) / PAINTED : 0,
  );
  return runs ? new Map([...since].map(([name, t]) => [name, Math.max(0, now - t)])) : undefined;
}

/** What is held by hand on a controller; a board that is loaded anew holds nothing. */
function useForcing(live: LiveBench, tag: string): Forcing {
  const [held, setHeld] = useState({ shape: null as unknown, tag, forced: NOTHING_FORCED });
  const shape = useStore(live.store, (state) => state.shape);
  const forced = held.shape === shape && held.tag === tag ? held.forced : NOTHING_FORCED;
  return {
    forced,
    force: (at, value) => {
      live.force(tag, at, value);
      const next = new Map(forced);
      if (value === null) next.delete(at);
      else next.set(at, value);
      setHeld({ shape, tag, forced: next });
    },
  };
}
