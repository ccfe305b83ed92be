/** Questions about a board, answered by the board itself. */
export * from './question.js';
export { AskedBoard, type QuestionProblem } from './asked.js';
export { judgeAnswer, type JudgedAnswer, type WrongCell } from './judge.js';
export { makeQuestions, type MakeOptions, type QuestionDegree } from './make.js';
export { questionWords } from './words.js';
