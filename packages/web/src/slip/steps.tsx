import { useEffect, useState } from 'react';
import { describeStimulus, type Step, type Stimulus } from '@contactum/core';
import './steps.css';

/** Pause between two steps, so that the eye can follow. */
const PACE_MS = 1100;

export const stimuliOf = (steps: readonly Step[]): Stimulus[] =>
  steps.flatMap((step) => ('expect' in step ? [] : [step]));

/** Observed values in words. */
export const valuesInWords = (values: Readonly<Record<string, string | number>>): string =>
  Object.entries(values)
    .map(([what, value]) => `${what} ${value}`)
    .join(', ');

/** What is done one after another, in words. */
export const sequenceWords = (steps: readonly Stimulus[]): string => steps.map(describeStimulus).join(' → ');

/** A sequence before what it leads to. */
export function Sequence({ steps }: { steps: readonly Stimulus[] }) {
  return <span className="sequence">{steps.length > 0 ? `${sequenceWords(steps)}: ` : 'at rest: '}</span>;
}

export interface Playback {
  /** Steps that were done. */
  readonly done: number;
  readonly playing: boolean;
  readonly ended: boolean;
  readonly play: () => void;
  readonly stepOn: () => void;
  /** Back before the first step, standing still. */
  readonly rewind: () => void;
}

/**
 * Steps done one after another at a pace, or one by one by hand. `act` must stay the same between renders.
 */
export function usePlayback(
  steps: readonly Stimulus[],
  act: (step: Stimulus) => void,
  atOnce = false,
): Playback {
  const [done, setDone] = useState(0);
  const [asked, setAsked] = useState(atOnce);
  const ended = done >= steps.length;
  const playing = asked && !ended;
  useEffect(() => {
    if (!playing) return undefined;
    const timer = setTimeout(() => {
      const step = steps[done];
      if (step) act(step);
      setDone(done + 1);
    }, PACE_MS);
    return () => clearTimeout(timer);
  }, [playing, done, steps, act]);
  return {
    done,
    playing,
    ended,
    play: () => {
      setDone(0);
      setAsked(true);
    },
    stepOn: () => {
      const step = steps[done];
      if (step) act(step);
      setDone(done + 1);
    },
    rewind: () => {
      setDone(0);
      setAsked(false);
    },
  };
}

/** The steps of a sequence, and how far it has come. */
export function StepList({ steps, done }: { steps: readonly Stimulus[]; done: number }) {
  return (
    <ol className="replay-steps" aria-label="Steps">
      {steps.length === 0 && <li data-now="yes">as soon as the supply is on</li>}
      {steps.map((step, k) => (
        <li key={k} data-done={k < done ? 'yes' : undefined} data-now={k === done - 1 ? 'yes' : undefined}>
          {describeStimulus(step)}
        </li>
      ))}
    </ol>
  );
}
