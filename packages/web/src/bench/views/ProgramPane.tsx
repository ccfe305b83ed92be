import { useStore } from 'zustand';
import { useSession } from '../../api/queries.js';
import { ProgramOnBoard } from '../../programs/ProgramOnBoard.js';
import type { ViewProps } from './view-props.js';

/** The programs of the board's controllers: written where the exercise asks for it, looked at elsewhere. */
export function ProgramPane({ kit: { store, live } }: ViewProps) {
  const bench = useStore(store, (state) => state.bench);
  const following = useStore(store, (state) => state.following);
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const { data: person } = useSession();
  const isWritten = bench.programmable === true && !following;
  return (
    <ProgramOnBoard
      bench={bench}
      live={live}
      mayForce={person !== undefined && person?.role !== 'student'}
      note={
        !isWritten
          ? 'The program is fixed in this exercise.'
          : supplyOn
            ? 'Switch the supply off to change the program.'
            : undefined
      }
      onChange={isWritten && !supplyOn ? store.actions.program : undefined}
    />
  );
}
