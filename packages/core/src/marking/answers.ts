import {
  AskedBoard,
  judgeAnswer,
  questionWords,
  type Answers,
  type JudgedAnswer,
} from '../questions/index.js';
import { exerciseVersion, referenceBench, type Exercise, type Marks } from './exercise.js';
import type { Evidence } from './evidence.js';
import { partOf, sharePoints } from './points.js';
import type { Criterion, Report } from './report.js';
import { markedBy } from './share.js';

/** The behaviour's points are the whole, and the same part of them passes. */
function wholeOf({ behaviour, safety, rules, workmanship, pass }: Marks): Marks {
  const all = behaviour + safety + rules + workmanship;
  const share = all > 0 ? pass / all : 0;
  return { behaviour, safety: 0, rules: 0, workmanship: 0, pass: Math.round(share * behaviour * 10) / 10 };
}

/** What is shown of the cells that are wrong: the first one's sequence, and each in words. */
function evidenceOf({ wrong }: JudgedAnswer): Evidence | null {
  const [first] = wrong;
  if (!first) return null;
  const found = wrong
    .map(({ what, answered, right }) => `${what}: ${answered}, right is ${right}`)
    .join('; ');
  return first.replay.length > 0 ? { found, steps: first.replay } : { found };
}

/** Marks answers: a criterion for each question, and the replay that shows what is wrong in each. */
export function gradeAnswers(exercise: Exercise, { answers }: Answers): Report {
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
