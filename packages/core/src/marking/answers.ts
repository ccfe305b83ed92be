import {
  AskedBoard,
  judgeAnswer,
  questionWords,
  type Answers,
  type JudgedAnswer,
  type Question,
} from '../questions/index.js';
import type { Bench } from '../bench/index.js';
import { exerciseVersion, referenceBench, type Exercise, type Marks } from './exercise.js';
import type { Evidence } from './evidence.js';
import { partOf, sharePoints } from './points.js';
import type { Criterion, Report } from './report.js';
import { markedBy } from './share.js';

/** Part of the points of its questions with which an exercise passes where nobody says otherwise. */
const PASSES = 0.6;

/** What questions are worth together. */
export const marksOfQuestions = (points: number): Marks => ({
  behaviour: points,
  safety: 0,
  rules: 0,
  workmanship: 0,
  pass: Math.round(PASSES * points * 10) / 10,
});

/** Longest texts of an exercise (`exercise.id`, `exercise.title`). */
const [ID, TITLE] = [60, 200];

/** An exercise of questions about a board that is shown with its leads. */
export const askedExercise = (
  bench: Bench,
  { id, title, family, brief }: Pick<Exercise, 'id' | 'title' | 'family'> & { readonly brief?: string },
  questions: readonly Question[],
): Exercise => ({
  contactum: 'exercise/1',
  task: 'answer',
  id: id.slice(0, ID),
  title: title.slice(0, TITLE),
  family,
  brief: brief ?? 'Look at the board and its drawing, and answer. Nothing is energised for it.',
  bench,
  reference: [],
  observe: [],
  behaviours: [],
  rules: {},
  marks: marksOfQuestions(questions.reduce((sum, { points }) => sum + points, 0)),
  faults: [],
  shows: ['board', 'drawing'],
  questions,
});

/** The behaviour's points are the whole, and the same part of them passes. */
function wholeOf({ behaviour, safety, rules, workmanship, pass }: Marks): Marks {
  const all = behaviour + safety + rules + workmanship;
  const share = all > 0 ? pass / all : 0;
  return { behaviour, safety: 0, rules: 0, workmanship: 0, pass: Math.round(share * behaviour * 10) / 10 };
}

/** Wrong cells that are told in one sentence. */
const TOLD = 3;

/** What is shown of the cells that are wrong: some in words, and each with the sequence that shows it. */
function evidenceOf({ wrong }: JudgedAnswer): Evidence | null {
  const [first] = wrong;
  if (!first) return null;
  const told = wrong
    .slice(0, TOLD)
    .map(({ what, answered, right }) => `${what}: ${answered}, right is ${right}`)
    .join('; ');
  const found = wrong.length > TOLD ? `${told}; and ${wrong.length - TOLD} more` : told;
  return {
    found,
    ...(first.replay.length > 0 ? { steps: first.replay } : {}),
    ...(wrong.length > 1
      ? {
          cells: wrong.map(({ what, answered, right, replay }) => ({ what, answered, right, steps: replay })),
        }
      : {}),
  };
}

/** Marks answers: a criterion for each question, and the replay that shows what is wrong in each. */
export function gradeAnswers(
  exercise: Exercise,
  { answers }: Partial<Answers> & Pick<Answers, 'answers'>,
): Report {
  const { questions = [], marks } = exercise;
  const board = new AskedBoard(referenceBench(exercise));
  const whole = wholeOf(marks);
  const points = sharePoints(
    whole.behaviour,
    questions.map((one) => one.points),
  );
  const criteria = questions.map((question, k): Criterion => {
    const judged = judgeAnswer(board, question, answers[question.id]);
    const max = points[k] ?? 0;
    return {
      id: question.id,
      part: 'behaviour',
      title: questionWords(question),
      points: judged.share === 1 ? max : partOf(max, judged.share),
      max,
      evidence: evidenceOf(judged),
    };
  });
  return {
    ...markedBy({ ...exercise, marks: whole }, criteria, []),
    exerciseVersion: exerciseVersion(exercise),
    proof: { complete: true, states: 0 },
    equivalence: { equivalent: false, complete: false, pairs: 0, counterexample: null },
    incidents: [],
    tolerance: null,
  };
}
