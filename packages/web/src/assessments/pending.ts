import { useEffect, useMemo, useSyncExternalStore } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import type { AssessmentForInstructor, LevelRequest } from '@contactum/contract';
import { ApiError, ask } from '../api/client.js';
import { sealedIn, type Vault } from '../api/vault.js';

type Kept = Readonly<Record<string, LevelRequest>>;
type Place = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;

const placeOf = ({
  student,
  task,
  criterion,
}: Pick<LevelRequest, 'student' | 'task' | 'criterion'>): string => `${student} ${task} ${criterion}`;

/** Levels that an examiner has named and the server has not taken yet: kept in the browser until it has. */
class PendingLevels {
  private readonly name: string;
  private readonly listeners = new Set<() => void>();
  private kept: Kept;
  private isSending = false;

  constructor(
    private readonly assessmentId: string,
    /** Where they lie, sealed; null where nothing can be kept. */
    private readonly place: Place | null,
    private readonly onTaken: (view: AssessmentForInstructor) => void,
  ) {
    this.name = `contactum.levels.${assessmentId}`;
    this.kept = JSON.parse(place?.getItem(this.name) ?? '{}') as Kept;
  }

  readonly all = (): Kept => this.kept;

  readonly subscribe = (told: () => void): (() => void) => {
    this.listeners.add(told);
    return () => void this.listeners.delete(told);
  };

  put(level: LevelRequest): void {
    this.write({ ...this.kept, [placeOf(level)]: level });
    void this.send();
  }

  /** Sends what waits, one after the other; what the server refuses is not sent again. */
  async send(): Promise<void> {
    if (this.isSending) return;
    this.isSending = true;
    try {
      for (;;) {
        const [next] = Object.entries(this.kept);
        if (!next) return;
        const [place, level] = next;
        const view = await ask<AssessmentForInstructor>(
          'PUT',
          `/assessments/${this.assessmentId}/levels`,
          level,
        ).catch((error: unknown) => {
          if (error instanceof ApiError && error.status > 0 && error.status < 500) return null;
          throw error;
        });
        // Another tick of the same criterion may have come meanwhile: that one waits still.
        if (this.kept[place] === level)
          this.write(Object.fromEntries(Object.entries(this.kept).filter(([key]) => key !== place)));
        if (view) this.onTaken(view);
      }
    } catch {
      // Without the server everything waits, and is tried again.
    } finally {
      this.isSending = false;
    }
  }

  private write(kept: Kept): void {
    this.kept = kept;
    if (Object.keys(kept).length === 0) this.place?.removeItem(this.name);
    else this.place?.setItem(this.name, JSON.stringify(kept));
    for (const told of this.listeners) told();
  }
}

/** How often what waits is tried again, milliseconds. */
const AGAIN = 5_000;

/** What an examiner has named at the benches, kept until the server has it. */
export function usePending(assessmentId: string, vault: Vault | null) {
  const client = useQueryClient();
  const levels = useMemo(
    () =>
      new PendingLevels(assessmentId, vault && sealedIn(localStorage, vault), (view) => {
        client.setQueryData(['assessment', assessmentId], view);
      }),
    [assessmentId, vault, client],
  );
  useEffect(() => {
    void levels.send();
    const every = setInterval(() => void levels.send(), AGAIN);
    return () => clearInterval(every);
  }, [levels]);
  const kept = useSyncExternalStore(levels.subscribe, levels.all);
  return {
    count: Object.keys(kept).length,
    levelOf: (student: string, task: string, criterion: string): number | null =>
      kept[placeOf({ student, task, criterion })]?.level ?? null,
    put: (level: LevelRequest) => levels.put(level),
  };
}
