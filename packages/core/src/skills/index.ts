/** Skills that marks show, how surely, and what to practise next. */
export { SKILLS, SKILL_IDS, type SkillId } from './skills.js';
export { skillsOf, skillsOfExercise } from './criteria.js';
export { MASTERED, knownAfter, standingsOf, type SkillShown, type SkillStanding } from './knowledge.js';
export { nextToPractise, type Suggestion } from './next.js';
