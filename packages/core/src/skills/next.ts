import type { Exercise } from '../marking/index.js';
import { skillsOfExercise } from './criteria.js';
import { MASTERED, type SkillStanding } from './knowledge.js';
import type { SkillId } from './skills.js';

export interface Suggestion {
  readonly exerciseId: string;
  /** Skills that it would show and that are not mastered yet, the weakest first. */
  readonly skills: readonly SkillId[];
}

/** Before anything has shown a skill. */
const UNSEEN = 0.3;

/**
 * What to practise next: the exercises that show most of what is not mastered, smaller boards first where
 * several do; what has been passed already comes last.
 */
export function nextToPractise(
  exercises: readonly Exercise[],
  standings: readonly SkillStanding[],
  passed: ReadonlySet<string>,
  most = 4,
): Suggestion[] {
  const known = new Map(standings.map((one) => [one.skill, one.known ?? UNSEEN]));
  const rated = exercises.map((exercise) => {
    const skills = skillsOfExercise(exercise)
      .filter((skill) => (known.get(skill) ?? UNSEEN) < MASTERED)
      .sort((a, b) => (known.get(a) ?? UNSEEN) - (known.get(b) ?? UNSEEN));
    const gain = skills.reduce((sum, skill) => sum + 1 - (known.get(skill) ?? UNSEEN), 0);
    return { exercise, skills, worth: gain / Math.sqrt(exercise.bench.devices.length + 1) };
  });
  return rated
    .filter(({ skills }) => skills.length > 0)
    .sort(
      (a, b) =>
        Number(passed.has(a.exercise.id)) - Number(passed.has(b.exercise.id)) ||
        b.worth - a.worth ||
        (a.exercise.id < b.exercise.id ? -1 : 1),
    )
    .slice(0, most)
    .map(({ exercise, skills }) => ({ exerciseId: exercise.id, skills }));
}
