import type { ViewProps } from './view-props.js';
import { Activity, lazy, Suspense, useState } from 'react';
import { Button, Spin, Tooltip } from 'antd';
import { CloseOutlined, ColumnWidthOutlined, FullscreenOutlined } from '@ant-design/icons';
import { isController, isMotor } from '@contactum/core';
import type { AttemptView } from '@contactum/contract';
import type { LiveBench } from '../live.js';
import { useSound } from '../sound.js';
import type { MessagesHand } from '../use-floor.js';
import './views.css';

const DrawingPane = lazy(() => import('./DrawingPane.js').then((m) => ({ default: m.DrawingPane })));
const ReferencePane = lazy(() => import('./ReferencePane.js').then((m) => ({ default: m.ReferencePane })));
const WalkPane = lazy(() => import('./WalkPane.js').then((m) => ({ default: m.WalkPane })));
const MachinePane = lazy(() => import('./MachinePane.js').then((m) => ({ default: m.MachinePane })));
const PredictPane = lazy(() => import('./PredictPane.js').then((m) => ({ default: m.PredictPane })));
const ProofPane = lazy(() => import('./ProofPane.js').then((m) => ({ default: m.ProofPane })));
const MeterPane = lazy(() => import('./MeterPane.js').then((m) => ({ default: m.MeterPane })));

const PhysicalPane = lazy(() => import('./PhysicalPane.js').then((m) => ({ default: m.PhysicalPane })));
const ProgramPane = lazy(() => import('./ProgramPane.js').then((m) => ({ default: m.ProgramPane })));

export type ViewName =
  'program' | 'drawing' | 'reference' | 'walk' | 'machine' | 'predict' | 'proof' | 'meter' | 'physical';

const VIEWS: Readonly<
  Record<ViewName, { readonly title: string; readonly Pane: (props: ViewProps) => React.ReactNode }>
> = {
  program: { title: 'Program', Pane: (props) => <ProgramPane {...props} /> },
  drawing: { title: 'Drawing', Pane: (props) => <DrawingPane {...props} /> },
  reference: { title: 'Reference', Pane: (props) => <ReferencePane {...props} /> },
  walk: { title: 'Walk-through', Pane: (props) => <WalkPane {...props} /> },
  machine: { title: 'Machine', Pane: (props) => <MachinePane {...props} /> },
  predict: { title: 'Predict', Pane: (props) => <PredictPane {...props} /> },
  proof: { title: 'Proof', Pane: (props) => <ProofPane {...props} /> },
  meter: { title: 'Meter', Pane: (props) => <MeterPane {...props} /> },
  physical: { title: 'Trainer board', Pane: (props) => <PhysicalPane {...props} /> },
};

/** Which view stands beside the board, or in its place. */
export interface Dock {
  readonly open: ViewName | null;
  readonly alone: boolean;
}

/** What may be opened on a board: no machine without a motor, no reference that is not to be seen. */
const namesFor = ({ exercise, mode, sitting }: AttemptView, hasBoards: boolean): ViewName[] =>
  (Object.keys(VIEWS) as ViewName[]).filter(
    (name) =>
      (sitting === null || (name !== 'drawing' && name !== 'meter') || sitting.aids.includes(name)) &&
      (name !== 'physical' || hasBoards) &&
      (name !== 'reference' || exercise.drawn) &&
      (name !== 'proof' || exercise.tellsProof) &&
      (name !== 'predict' || mode !== 'assessment') &&
      (name !== 'walk' || exercise.behaviours.some(({ steps }) => steps !== undefined)) &&
      (name !== 'machine' || exercise.bench.devices.some(isMotor)) &&
      (name !== 'program' || exercise.bench.devices.some(isController)),
  );

/** Buttons that open a view beside the board. */
export function ViewBar({
  view,
  dock,
  onDock,
  chart,
  onChart,
  live,
  messages,
  hasBoards,
}: {
  view: AttemptView;
  /** There are trainer boards that are read by a scanner. */
  hasBoards: boolean;
  dock: Dock;
  onDock: (dock: Dock) => void;
  chart: boolean;
  onChart: (open: boolean) => void;
  live: LiveBench;
  messages: MessagesHand;
}) {
  const sound = useSound(live);
  return (
    <div className="view-bar" role="toolbar" aria-label="Views of the circuit">
      {namesFor(view, hasBoards).map((name) => (
        <button
          key={name}
          type="button"
          aria-pressed={dock.open === name}
          onClick={() => onDock(dock.open === name ? { open: null, alone: false } : { ...dock, open: name })}
        >
          {VIEWS[name].title}
        </button>
      ))}
      <button type="button" aria-pressed={chart} onClick={() => onChart(!chart)}>
        Sequence
      </button>
      <button
        type="button"
        className="view-end"
        aria-pressed={messages.isOpen}
        onClick={() => messages.open(!messages.isOpen)}
      >
        Messages
      </button>
      <button type="button" aria-pressed={sound.isOn} onClick={sound.toggle}>
        Sound
      </button>
    </div>
  );
}

/** The view that is open, beside the board or alone. Whoever was opened stays, out of sight and at rest. */
export function ViewDock({ dock, onDock, ...props }: ViewProps & DockHand) {
  const [opened, setOpened] = useState<readonly ViewName[]>([]);
  if (dock.open !== null && !opened.includes(dock.open)) setOpened([...opened, dock.open]);
  return opened.map((name) => (
    <Activity key={name} mode={name === dock.open ? 'visible' : 'hidden'}>
      <View name={name} dock={dock} onDock={onDock} {...props} />
    </Activity>
  ));
}

interface DockHand {
  readonly dock: Dock;
  readonly onDock: (dock: Dock) => void;
}

function View({ name, dock, onDock, ...props }: ViewProps & DockHand & { name: ViewName }) {
  const { title, Pane } = VIEWS[name];
  return (
    <section className="view-dock" aria-label={title}>
      <header>
        <h2>{title}</h2>
        <Tooltip title={dock.alone ? 'Beside the board' : 'Alone'}>
          <Button
            type="text"
            size="small"
            aria-label={dock.alone ? 'Beside the board' : 'Alone'}
            icon={dock.alone ? <ColumnWidthOutlined /> : <FullscreenOutlined />}
            onClick={() => onDock({ ...dock, alone: !dock.alone })}
          />
        </Tooltip>
        <Button
          type="text"
          size="small"
          aria-label={`Close ${title}`}
          icon={<CloseOutlined />}
          onClick={() => onDock({ open: null, alone: false })}
        />
      </header>
      <div className="view-body">
        <Suspense fallback={<Spin className="waiting" />}>
          <Pane {...props} />
        </Suspense>
      </div>
    </section>
  );
}
