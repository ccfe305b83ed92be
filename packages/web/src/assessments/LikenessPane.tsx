import { useState } from 'react';
import { Alert, Button, Spin } from 'antd';
import { Link } from 'react-router';
import type { AssessmentLikeness } from '@contactum/contract';
import { useLikeness } from '../api/assessments.js';

/** Pairs whose wiring is more alike than chance lets one expect; asked for, not shown by itself. */
export function LikenessPane({ id }: { id: string }) {
  const [isAsked, setAsked] = useState(false);
  const likeness = useLikeness(id, isAsked);
  return (
    <div className="likeness">
      <Alert
        type="info"
        showIcon
        title="This is not proof of copying."
        description={
          'Compared are the leads that each student chose where several are right, and the order in which they ' +
          'connected them; variants are compared by the exercise they were made from. Two students who learnt ' +
          'together may work alike. Look at both replays, ask both students, and decide yourself. Students do ' +
          'not see this page.'
        }
      />
      {!isAsked && (
        <Button type="primary" onClick={() => setAsked(true)}>
          Compare the class
        </Button>
      )}
      {likeness.isFetching && <Spin className="waiting" aria-label="Comparing" />}
      {likeness.isError && <Alert type="error" showIcon title={likeness.error.message} />}
      {likeness.data?.length === 0 && <p className="quiet">No task of this assessment is wired.</p>}
      {likeness.data?.map((one) => (
        <OneTask key={one.task} likeness={one} />
      ))}
    </div>
  );
}

function OneTask({ likeness }: { likeness: AssessmentLikeness }) {
  const { title, people, trials, pairs, names } = likeness;
  return (
    <section>
      <h2>{title}</h2>
      {trials === 0 ? (
        <p className="quiet">{people} handed in: too few to say what chance does.</p>
      ) : (
        <p className="quiet">
          {people} people compared with {trials} classes that chance dealt out from their own choices.{' '}
          {pairs.length === 0 && 'No pair stands out.'}
        </p>
      )}
      {pairs.map((pair) => (
        <div key={`${pair.one} ${pair.other}`} className="like-pair">
          <p>
            <Who name={names[pair.one]} /> and <Who name={names[pair.other]} />{' '}
            <span className="quiet">
              by chance as like as this in at most {Math.max(1, Math.ceil(1000 * pair.chance))} of 1000
              classes
            </span>
          </p>
          <ul>
            {pair.shared.slice(0, 6).map(({ where, what, others }) => (
              <li key={where}>
                <Choice where={where} what={what} />{' '}
                <span className="quiet">({others === 0 ? 'nobody else' : `${others} others`})</span>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}

/** What both chose, in words. */
function Choice({ where, what }: { where: string; what: string }) {
  const [, kind = '', net = ''] = /^(after|leads of) (.*)$/.exec(where) ?? [];
  if (kind === 'after')
    return what === 'nothing' ? (
      <>the potential of {net} was wired last</>
    ) : (
      <>
        after the potential of {net} that of {what} was wired
      </>
    );
  if (kind === '') return <>a lead {what} that joins two potentials</>;
  return (
    <>
      the potential of {net} by the leads <span className="mono">{what.replaceAll(' ', ', ')}</span>
    </>
  );
}

const Who = ({ name }: { name: AssessmentLikeness['names'][string] | undefined }) =>
  name ? <Link to={`/slip/${name.attemptId}`}>{name.name}</Link> : <span>somebody</span>;
