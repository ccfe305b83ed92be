import { isShort } from '@contactum/core';
import { lazy, Suspense, useState } from 'react';

import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import type { AttemptView, Person } from '@contactum/contract';
import type { Act } from '../board/Handle.js';
import { createLinkStore, type LinkStore } from '../board/link.js';
import { BenchNotes } from './BenchNotes.js';
import { FirstSteps } from './FirstSteps.js';
import { FloorNotes } from './FloorNotes.js';
import { useFloor, type FloorAtBench } from './use-floor.js';
import { JobSheet } from './JobSheet.js';
import type { Leadership } from './leadership.js';
import { Toolbar } from './Toolbar.js';
import {
  doTyped,
  supplyOff,
  useLoggedAct,
  useRunningWiring,
  useSupplyNotes,
  useSupplySwitch,
  useUnsavedWarning,
  type Kit,
  type RecordedKit,
} from './use-workplace.js';
import { Stage } from './views/Stage.js';
import { ViewBar, ViewDock, type Dock } from './views/ViewDock.js';
import { useHandingIn } from './use-handing-in.js';
import { usePhysical } from './use-physical.js';
import { useLiveProof } from './use-proof.js';
import { useProving } from './use-proving.js';
import { WhyStrip } from './WhyStrip.js';
import { WiringBoard } from './WiringBoard.js';

const StripChart = lazy(() => import('./StripChart.js').then((m) => ({ default: m.StripChart })));
const SettingDialog = lazy(() => import('./SettingDialog.js').then((m) => ({ default: m.SettingDialog })));

/** What keeps page, running bench and log together, and what the page's tools do. */
function useWork(kit: Kit, view: AttemptView, isLeading: boolean) {
  const { exercise } = view;
  // What is spoken renders nothing else anew.
  const [speech] = useState(createSpeech);
  const { say } = speech;
  useRunningWiring(kit);
  useSupplyNotes(kit, say);
  useUnsavedWarning(kit);
  const logged = useLoggedAct(kit, exercise.practice !== null);
  const { shown, act, isTold } = useProving(kit, exercise, logged);
  const switchSupply = useSupplySwitch(kit, act);
  // Switched off, and that is stored too.
  const handIn = useHandingIn(view, async () => {
    switchSupply(false);
    await supplyOff(kit.live);
    await kit.store.actions.flush();
  });
  const onTyped = (line: string): boolean => doTyped(line, kit, act, switchSupply);
  const floor = useFloor(view.attempt.id, kit, { act, switchSupply, isLeading });
  return { speech, act, switchSupply, handIn, onTyped, shown, isTold, floor };
}

/** A board that a student works at: job sheet, tools, board, chart. */
export function Workplace({
  view,
  leadership,
  person,
  kit,
}: {
  view: AttemptView;
  leadership: Leadership;
  person: Person;
  kit: RecordedKit;
}) {
  const { live, store } = kit;
  const { exercise } = view;
  const devices = useStore(store, (state) => state.bench.devices);
  const proof = useLiveProof(kit, exercise);
  const physical = usePhysical(kit, view, leadership.role === 'leading');
  const [link] = useState(createLinkStore);
  const [dock, setDock] = useState<Dock>({ open: null, alone: false });
  const [chart, setChart] = useState(false);
  const isLeading = leadership.role === 'leading';
  const { speech, act, switchSupply, handIn, onTyped, shown, isTold, floor } = useWork(kit, view, isLeading);
  return (
    <div className="bench-page">
      <JobSheet {...{ view, kit, shown, isTold, link }} busy={handIn.busy} onHandIn={handIn.submit} />
      <main className="bench-main">
        <Toolbar store={store} live={live} onTyped={onTyped} onSupply={switchSupply} />
        <ViewBar
          {...{ view, dock, chart, live }}
          hasBoards={physical !== null}
          messages={floor.messages}
          onDock={setDock}
          onChart={setChart}
        />
        <FirstSteps kit={kit} person={person} />
        <Stage
          dock={dock}
          view={<ViewDock dock={dock} onDock={setDock} {...{ kit, view, link, proof, act, physical }} />}
          board={
            <div className="bench-board" hidden={dock.alone && dock.open !== null}>
              <BoardSide
                {...{ kit, act, person, leadership, link, floor, announce: speech.say }}
                short={proof?.soFar?.short ?? null}
                hung={exercise.leads === 'hung'}
              />
            </div>
          }
        />
        {mayExplain(view) && <WhyStrip live={live} link={link} devices={devices} />}
        {chart && (
          <Suspense>
            <StripChart devices={devices} live={live} recorder={kit.recorder} />
          </Suspense>
        )}
        <Spoken speech={speech} />
      </main>
    </div>
  );
}

/** In an assessment a device is explained only where that is an aid of it. */
const mayExplain = ({ mode, sitting }: AttemptView): boolean =>
  mode !== 'assessment' || (sitting?.aids.includes('explain') ?? false);

/** The board with what is said over it, and what a device of it is set to. */
function BoardSide({
  kit: { live, store },
  act,
  person,
  leadership,
  link,
  floor,
  announce,
  short,
  hung,
}: {
  kit: Kit;
  act: Act;
  person: Person;
  leadership: Leadership;
  link: LinkStore;
  floor: FloorAtBench;
  announce: (text: string) => void;
  /** What would meet as the supply comes on; null where nothing would. */
  short: string | null;
  hung: boolean;
}) {
  const devices = useStore(store, (state) => state.bench.devices);
  const incidents = useStore(live.store, (state) => state.incidents);
  const [setting, setSetting] = useState<string | null>(null);
  const shorted = incidents.findLast(({ kind }) => isShort(kind));
  const device = devices.find(({ tag }) => tag === setting);
  return (
    <>
      <WiringBoard
        {...{ store, live, act, announce, link, hung }}
        marked={shorted?.where ?? NOWHERE}
        onSetting={setSetting}
      />
      <BenchNotes {...{ store, live, leadership, person, short }} />
      <FloorNotes floor={floor} />
      {device && (
        <Suspense>
          <SettingDialog {...{ device, store }} key={device.tag} onClose={() => setSetting(null)} />
        </Suspense>
      )}
    </>
  );
}

const NOWHERE: readonly string[] = [];

/** What is said to those who do not see it. */
function createSpeech() {
  const store = createStore(() => ({ text: '' }));
  return { store, say: (text: string): void => store.setState({ text }) };
}

function Spoken({ speech }: { speech: ReturnType<typeof createSpeech> }) {
  const text = useStore(speech.store, (state) => state.text);
  return (
    <div className="visually-hidden" role="status" aria-live="polite">
      {text}
    </div>
  );
}
