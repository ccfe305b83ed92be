import { createHash } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import type { Knex } from 'knex';
import {
  HINT_DEGREES,
  benchOf,
  endsOf,
  type Bench,
  type Exercise,
  type Hint,
  type HintDegree,
} from '@contactum/core';
import type { HintTaken, HintsView, Person } from '@contactum/contract';
import { HintModel } from '../../database/models.js';
import { Refusal } from '../../runtime/refusal.js';
import { requireOwnAttempt } from '../people/permissions.js';
import type { Journal } from './journal.js';

/** A hint of a degree for a wiring; null where nothing is wrong with it. */
export type HintIn = (exercise: Exercise, bench: Bench, degree: HintDegree) => Promise<Hint | null>;

interface Work {
  readonly exercise: Exercise;
  readonly bench: Bench;
  /** Key of the wiring. */
  readonly wiring: string;
  readonly costs: Readonly<Record<HintDegree, number>>;
}

/** Hints at a bench: each degree after the one before, for the wiring as it is now. */
export class Hints {
  constructor(
    private readonly database: Knex,
    private readonly journal: Journal,
    private readonly hintIn: HintIn,
  ) {}

  /** What hints cost, which were taken, and which comes next. */
  async of(attemptId: string, student: Person): Promise<HintsView> {
    return this.view(attemptId, await this.work(attemptId, student));
  }

  /** Takes the hint of a degree; one that was taken for this wiring before costs nothing again. */
  async take(attemptId: string, degree: HintDegree, student: Person): Promise<HintsView> {
    const work = await this.work(attemptId, student);
    const { exercise, bench, wiring, costs } = work;
    const before = await hintsOf(this.database, attemptId);
    const next = nextOf(before, wiring);
    const isKnown = before.some((one) => one.wiring === wiring && one.degree === degree);
    if (!isKnown && degree !== next)
      throw new Refusal('conflict', `For this wiring the next hint is: ${next ?? 'none'}.`);
    const hint = isKnown ? null : await this.hintIn(exercise, bench, degree);
    if (!isKnown && !hint)
      throw new Refusal('conflict', 'Nothing is wrong with this wiring: there is no hint to give.');
    if (hint)
      await HintModel.query(this.database)
        .insert({ attemptId, degree, wiring, text: hint.text, places: [...hint.at], cost: costs[degree] })
        .onConflict(['attempt_id', 'wiring', 'degree'])
        .ignore();
    return this.view(attemptId, work);
  }

  private async view(attemptId: string, { wiring, costs }: Work): Promise<HintsView> {
    const rows = await hintsOf(this.database, attemptId);
    return { costs, taken: rows.map(hintTaken), next: nextOf(rows, wiring) };
  }

  private async work(attemptId: string, student: Person): Promise<Work> {
    const { exercise, state } = await requireOwnAttempt(this.database, attemptId, student);
    if (!exercise?.hints) throw new Refusal('forbidden', 'This exercise gives no hints.');
    if (state !== 'open') throw new Refusal('conflict', 'This attempt is handed in.');
    const bench = benchOf((await this.journal.boardOf(attemptId)).bench);
    return { exercise, bench, wiring: wiringKey(exercise, bench), costs: exercise.hints };
  }
}

/** The hints of an attempt in the order in which they were taken. */
export const hintsOf = (database: Knex, attemptId: string): Promise<HintModel[]> =>
  HintModel.query(database).where({ attemptId }).orderBy('id').execute();

export const hintTaken = ({ degree, text, places, cost, at }: HintModel): HintTaken => ({
  degree,
  text,
  places,
  cost,
  at: at.toISOString(),
});

/** The degree after those that were taken for a wiring; null after the last. */
function nextOf(taken: readonly HintModel[], wiring: string): HintDegree | null {
  const known = new Set(taken.filter((one) => one.wiring === wiring).map(({ degree }) => degree));
  return HINT_DEGREES.find((degree) => !known.has(degree)) ?? null;
}

/**
 * The same for the same leads, in whatever order and direction they were laid, with the same settings and
 * programs.
 */
function wiringKey(exercise: Exercise, { wires, devices }: Bench): string {
  const leads = wires.map(endsOf).sort();
  const set = devices.flatMap(({ tag, settings }) => {
    const given = exercise.bench.devices.find((one) => one.tag === tag)?.settings;
    return isDeepStrictEqual(settings, given) ? [] : [[tag, settings]];
  });
  // What is as the exercise has it adds nothing.
  const all = JSON.stringify(set.length > 0 ? [leads, set] : leads);
  return createHash('sha256').update(all).digest('base64url');
}
