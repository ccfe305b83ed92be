import { useEffect, useLayoutEffect, useMemo, useRef, type ReactNode } from 'react';
import { anatomy, type Bench } from '@contactum/core';
import type { LiveBench } from '../bench/live.js';
import { leadColour } from './colours.js';
import { DeviceView } from './DeviceView.js';
import { leadPath, planBoard, type BoardPlan } from './geometry.js';
import type { Act } from './Handle.js';
import { Painter } from './painter.js';
import './board.css';

export interface BoardProps {
  readonly bench: Bench;
  readonly plan?: BoardPlan;
  readonly live?: LiveBench | undefined;
  readonly act?: Act | undefined;
  /** Terminals to point at: what met in a short, where a rule is broken. */
  readonly marked?: readonly string[];
  readonly selected?: number | null;
  /** By lead: taken away or put in by a repair. */
  readonly edits?: ReadonlyMap<number, 'gone' | 'new'>;
  readonly label: string;
  /** Told the drawing's element when it is there. */
  readonly onSvg?: (element: SVGSVGElement | null) => void;
  readonly onSetting?: ((tag: string) => void) | undefined;
  /** Drawn above the leads and reached by the pointer: ends of a chosen lead, the keyboard's cursor. */
  readonly overlay?: ReactNode;
  /** A sheet of its own above the board: what moves with the pointer is painted there and nothing else with it. */
  readonly sheet?: ReactNode;
  readonly handlers?: React.SVGProps<SVGSVGElement>;
  readonly className?: string;
}

/** The trainer board as a drawing: plates, terminals, leads. It shows a bench; what can be done with it is its parent's. */
export function Board({
  bench,
  plan: given,
  live,
  act,
  marked = [],
  selected = null,
  edits,
  label,
  onSvg,
  onSetting,
  overlay,
  sheet,
  handlers,
  className,
}: BoardProps) {
  const own = useMemo(() => given ?? planBoard(bench), [given, bench]);
  const root = useRef<SVGSVGElement | null>(null);
  const painter = usePainter(root, live, bench);
  const attach = (element: SVGSVGElement | null) => {
    root.current = element;
    onSvg?.(element);
  };
  // Leads drawn just now do not know yet whether they are live.
  useLayoutEffect(() => {
    const frame = live?.store.getState().frame;
    if (frame) painter.current?.paintLeads(frame);
  }, [bench.wires, live, painter]);

  const viewBox = `0 0 ${own.width} ${own.height}`;
  const drawing = (
    <svg
      ref={attach}
      className={`board ${className ?? ''}`}
      viewBox={viewBox}
      role={handlers ? 'application' : act ? 'group' : 'img'}
      aria-label={label}
      {...handlers}
    >
      <rect className="panel" x={0} y={0} width={own.width} height={own.height} rx={6} />
      {own.devices.map((place) => (
        <DeviceView key={place.device.tag} place={place} act={act} onSetting={onSetting} />
      ))}
      <Leads bench={bench} plan={own} selected={selected} edits={edits} />
      <g>
        {[...own.terminal.values()].map((terminal) => (
          <g
            key={terminal.ref}
            className="terminal"
            data-terminal={terminal.ref}
            data-marked={marked.includes(terminal.ref) ? 'yes' : undefined}
          >
            <circle className="screw" cx={terminal.x} cy={terminal.y} r={7} />
            <line className="slit" x1={terminal.x - 4} y1={terminal.y} x2={terminal.x + 4} y2={terminal.y} />
            <text
              className="terminal-name"
              x={terminal.x + 9.5}
              y={terminal.y + (terminal.side === 'top' ? 9 : -1)}
            >
              {terminal.name}
            </text>
          </g>
        ))}
      </g>
      {overlay}
    </svg>
  );
  if (sheet === undefined) return drawing;
  return (
    <div className="board-stack">
      {drawing}
      <svg className="board board-sheet" viewBox={viewBox} aria-hidden="true">
        {sheet}
      </svg>
    </div>
  );
}

function Leads({
  bench,
  plan,
  selected,
  edits,
}: {
  bench: Bench;
  plan: BoardPlan;
  selected: number | null;
  edits: ReadonlyMap<number, 'gone' | 'new'> | undefined;
}) {
  return (
    <g className="leads">
      {bench.wires.map((wire, k) => {
        const from = plan.terminal.get(wire.from);
        const to = plan.terminal.get(wire.to);
        if (!from || !to) return null;
        const d = leadPath(from, to, k);
        const colour = leadColour(wire.colour);
        return (
          <g
            key={k}
            className="lead"
            data-lead={k}
            data-lead-from={wire.from}
            data-selected={selected === k ? 'yes' : undefined}
            data-edit={edits?.get(k)}
          >
            <path className="lead-glow" d={d} />
            <path className="lead-edge" d={d} />
            <path className="lead-core" d={d} stroke={colour.paint} />
            {colour.stripe && <path className="lead-stripe" d={d} stroke={colour.stripe} />}
            <path className="lead-hit" d={d}>
              <title>{`${wire.from} to ${wire.to}, ${colour.name}${wire.area ? `, ${wire.area} mm²` : ''}`}</title>
            </path>
          </g>
        );
      })}
    </g>
  );
}

/** Subscribes to the running bench without rendering. */
function usePainter(root: { current: SVGSVGElement | null }, live: LiveBench | undefined, bench: Bench) {
  const painter = useRef<Painter | null>(null);
  const { devices } = bench;
  useEffect(() => {
    if (!live) return undefined;
    const positions = (tag: string): readonly string[] => {
      const device = devices.find((d) => d.tag === tag);
      const mechanism = device ? anatomy(device).mechanism : undefined;
      return mechanism?.kind === 'selector' ? mechanism.positions : [];
    };
    let shape = live.store.getState().shape;
    const make = () => {
      painter.current = root.current && shape ? new Painter(root.current, shape, positions) : null;
    };
    make();
    const paint = () => {
      const state = live.store.getState();
      if (state.shape !== shape) {
        shape = state.shape;
        make();
      }
      if (state.frame) painter.current?.paint(state.frame);
    };
    paint();
    return live.store.subscribe(paint);
  }, [live, devices, root]);
  return painter;
}
