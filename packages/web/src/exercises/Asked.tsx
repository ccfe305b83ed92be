import {
  describeFault,
  plural,
  questionWords,
  readFault,
  type Exercise,
  type Question,
} from '@contactum/core';

/** What is asked, without its answers. */
export function QuestionList({ questions }: { questions: readonly Question[] }) {
  return (
    <ol className="steps">
      {questions.map((question) => (
        <li key={question.id}>
          {questionWords(question)} <span className="quiet">{plural(question.points, 'point')}</span>
        </li>
      ))}
    </ol>
  );
}

/** What is hidden in the board, work order by work order. */
export function Sets({ exercise: { sets = [] } }: { exercise: Exercise }) {
  return (
    <ol className="steps">
      {sets.map(({ id, complaint, minutes, faults }) => (
        <li key={id}>
          {complaint} <span className="quiet">{minutes} min</span>
          <br />
          <strong>{faults.map((fault) => describeFault(readFault(fault))).join('; ')}</strong>
        </li>
      ))}
    </ol>
  );
}
