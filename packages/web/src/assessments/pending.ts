import { useEffect, useSyncExternalStore } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import type { AssessmentForInstructor, LevelRequest } from '@contactum/contract';
import { ApiError, ask } from '../api/client.js';

/** What was ticked at a bench and the server has not taken yet: it stays in the browser until it has. */

const keyOf = (assessmentId: string): string => `contactum.levels.${assessmentId}`;
const placeOf = ({
  student,
  task,
  criterion,
}: Pick<LevelRequest, 'student' | 'task' | 'criterion'>): string => `${student} ${task} ${criterion}`;

type Kept = Readonly<Record<string, LevelRequest>>;
const NONE: Kept = {};

const boxes = new Map<string, Kept>();
const listeners = new Set<() => void>();

function read(assessmentId: string): Kept {
  const known = boxes.get(assessmentId);
  if (known) return known;
  let kept = NONE;
  try {
    kept = JSON.parse(localStorage.getItem(keyOf(assessmentId)) ?? '{}') as Kept;
  } catch {
    // What cannot be read was never written by this page.
  }
  boxes.set(assessmentId, kept);
  return kept;
}

function write(assessmentId: string, kept: Kept): void {
  boxes.set(assessmentId, kept);
  if (Object.keys(kept).length === 0) localStorage.removeItem(keyOf(assessmentId));
  else localStorage.setItem(keyOf(assessmentId), JSON.stringify(kept));
  for (const one of listeners) one();
}

/** How often what waits is tried again, milliseconds. */
const AGAIN = 5_000;

/** Levels that an examiner has named, kept until the server has them. */
export function usePending(assessmentId: string) {
  const client = useQueryClient();
  const kept = useSyncExternalStore(
    (told) => {
      listeners.add(told);
      return () => void listeners.delete(told);
    },
    () => read(assessmentId),
  );
  useEffect(() => {
    let isBusy = false;
    const send = async () => {
      if (isBusy) return;
      isBusy = true;
      try {
        for (const [place, level] of Object.entries(read(assessmentId))) {
          const view = await ask<AssessmentForInstructor>(
            'PUT',
            `/assessments/${assessmentId}/levels`,
            level,
          ).catch((error: unknown) => {
            // What the server refuses is not sent again and again; without it everything waits.
            if (error instanceof ApiError && error.status > 0 && error.status < 500) return null;
            throw error;
          });
          // Another tick of the same criterion may have come meanwhile.
          if (read(assessmentId)[place] === level) write(assessmentId, without(read(assessmentId), place));
          if (view) client.setQueryData(['assessment', assessmentId], view);
        }
      } catch {
        // It is tried again.
      } finally {
        isBusy = false;
      }
    };
    void send();
    const every = setInterval(() => void send(), AGAIN);
    listeners.add(send);
    return () => {
      clearInterval(every);
      listeners.delete(send);
    };
  }, [assessmentId, client]);
  return {
    count: Object.keys(kept).length,
    levelOf: (student: string, task: string, criterion: string): number | null =>
      kept[placeOf({ student, task, criterion })]?.level ?? null,
    put: (level: LevelRequest) => write(assessmentId, { ...read(assessmentId), [placeOf(level)]: level }),
  };
}

const without = (kept: Kept, place: string): Kept =>
  Object.fromEntries(Object.entries(kept).filter(([key]) => key !== place));
