import { Alert, Button, Spin, Tag } from 'antd';
import dayjs from 'dayjs';
import { Link, useNavigate } from 'react-router';
import { FAMILIES, type Family } from '@contactum/core';
import type { AssignmentForStudent, ExerciseSummary, Person, Result } from '@contactum/contract';
import { useExercises, useOpenAttempt } from '../api/queries.js';
import { Board } from '../board/Board.js';
import './exercises.css';

const FAMILY_NAMES: Readonly<Record<Family, string>> = {
  'first-circuits': 'First circuits',
  'seal-in': 'Seal-in',
  jogging: 'Jogging',
  reversing: 'Reversing',
  'star-delta': 'Star-delta',
  other: 'Other',
};

/** All exercises by family, each with its board and where this person stands with it. */
export function ExercisesPage({ person }: { person: Person }) {
  const exercises = useExercises();
  if (exercises.isPending) return <Spin className="waiting" />;
  if (exercises.isError) return <Alert type="error" showIcon title={exercises.error.message} />;
  const families = FAMILIES.map((family) => ({
    family,
    list: exercises.data.filter((exercise) => exercise.family === family),
  })).filter(({ list }) => list.length > 0);
  return (
    <main className="page">
      <h1>Exercises</h1>
      <div className="families">
        {families.map(({ family, list }) => (
          <section
            key={family}
            className={list.length > 1 ? 'wide' : undefined}
            aria-labelledby={`family-${family}`}
          >
            <h2 id={`family-${family}`}>{FAMILY_NAMES[family]}</h2>
            <div className="exercise-list">
              {list.map((exercise) => (
                <ExerciseCard key={exercise.id} exercise={exercise} person={person} />
              ))}
            </div>
          </section>
        ))}
      </div>
    </main>
  );
}

function ExerciseCard({ exercise, person }: { exercise: ExerciseSummary; person: Person }) {
  return (
    <article className="exercise-card">
      <div className="thumbnail" aria-hidden="true">
        <Board bench={exercise.bench} label={`Board of ${exercise.title}`} />
      </div>
      <div className="exercise-text">
        <h3>{exercise.title}</h3>
        <p className="quiet clamp">{exercise.brief}</p>
        {person.role === 'instructor' ? (
          <InstructorState exercise={exercise} />
        ) : (
          <StudentState exercise={exercise} />
        )}
      </div>
    </article>
  );
}

function InstructorState({ exercise }: { exercise: ExerciseSummary }) {
  return (
    <div className="exercise-state">
      <div>
        {exercise.set.length === 0 && <p className="quiet">Not set to any class yet.</p>}
        {exercise.set.map((one) => (
          <p key={one.id}>
            <strong>{one.className}</strong>: {one.handedIn} of {one.students} handed in
          </p>
        ))}
      </div>
      <Link to={`/exercises/${exercise.id}`} className="button-link">
        Open
      </Link>
    </div>
  );
}

function StudentState({ exercise }: { exercise: ExerciseSummary }) {
  if (exercise.assigned.length === 0) return <p className="quiet">Not set to your class.</p>;
  return (
    <>
      {exercise.assigned.map((assignment) => (
        <StudentAssignment key={assignment.id} assignment={assignment} />
      ))}
    </>
  );
}

function StudentAssignment({ assignment }: { assignment: AssignmentForStudent }) {
  const open = useOpenAttempt();
  const navigate = useNavigate();
  const last = assignment.attempts.at(-1);
  const marked = assignment.attempts.filter(({ result }) => result !== null);
  const words = last === undefined ? 'Start wiring' : last.state === 'open' ? 'Go on wiring' : 'Try again';
  return (
    <div className="exercise-state">
      <div>
        {assignment.dueAt && <p className="quiet">Due {dayjs(assignment.dueAt).format('D MMM YYYY')}</p>}
        {marked.map((attempt) => (
          <p key={attempt.id}>
            <Link to={`/slip/${attempt.id}`}>Attempt {attempt.number}</Link>{' '}
            <ResultTag result={attempt.result} />
          </p>
        ))}
        {last?.state === 'handed-in' && (
          <p>
            <Link to={`/slip/${last.id}`}>Attempt {last.number}</Link> is being marked
          </p>
        )}
      </div>
      {last?.state !== 'handed-in' && (
        <Button
          type={marked.some(({ result }) => result?.passed) ? 'default' : 'primary'}
          loading={open.isPending}
          onClick={() => open.mutate(assignment.id, { onSuccess: ({ id }) => void navigate(`/bench/${id}`) })}
        >
          {words}
        </Button>
      )}
      {open.isError && <Alert type="error" showIcon title={open.error.message} />}
    </div>
  );
}

/** Points and verdict, in words as well as colour. */
function ResultTag({ result }: { result: Result | null }) {
  if (!result) return <Tag>not marked</Tag>;
  return (
    <Tag color={result.passed ? 'success' : 'error'}>
      {result.score} of {result.max}, {result.passed ? 'passed' : 'not passed'}
      {result.changed ? ', changed' : ''}
    </Tag>
  );
}
