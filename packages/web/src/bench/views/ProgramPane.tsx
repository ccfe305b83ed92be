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
import { bitsOn } from '../../programs/bits.js';
import { ProgramEditor } from '../../programs/ProgramEditor.js';
import type { ViewProps } from './view-props.js';

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
  const isWritten = bench.programmable === true && !following;
  return (
    <>
      {controllers.length > 1 && (
        <Segmented size="small" value={tag} options={controllers.map((one) => one.tag)} onChange={setTag} />
      )}
      <ProgramEditor
        key={tag}
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
