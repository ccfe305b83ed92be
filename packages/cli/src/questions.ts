import {
  LONGEST_SEED,
  askedExercise,
  gradeAnswers,
  isAsked,
  makeQuestions,
  questionWords,
  referenceBench,
  type QuestionDegree,
  type Report,
} from '@contactum/core';
import { readAnswers, readExercise } from '@contactum/core/documents';
import type { Answer } from './answer.js';
import { Unusable, kindIn, readBoard, readFile, wholeNumber } from './input.js';

/** True of a file that says it holds answers. */
export const isAnswers = (file: string): boolean => kindIn(file) === 'answers/1';

/** The mark of answers to the questions of an exercise. */
export function gradeAnswersCommand(exerciseFile: string, answersFile: string): Answer {
  const exercise = readFile(exerciseFile, readExercise);
  const answers = readFile(answersFile, readAnswers);
  if (!isAsked(exercise))
    throw new Unusable(`${exerciseFile}: task: answers are marked by an exercise whose task is "answer"`);
  if (answers.exercise !== exercise.id)
    throw new Unusable(
      `${answersFile}: exercise: are answers to "${answers.exercise}", not to "${exercise.id}"`,
    );
  const unknown = Object.keys(answers.answers).find(
    (id) => !exercise.questions?.some((one) => one.id === id),
  );
  if (unknown !== undefined)
    throw new Unusable(`${answersFile}: answers.${unknown}: there is no such question in the exercise`);
  const report: Report = gradeAnswers(exercise, answers);
  const words = report.criteria.map(
    ({ id, title, points, max, evidence }) =>
      `${points} of ${max}  ${id}: ${title}${evidence ? ` ${evidence.found}` : ''}`,
  );
  words.push(
    `${report.score} of ${report.max}, ${report.passed ? 'passed' : `not passed: ${report.reason ?? ''}`}`,
  );
  return { holds: report.passed, json: report, words: words.join('\n') };
}

interface QuestionValues {
  readonly seed?: string;
  readonly degree?: string;
  readonly count?: string;
}

/** An exercise of questions about a board, or about the reference of an exercise. */
export function questionsCommand(
  file: string,
  { seed = '', degree = '2', count = '6' }: QuestionValues,
): Answer {
  if (seed === '') throw new Unusable('arguments: questions needs --seed N');
  const number = wholeNumber('seed', seed, [0, LONGEST_SEED]);
  const level = wholeNumber('degree', degree, [1, 5]) as QuestionDegree;
  const most = wholeNumber('count', count, [1, 100]);
  const board = readBoard(file);
  const bench = 'exercise' in board ? referenceBench(board.exercise) : board.bench;
  const questions = makeQuestions(bench, { seed: number, degree: level, count: most });
  if (questions.length === 0)
    throw new Unusable(`${file}: devices: there is nothing on this board to ask about`);
  const { id, title, family } =
    'exercise' in board ? board.exercise : { id: 'board', title: bench.title, family: 'other' as const };
  const head = { id: `${id}-questions-${number}`, title: `${title}: questions`, family };
  const exercise = askedExercise(bench, head, questions);
  return {
    holds: true,
    json: exercise,
    words: questions.map((one) => `${one.id}: ${questionWords(one)}`).join('\n'),
  };
}
