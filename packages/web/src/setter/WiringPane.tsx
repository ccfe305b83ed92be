import { lazy, Suspense, useEffect, useState } from 'react';
import { Button, Spin } from 'antd';
import { useStore } from 'zustand';
import {
  isController,
  laidLead,
  plural,
  programOf,
  referenceBench,
  spellWire,
  terminalsOf,
  wireOf,
  withProgram,
  withProgramOf,
  writesProgram,
  type Exercise,
} from '@contactum/core';
import type { AttemptView } from '@contactum/contract';
import { createLinkStore } from '../board/link.js';
import { startLiveBench } from '../bench/live.js';
import { IncidentBanner } from '../bench/IncidentBanner.js';
import { LeadList } from '../bench/LeadList.js';
import { createBenchStore } from '../bench/store.js';
import { Toolbar } from '../bench/Toolbar.js';
import { useAct } from '../bench/use-act.js';
import { doTyped, useRunningWiring, useSupplySwitch, type Kit } from '../bench/use-workplace.js';
import { WiringBoard } from '../bench/WiringBoard.js';
import '../bench/bench-page.css';
import '../bench/job-sheet.css';
import { ImportList } from './ImportList.js';
import type { SetterStore } from './store.js';

const ProgramOnBoard = lazy(() =>
  import('../programs/ProgramOnBoard.js').then((m) => ({ default: m.ProgramOnBoard })),
);

/** The reference as leads that are laid on the exercise's board, as an attempt would have them. */
function viewOf(exercise: Exercise): AttemptView {
  const { bench, reference, leads, rules } = exercise;
  return {
    attempt: { id: 'setter', number: 1, state: 'open', startedAt: '', handedInAt: null, result: null },
    className: '',
    closesAt: null,
    mode: 'practice',
    exercise: {
      bench: { ...bench, devices: referenceBench(exercise).devices },
      rules,
      leads: leads ?? 'ducts',
    } as AttemptView['exercise'],
    log: reference.map((wire, k) => ({
      seq: k + 1,
      at: '',
      entry: { kind: 'edit', edit: { do: 'connect', lead: laidLead(k + 1), wire } },
    })),
    permittedAt: null,
    sitting: null,
    permittedAfter: -1,
  };
}

/** Devices as they were worked on the board; a program that is to be written stays where it is kept. */
const devicesOf = (exercise: Exercise, worked: Exercise['bench']['devices']): Exercise['bench']['devices'] =>
  writesProgram(exercise)
    ? worked.map((device) =>
        isController(device)
          ? withProgram(device, programOf(exercise.bench.devices.find(({ tag }) => tag === device.tag)))
          : device,
      )
    : worked;

/**
 * A running bench with the reference on it; begun anew when the exercise is changed otherwise than by
 * wiring on it.
 */
function useReferenceKit(setter: SetterStore): Kit | null {
  const [kit, setKit] = useState<Kit | null>(null);
  useEffect(() => {
    let end: () => void = () => undefined;
    /** The exercise as this bench has made it last. */
    let own: Exercise | null = null;
    const begin = () => {
      end();
      own = setter.getState().exercise;
      const live = startLiveBench();
      const store = createBenchStore(viewOf(own), () => live.store.getState().supplyOn, { unsent: true });
      live.load(store.getState().bench, { fresh: true });
      const unsubscribe = store.subscribe(({ bench }, before) => {
        if (bench === before.bench) return;
        const reference = bench.wires.filter((lead) => !lead.fitted).map(wireOf);
        const { exercise } = setter.getState();
        own = {
          ...exercise,
          reference,
          bench: { ...exercise.bench, devices: devicesOf(exercise, bench.devices) },
        };
        setter.actions.change(own);
      });
      end = () => {
        unsubscribe();
        live.close();
        store.actions.close();
      };
      setKit({ live, store });
    };
    begin();
    const unsubscribe = setter.subscribe(({ exercise }) => {
      const isOwn =
        own !== null &&
        (exercise === own ||
          (exercise.bench.devices === own.bench.devices &&
            exercise.bench.wires === own.bench.wires &&
            exercise.program === own.program &&
            exercise.reference === own.reference));
      if (!isOwn) begin();
    });
    return () => {
      unsubscribe();
      end();
    };
  }, [setter]);
  return kit;
}

/** The reference wired on the same bench on which students wire, and worked there. */
export function WiringPane({ setter }: { setter: SetterStore }) {
  const kit = useReferenceKit(setter);
  if (!kit) return null;
  return <OpenWiring kit={kit} setter={setter} />;
}

function OpenWiring({ kit, setter }: { kit: Kit; setter: SetterStore }) {
  const { live, store } = kit;
  const hung = useStore(setter, ({ exercise }) => exercise.leads === 'hung');
  const incidents = useStore(live.store, (state) => state.incidents);
  const message = useStore(store, (state) => state.message);
  const leads = useStore(store, (state) => state.bench.wires.length);
  const [link] = useState(createLinkStore);
  const [isProgramShown, setIsProgramShown] = useState(false);
  const hasController = useStore(store, ({ bench }) => bench.devices.some(isController));
  useRunningWiring(kit);
  const act = useAct(live);
  const switchSupply = useSupplySwitch(kit, act);
  return (
    <div className="wiring-pane" data-program={isProgramShown || undefined}>
      <aside className="wiring-side" aria-label="Leads of the reference">
        <h2>Reference, {plural(leads, 'lead')}</h2>
        <LeadTools setter={setter} />
        {hasController && (
          <Button
            size="small"
            aria-pressed={isProgramShown}
            onClick={() => setIsProgramShown(!isProgramShown)}
          >
            {isProgramShown ? 'Hide program' : 'Show program'}
          </Button>
        )}
        <LeadList store={store} />
      </aside>
      <div className="wiring-main">
        <Toolbar
          store={store}
          live={live}
          onTyped={(line) => doTyped(line, kit, act, switchSupply)}
          onSupply={switchSupply}
        />
        {message && (
          <p className="setter-message" role="status">
            {message.text}
          </p>
        )}
        <IncidentBanner incidents={incidents} onClose={live.clearIncidents} />
        <div className="bench-board">
          <WiringBoard
            store={store}
            live={live}
            act={act}
            marked={NONE}
            onSetting={() => undefined}
            announce={() => undefined}
            link={link}
            hung={hung}
          />
        </div>
      </div>
      {isProgramShown && <ReferenceProgram kit={kit} setter={setter} />}
    </div>
  );
}

/** Where the leads come from, and which of them an attempt begins with; fitted ones are nobody's choice. */
function LeadTools({ setter }: { setter: SetterStore }) {
  const isFitted = useStore(setter, ({ exercise }) => exercise.task === 'program');
  if (isFitted) return <p className="quiet">The leads are fitted: the student writes the program.</p>;
  return (
    <>
      <WireListImport setter={setter} />
      <Beginning setter={setter} />
    </>
  );
}

/** The right program beside the board; changed while the supply is off, its values held by hand while it is on. */
function ReferenceProgram({ kit: { live, store }, setter }: { kit: Kit; setter: SetterStore }) {
  const bench = useStore(store, (state) => state.bench);
  const supplyOn = useStore(live.store, (state) => state.supplyOn);
  return (
    <aside className="wiring-program" aria-label="Program">
      <Suspense fallback={<Spin />}>
        <ProgramOnBoard
          bench={bench}
          live={live}
          mayForce
          note={supplyOn ? 'Switch the supply off to change the program.' : undefined}
          onChange={
            supplyOn ? undefined : (tag, _, to) => setter.actions.change((one) => withProgramOf(one, tag, to))
          }
        />
      </Suspense>
    </aside>
  );
}

/**
 * What is on the board when an attempt begins: nothing but what is fitted, or leads that the student may
 * change.
 */
function Beginning({ setter }: { setter: SetterStore }) {
  const laid = useStore(setter, ({ exercise }) => exercise.laid?.length ?? 0);
  const put = (take: (one: Exercise) => Exercise['laid']) =>
    setter.actions.change((one) => ({ ...one, laid: take(one) }));
  return (
    <div className="beginning" role="group" aria-label="Leads on the board at the beginning">
      <p>
        {laid === 0
          ? 'An attempt begins with a bare board.'
          : `An attempt begins with ${plural(laid, 'lead')} on the board, to be added to and changed.`}
      </p>
      <Button size="small" onClick={() => put(({ reference }) => reference)}>
        Start with these leads
      </Button>
      {laid > 0 && (
        <Button size="small" type="text" onClick={() => put(() => undefined)}>
          Start with a bare board
        </Button>
      )}
    </div>
  );
}

/** The reference from a wire list; leads that are laid already are replaced. */
function WireListImport({ setter }: { setter: SetterStore }) {
  const read = async (text: string) => {
    const { readWireList } = await import('@contactum/core/exchange');
    return readWireList(text, terminalsOf(setter.getState().exercise.bench));
  };
  return (
    <ImportList
      label="Import wire list"
      hint="A first line with From and To, then a line a lead; Colour, Area, Number and Length may stand beside. It takes the place of the reference."
      read={read}
      words={spellWire}
      onTake={(reference) => setter.actions.change((one) => ({ ...one, reference }))}
    />
  );
}

const NONE: readonly string[] = [];
