import { memo, useEffect, useState } from 'react';
import { Button } from 'antd';
import dayjs from 'dayjs';
import { useStore } from 'zustand';
import { plural } from '@contactum/core';
import { STEPS, type FloorBench, type JobStep } from '@contactum/contract';
import { useBoard, useNowAndThen } from './floor-board.js';
import { MiniBoard } from './MiniBoard.js';
import type { FloorStore } from './floor-line.js';

/**
 * How long a bench at work may come no further before it counts as stuck, minutes (common practice, no
 * source).
 */
const STUCK_MINUTES = 6;

const STEP_NAMES: Readonly<Record<JobStep, string>> = {
  wire: 'Wiring',
  'dead-test': 'Testing dead',
  ask: 'Asks to energise',
  energise: 'Energised',
  prove: 'Proving',
  'hand-in': 'All functions shown',
};

const minutesSince = (at: string): number => (Date.now() - new Date(at).getTime()) / 60_000;

/**
 * At work, and no further by the board's own measure for some minutes: potentials complete and functions
 * shown.
 */
export const isStuck = ({ here, progressAt, asksAt, searchId, status }: FloorBench): boolean =>
  here &&
  searchId === null &&
  asksAt === null &&
  status?.step !== 'hand-in' &&
  minutesSince(progressAt) > STUCK_MINUTES;

/** The time goes on although nothing is told. */
function useMinute(): void {
  const [, tick] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => tick((n) => n + 1), 20_000);
    return () => clearInterval(timer);
  }, []);
}

/** What is most in need of a look. */
export function stateOf(bench: FloorBench): 'asks' | 'incident' | 'word' | 'stuck' | 'here' | 'away' {
  const { asksAt, word, status, here } = bench;
  if (asksAt !== null) return 'asks';
  if (status && status.incidents > 0 && status.supplyOn) return 'incident';
  if (word !== null) return 'word';
  if (isStuck(bench)) return 'stuck';
  return here ? 'here' : 'away';
}

/** What runs, what went wrong, and for how long nothing goes on. */
function Told({ bench }: { bench: FloorBench }) {
  const { status, progressAt, word } = bench;
  return (
    <>
      <span className="tile-running mono">{status?.running || ' '}</span>
      {status && status.incidents > 0 && (
        <span className="tile-incident">
          ! {status.incidents === 1 ? '' : `${status.incidents}: `}
          {status.lastIncident}
        </span>
      )}
      {word && <span className="tile-word">“{word.text}”</span>}
      {isStuck(bench) && (
        <span className="tile-stuck">no progress for {Math.floor(minutesSince(progressAt))} min</span>
      )}
    </>
  );
}

/** One bench: who, what, how far, what runs, what happened, what is asked. */
export const BenchTile = memo(function BenchTile({
  id,
  store,
  chosen,
  onLook,
  onPermit,
}: {
  id: string;
  store: FloorStore;
  chosen: boolean;
  /** Told whom to look at; null ends looking. */
  onLook: (id: string | null) => void;
  onPermit: (id: string) => void;
}) {
  const bench = useStore(store, (state) => state.benches[id]);
  useMinute();
  if (!bench) return null;
  const { student, exercise, status, here, asksAt, progress, of, searchId, startedAt } = bench;
  return (
    <article className="bench-tile" data-state={stateOf(bench)} data-chosen={chosen ? 'yes' : undefined}>
      <button
        type="button"
        className="tile-face"
        aria-pressed={chosen}
        onClick={() => onLook(chosen ? null : id)}
      >
        <span className="tile-who">
          <strong>{student}</strong>
          <span className="tile-here">
            {here ? (status?.supplyOn ? '● supply on' : '● at work') : '○ away'}
          </span>
        </span>
        <span className="tile-what quiet">{exercise}</span>
        <TileBoard bench={bench} />
        <StepDots step={status?.step ?? 'wire'} />
        <span className="tile-step">
          {searchId === null ? (status ? STEP_NAMES[status.step] : 'Not opened yet') : 'Fault finding'}
          {status && <span className="quiet"> · {plural(status.leads, 'lead')}</span>}
        </span>
        {of > 0 && (
          <span className="quiet tile-what">
            {progress} of {of} complete · {sinceWords(startedAt)}
          </span>
        )}
        <Told bench={bench} />
      </button>
      {asksAt !== null && (
        <Button size="small" type="primary" className="tile-permit" onClick={() => onPermit(id)}>
          Permit, asked {dayjs(asksAt).format('HH:mm')}
        </Button>
      )}
    </article>
  );
});

/** The board as it is wired, as small as a stamp; nothing of a search, whose own page shows it. */
function TileBoard({ bench: { attemptId, searchId, here, status } }: { bench: FloorBench }) {
  const edits = useNowAndThen(status?.edits ?? 0);
  const board = useBoard(attemptId, edits, searchId === null && here);
  if (!board.data) return null;
  return <MiniBoard bench={board.data.bench} running={status?.running ?? ''} />;
}

/** For how long a board has been worked at. */
const sinceWords = (at: string): string => {
  const minutes = Math.floor(minutesSince(at));
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
};

function StepDots({ step }: { step: JobStep }) {
  const at = STEPS.indexOf(step);
  return (
    <span className="step-dots" aria-hidden="true">
      {STEPS.map((one, k) => (
        <span key={one} data-done={k < at ? 'yes' : k === at ? 'now' : undefined} />
      ))}
    </span>
  );
}
