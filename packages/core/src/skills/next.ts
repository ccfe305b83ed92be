import type { Exercise } from '../marking/index.js';
import { skillsOfExercise } from './criteria.js';
import { MASTERED, knownAfter, type SkillStanding } from './knowledge.js';
import { SKILL_IDS, type SkillId } from './skills.js';

export interface Suggestion {
  readonly exerciseId: string;
  /** Skills that it would show and that are not mastered yet, as they are taught. */
  readonly skills: readonly SkillId[];
}

/** Skills that are practised at one time: the first ones, as they are taught, that are not mastered. */
const AT_ONCE = 3;

/**
 * What to practise next: the exercises that show most of the next skills in the order of teaching, smaller
 * boards first where several do; what has been passed already comes last.
 */
export function nextToPractise(
  exercises: readonly Exercise[],
  standings: readonly SkillStanding[],
  passed: ReadonlySet<string>,
  most = 4,
): Suggestion[] {
  // What nothing has shown is as likely as before anything was tried.
  const unseen = knownAfter([]);
  const known = new Map(standings.map((one) => [one.skill, one.known]));
  const surely = (skill: SkillId): number => known.get(skill) ?? unseen;
  const weak = SKILL_IDS.filter((skill) => surely(skill) < MASTERED);
  const ahead = new Set(weak.slice(0, AT_ONCE));
  const rated = exercises.map((exercise) => {
    const shown = skillsOfExercise(exercise);
    const skills = weak.filter((skill) => shown.includes(skill));
    const gain = skills.reduce((sum, skill) => sum + (ahead.has(skill) ? 1 - surely(skill) : 0), 0);
    return { exercise, skills, worth: gain / Math.sqrt(exercise.bench.devices.length + 1) };
  });
  return rated
    .filter(({ worth }) => worth > 0)
    .sort(
      (a, b) =>
        Number(passed.has(a.exercise.id)) - Number(passed.has(b.exercise.id)) ||
        b.worth - a.worth ||
        (a.exercise.id < b.exercise.id ? -1 : 1),
    )
    .slice(0, most)
    .map(({ exercise, skills }) => ({ exerciseId: exercise.id, skills }));
}
