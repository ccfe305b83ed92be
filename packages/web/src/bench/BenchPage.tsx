import { useEffect, useRef, useState } from 'react';
import { Spin } from 'antd';
import { useNavigate, useParams } from 'react-router';
import type { AttemptView, Person } from '@contactum/contract';
import { useAttempt, useVault } from '../api/queries.js';
import { sealedIn, type Vault } from '../api/vault.js';
import { Blank } from '../shell/Blank.js';
import { useLeadership, type Leadership } from './leadership.js';
import { startLiveBench } from './live.js';
import { createBenchStore } from './store.js';
import { Recorder, record } from './recorder.js';
import type { RecordedKit } from './use-workplace.js';
import { Workplace } from './Workplace.js';
import './bench-page.css';

/** The student's place: one board with its job sheet. */
export function BenchPage({ person }: { person: Person }) {
  const { id = '' } = useParams();
  const attempt = useAttempt(id);
  const leadership = useLeadership(id);
  const vault = useVault(person.id);
  const navigate = useNavigate();
  const handedIn = attempt.data && attempt.data.attempt.state !== 'open';
  const isAsked = attempt.data?.exercise.questions !== undefined;
  const { refetch } = attempt;
  useEffect(() => {
    if (handedIn) void navigate(`/slip/${id}`, { replace: true });
    else if (isAsked) void navigate(`/answer/${id}`, { replace: true });
  }, [handedIn, isAsked, id, navigate]);
  const before = useRef(leadership.role);
  const [fresh, setFresh] = useState(0);
  // Whoever takes the lead begins with what the server has.
  useEffect(() => {
    const was = before.current;
    before.current = leadership.role;
    if (was === 'asking' || was === leadership.role || leadership.role === 'asking') return;
    void refetch().then(() => setFresh((count) => count + 1));
  }, [leadership.role, refetch]);
  if (attempt.isError && !attempt.data)
    return <Blank title={attempt.error.message} act={{ text: 'Back to the exercises', to: '/exercises' }} />;
  if (!attempt.data || handedIn || isAsked || vault === undefined || leadership.role === 'asking')
    return <Spin className="waiting" aria-label="Opening the board" />;
  return (
    <OpenBench
      key={`${id} ${fresh}`}
      view={attempt.data}
      leadership={leadership}
      person={person}
      vault={vault}
    />
  );
}

/** Starts the board as it stood, and ends it with the page. */
function useKit(view: AttemptView, leadership: Leadership, vault: Vault | null): RecordedKit | null {
  const [kit, setKit] = useState<RecordedKit | null>(null);
  const first = useRef(view);
  const lead = useRef(leadership);
  const kept = useRef(vault);
  useEffect(() => {
    const { tell, hear, role } = lead.current;
    const live = startLiveBench();
    const store = createBenchStore(first.current, () => live.store.getState().supplyOn, {
      ...(kept.current ? { keep: sealedIn(localStorage, kept.current) } : {}),
      following: role === 'following',
      onEntry: tell,
    });
    live.load(store.getState().bench, { fresh: true });
    // A board left with its supply on is opened with it off; the log must say so.
    const last = first.current.log.findLast(({ entry }) => entry.kind === 'supply')?.entry;
    if (last?.kind === 'supply' && last.on) store.actions.noteSupply(false);
    const unhear = hear(store.actions.follow);
    const recorder = new Recorder(first.current.exercise.bench.devices);
    const stop = record(recorder, live);
    setKit({ live, store, recorder });
    return () => {
      unhear();
      stop();
      live.close();
      store.actions.close();
    };
  }, []);
  return kit;
}

function OpenBench({
  view,
  leadership,
  person,
  vault,
}: {
  view: AttemptView;
  leadership: Leadership;
  person: Person;
  vault: Vault | null;
}) {
  const kit = useKit(view, leadership, vault);
  if (!kit) return <Spin className="waiting" />;
  return <Workplace view={view} leadership={leadership} person={person} kit={kit} />;
}
