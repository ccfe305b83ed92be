import type { QuestionDegree } from '../../questions/index.js';

/** Questions about the board of an exercise, made by seeds: nobody types what is right. */
export interface AskedRecipe {
  readonly id: string;
  readonly title: string;
  /** The exercise whose reference is asked about. */
  readonly of: string;
  readonly brief: string;
  /** How many questions of each degree, and the seed that they are made by. */
  readonly parts: readonly {
    readonly degree: QuestionDegree;
    readonly count: number;
    readonly seed: number;
  }[];
}

const BRIEF = [
  'Nothing is energised for this. Look at the board and its drawing, think each step through, and answer;',
  'contacts and terminals can be tapped.',
].join(' ');

/** One set of questions for each family of boards (common practice, no source). */
export const QUESTIONS: readonly AskedRecipe[] = [
  {
    id: 'questions-first-circuits',
    title: 'Relay and lamp: questions',
    of: 'coil-and-contact',
    brief: BRIEF,
    parts: [
      { degree: 1, count: 4, seed: 1 },
      { degree: 2, count: 2, seed: 2 },
    ],
  },
  {
    id: 'questions-seal-in',
    title: 'Brine pump with lamps: questions',
    of: 'brine-pump-lamps',
    brief: BRIEF,
    parts: [
      { degree: 1, count: 3, seed: 2 },
      { degree: 3, count: 4, seed: 1 },
    ],
  },
  {
    id: 'questions-reversing',
    title: 'Salt harrow without interlock: questions',
    of: 'salt-harrow-no-interlock',
    brief: `${BRIEF} One question asks for the order of working that nobody may ever try on a real board.`,
    parts: [
      { degree: 2, count: 2, seed: 2 },
      { degree: 3, count: 4, seed: 1 },
      { degree: 5, count: 2, seed: 2 },
    ],
  },
  {
    id: 'questions-star-delta',
    title: 'Blower, star-delta: questions',
    of: 'blower-star-delta-main-from-start',
    brief: BRIEF,
    parts: [
      { degree: 2, count: 3, seed: 2 },
      { degree: 3, count: 3, seed: 1 },
      { degree: 4, count: 2, seed: 2 },
    ],
  },
];
