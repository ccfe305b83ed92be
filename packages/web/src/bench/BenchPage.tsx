import { useCallback, useEffect, useRef, useState } from 'react';
import { Alert, App, Button, InputNumber, Modal, Result, Spin } from 'antd';
import { useNavigate, useParams } from 'react-router';
import { useStore } from 'zustand';
import { settableOn, type Stimulus } from '@contactum/core';
import type { AttemptView } from '@contactum/contract';
import { useAttempt, useHandIn } from '../api/queries.js';
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
export function BenchPage() {
  const { id = '' } = useParams();
  const attempt = useAttempt(id);
  const navigate = useNavigate();
  const handedIn = attempt.data && attempt.data.attempt.state !== 'open';
  useEffect(() => {
    if (handedIn) void navigate(`/slip/${id}`, { replace: true });
  }, [handedIn, id, navigate]);
  if (attempt.isError) return <Result status="warning" title={attempt.error.message} extra={<Button onClick={() => void navigate('/exercises')}>Back to the exercises</Button>} />;
  if (!attempt.data || handedIn) return <Spin className="waiting" aria-label="Opening the board" />;
  return <OpenBench key={id} view={attempt.data} />;
}

function OpenBench({ view }: { view: AttemptView }) {
  const [kit, setKit] = useState<{ live: LiveBench; store: BenchStore } | null>(null);
  const first = useRef(view);
  useEffect(() => {
    const live = startLiveBench();
    const store = createBenchStore(first.current, () => live.store.getState().supplyOn);
    live.load(store.getState().bench, { fresh: true });
    // A board left with its supply on is opened with it off; the log must say so.
    const lastSupply = first.current.log.findLast((entry) => entry.kind === 'supply');
    if (lastSupply?.kind === 'supply' && lastSupply.on) store.actions.noteSupply(false);
    setKit({ live, store });
    return () => {
      live.close();
      store.actions.close();
    };
  }, []);
  return kit ? <Workplace view={view} {...kit} /> : <Spin className="waiting" />;
}

function Workplace({ view, live, store }: { view: AttemptView; live: LiveBench; store: BenchStore }) {
  const { exercise } = view;
  const bench = useStore(store, (state) => state.bench);
  const message = useStore(store, (state) => state.message);
  const stale = useStore(store, (state) => state.stale);
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
      for (const { kind } of list.slice(known.length)) store.actions.noteIncident(kind);
      if (now === before) return;
      before = now;
      store.actions.noteSupply(now);
      setSpoken(now ? 'The supply is on.' : 'The supply is off.');
      if (now) store.actions.patch({ from: null, moving: null, selected: null, message: null });
    });
  }, [live, store]);

  const act = useAct(live);

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
    live.act(stimulus);
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
      <JobSheet exercise={exercise} store={store} busy={handIn.isPending} onHandIn={submit} attemptNumber={view.attempt.number} className={view.className} />
      <main className="bench-main">
        <Toolbar store={store} live={live} onTyped={typed} onSupply={switchSupply} />
        <PracticeBar view={view} store={store} live={live} />
        <div className="bench-board">
          <WiringBoard store={store} live={live} act={act} marked={shorted?.where ?? []} onSetting={setSetting} announce={setSpoken} />
          <div className="bench-notes">
            {stale && (
              <Alert
                type="error"
                showIcon
                title="This board was changed in another window."
                action={
                  <Button size="small" onClick={() => window.location.reload()}>
                    Open it again
                  </Button>
                }
              />
            )}
            {message && <Alert type="warning" showIcon closable={{ onClose: () => store.actions.patch({ message: null }) }} title={message.text} />}
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
    <Modal open title={`${tag} ${knob.setting}`} okText="Set" onOk={() => next !== null && onSet(next)} okButtonProps={{ disabled: next === null }} onCancel={onClose} width={360}>
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
