import { expose } from 'comlink';
import {
  AskedBoard,
  describeExpected,
  describeFault,
  describeStimulus,
  makeQuestions,
  questionWords,
  readFault,
  type Bench,
  type MakeOptions,
  type Question,
} from '@contactum/core';

/** A question with what the board answers to it. */
export interface AnsweredQuestion {
  readonly id: string;
  readonly question: Question;
  readonly points: number;
  readonly words: string;
  /** What is to choose among, or what was found. */
  readonly given: readonly string[];
  /** Right answers in words, each of them right. */
  readonly right: readonly string[];
  /** What each device shows after each stimulus, where that is asked. */
  readonly table: {
    readonly columns: readonly string[];
    readonly rows: readonly (readonly string[])[];
  } | null;
}

function rightOf(board: AskedBoard, question: Question): Pick<AnsweredQuestion, 'given' | 'right' | 'table'> {
  const right = (...words: string[]) => ({ given: [], right: words, table: null });
  switch (question.ask) {
    case 'states':
      return {
        ...right(),
        table: {
          columns: ['After', ...question.of],
          rows: board
            .states(question)
            .map((row, k) => [
              ...question.steps.slice(k, k + 1).map(describeStimulus),
              ...question.of.map((what) => String(row[what])),
            ]),
        },
      };
    case 'blocks':
      return right((board.blocks(question) ?? []).join(', '));
    case 'holds':
      return right((board.holds(question) ?? []).join(', '));
    case 'value': {
      const read = board.value(question);
      return right(read ? `${Number(read.value.toPrecision(3))} ${read.unit}` : '');
    }
    case 'terminal':
      return right(...board.terminals(question.what));
    case 'danger':
      return right((board.danger(question)?.trace ?? []).map(describeStimulus).join(', '));
    case 'cause': {
      const words = (fault: (typeof question.among)[number]) => describeFault(readFault(fault));
      const found = question.findings.map(
        ({ steps, see = {} }) =>
          `${steps.map(describeStimulus).join(', ')}: ${Object.entries(see)
            .map(([what, value]) => `${what} ${describeExpected(value)}`)
            .join(', ')}`,
      );
      return {
        given: [...found, ...question.among.map((fault, k) => `${'abcdefghijkl'[k] ?? ''}) ${words(fault)}`)],
        right: board.causes(question).map(words),
        table: null,
      };
    }
  }
}

const questions = {
  /** Questions about a board with their answers, the same for the same seed. */
  make(bench: Bench, options: MakeOptions): AnsweredQuestion[] {
    const board = new AskedBoard(bench);
    return makeQuestions(bench, options).map((question) => ({
      id: question.id,
      question,
      points: question.points,
      words: questionWords(question),
      ...rightOf(board, question),
    }));
  },
};

export type QuestionsThread = typeof questions;

expose(questions);
