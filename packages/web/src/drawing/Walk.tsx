import { useEffect, useMemo, useState } from 'react';
import { Button, Select } from 'antd';
import { CaretRightOutlined, ReloadOutlined, StepForwardOutlined } from '@ant-design/icons';
import {
  Solver,
  compile,
  describeStimulus,
  drawingOf,
  walkThrough,
  type Bench,
  type DrawingForm,
  type Step,
  type WalkStep,
} from '@contactum/core';
import type { LiveBench } from '../bench/live.js';
import { useOwnBench } from '../bench/use-own-bench.js';
import { Board } from '../board/Board.js';
import { stimuliOf, usePlayback, type Playback } from '../slip/steps.js';
import { DrawingView } from './DrawingView.js';
import './walk.css';

export interface Walkable {
  readonly id: string;
  readonly title: string;
  readonly steps: readonly Step[];
}

/**
 * Walks through a function of a wiring, act by act: the sentence, the drawing and, where there is room, the
 * board.
 */
export function Walk({
  bench,
  functions,
  form,
  withBoard = false,
}: {
  bench: Bench;
  functions: readonly Walkable[];
  form: DrawingForm;
  withBoard?: boolean;
}) {
  const [id, setId] = useState(functions[0]?.id);
  const chosen = functions.find((one) => one.id === id) ?? functions[0];
  const live = useOwnBench();
  if (!chosen) return null;
  return (
    <div className="walk">
      <Select
        aria-label="Function to walk through"
        value={chosen.id}
        options={functions.map(({ id: value, title }) => ({ value, label: title }))}
        onChange={setId}
        popupMatchSelectWidth={false}
      />
      {live && (
        <Stage
          key={chosen.id}
          bench={bench}
          steps={chosen.steps}
          form={form}
          live={live}
          withBoard={withBoard}
        />
      )}
    </div>
  );
}

function Stage({
  bench,
  steps,
  form,
  live,
  withBoard,
}: {
  bench: Bench;
  steps: readonly Step[];
  form: DrawingForm;
  live: LiveBench;
  withBoard: boolean;
}) {
  const said = useMemo(() => walkThrough(new Solver(compile(bench)), steps), [bench, steps]);
  const stimuli = useMemo(() => stimuliOf(steps), [steps]);
  const drawing = useMemo(() => drawingOf(bench, form), [bench, form]);
  const playback = usePlayback(stimuli, live.act);
  const load = () => live.load(bench, { supplyOn: true, fresh: true });
  useEffect(() => {
    live.load(bench, { supplyOn: true, fresh: true });
  }, [live, bench]);
  const { done } = playback;
  return (
    <>
      <Tools playback={playback} onLoad={load} />
      <ol className="walk-steps" aria-live="polite">
        {said.map((one, k) => (
          <li
            key={one.step}
            data-done={k < done ? 'yes' : undefined}
            data-now={k === done - 1 ? 'yes' : undefined}
          >
            <strong>{describeStimulus(one.stimulus)}</strong> {k < done && <Told step={one} />}
          </li>
        ))}
      </ol>
      {withBoard && (
        <div className="walk-board">
          <Board bench={bench} live={live} label="The board as it is walked through" />
        </div>
      )}
      <DrawingView drawing={drawing} live={live} label="The drawing as it is walked through" />
    </>
  );
}

/** What follows from a step that is done, and why. */
function Told({ step: { says, why } }: { step: WalkStep }) {
  return (
    <>
      {says.join(' ')}
      {why.length > 0 && <span className="walk-why">{why.join(' ')}</span>}
    </>
  );
}

/** Plays all of it, or goes one step on. */
function Tools({ playback, onLoad }: { playback: Playback; onLoad: () => void }) {
  const { done } = playback;
  return (
    <div className="view-tools">
      <Button
        size="small"
        icon={done > 0 ? <ReloadOutlined /> : <CaretRightOutlined />}
        onClick={() => {
          onLoad();
          playback.play();
        }}
      >
        {done > 0 ? 'Again' : 'Play'}
      </Button>
      <Button
        size="small"
        icon={<StepForwardOutlined />}
        disabled={playback.ended || playback.playing}
        onClick={playback.stepOn}
      >
        One step
      </Button>
    </div>
  );
}
