import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Button } from 'antd';
import { CaretRightOutlined, ReloadOutlined, StepForwardOutlined } from '@ant-design/icons';
import { useStore } from 'zustand';
import {
  plural,
  type Bench,
  describeIncident,
  type Fault,
  type Incident,
  isShort,
  isSupply,
  type RepairEdit,
  type Stimulus,
} from '@contactum/core';
import type { Slip } from '@contactum/contract';
import { Board } from '../board/Board.js';
import { useAct } from '../bench/use-act.js';
import type { LiveBench } from '../bench/live.js';
import { useOwnBench } from '../bench/use-own-bench.js';
import { StripChart } from '../bench/StripChart.js';
import { WhyStrip } from '../bench/WhyStrip.js';
import { createLinkStore } from '../board/link.js';
import { describeEdit, withRepair } from './repair-view.js';
import { StepList, usePlayback, type Playback } from './steps.js';

const NOWHERE: readonly string[] = [];

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
  const live = useOwnBench();
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
  const playback = usePlayback(steps, live.act, moves);
  const drawn = useMemo(() => withRepair(bench, repair), [bench, repair]);
  const stage = useRef<HTMLElement | null>(null);
  const [link] = useState(createLinkStore);
  const load = useCallback(
    () => live.load(bench, { supplyOn: moves, fresh: true, faults: fault ? [fault] : [] }),
    [live, bench, moves, fault],
  );
  useEffect(() => {
    load();
    if (moves) stage.current?.scrollIntoView({ block: 'nearest' });
  }, [load, moves]);
  const incidents = useStore(live.store, (state) => state.incidents);
  const marked = useMarked(bench, proof, incidents, slip.report?.search?.at);

  return (
    <section className="slip-board" ref={stage} aria-label="The board as it was handed in">
      <header className="replay-head">
        {proof ? (
          <ProofHead {...{ proof, playback, onClose }} onAgain={load} />
        ) : (
          <WiringHead bench={bench} repair={repair} live={live} title={boardTitle(slip)} />
        )}
      </header>
      {moves && <StepList steps={steps} done={playback.done} />}
      <div className="replay-board">
        <Board
          bench={drawn.bench}
          edits={drawn.edits}
          live={live}
          link={link}
          act={useAct(live)}
          marked={marked}
          label={`Board with ${plural(bench.wires.length, 'lead')}`}
        />
      </div>
      <Incidents incidents={incidents} />
      {!fault && <WhyStrip live={live} link={link} devices={bench.devices} />}
      <StripChart devices={bench.devices} live={live} />
    </section>
  );
}

/**
 * Terminals to point at: where a rule is broken, what met in a short, or where the faults of a search are.
 * A device named without a terminal stands for all its terminals.
 */
function useMarked(
  bench: Bench,
  proof: Proof | null,
  incidents: readonly Incident[],
  faultsAt: readonly string[] = NOWHERE,
): readonly string[] {
  const shorted = incidents.findLast(({ kind }) => isShort(kind));
  return useMemo(() => {
    const places = proof?.still ? proof.where : (shorted?.where ?? faultsAt);
    const refs = bench.wires.flatMap(({ from, to }) => [from, to]);
    return places.flatMap((place) =>
      place.includes(':') ? [place] : refs.filter((ref) => ref.startsWith(`${place}:`)),
    );
  }, [proof, shorted, bench, faultsAt]);
}

/** The last things that went wrong, in words. */
export function Incidents({ incidents }: { incidents: readonly Incident[] }) {
  return (
    <p className="replay-incident" role="status">
      {incidents.slice(-2).map(describeIncident).join(' ')}
    </p>
  );
}

function ProofHead({
  proof,
  playback: { playing, ended, stepOn, play },
  onAgain,
  onClose,
}: {
  proof: Proof;
  playback: Playback;
  onAgain: () => void;
  onClose: () => void;
}) {
  return (
    <>
      <div>
        <h2>{proof.title}</h2>
        <p>{proof.found}</p>
      </div>
      <span className="replay-acts">
        {!proof.still && (
          <>
            <Button
              icon={playing ? <ReloadOutlined /> : <CaretRightOutlined />}
              onClick={() => {
                onAgain();
                play();
              }}
            >
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
  );
}

/** What the board shows: of a physical one the leads that were entered, where somebody has. */
function boardTitle({ report }: Slip): string {
  const physical = report?.physical;
  if (!physical) return 'The board as it was handed in';
  const isEntered = physical.wiringEntered || physical.contradictions.length > 0;
  return isEntered ? 'The board as its leads were entered' : 'The board; its leads were not entered';
}

/** Where nothing is proved: what the board shows, and its supply to work it freely. */
function WiringHead({
  bench,
  repair,
  live,
  title,
}: {
  bench: Bench;
  repair: readonly RepairEdit[] | null;
  live: LiveBench;
  title: string;
}) {
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  const supplies = bench.devices.filter(isSupply);
  return (
    <>
      <div>
        <h2>{repair ? `${title}, and what would repair it` : title}</h2>
        <p>
          {repair
            ? repair.map((edit) => describeEdit(edit)).join('. ')
            : 'Press Replay beside a lost point, or switch the supply on and work it yourself.'}
        </p>
      </div>
      <Button
        onClick={() => supplies.forEach(({ tag }) => live.act(supplyOn ? { open: tag } : { close: tag }))}
      >
        {supplyOn ? 'Supply off' : 'Supply on'}
      </Button>
    </>
  );
}
