import { useEffect, useMemo, useRef, useState } from 'react';
import { Button } from 'antd';
import { CaretRightOutlined, ReloadOutlined, StepForwardOutlined } from '@ant-design/icons';
import { useStore } from 'zustand';
import type { Fault, RepairEdit, Stimulus } from '@contactum/core';
import type { Slip } from '@contactum/contract';
import { Board } from '../board/Board.js';
import { isShort, sentence } from '../bench/IncidentBanner.js';
import { useAct } from '../bench/use-act.js';
import { startLiveBench, type LiveBench } from '../bench/live.js';
import { StripChart } from '../bench/StripChart.js';
import { describeEdit, withRepair } from './repair-view.js';
import { StepList, usePlayback } from './steps.js';

/** What can be shown of a lost point: steps on a fresh board, or places in the wiring. */
export interface Proof {
  readonly key: string;
  readonly title: string;
  readonly steps: readonly Stimulus[];
  readonly found: string;
  readonly where: readonly string[];
  /** Nothing moves: the wiring itself shows it. */
  readonly still?: boolean;
  /** The fault that the board is given first. */
  readonly fault?: Fault;
}

/** The marked board beside the slip; plays a proof step by step, and can be worked freely. */
export function Replay({
  slip,
  proof,
  repair,
  onClose,
}: {
  slip: Slip;
  proof: Proof | null;
  repair: readonly RepairEdit[] | null;
  onClose: () => void;
}) {
  const [live, setLive] = useState<LiveBench | null>(null);
  useEffect(() => {
    const bench = startLiveBench();
    setLive(bench);
    return () => bench.close();
  }, []);
  return live ? (
    <Stage key={proof?.key ?? ''} slip={slip} proof={proof} repair={repair} live={live} onClose={onClose} />
  ) : (
    <section className="slip-board" />
  );
}

function Stage({
  slip,
  proof,
  repair,
  live,
  onClose,
}: {
  slip: Slip;
  proof: Proof | null;
  repair: readonly RepairEdit[] | null;
  live: LiveBench;
  onClose: () => void;
}) {
  const { bench } = slip;
  const moves = proof !== null && !proof.still;
  const fault = proof?.fault;
  const steps = useMemo(() => proof?.steps ?? [], [proof]);
  const { done, playing, ended, play, stepOn } = usePlayback(steps, live.act, moves);
  const drawn = useMemo(() => withRepair(bench, repair), [bench, repair]);
  const stage = useRef<HTMLElement | null>(null);

  const restart = () => {
    live.load(bench, { supplyOn: moves, fresh: true, fault });
    play();
  };

  useEffect(() => {
    live.load(bench, { supplyOn: moves, fresh: true, fault });
    if (moves) stage.current?.scrollIntoView({ block: 'nearest' });
  }, [moves, live, bench, fault]);

  const incidents = useStore(live.store, (state) => state.incidents);
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const shorted = incidents.findLast(({ kind }) => isShort(kind));
  const act = useAct(live);
  const marked = useMemo(() => {
    const places = proof?.still ? proof.where : (shorted?.where ?? []);
    // A device named without a terminal: all its terminals.
    return places.flatMap((place) =>
      place.includes(':')
        ? [place]
        : bench.wires.flatMap(({ from, to }) => [from, to]).filter((ref) => ref.startsWith(`${place}:`)),
    );
  }, [proof, shorted, bench]);

  return (
    <section className="slip-board" ref={stage} aria-label="The board as it was handed in">
      <header className="replay-head">
        {proof ? (
          <>
            <div>
              <h2>{proof.title}</h2>
              <p>{proof.found}</p>
            </div>
            <span className="replay-acts">
              {!proof.still && (
                <>
                  <Button icon={playing ? <ReloadOutlined /> : <CaretRightOutlined />} onClick={restart}>
                    Play again
                  </Button>
                  <Button
                    icon={<StepForwardOutlined />}
                    aria-label="Next step"
                    disabled={playing || ended}
                    onClick={stepOn}
                  />
                </>
              )}
              <Button type="text" onClick={onClose}>
                Close
              </Button>
            </span>
          </>
        ) : (
          <>
            <div>
              <h2>
                {repair
                  ? 'The board as it was handed in, and what would repair it'
                  : 'The board as it was handed in'}
              </h2>
              <p>
                {repair
                  ? repair.map((edit) => describeEdit(edit)).join('. ')
                  : 'Press Replay beside a lost point, or switch the supply on and work it yourself.'}
              </p>
            </div>
            <Button
              onClick={() =>
                bench.devices
                  .filter(({ type }) => type.startsWith('supply'))
                  .forEach(({ tag }) => live.act(supplyOn ? { open: tag } : { close: tag }))
              }
            >
              {supplyOn ? 'Supply off' : 'Supply on'}
            </Button>
          </>
        )}
      </header>
      {proof && !proof.still && <StepList steps={steps} done={done} />}
      <div className="replay-board">
        <Board
          bench={drawn.bench}
          edits={drawn.edits}
          live={live}
          act={act}
          marked={marked}
          label={`Board with ${bench.wires.length} leads`}
        />
      </div>
      <p className="replay-incident" role="status">
        {incidents.slice(-2).map(sentence).join(' ')}
      </p>
      <StripChart bench={bench} live={live} />
    </section>
  );
}
