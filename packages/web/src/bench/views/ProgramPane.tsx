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
} from '@contactum/core';
import { useSession } from '../../api/queries.js';
import { bitsOn } from '../../programs/bits.js';
import { ProgramEditor } from '../../programs/ProgramEditor.js';
import type { Forcing } from '../../programs/VariableTable.js';
import type { LiveBench } from '../live.js';
import type { ViewProps } from './view-props.js';

const NOTHING_FORCED: ReadonlyMap<string, boolean> = new Map();

/** The programs of the board's controllers: written where the exercise asks for it, looked at elsewhere. */
export function ProgramPane({ kit: { store, live } }: ViewProps) {
  const bench = useStore(store, (state) => state.bench);
  const following = useStore(store, (state) => state.following);
  const events = useStore(live.store, (state) => state.events);
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const controllers = bench.devices.filter(isController);
  const [tag, setTag] = useState(controllers[0]?.tag ?? '');
  const device = controllers.find((one) => one.tag === tag);
  const program = programOf(device);
  const board = useMemo(() => benchOf(bench), [bench]);
  const connections = useMemo(() => connectionsOf(board, tag), [board, tag]);
  const hints = useMemo(() => programHints(compile(board), tag), [board, tag]);
  const on = program && supplyOn ? bitsOn(program, tag, events) : null;
  const forcing = useForcing(live, tag);
  const { data: person } = useSession();
  const isWritten = bench.programmable === true && !following;
  return (
    <>
      {controllers.length > 1 && (
        <Segmented size="small" value={tag} options={controllers.map((one) => one.tag)} onChange={setTag} />
      )}
      <ProgramEditor
        key={tag}
        tag={tag}
        forcing={supplyOn && person?.role !== 'student' ? forcing : undefined}
        program={program}
        title={bench.title}
        connections={connections}
        hints={hints}
        on={on}
        note={
          !isWritten
            ? 'The program is fixed in this exercise.'
            : supplyOn
              ? 'Switch the supply off to change the program.'
              : undefined
        }
        onChange={
          isWritten && !supplyOn ? (to: Program) => store.actions.program(tag, program, to) : undefined
        }
      />
    </>
  );
}

/** What is held by hand on a controller; a board that is loaded anew holds nothing. */
function useForcing(live: LiveBench, tag: string): Forcing {
  const [held, setHeld] = useState<{
    readonly shape: unknown;
    readonly forced: ReadonlyMap<string, boolean>;
  }>({
    shape: null,
    forced: new Map(),
  });
  const shape = useStore(live.store, (state) => state.shape);
  const forced = held.shape === shape ? held.forced : NOTHING_FORCED;
  return {
    forced,
    force: (at, value) => {
      live.force(tag, at, value);
      const next = new Map(forced);
      if (value === null) next.delete(at);
      else next.set(at, value);
      setHeld({ shape, forced: next });
    },
  };
}
