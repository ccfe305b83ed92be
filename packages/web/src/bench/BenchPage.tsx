import { useEffect, useRef, useState } from 'react';
import { Spin } from 'antd';
import type { AttemptView, Person } from '@contactum/contract';
import { sealedIn, type Vault } from '../api/vault.js';
import { AttemptPlace, type OpenAttempt } from './AttemptPlace.js';
import type { Leadership } from './leadership.js';
import { startLiveBench } from './live.js';
import { createBenchStore } from './store.js';
import { Recorder, record } from './recorder.js';
import type { RecordedKit } from './use-workplace.js';
import { Workplace } from './Workplace.js';
import './bench-page.css';

/** The student's place: one board with its job sheet. */
export const BenchPage = ({ person }: { person: Person }) => (
  <AttemptPlace
    person={person}
    place="bench"
    opening="Opening the board"
    render={(key, open) => <OpenBench key={key} {...open} person={person} />}
  />
);

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

function OpenBench({ view, leadership, person, vault }: OpenAttempt & { person: Person }) {
  const kit = useKit(view, leadership, vault);
  if (!kit) return <Spin className="waiting" />;
  return <Workplace view={view} leadership={leadership} person={person} kit={kit} />;
}
