/** Assessments of several tasks: what is asked, what somebody's work comes to, and what the marks tell. */
export {
  AIDS,
  levelPoints,
  mostObserved,
  type Aid,
  type AssessmentPlan,
  type ExerciseTask,
  type ObservedCriterion,
  type ObservedTask,
  type PassRule,
  type AssessmentTask,
} from './plan.js';
export { outcomeOf, type AssessmentOutcome, type TaskMark, type TaskOutcome } from './outcome.js';
export { agreementOf, cohensKappa, kappaWords, type Agreement } from './agreement.js';
export { itemAnalysis, cronbachsAlpha, alphaWords, type Item, type ItemAnalysis } from './items.js';
export { moderationSample, type Sampled } from './sample.js';
export { likenesses, workOf, type LikePair, type Likenesses, type Work } from './likeness.js';
