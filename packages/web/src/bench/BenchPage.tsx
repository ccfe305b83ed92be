import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Alert, App, Button, Input, InputNumber, Modal, Spin } from 'antd';
import { useNavigate, useParams } from 'react-router';
import { useStore } from 'zustand';
import { settableOn, targetOf, type Stimulus } from '@contactum/core';
import type { AttemptView, Person } from '@contactum/contract';
import { useAttempt, useHandIn, useSignInAgain } from '../api/queries.js';
import { Blank } from '../shell/Blank.js';
import { useLeadership, type Leadership } from './leadership.js';
import { IncidentBanner, isShort, sentence } from './IncidentBanner.js';
import { JobSheet } from './JobSheet.js';
import { startLiveBench, type LiveBench } from './live.js';
import { StripChart } from './StripChart.js';
import { useAct } from './use-act.js';
import { createBenchStore, type BenchStore } from './store.js';
import { PracticeBar } from './PracticeBar.js';
import { Toolbar } from './Toolbar.js';
import { readTyped } from './typed.js';
import { WiringBoard } from './WiringBoard.js';

/** The student's place: one board with its job sheet. */
export function BenchPage({ person }: { person: Person }) {
  const { id = '' } = useParams();
  const attempt = useAttempt(id);
  const leadership = useLeadership(id);
  const navigate = useNavigate();
  const handedIn = attempt.data && attempt.data.attempt.state !== 'open';
  const { refetch } = attempt;
  useEffect(() => {
    if (handedIn) void navigate(`/slip/${id}`, { replace: true });
  }, [handedIn, id, navigate]);
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
  if (!attempt.data || handedIn || leadership.role === 'asking')
    return <Spin className="waiting" aria-label="Opening the board" />;
  return <OpenBench key={`${id} ${fresh}`} view={attempt.data} leadership={leadership} person={person} />;
}

function OpenBench({
  view,
  leadership,
  person,
}: {
  view: AttemptView;
  leadership: Leadership;
  person: Person;
}) {
  const [kit, setKit] = useState<{ live: LiveBench; store: BenchStore } | null>(null);
  const first = useRef(view);
  const lead = useRef(leadership);
  useEffect(() => {
    const { tell, hear, role } = lead.current;
    const live = startLiveBench();
    const store = createBenchStore(first.current, () => live.store.getState().supplyOn, {
      keep: localStorage,
      following: role === 'following',
      onEntry: tell,
    });
    live.load(store.getState().bench, { fresh: true });
    // A board left with its supply on is opened with it off; the log must say so.
    const lastSupply = first.current.log.findLast((entry) => entry.kind === 'supply');
    if (lastSupply?.kind === 'supply' && lastSupply.on) store.actions.noteSupply(false);
    const unhear = hear(store.actions.follow);
    setKit({ live, store });
    return () => {
      unhear();
      live.close();
      store.actions.close();
    };
  }, []);
  return kit ? (
    <Workplace view={view} leadership={leadership} person={person} {...kit} />
  ) : (
    <Spin className="waiting" />
  );
}

function Workplace({
  view,
  leadership,
  person,
  live,
  store,
}: {
  view: AttemptView;
  leadership: Leadership;
  person: Person;
  live: LiveBench;
  store: BenchStore;
}) {
  const { exercise } = view;
  const bench = useStore(store, (state) => state.bench);
  const message = useStore(store, (state) => state.message);
  const stale = useStore(store, (state) => state.stale);
  const signedOut = useStore(store, (state) => state.signedOut);
  const unsaved = useStore(store, (state) => state.unsaved);
  const following = useStore(store, (state) => state.following);
  const incidents = useStore(live.store, (state) => state.incidents);
  const [spoken, setSpoken] = useState('');
  const [setting, setSetting] = useState<string | null>(null);
  const { message: toast } = App.useApp();
  const navigate = useNavigate();
  const handIn = useHandIn();
  const loaded = useRef(bench);

  // The wiring that runs is the wiring that is drawn.
  useEffect(() => {
    if (loaded.current === bench) return;
    loaded.current = bench;
    live.load(bench);
  }, [bench, live]);

  // What the server knows of the supply follows what the bench says, however it was switched.
  useEffect(() => {
    let before = live.store.getState().supplyOn;
    return live.store.subscribe(({ supplyOn: now, incidents: list }, { incidents: known }) => {
      const last = list.at(-1);
      if (last && list !== known) setSpoken(sentence(last));
      if (now === before) return;
      before = now;
      store.actions.noteSupply(now);
      setSpoken(now ? 'The supply is on.' : 'The supply is off.');
      if (now) store.actions.patch({ from: null, moving: null, selected: null, message: null });
    });
  }, [live, store]);

  // The page must not be closed over what only this browser has.
  useEffect(() => {
    if (unsaved === 0) return undefined;
    const warn = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [unsaved]);

  const hand = useAct(live);
  const judged = exercise.practice !== null;
  // What is done by hand goes into the log where the way of working is judged; the supply has an entry of its own.
  const act = useMemo(
    () => ({
      ...hand,
      give: (stimulus: Stimulus) => {
        hand.give(stimulus);
        const target = targetOf(stimulus);
        const isSupply = bench.devices.some(({ tag, type }) => tag === target && type.startsWith('supply'));
        if (judged && !isSupply) store.actions.noteAct(stimulus);
      },
    }),
    [hand, judged, store, bench.devices],
  );

  const switchSupply = useCallback(
    (on: boolean) => {
      for (const { tag, type } of bench.devices) {
        if (!type.startsWith('supply')) continue;
        if (on && act.stateOf(tag) === 'tripped') live.act({ reset: tag });
        live.act(on ? { close: tag } : { open: tag });
      }
      if (on) live.clearIncidents();
    },
    [bench.devices, live, act],
  );

  const give = (stimulus: Stimulus): boolean => {
    act.give(stimulus);
    return true;
  };

  const typed = (line: string): boolean => {
    const command = readTyped(store.getState().bench, line);
    const { actions } = store;
    switch (command.kind) {
      case 'connect': {
        const before = store.getState();
        if (command.colour) actions.patch({ colour: command.colour });
        actions.connect(command.from, command.to);
        return store.getState().bench !== before.bench;
      }
      case 'cut':
        actions.cut(command.index);
        return true;
      case 'move':
        actions.moveEnd(command.index, command.end, command.to);
        return true;
      case 'undo':
        actions.undo();
        return true;
      case 'redo':
        actions.redo();
        return true;
      case 'supply':
        switchSupply(command.on);
        return true;
      case 'do':
        return give(command.stimulus);
      case 'wrong':
        actions.patch({ message: { kind: 'wrong', text: command.text } });
        return false;
    }
  };

  const submit = () => {
    switchSupply(false);
    supplyOff(live)
      .then(() => store.actions.flush())
      .then(() => handIn.mutateAsync(view.attempt.id))
      .then(() => navigate(`/slip/${view.attempt.id}`))
      .catch((error: unknown) => toast.error((error as Error).message));
  };

  const shorted = incidents.findLast(({ kind }) => isShort(kind));
  const device = bench.devices.find(({ tag }) => tag === setting);
  const knob = device ? settableOn(device)[0] : undefined;

  return (
    <div className="bench-page">
      <JobSheet
        exercise={exercise}
        store={store}
        busy={handIn.isPending}
        onHandIn={submit}
        attemptNumber={view.attempt.number}
        className={view.className}
      />
      <main className="bench-main">
        <Toolbar store={store} live={live} onTyped={typed} onSupply={switchSupply} />
        <PracticeBar view={view} store={store} live={live} />
        <div className="bench-board">
          <WiringBoard
            store={store}
            live={live}
            act={act}
            marked={shorted?.where ?? []}
            onSetting={setSetting}
            announce={setSpoken}
          />
          <div className="bench-notes">
            {following && (
              <Alert
                type="info"
                showIcon
                title="This board is open in another tab, which works on it. This one follows."
                action={
                  <Button size="small" onClick={leadership.take}>
                    Work here
                  </Button>
                }
              />
            )}
            {signedOut && <SignInAgain person={person} unsent={unsaved} onDone={store.actions.resume} />}
            {stale && (
              <Alert
                type="error"
                showIcon
                title="This board was changed in another window or on another device."
                action={
                  <Button size="small" onClick={() => window.location.reload()}>
                    Open it again
                  </Button>
                }
              />
            )}
            {message && (
              <Alert
                type="warning"
                showIcon
                closable={{ onClose: () => store.actions.patch({ message: null }) }}
                title={message.text}
              />
            )}
            <IncidentBanner incidents={incidents} onClose={live.clearIncidents} />
          </div>
        </div>
        <StripChart bench={bench} live={live} />
        <div className="visually-hidden" role="status" aria-live="polite">
          {spoken}
        </div>
      </main>
      {device && knob && (
        <SettingDialog
          key={device.tag}
          tag={device.tag}
          knob={knob}
          value={Number((device.settings as Record<string, number>)[knob.setting])}
          onClose={() => setSetting(null)}
          onSet={(value) => {
            store.actions.set(device.tag, knob.setting, value);
            setSetting(null);
          }}
        />
      )}
    </div>
  );
}

/** The session is over: what was done is kept in this browser, and sent once its student has signed in again. */
function SignInAgain({ person, unsent, onDone }: { person: Person; unsent: number; onDone: () => void }) {
  const signIn = useSignInAgain();
  const [password, setPassword] = useState('');
  const submit = () => signIn.mutate({ login: person.login, password }, { onSuccess: onDone });
  return (
    <Alert
      type="warning"
      showIcon
      title="You are signed out."
      description={
        <form
          className="sign-in-again"
          onSubmit={(event) => {
            event.preventDefault();
            submit();
          }}
        >
          <p>
            {unsent === 1 ? 'One change is' : `${unsent} changes are`} kept in this browser and will be sent
            when {person.name} signs in again.
          </p>
          <Input.Password
            aria-label={`Password of ${person.login}`}
            value={password}
            autoComplete="current-password"
            onChange={({ target }) => setPassword(target.value)}
          />
          <Button type="primary" htmlType="submit" disabled={password === ''} loading={signIn.isPending}>
            Sign in as {person.login}
          </Button>
          {signIn.isError && <p role="alert">{signIn.error.message}</p>}
        </form>
      }
    />
  );
}

/** Resolves when the bench itself says that its supply is off, which the log must hold before it is closed. */
function supplyOff(live: LiveBench): Promise<void> {
  if (!live.store.getState().supplyOn) return Promise.resolve();
  return new Promise((resolve) => {
    const unsubscribe = live.store.subscribe(({ supplyOn }) => {
      if (supplyOn) return;
      unsubscribe();
      // The page's own subscriber writes the log; it was there before this one.
      resolve();
    });
  });
}

function SettingDialog({
  tag,
  knob,
  value,
  onSet,
  onClose,
}: {
  tag: string;
  knob: { setting: string; unit: string; min: number; max: number };
  value: number;
  onSet: (value: number) => void;
  onClose: () => void;
}) {
  const [next, setNext] = useState<number | null>(value);
  return (
    <Modal
      open
      title={`${tag} ${knob.setting}`}
      okText="Set"
      onOk={() => next !== null && onSet(next)}
      okButtonProps={{ disabled: next === null }}
      onCancel={onClose}
      width={360}
    >
      <InputNumber
        aria-label={`${knob.setting} in ${knob.unit}`}
        value={next}
        min={knob.min}
        max={knob.max}
        step={0.1}
        suffix={knob.unit}
        onChange={setNext}
        autoFocus
        style={{ width: 160 }}
      />
      <p className="quiet">
        From {knob.min} to {knob.max} {knob.unit}.
      </p>
    </Modal>
  );
}
