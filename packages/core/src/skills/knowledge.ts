import { SKILL_IDS, type SkillId } from './skills.js';

/**
 * How surely somebody has a skill, from what their marks showed in order: Bayesian knowledge tracing.
 * Source: A. T. Corbett and J. R. Anderson, Knowledge tracing: modeling the acquisition of procedural
 * knowledge, User Modeling and User-Adapted Interaction 4 (1995). The four probabilities are common starting
 * values (common practice, no source), not fitted to any class.
 */
const KNOWN_BEFORE = 0.3;
const LEARNT_EACH_TIME = 0.15;
const SLIPS = 0.1;
const GUESSES = 0.2;
/** From here on a skill counts as mastered (the same paper). */
export const MASTERED = 0.95;

/** Probability that a skill is known after some outcomes, each right or not, the oldest first. */
export function knownAfter(outcomes: readonly boolean[]): number {
  let known = KNOWN_BEFORE;
  for (const isRight of outcomes) {
    const [ifKnown, ifNot] = isRight ? [1 - SLIPS, GUESSES] : [SLIPS, 1 - GUESSES];
    const seen = (known * ifKnown) / (known * ifKnown + (1 - known) * ifNot);
    known = seen + (1 - seen) * LEARNT_EACH_TIME;
  }
  return known;
}

/** What one attempt showed of a skill. */
export interface SkillShown {
  readonly skill: SkillId;
  readonly at: string;
  readonly isRight: boolean;
  readonly attemptId: string;
  readonly exercise: string;
}

export interface SkillStanding {
  readonly skill: SkillId;
  /** Probability that it is known; null where nothing has shown it yet. */
  readonly known: number | null;
  readonly times: number;
  readonly right: number;
  /** The last time, and the last three attempts that showed it, the newest first. */
  readonly last: string | null;
  readonly evidence: readonly Pick<SkillShown, 'attemptId' | 'exercise' | 'isRight' | 'at'>[];
}

/** How somebody stands in every skill. */
export function standingsOf(shown: readonly SkillShown[]): SkillStanding[] {
  const inOrder = [...shown].sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
  return SKILL_IDS.map((skill): SkillStanding => {
    const own = inOrder.filter((one) => one.skill === skill);
    return {
      skill,
      known: own.length === 0 ? null : knownAfter(own.map(({ isRight }) => isRight)),
      times: own.length,
      right: own.filter(({ isRight }) => isRight).length,
      last: own.at(-1)?.at ?? null,
      evidence: own
        .slice(-3)
        .reverse()
        .map(({ attemptId, exercise, isRight, at }) => ({ attemptId, exercise, isRight, at })),
    };
  });
}
