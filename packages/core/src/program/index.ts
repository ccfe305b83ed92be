/** Programs of programmable controllers: what they say, what is wrong with them, and what a scan does. */
export * from './program.js';
export { programProblems, programWarnings, type ProgramWarning } from './check.js';
export { highOf, partsOf, type ProgramPart } from './parts.js';
export { PROGRAM_STATES, countAt, isCounterOn, isTimerOn, scanOf, type Places, type Scan } from './scan.js';
export { contactWords, rungWords } from './rung-words.js';
export { crossReferences, type CrossReference } from './references.js';
export { programText, timeText } from './text.js';
export { readProgramText, secondsIn, type ReadText } from './read-text.js';
export {
  WORDS_AT,
  ladderPicture,
  type LadderPicture,
  type PicturedAction,
  type PicturedContact,
} from './ladder-picture.js';
export {
  branchedAt,
  elementAt,
  insertedAfter,
  ladderRung,
  removedAt,
  renamed,
  replacedAt,
  type ElementPath,
  type LadderRung,
  type PlacedContact,
} from './ladder.js';
