import { Alert, Button } from 'antd';
import { useStore } from 'zustand';
import { spellRef } from '@contactum/core';
import type { Person } from '@contactum/contract';
import { IncidentBanner } from './IncidentBanner.js';
import type { Leadership } from './leadership.js';
import type { LiveBench } from './live.js';
import { LogNotes, type LogWords } from './LogNotes.js';
import type { BenchStore } from './store.js';

const WORDS: LogWords = {
  following: 'This board is open in another tab, which works on it. This one follows.',
  take: 'Work here',
  stale: 'This board was changed in another window or on another device.',
};

/** What must be said over the board: who works on it, what is not stored, what happened. */
export function BenchNotes({
  store,
  live,
  leadership,
  person,
  short,
}: {
  store: BenchStore;
  live: LiveBench;
  leadership: Leadership;
  person: Person;
  /** What would meet as the supply comes on; null where nothing would. */
  short: string | null;
}) {
  const stale = useStore(store, (state) => state.stale);
  const signedOut = useStore(store, (state) => state.signedOut);
  const unsaved = useStore(store, (state) => state.unsaved);
  const following = useStore(store, (state) => state.following);
  const incidents = useStore(live.store, (state) => state.incidents);
  return (
    <div className="bench-notes">
      <LogNotes
        words={WORDS}
        following={following}
        sending={{ signedOut, stale, unsaved }}
        person={person}
        onTake={leadership.take}
        onResume={store.actions.resume}
      />
      <Message store={store} />
      <ThreeLeads store={store} />
      <WouldShort live={live} short={short} />
      <BenchStopped live={live} />
      <IncidentBanner incidents={incidents} onClose={live.clearIncidents} />
    </div>
  );
}

/** Why something could not be done. */
function Message({ store }: { store: BenchStore }) {
  const message = useStore(store, (state) => state.message);
  if (!message) return null;
  const close = () => store.actions.patch({ message: null });
  return <Alert type="warning" showIcon closable={{ onClose: close }} title={message.text} />;
}

/** The other two leads of three lines are laid with one touch. */
function ThreeLeads({ store }: { store: BenchStore }) {
  const offered = useStore(store, (state) => state.offered);
  if (offered.length === 0) return null;
  const said = offered.map(({ from, to }) => `${spellRef(from)} – ${spellRef(to)}`).join(', ');
  return (
    <Alert
      type="info"
      title={`The other two lines: ${said}`}
      closable={{ onClose: () => store.actions.patch({ offered: [] }) }}
      action={
        <Button size="small" type="primary" onClick={store.actions.takeOffer}>
          Lay them too
        </Button>
      }
    />
  );
}

/** What has happened to the thread in which the bench runs. */
function BenchStopped({ live }: { live: LiveBench }) {
  const problem = useStore(live.store, (state) => state.problem);
  if (problem === null) return null;
  return (
    <Alert
      type="error"
      showIcon
      title={`The bench has stopped: ${problem}`}
      description="Your work is saved. Load the page again."
    />
  );
}

/** A board that would be short-circuited is said to be before it is energised. */
function WouldShort({ live, short }: { live: LiveBench; short: string | null }) {
  const isOn = useStore(live.store, (state) => state.supplyOn);
  if (short === null || isOn) return null;
  return (
    <Alert
      type="warning"
      showIcon
      title={`Do not switch on yet: ${short}`}
      description={
        'These leads join two conductors of the supply without a load between them. ' +
        'Take one of them off, then test dead again.'
      }
    />
  );
}
