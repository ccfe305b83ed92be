import { useEffect, useRef } from 'react';
import { Alert, Spin } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import type { AttemptView } from '@contactum/contract';
import { ask } from '../api/client.js';
import { placeOfAttempt, useOpenAttempt } from '../api/queries.js';

/** The page of an attempt, by what its exercise asks for. */
async function pageOf(id: string): Promise<string> {
  const { exercise } = await ask<AttemptView>('GET', `/attempts/${id}`);
  return placeOfAttempt(id, exercise.task);
}

/** Where a link of a course leads: the exercise itself, begun or gone on with. */
export function LaunchPage() {
  const { id = '' } = useParams();
  const open = useOpenAttempt();
  const navigate = useNavigate();
  const begun = useRef(false);
  const { mutateAsync } = open;
  useEffect(() => {
    // Once, however often the page is drawn.
    if (begun.current) return;
    begun.current = true;
    void mutateAsync(id)
      .then(async (attempt) => navigate(await pageOf(attempt.id), { replace: true }))
      .catch(() => undefined);
  }, [id, mutateAsync, navigate]);
  if (!open.isError) return <Spin className="waiting" aria-label="Opening the exercise" />;
  return (
    <main className="page">
      <Alert
        type="warning"
        showIcon
        title={open.error.message}
        description={<Link to="/exercises">Your exercises</Link>}
      />
    </main>
  );
}
