export * from './difference.js';
/** Exercises and the marking of a wiring: points, and the proof of every point lost. */
export * from './exercise.js';
export { askedExercise, gradeAnswers, marksOfQuestions } from './answers.js';
export type { Evidence, EvidenceCell } from './evidence.js';
export { provedSoFar, type PropertySoFar, type SoFar } from './so-far.js';
export * from './report.js';
export {
  EQUIVALENCE,
  grade,
  resultWith,
  wiringKey,
  workWiring,
  type GradeOptions,
  type How,
  type WorkedWiring,
} from './grade.js';
export {
  describeEntry,
  describeReading,
  describeRequest,
  gradeSearch,
  judgeVerdict,
  likeness,
  referenceCircuitOf,
  type HandNote,
  type Note,
  type ReadingNote,
  type SearchFindings,
  type SearchWork,
  type VerdictNote,
} from './search/index.js';
export { hintFor, type Hint } from './hint.js';
export { jointDifferences, type JointDifference } from './joints.js';
export { completeNets, progressOf, type Progress } from './progress.js';
export { addPoints, sharePoints } from './points.js';
export { criteriaOf, markedBy, recordedOf, type Judged, type Judgements } from './share.js';
export {
  COLOUR_SCHEMES,
  INTERLOCK_KINDS,
  HOUSE_RULES,
  RULE_FIELDS,
  judgeRules,
  judgeWorkmanship,
  rivalPairs,
  ruleSentences,
  schemeColours,
  schemeOf,
  usualAreas,
  usualColours,
  type ColourScheme,
  type InterlockKind,
  type RuleKey,
  type RuleVerdict,
  type Rules,
  programHints,
  type ProgramHint,
} from './rules/index.js';
export {
  controlTests,
  deadTestsOf,
  describeOhms,
  expectedOhms,
  isOhmsExpected,
  isReadingOf,
  judgePractice,
  noteHeld,
  ohmsLimits,
  practiceSentences,
  replayWork,
  type AttemptEntry,
  type WorkEvent,
  type WorkFindings,
  type WorkReading,
} from './practice/index.js';
