import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Spin } from 'antd';
import { useNavigate, useParams } from 'react-router';
import type { AttemptView, Person } from '@contactum/contract';
import { useAttempt, useVault } from '../api/queries.js';
import type { Vault } from '../api/vault.js';
import { Blank } from '../shell/Blank.js';
import { useLeadership, type Leadership } from './leadership.js';

/** An open attempt, and this tab's part in it. */
export interface OpenAttempt {
  readonly view: AttemptView;
  readonly leadership: Leadership;
  readonly vault: Vault | null;
}

/** Where an attempt is worked at, or read once it is handed in. */
const placeOf = ({ attempt, exercise }: AttemptView): 'slip' | 'answer' | 'bench' =>
  attempt.state !== 'open' ? 'slip' : exercise.questions ? 'answer' : 'bench';

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
  const { refetch } = attempt;
  useEffect(() => {
    if (right !== place) void navigate(`/${right}/${id}`, { replace: true });
  }, [right, place, id, navigate]);
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
  return render(`${id} ${fresh}`, { view, leadership, vault });
}
