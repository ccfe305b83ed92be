import { useEffect, useLayoutEffect, useMemo, useRef, type ReactNode } from 'react';
import { anatomy, type Bench, type Lead, type LeadId, type Wire } from '@contactum/core';
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
  readonly selected?: LeadId | null;
  /** By the lead's place in the bench: taken away or put in by a repair. */
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
  const role = handlers ? 'application' : act ? 'group' : 'img';
  const drawing = (
    <svg
      ref={attach}
      className={`board ${className ?? ''}`}
      viewBox={viewBox}
      role={role}
      aria-label={label}
      {...handlers}
    >
      <rect className="panel" x={0} y={0} width={own.width} height={own.height} rx={6} />
      {own.devices.map((place) => (
        <DeviceView key={place.device.tag} place={place} act={act} onSetting={onSetting} />
      ))}
      <Leads bench={bench} plan={own} selected={selected} edits={edits} />
      <Terminals plan={own} marked={marked} />
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

/** Screws and names, above the leads. */
function Terminals({ plan, marked }: { plan: BoardPlan; marked: readonly string[] }) {
  return (
    <g>
      {[...plan.terminal.values()].map(({ ref, name, side, x, y }) => (
        <g
          key={ref}
          className="terminal"
          data-terminal={ref}
          data-marked={marked.includes(ref) ? 'yes' : undefined}
        >
          <circle className="screw" cx={x} cy={y} r={7} />
          <line className="slit" x1={x - 4} y1={y} x2={x + 4} y2={y} />
          <text className="terminal-name" x={x + 9.5} y={y + (side === 'top' ? 9 : -1)}>
            {name}
          </text>
        </g>
      ))}
    </g>
  );
}

/** A lead of a board that is worked at has a name; a wire of a bench has its place. */
const leadKey = (wire: Wire | Lead, k: number): string => ('id' in wire ? wire.id : String(k));

function Leads({
  bench,
  plan,
  selected,
  edits,
}: {
  bench: Bench;
  plan: BoardPlan;
  selected: LeadId | null;
  edits: ReadonlyMap<number, 'gone' | 'new'> | undefined;
}) {
  return (
    <g className="leads">
      {bench.wires.map((wire, k) => {
        const from = plan.terminal.get(wire.from);
        const to = plan.terminal.get(wire.to);
        if (!from || !to) return null;
        const key = leadKey(wire, k);
        return (
          <g
            key={key}
            className="lead"
            data-lead={key}
            data-lead-from={wire.from}
            data-selected={selected === key ? 'yes' : undefined}
            data-edit={edits?.get(k)}
          >
            <LeadShape wire={wire} d={leadPath(from, to, k)} />
          </g>
        );
      })}
    </g>
  );
}

function LeadShape({ wire, d }: { wire: Wire; d: string }) {
  const colour = leadColour(wire.colour);
  return (
    <>
      <path className="lead-glow" d={d} />
      <path className="lead-edge" d={d} />
      <path className="lead-core" d={d} stroke={colour.paint} />
      {colour.stripe && <path className="lead-stripe" d={d} stroke={colour.stripe} />}
      <path className="lead-hit" d={d}>
        <title>{`${wire.from} to ${wire.to}, ${colour.name}${wire.area ? `, ${wire.area} mm²` : ''}`}</title>
      </path>
    </>
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
