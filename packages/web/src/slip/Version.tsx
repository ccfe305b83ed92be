import { Alert, Button } from 'antd';
import dayjs from 'dayjs';
import { reportDifference, type Report } from '@contactum/core';
import type { Person, Slip } from '@contactum/contract';
import { useSlipChanges } from '../api/queries.js';

const points = (value: number | null): string => (value === null ? 'not asked' : String(value));

/** By which exercise and marker the slip was made, marking it again, and what that changed. */
export function Version({ slip, report, person }: { slip: Slip; report: Report; person: Person }) {
  const { markAgain } = useSlipChanges(slip.attempt.id);
  const version = report.exerciseVersion as string | undefined;
  return (
    <section aria-label="Marking">
      <h2>Marking</h2>
      <p className="quiet">
        Marked {dayjs(slip.markedAt).format('D MMM YYYY, HH:mm')} by exercise version{' '}
        <span className="mono">{version ?? 'unknown'}</span> and <span className="mono">{report.marker}</span>
        .
      </p>
      {slip.former && <Difference before={slip.former.report} after={report} at={slip.former.markedAt} />}
      {person.role !== 'student' && (
        <p className="mark-again">
          <Button size="small" loading={markAgain.isPending} onClick={() => markAgain.mutate('now')}>
            Mark again by the exercise as it is now
          </Button>
          <Button size="small" loading={markAgain.isPending} onClick={() => markAgain.mutate('set')}>
            … as it was set
          </Button>
        </p>
      )}
      {markAgain.isError && <Alert type="error" showIcon title={markAgain.error.message} />}
    </section>
  );
}

function Difference({ before, after, at }: { before: Report; after: Report; at: string }) {
  const { criteria, score, passed, exerciseChanged, markerChanged } = reportDifference(before, after);
  const why = [exerciseChanged && 'the exercise has changed', markerChanged && `it was ${before.marker} then`]
    .filter(Boolean)
    .join(', ');
  return (
    <div className="difference">
      <p>
        Marked before on {dayjs(at).format('D MMM YYYY, HH:mm')}
        {why ? ` (${why})` : ''}:{' '}
        {criteria.length === 0 && score.before === score.after
          ? 'every point is the same.'
          : `${score.before} then, ${score.after} now${passed.before === passed.after ? '' : passed.after ? ', and passed now' : ', and not passed now'}.`}
      </p>
      {criteria.length > 0 && (
        <ul>
          {criteria.map(({ part, id, title, before: then, after: now }) => (
            <li key={`${part} ${id}`}>
              {title}: {points(then)} → {points(now)}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
