import { useCallback, useEffect, useMemo, useState } from 'react';
import { Button, Segmented } from 'antd';
import { CaretRightOutlined, ReloadOutlined } from '@ant-design/icons';
import { useStore } from 'zustand';
import {
  drawingOf,
  referenceBench,
  type ChangedBehaviour,
  type Exercise,
  type Fault,
  type Step,
  usualForm,
} from '@contactum/core';
import { Board } from '../board/Board.js';
import { createLinkStore, placeMark } from '../board/link.js';
import type { LiveBench } from '../bench/live.js';
import { useOwnBench } from '../bench/use-own-bench.js';
import { useAct } from '../bench/use-act.js';
import { DrawingView } from '../drawing/DrawingView.js';
import { Incidents } from '../slip/Replay.js';
import { Sequence, StepList, stimuliOf, usePlayback } from '../slip/steps.js';
import { useStory } from './use-effects.js';

/** A chosen fault on its board and drawing: where it is, what it changes, and each change played. */
export function FaultStage({ exercise, fault }: { exercise: Exercise; fault: Fault }) {
  const story = useStory(exercise, fault);
  const [chosen, setChosen] = useState<ChangedBehaviour | null>(null);
  const live = useOwnBench();
  useEffect(() => setChosen(null), [fault]);
  return (
    <>
      <ul className="fault-story" aria-label="What it changes">
        {story?.changed.map((one) => (
          <li key={one.id} data-shown={chosen === one ? 'yes' : undefined}>
            <div>
              <strong>{exercise.behaviours.find(({ id }) => id === one.id)?.title ?? one.id}</strong>
              <p>
                <Sequence steps={stimuliOf(one.steps)} />
                {one.found}
              </p>
              {one.why.map((sentence) => (
                <p className="quiet" key={sentence}>
                  {sentence}
                </p>
              ))}
            </div>
            <Button size="small" icon={<CaretRightOutlined />} onClick={() => setChosen(one)}>
              Play
            </Button>
          </li>
        ))}
      </ul>
      {live && (
        <Stage
          key={chosen?.id ?? ''}
          exercise={exercise}
          fault={fault}
          at={story?.at ?? NOWHERE}
          steps={chosen?.steps ?? NO_STEPS}
          live={live}
        />
      )}
    </>
  );
}

const NOWHERE: readonly string[] = [];
const NO_STEPS: readonly Step[] = [];

interface Staged {
  readonly at: readonly string[];
  readonly steps: readonly Step[];
  readonly live: LiveBench;
}

/** The board with the fault in it and its steps; its place is pointed at on board and drawing. */
function useStage(exercise: Exercise, fault: Fault, { at, steps, live }: Staged) {
  const bench = useMemo(() => referenceBench(exercise), [exercise]);
  const drawing = useMemo(() => drawingOf(bench, usualForm(bench)), [bench]);
  const [link] = useState(createLinkStore);
  const stimuli = useMemo(() => stimuliOf(steps), [steps]);
  const playback = usePlayback(stimuli, live.act, stimuli.length > 0);
  const load = useCallback(
    () => live.load(bench, { supplyOn: true, fresh: true, faults: [fault] }),
    [live, bench, fault],
  );
  useEffect(load, [load]);
  useEffect(() => link.setState(placeMark(at)), [link, at]);
  return { bench, drawing, link, stimuli, playback, load };
}

function Stage({
  exercise,
  fault,
  at,
  steps,
  live,
}: {
  exercise: Exercise;
  fault: Fault;
  at: readonly string[];
  steps: readonly Step[];
  live: LiveBench;
}) {
  const { bench, drawing, link, stimuli, playback, load } = useStage(exercise, fault, { at, steps, live });
  const [shows, setShows] = useState<'board' | 'drawing'>('board');
  const incidents = useStore(live.store, (state) => state.incidents);
  return (
    <section className="fault-stage" aria-label="The board with the fault in it">
      <div className="view-tools">
        <Segmented
          size="small"
          aria-label="What is shown"
          value={shows}
          options={[
            { value: 'board', label: 'Board' },
            { value: 'drawing', label: 'Drawing' },
          ]}
          onChange={setShows}
        />
        {stimuli.length > 0 && (
          <Button
            size="small"
            icon={<ReloadOutlined />}
            onClick={() => {
              load();
              playback.play();
            }}
          >
            Play again
          </Button>
        )}
      </div>
      {stimuli.length > 0 && <StepList steps={stimuli} done={playback.done} />}
      <StageView {...{ bench, drawing, live, link, at, shows }} />
      <Incidents incidents={incidents} />
    </section>
  );
}

/** The board or the drawing, with the place of the fault on it. */
function StageView({
  bench,
  drawing,
  live,
  link,
  at,
  shows,
}: Pick<ReturnType<typeof useStage>, 'bench' | 'drawing' | 'link'> &
  Pick<Staged, 'live' | 'at'> & { shows: 'board' | 'drawing' }) {
  const act = useAct(live);
  return (
    <div className="fault-stage-view">
      {shows === 'board' ? (
        <Board
          bench={bench}
          live={live}
          act={act}
          link={link}
          marked={at}
          label="Board with the fault in it"
        />
      ) : (
        <DrawingView
          drawing={drawing}
          live={live}
          link={link}
          fit="whole"
          label="Drawing with the fault marked"
        />
      )}
    </div>
  );
}
