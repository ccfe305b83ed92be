import { useEffect, useLayoutEffect, useRef, type ReactNode } from 'react';
import { positionsOn, type Bench, type Layout, type LeadId } from '@contactum/core';
import type { LiveBench } from '../bench/live.js';
import { DeviceView } from './DeviceView.js';
import { Ground } from './Ground.js';
import type { Act } from './Handle.js';
import { Interlocks } from './Interlocks.js';
import { Leads, type LeadEdit } from './Leads.js';
import { Lifted } from './Lifted.js';
import { usePointing, type LinkStore } from './link.js';
import { Painter } from './painter.js';
import { Clamps, Terminals } from './Terminals.js';
import { useLayout } from './use-layout.js';
import { useZoom, ZoomTools } from './zoom.js';
import './board.css';
import './devices.css';

export interface BoardProps {
  readonly bench: Bench;
  readonly layout?: Layout;
  readonly live?: LiveBench | undefined;
  readonly act?: Act | undefined;
  /** Terminals to point at: what met in a short, where a rule is broken. */
  readonly marked?: readonly string[];
  readonly selected?: LeadId | null;
  /** By the lead's place in the bench: taken away or put in by a repair, or the same on two boards. */
  readonly edits?: ReadonlyMap<number, LeadEdit>;
  readonly label: string;
  /** Told the drawing's element when it is there. */
  readonly onSvg?: (element: SVGSVGElement | null) => void;
  readonly onSetting?: ((tag: string) => void) | undefined;
  /** Drawn above the leads and reached by the pointer: ends of a chosen lead, the keyboard's cursor. */
  readonly overlay?: ReactNode;
  /**
   * A sheet of its own above the board: what moves with the pointer is painted there and nothing else with
   * it.
   */
  readonly sheet?: ReactNode;
  readonly handlers?: React.SVGProps<SVGSVGElement>;
  readonly className?: string;
  /** Leads are of a bench with plugs: loosely hung. */
  readonly hung?: boolean;
  /** What is pointed at or chosen in any view. */
  readonly link?: LinkStore | undefined;
  /** A hand is at work: what it passes is not lifted. */
  readonly busy?: boolean;
  /** Can be enlarged and moved. */
  readonly zoomable?: boolean;
}

const NONE: readonly string[] = [];

/**
 * The trainer board: devices on their rails, terminals, leads. It shows a bench; what can be done with it
 * is its parent's.
 */
export function Board(props: BoardProps) {
  const { bench, live, act, marked = NONE, selected = null, edits, label, onSetting, overlay, sheet } = props;
  const { handlers, className, hung = false, link, busy = false, zoomable = false } = props;
  const own = useLayout(bench);
  const layout = props.layout ?? own;
  const { plan } = layout;
  const root = useRef<SVGSVGElement | null>(null);
  const stack = useRef<HTMLDivElement | null>(null);
  const painter = usePainter(root, live, bench);
  usePointing(root, link);
  const zoom = useZoom(stack, plan, zoomable);
  const attach = (element: SVGSVGElement | null) => {
    root.current = element;
    props.onSvg?.(element);
  };
  // Leads drawn just now do not know yet whether they are live.
  useLayoutEffect(() => {
    const frame = live?.store.getState().frame;
    if (frame) painter.current?.paintLeads(frame);
  }, [bench.wires, live, painter]);

  const { window } = zoom;
  const viewBox = zoomable
    ? `${window.x} ${window.y} ${window.width} ${window.height}`
    : `0 0 ${plan.width} ${plan.height}`;
  const role = handlers ? 'application' : act ? 'group' : 'img';
  const drawing = (
    <svg ref={attach} className="board" viewBox={viewBox} role={role} aria-label={label} {...handlers}>
      <Ground plan={plan} hung={hung} />
      {plan.devices.map((place) => (
        <DeviceView key={place.device.tag} place={place} act={act} onSetting={onSetting} />
      ))}
      <Clamps plan={plan} spread={layout.spread} />
      <Leads bench={bench} layout={layout} selected={selected} edits={edits} hung={hung} />
      <Interlocks interlocks={bench.interlocks} plan={plan} />
      <Terminals plan={plan} marked={marked} />
      {overlay}
    </svg>
  );
  if (sheet === undefined && !link) return drawing;
  return (
    <div className={`board-stack ${className ?? ''}`} ref={stack}>
      {drawing}
      <svg className="board board-sheet" viewBox={viewBox} aria-hidden="true">
        {link && !hung && !busy && <Lifted bench={bench} layout={layout} link={link} />}
        {sheet}
      </svg>
      {zoomable && <ZoomTools zoom={zoom} plan={plan} />}
    </div>
  );
}

/** Subscribes to the running bench without rendering. */
function usePainter(root: { current: SVGSVGElement | null }, live: LiveBench | undefined, bench: Bench) {
  const painter = useRef<Painter | null>(null);
  const { devices } = bench;
  useEffect(() => {
    if (!live) return undefined;
    const positions = (tag: string): readonly string[] => {
      const device = devices.find((one) => one.tag === tag);
      return device ? positionsOn(device) : [];
    };
    let { shape } = live.store.getState();
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
