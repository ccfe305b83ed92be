import { isAsked, isSearch, plural } from '@contactum/core';
import { Alert, Button, Spin } from 'antd';
import dayjs from 'dayjs';
import { Link } from 'react-router';
import type { Person, Slip } from '@contactum/contract';
import { useSlipChanges } from '../api/queries.js';

/** An attempt without a report: still open, being marked, or not markable. */
export function Unmarked({ slip, person }: { slip: Slip; person: Person }) {
  return (
    <main className="page">
      <h1>{slip.exercise.title}</h1>
      {slip.attempt.state === 'open' ? (
        isSearch(slip.exercise) ? (
          <OpenSearch slip={slip} person={person} />
        ) : (
          <OpenAttempt slip={slip} person={person} />
        )
      ) : slip.attempt.heldUntil !== undefined ? (
        <p>Handed in. {heldWords(slip.attempt.heldUntil)}</p>
      ) : slip.failure !== null ? (
        <Failed slip={slip} person={person} reason={slip.failure} />
      ) : (
        <p>
          <Spin size="small" /> Handed in.{' '}
          {MARKING[slip.exercise.task] ?? 'Every order of working it is being tried'} …
        </p>
      )}
    </main>
  );
}

/** What is done while it is marked, where no board is tried. */
const MARKING: Readonly<Partial<Record<Slip['exercise']['task'], string>>> = {
  find: 'The search is worked again',
  answer: 'The board works out the right answers',
};

/** When the marks of an assessment are shown. */
const heldWords = (until: string | null): string =>
  until === null
    ? 'The marks of an assessment are shown when your instructor has closed it.'
    : `The marks of an assessment are shown when it has closed for everybody: ${dayjs(until).format('D MMM YYYY, HH:mm')}.`;

/** An attempt that could not be marked: why, and how to go on. */
function Failed({ slip, person, reason }: { slip: Slip; person: Person; reason: string }) {
  const { markAgain } = useSlipChanges(slip.attempt.id);
  return (
    <>
      <Alert
        type="error"
        showIcon
        title="This attempt could not be marked."
        description={
          <>
            <p>The marker stopped: {reason}</p>
            <p>
              The wiring with its {plural(slip.bench.wires.length, 'lead')} is saved.{' '}
              {person.role === 'student'
                ? 'Your instructor can mark it again; you may begin a new attempt meanwhile.'
                : 'Mark it again once the exercise is in order; the student may begin a new attempt meanwhile.'}
            </p>
          </>
        }
      />
      {person.role !== 'student' && (
        <p className="page-acts">
          <Button loading={markAgain.isPending} onClick={() => markAgain.mutate('set')}>
            Mark again
          </Button>
          <Button loading={markAgain.isPending} onClick={() => markAgain.mutate('now')}>
            Mark again by the exercise as it is now
          </Button>
        </p>
      )}
      {markAgain.isError && <Alert type="warning" showIcon title={markAgain.error.message} />}
    </>
  );
}

/** A search under way is looked at where faults are put in. */
function OpenSearch({ slip, person }: { slip: Slip; person: Person }) {
  return (
    <>
      <p>
        {slip.student.name}, {slip.className}. This search has not been handed in yet.
      </p>
      {person.role !== 'student' && (
        <p>
          <Link to={`/faults?board=${slip.exercise.id}`}>Look at it at the Fault desk</Link>
        </p>
      )}
    </>
  );
}

/** An attempt under way, as its instructor sees it. */
function OpenAttempt({ slip, person }: { slip: Slip; person: Person }) {
  const { permit } = useSlipChanges(slip.attempt.id);
  return (
    <>
      <p>
        {slip.student.name}, {slip.className}. This attempt has not been handed in yet.
        {!isAsked(slip.exercise) && ` Its board has ${plural(slip.bench.wires.length, 'lead')}.`}
      </p>
      {person.role !== 'student' && !isAsked(slip.exercise) && (
        <>
          <p>
            {slip.permittedAt
              ? `Permission to energise was given at ${dayjs(slip.permittedAt).format('HH:mm:ss')}; it holds until the wiring is changed.`
              : 'No permission to energise has been given.'}
          </p>
          <Button loading={permit.isPending} onClick={() => permit.mutate()}>
            Give permission to energise
          </Button>
          {permit.isError && <Alert type="error" showIcon title={permit.error.message} />}
        </>
      )}
    </>
  );
}
