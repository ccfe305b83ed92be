export * from './difference.js';
/** Exercises and the marking of a wiring: points, and the proof of every point lost. */
export * from './exercise.js';
export * from './report.js';
export { grade, propertyTitle, resultWith, type GradeOptions } from './grade.js';
export { addPoints, sharePoints } from './points.js';
export { carriedAmps, judgeRules, rivalPairs, type RuleVerdict } from './rules.js';
export { judgeWorkmanship } from './workmanship.js';
export {
  deadTestsOf,
  describeOhms,
  isReadingOf,
  judgePractice,
  noteHeld,
  replayWork,
  type Reading as WorkReading,
  type WorkEvent,
  type WorkFindings,
} from './practice.js';
