import { useEffect, useState } from 'react';
import { Alert, Button, Input, Modal, Spin, Tabs } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import { useStore } from 'zustand';
import { referenceBench, versionChanges, type Habit, usualForm } from '@contactum/core';
import type { Draft, Published } from '@contactum/contract';
import { useDraft, usePublish } from '../api/college.js';
import { VersionChanges } from '../exercises/VersionChanges.js';
import { Blank } from '../shell/Blank.js';
import { BehavioursPane } from './BehavioursPane.js';
import { BoardEditor } from './BoardEditor.js';
import { CheckPane } from './CheckPane.js';
import { DevicePanel } from './DevicePanel.js';
import { FaultsPane } from './FaultsPane.js';
import { MarksPane } from './MarksPane.js';
import { createSetterStore, type Kept, type SetterStore } from './store.js';
import { SetterUndo } from './SetterUndo.js';
import { WiringPane } from './WiringPane.js';
import './setter.css';
import './setter-marks.css';
import { useToasts } from '../shell/toasts.js';

/** One exercise in the making. */
export function SetterPage() {
  const { id = '' } = useParams();
  const draft = useDraft(id);
  if (draft.isPending) return <Spin className="waiting" aria-label="Opening the draft" />;
  if (draft.isError)
    return <Blank title={draft.error.message} act={{ text: 'Go to the Setter', to: '/setter' }} />;
  return <OpenDraft key={id} draft={draft.data} />;
}

type Pane = 'board' | 'wiring' | 'behaviours' | 'marks' | 'faults' | 'check';

function useSetter(draft: Draft): SetterStore | null {
  const [store, setStore] = useState<SetterStore | null>(null);
  useEffect(() => {
    const made = createSetterStore(draft);
    setStore(made);
    const warn = (event: BeforeUnloadEvent) => {
      if (made.getState().kept !== 'kept') event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => {
      window.removeEventListener('beforeunload', warn);
      made.actions.close();
    };
  }, [draft]);
  return store;
}

function OpenDraft({ draft }: { draft: Draft }) {
  const store = useSetter(draft);
  if (!store) return <Spin className="waiting" />;
  return <SetterWorkplace draft={draft} store={store} />;
}

function SetterWorkplace({ draft, store }: { draft: Draft; store: SetterStore }) {
  const begun = draft.document.reference.length > 0 || draft.document.bench.devices.length > 0;
  const [pane, setPane] = useState<Pane>(
    begun && draft.exerciseId === null && draft.document.behaviours.length > 0 ? 'check' : 'board',
  );
  const [habit, setHabit] = useState<Habit>(() => usualForm(draft.document.bench));
  const [publishing, setPublishing] = useState(false);
  const counts = useStore(
    store,
    ({ exercise }) =>
      `${exercise.bench.devices.length} ${exercise.reference.length} ${exercise.behaviours.length} ${exercise.faults.length}`,
  ).split(' ');
  useUndoKeys(store, pane !== 'wiring');
  const panes: Readonly<Record<Pane, React.ReactNode>> = {
    board: (
      <div className="board-pane">
        <BoardEditor store={store} habit={habit} />
        <DevicePanel store={store} habit={habit} onHabit={setHabit} />
      </div>
    ),
    wiring: <WiringPane setter={store} />,
    behaviours: <BehavioursPane setter={store} />,
    marks: <MarksPane setter={store} />,
    faults: <FaultsPane setter={store} />,
    check: <CheckPane setter={store} onPublish={() => setPublishing(true)} />,
  };
  return (
    <main className="setter">
      <SetterHead draft={draft} store={store} onUndo={pane !== 'wiring'} />
      <Tabs
        size="small"
        className="setter-tabs"
        activeKey={pane}
        onChange={(key) => setPane(key as Pane)}
        items={[
          { key: 'board', label: `1 Board (${counts[0]})` },
          { key: 'wiring', label: `2 Reference (${counts[1]})` },
          { key: 'behaviours', label: `3 Behaviours (${counts[2]})` },
          { key: 'marks', label: '4 Rules and marks' },
          { key: 'faults', label: `5 Faults (${counts[3]})` },
          { key: 'check', label: '6 Check and publish' },
        ]}
      />
      <div className="setter-pane">{panes[pane]}</div>
      {publishing && <PublishDialog draft={draft} store={store} onClose={() => setPublishing(false)} />}
    </main>
  );
}

/** Undo and redo from anywhere; on the reference the bench has its own. */
function useUndoKeys({ actions }: SetterStore, on: boolean): void {
  useEffect(() => {
    if (!on) return undefined;
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      if (!(event.ctrlKey || event.metaKey) || typing) return;
      const key = event.key.toLowerCase();
      if (key === 'z' && !event.shiftKey) actions.undo();
      else if (key === 'y' || (key === 'z' && event.shiftKey)) actions.redo();
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [actions, on]);
}

const KEPT: Readonly<Record<Kept, string>> = {
  kept: '✓ Saved',
  keeping: 'Saving …',
  changed: 'Saving …',
  refused: '✕ Not saved',
  stale: '✕ Changed in another window',
  offline: '! The server cannot be reached. Trying again …',
};

function SetterHead({ draft, store, onUndo }: { draft: Draft; store: SetterStore; onUndo: boolean }) {
  const title = useStore(store, (state) => state.exercise.title);
  const kept = useStore(store, (state) => state.kept);
  const problems = useStore(store, (state) => state.problems);
  const { actions } = store;
  const [first] = problems;
  return (
    <header className="setter-head">
      <p className="crumb">
        <Link to="/setter">Setter</Link>
      </p>
      <Input
        className="setter-title"
        aria-label="Title"
        value={title}
        maxLength={200}
        onChange={({ target }) =>
          target.value !== '' && actions.change((one) => ({ ...one, title: target.value }))
        }
      />
      {draft.before && <span className="quiet">next after version {draft.before.version}</span>}
      {onUndo && <SetterUndo store={store} />}
      <AskButton draft={draft} store={store} />
      <span className={`kept kept-${kept}`} role="status">
        {KEPT[kept]}
        {kept === 'stale' && (
          <Button size="small" onClick={() => window.location.reload()}>
            Reload
          </Button>
        )}
      </span>
      {first && kept === 'refused' && (
        <Alert
          className="setter-problem"
          type="error"
          showIcon
          title={`${first.path.replace(/^document\./, '')}: ${first.message}`}
        />
      )}
    </header>
  );
}

/** Saves, and asks about the reference as it is then. */
function AskButton({ draft, store }: { draft: Draft; store: SetterStore }) {
  const leads = useStore(store, ({ exercise }) => referenceBench(exercise).wires.length);
  const navigate = useNavigate();
  const go = async (): Promise<void> => {
    await store.actions.keep();
    if (store.getState().kept === 'kept') await navigate(`/setter/${draft.id}/questions`);
  };
  return (
    <Button size="small" disabled={leads === 0} onClick={() => void go()}>
      Ask about this board
    </Button>
  );
}

/** What is other than in the version before. */
function SinceBefore({ draft, store }: { draft: Draft; store: SetterStore }) {
  const changes = draft.before ? versionChanges(draft.before.document, store.getState().exercise) : [];
  return (
    <>
      {draft.before ? (
        <>
          <p>
            {changes.length === 0 ? 'Nothing is other than in version ' : 'Against version '}
            {draft.before.version}
            {changes.length > 0 && ':'}
          </p>
          <VersionChanges changes={changes} />
          <p className="quiet">Assignments keep their version; assign it again to give students this one.</p>
        </>
      ) : (
        <p>
          It becomes an exercise of the college and can be assigned to classes. Students see it once it is
          assigned to them.
        </p>
      )}
    </>
  );
}

/** The last look: what changed since the version before, and a line about it. */
function PublishDialog({ draft, store, onClose }: { draft: Draft; store: SetterStore; onClose: () => void }) {
  const publish = usePublish(draft.id);
  const navigate = useNavigate();
  const message = useToasts();
  const [note, setNote] = useState('');
  const [refused, setRefused] = useState<Extract<Published, { ok: false }> | null>(null);
  const go = async (): Promise<void> => {
    await store.actions.keep();
    if (store.getState().kept !== 'kept') return;
    publish.mutate(note, {
      onSuccess: (published) => {
        if (!published.ok) {
          setRefused(published);
          return;
        }
        message.success(
          published.version === 1
            ? 'Published. It can be set to a class now.'
            : `Published as version ${published.version}.`,
        );
        void navigate(`/exercises/${published.exerciseId}`);
      },
    });
  };
  return (
    <Modal
      open
      title="Publish"
      okText="Publish"
      confirmLoading={publish.isPending}
      onOk={() => void go()}
      onCancel={onClose}
    >
      <SinceBefore draft={draft} store={store} />
      <Input
        aria-label="What is new"
        placeholder="What is new (may be left empty)"
        value={note}
        maxLength={300}
        onChange={({ target }) => setNote(target.value)}
      />
      {publish.isError && <Alert type="error" showIcon title={publish.error.message} />}
      {refused && (
        <Alert
          type="error"
          showIcon
          title={`Not published: ${refused.objections.find(({ refuses }) => refuses)?.title ?? ''}`}
        />
      )}
    </Modal>
  );
}
