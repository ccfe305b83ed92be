import { Alert, Button, Tag } from 'antd';
import dayjs from 'dayjs';
import { Link, useNavigate } from 'react-router';
import type { AssignmentForStudent, ExerciseSummary, Person, Result } from '@contactum/contract';
import { placeOfAttempt, useOpenAttempt } from '../api/queries.js';
import { PracticeButton } from '../faults/PracticeButton.js';
import { DrawingThumb } from '../drawing/DrawingThumb.js';

/** One exercise: its drawing, and what this person has to do with it. */
export function ExerciseCard({ exercise, person }: { exercise: ExerciseSummary; person: Person }) {
  return (
    <article className="exercise-card">
      <div className="thumbnail" aria-hidden="true">
        <DrawingThumb id={exercise.id} bench={exercise.bench} drawn={exercise.drawn} />
      </div>
      <div className="exercise-text">
        <h3>{exercise.title}</h3>
        <p className="quiet clamp">{exercise.brief}</p>
        {person.role !== 'student' ? (
          <InstructorState exercise={exercise} />
        ) : (
          <StudentState exercise={exercise} />
        )}
        {exercise.drawn && person.role === 'student' && <PracticeButton exerciseId={exercise.id} />}
      </div>
    </article>
  );
}

function InstructorState({ exercise }: { exercise: ExerciseSummary }) {
  return (
    <div className="exercise-state">
      <div>
        {exercise.set.length === 0 && <p className="quiet">Not assigned</p>}
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
  if (exercise.assigned.length === 0)
    return <p className="quiet exercise-state">Not assigned to your class</p>;
  return (
    <>
      {exercise.assigned.map((assignment) => (
        <StudentAssignment
          key={assignment.id}
          assignment={assignment}
          task={exercise.task}
          drawn={exercise.drawn}
        />
      ))}
    </>
  );
}

const DOING: Readonly<Record<ExerciseSummary['task'], string>> = {
  wire: 'wiring',
  find: 'searching',
  program: 'programming',
  both: 'wiring and programming',
  answer: 'answering',
};

function StudentAssignment({
  assignment,
  task,
  drawn,
}: {
  assignment: AssignmentForStudent;
  task: ExerciseSummary['task'];
  drawn: boolean;
}) {
  const open = useOpenAttempt();
  const navigate = useNavigate();
  const { attempts } = assignment;
  const last = attempts.at(-1);
  const marked = attempts.filter(({ result }) => result !== null);
  const doing = DOING[task];
  const words =
    last === undefined ? `Start ${doing}` : last.state === 'open' ? `Continue ${doing}` : 'Try again';
  const enter = async (attemptId: string): Promise<void> => {
    await navigate(await placeOfAttempt(attemptId, task));
  };
  return (
    <div className="exercise-state">
      <div>
        <Times assignment={assignment} />
        {marked.map((attempt) => (
          <p key={attempt.id}>
            <Link to={`/slip/${attempt.id}`}>Attempt {attempt.number}</Link>{' '}
            <ResultTag result={attempt.result} />
            {attempt.unconfirmed && (
              <Tag color="warning">unconfirmed: it counts when your instructor has confirmed it</Tag>
            )}
          </p>
        ))}
        <HeldAttempts attempts={attempts} />
        {last?.state === 'handed-in' && last.heldUntil === undefined && (
          <p>
            <Link to={`/slip/${last.id}`}>Attempt {last.number}</Link> is being marked
          </p>
        )}
        {drawn && task === 'wire' && (
          <Link to={`/sheets?setting=${assignment.id}`}>Bench sheet for a physical board</Link>
        )}
      </div>
      {last?.state !== 'handed-in' && (last?.state === 'open' || assignment.shut === null) && (
        <Button
          type={
            marked.some(({ result, unconfirmed }) => result?.passed && !unconfirmed) ? 'default' : 'primary'
          }
          loading={open.isPending}
          onClick={() => open.mutate(assignment.id, { onSuccess: ({ id }) => void enter(id) })}
        >
          {words}
        </Button>
      )}
      {open.isError && <Alert type="error" showIcon title={open.error.message} />}
    </div>
  );
}

/** Attempts at an assessment whose marks are not shown yet. */
function HeldAttempts({ attempts }: Pick<AssignmentForStudent, 'attempts'>) {
  const held = attempts.filter(({ heldUntil, state }) => heldUntil !== undefined && state !== 'open');
  return held.map(({ id, number }) => (
    <p key={id}>
      <Link to={`/slip/${id}`}>Attempt {number}</Link> is handed in; marks are shown when the assessment has
      closed
    </p>
  ));
}

/** When it opens, is due and closes, how often it may be tried, and why it cannot be now. */
function Times({
  assignment: { opensAt, dueAt, closesAt, attemptsAllowed, mode, shut, attempts },
}: {
  assignment: AssignmentForStudent;
}) {
  const day = (at: string) => dayjs(at).format('D MMM HH:mm');
  const isAhead = opensAt !== null && dayjs(opensAt).isAfter(dayjs());
  const words = [
    ...(mode === 'assessment' ? ['Assessment'] : []),
    ...(isAhead ? [`Opens ${day(opensAt)}`] : []),
    ...(dueAt === null ? [] : [`Due ${day(dueAt)}`]),
    ...(closesAt === null
      ? []
      : [`${dayjs(closesAt).isAfter(dayjs()) ? 'Closes' : 'Closed'} ${day(closesAt)}`]),
    ...(attemptsAllowed === null ? [] : [`${attempts.length} of ${attemptsAllowed} attempts`]),
  ];
  return (
    <>
      {words.length > 0 && <p className="quiet">{words.join(' · ')}</p>}
      {shut !== null && attempts.at(-1)?.state !== 'open' && !isAhead && closesAt === null && (
        <p className="quiet">{shut}</p>
      )}
    </>
  );
}

/** Points and verdict, in words as well as colour. */
function ResultTag({ result }: { result: Result | null }) {
  if (!result) return <Tag>not marked</Tag>;
  return (
    <Tag color={result.passed ? 'success' : 'error'}>
      {result.recorded} of {result.max}, {result.passed ? 'passed' : 'not passed'}
      {result.changed ? ', changed' : ''}
    </Tag>
  );
}
