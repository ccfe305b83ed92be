import { Suspense, lazy, useEffect, useRef, useState, type ReactNode } from 'react';
import { Spin } from 'antd';
import { useNavigate, useParams } from 'react-router';
import type { AttemptView, Person } from '@contactum/contract';
import { useAttempt, useVault } from '../api/queries.js';
import type { Vault } from '../api/vault.js';
import { Blank } from '../shell/Blank.js';
import { useLeadership, type Leadership } from './leadership.js';

const SittingBar = lazy(() =>
  import('../assessments/SittingBar.js').then((m) => ({ default: m.SittingBar })),
);

/** An open attempt, and this tab's part in it. */
export interface OpenAttempt {
  readonly view: AttemptView;
  readonly leadership: Leadership;
  readonly vault: Vault | null;
}

/** Where an attempt is worked at, or read once it is handed in. */
const placeOf = ({ attempt, exercise, sitting }: AttemptView): 'sit' | 'slip' | 'answer' | 'bench' => {
  if (attempt.state === 'open') return exercise.questions ? 'answer' : 'bench';
  return sitting ? 'sit' : 'slip';
};

/** The page of an open attempt; one that belongs elsewhere is opened there. */
export function AttemptPlace({
  person,
  place,
  opening,
  render,
}: {
  person: Person;
  place: 'answer' | 'bench';
  /** What is said while it is opened. */
  opening: string;
  /** Rendered from the beginning with every new key. */
  render: (key: string, open: OpenAttempt) => ReactNode;
}) {
  const { id = '' } = useParams();
  const attempt = useAttempt(id);
  const leadership = useLeadership(id);
  const vault = useVault(person.id);
  const navigate = useNavigate();
  const view = attempt.data;
  const right = view ? placeOf(view) : place;
  const assessmentId = view?.sitting?.assessmentId ?? '';
  const { refetch } = attempt;
  useEffect(() => {
    const named = right === 'sit' ? assessmentId : id;
    if (right !== place) void navigate(`/${right}/${named}`, { replace: true });
  }, [right, place, id, assessmentId, navigate]);
  const before = useRef(leadership.role);
  const [fresh, setFresh] = useState(0);
  // Whoever takes the lead begins with what the server has.
  useEffect(() => {
    const was = before.current;
    before.current = leadership.role;
    if (was === 'asking' || was === leadership.role || leadership.role === 'asking') return;
    void refetch().then(() => setFresh((count) => count + 1));
  }, [leadership.role, refetch]);
  if (attempt.isError && !view)
    return <Blank title={attempt.error.message} act={{ text: 'Back to the exercises', to: '/exercises' }} />;
  if (!view || right !== place || vault === undefined || leadership.role === 'asking')
    return <Spin className="waiting" aria-label={opening} />;
  const content = render(`${id} ${fresh}`, { view, leadership, vault });
  if (!view.sitting) return content;
  return (
    <div className="sitting-place">
      <Suspense>
        <SittingBar assessmentId={assessmentId} />
      </Suspense>
      {content}
    </div>
  );
}
