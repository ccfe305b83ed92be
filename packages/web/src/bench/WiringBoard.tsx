import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { useStore } from 'zustand';
import type { TerminalRef } from '@contactum/core';
import { Board } from '../board/Board.js';
import { leadColour } from '../board/colours.js';
import {
  leadPath,
  planBoard,
  terminalNear,
  terminalTowards,
  type BoardPlan,
  type Point,
} from '../board/geometry.js';
import type { Act } from '../board/Handle.js';
import type { LiveBench } from './live.js';
import type { BenchStore } from './store.js';

/** Board millimetres within which the pointer takes a terminal. */
const REACH = 15;
/** Pixels the pointer must travel before a press on a terminal is a drag. */
const DRAG = 8;

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The board as it is wired: with the pointer (click and click, or drag) and with the keyboard. */
export function WiringBoard({
  store,
  live,
  act,
  marked,
  onSetting,
  announce,
}: {
  store: BenchStore;
  live: LiveBench;
  act: Act;
  marked: readonly string[];
  onSetting: (tag: string) => void;
  announce: (text: string) => void;
}) {
  const bench = useStore(store, (state) => state.bench);
  const from = useStore(store, (state) => state.from);
  const selected = useStore(store, (state) => state.selected);
  const moving = useStore(store, (state) => state.moving);
  const cursor = useStore(store, (state) => state.cursor);
  const { devices } = bench;
  // Wires do not move devices: the plan stays the same from edit to edit.
  const plan = useMemo(
    () => planBoard({ contactum: 'bench/1', title: '', wires: [], interlocks: [], devices }),
    [devices],
  );
  const svg = useRef<SVGSVGElement | null>(null);
  const rubber = useRef<SVGPathElement | null>(null);
  const gesture = useRef<{ readonly x: number; readonly y: number; readonly at: string } | null>(null);
  const ring = useRef<SVGCircleElement | null>(null);
  const hovered = useRef<string | null>(null);
  const { actions } = store;

  const boardPoint = (event: { clientX: number; clientY: number }): Point => {
    const matrix = svg.current?.getScreenCTM()?.inverse();
    if (!matrix) return { x: 0, y: 0 };
    return { x: matrix.a * event.clientX + matrix.e, y: matrix.d * event.clientY + matrix.f };
  };

  const anchor = (): string | null => {
    const state = store.getState();
    if (state.moving)
      return state.bench.wires[state.moving.index]?.[state.moving.end === 'from' ? 'to' : 'from'] ?? null;
    return state.from;
  };

  /** Draws the lead that follows the pointer; no React between pointer and paint. */
  const follow = (point: Point) => {
    const path = rubber.current;
    const start = plan.terminal.get(anchor() ?? '');
    if (!path) return;
    if (!start) {
      path.setAttribute('d', '');
      return;
    }
    const near = terminalNear(plan, point, REACH);
    path.setAttribute('d', leadPath(start, near ?? point));
  };

  /** Rings the terminal that the pointer would take. On the sheet too: the board itself is not painted again. */
  const hover = (point: Point) => {
    const near = terminalNear(plan, point, REACH);
    if ((near?.ref ?? null) === hovered.current) return;
    hovered.current = near?.ref ?? null;
    ring.current?.setAttribute('visibility', near ? 'visible' : 'hidden');
    if (!near) return;
    ring.current?.setAttribute('cx', String(near.x));
    ring.current?.setAttribute('cy', String(near.y));
  };

  /** Puts down what is held at a terminal, or takes up a new lead there. */
  const touch = (ref: TerminalRef) => {
    const state = store.getState();
    if (live.store.getState().supplyOn) {
      actions.patch({
        message: { kind: 'wrong', text: 'The supply is on. Switch it off before you change the wiring.' },
      });
      return;
    }
    if (state.moving) {
      actions.moveEnd(state.moving.index, state.moving.end, ref);
      return;
    }
    if (state.from && state.from !== ref) {
      actions.connect(state.from, ref);
      announce(`Lead from ${spell(state.from)} to ${spell(ref)}.`);
      return;
    }
    actions.patch({ from: state.from === ref ? null : ref, selected: null, cursor: ref, message: null });
    if (state.from !== ref) announce(`Lead from ${spell(ref)}. Choose the other terminal.`);
  };

  const takeEnd = (index: number, end: 'from' | 'to') => {
    if (live.store.getState().supplyOn)
      actions.patch({
        message: { kind: 'wrong', text: 'The supply is on. Switch it off before you change the wiring.' },
      });
    else actions.patch({ moving: { index, end }, from: null, message: null });
  };

  const onPointerDown = (event: PointerEvent<SVGSVGElement>) => {
    const target = event.target as Element;
    if (event.button !== 0 || target.closest('.handle')) return;
    svg.current?.focus({ preventScroll: true });
    const point = boardPoint(event);
    const end = target.closest<SVGElement>('[data-end]');
    if (end && selected !== null) {
      takeEnd(selected, end.dataset.end === 'from' ? 'from' : 'to');
      gesture.current = {
        x: event.clientX,
        y: event.clientY,
        at: bench.wires[selected]?.[end.dataset.end === 'from' ? 'from' : 'to'] ?? '',
      };
      follow(point);
      return;
    }
    const near = terminalNear(plan, point, REACH);
    if (near) {
      gesture.current =
        store.getState().from || store.getState().moving
          ? null
          : { x: event.clientX, y: event.clientY, at: near.ref };
      touch(near.ref as TerminalRef);
      follow(point);
      return;
    }
    const lead = target.closest<SVGElement>('[data-lead]');
    actions.patch({
      from: null,
      moving: null,
      selected: lead ? Number(lead.dataset.lead) : null,
      message: null,
    });
    follow(point);
  };

  const onPointerMove = (event: PointerEvent<SVGSVGElement>) => {
    const point = boardPoint(event);
    hover(point);
    if (anchor()) follow(point);
  };

  const onPointerUp = (event: PointerEvent<SVGSVGElement>) => {
    const start = gesture.current;
    gesture.current = null;
    if (!start || Math.hypot(event.clientX - start.x, event.clientY - start.y) < DRAG) return;
    const near = terminalNear(plan, boardPoint(event), REACH);
    if (near && near.ref !== start.at) touch(near.ref as TerminalRef);
    else actions.patch({ from: null, moving: null });
    follow(boardPoint(event));
  };

  const onKeyDown = (event: KeyboardEvent<SVGSVGElement>) => {
    if ((event.target as Element).closest('.handle') || event.ctrlKey || event.metaKey || event.altKey)
      return;
    const at = cursor ?? (plan.terminal.keys().next().value as TerminalRef | undefined);
    const arrow = ARROWS[event.key];
    if (arrow && at) {
      event.preventDefault();
      const next = cursor ? (terminalTowards(plan, at, ...arrow) as TerminalRef) : at;
      actions.patch({ cursor: next });
      const place = plan.terminal.get(next);
      if (place) follow(place);
      const leads = bench.wires.filter((wire) => wire.from === next || wire.to === next).length;
      announce(`${spell(next)}, ${leads === 0 ? 'no lead' : leads === 1 ? '1 lead' : `${leads} leads`}.`);
      return;
    }
    switch (event.key) {
      case 'Enter':
      case ' ':
        event.preventDefault();
        if (at) touch(at);
        break;
      case 'Escape':
        actions.patch({ from: null, moving: null, selected: null, message: null });
        rubber.current?.setAttribute('d', '');
        break;
      case 'Delete':
      case 'Backspace':
        event.preventDefault();
        if (selected !== null) {
          announce('Lead removed.');
          actions.cut(selected);
        }
        break;
      case 'l': {
        // The next lead at the cursor.
        const here = bench.wires.flatMap((wire, k) => (wire.from === at || wire.to === at ? [k] : []));
        const next = here[(here.indexOf(selected ?? -1) + 1) % Math.max(here.length, 1)];
        actions.patch({ selected: next ?? null });
        const wire = next === undefined ? undefined : bench.wires[next];
        announce(wire ? `Lead from ${spell(wire.from)} to ${spell(wire.to)} chosen.` : 'No lead here.');
        break;
      }
      case 'm': {
        const wire = selected === null ? undefined : bench.wires[selected];
        if (wire && selected !== null && (wire.from === at || wire.to === at)) {
          takeEnd(selected, wire.from === at ? 'from' : 'to');
          announce('End taken off. Go to another terminal and press Enter.');
        }
        break;
      }
      default:
    }
  };

  return (
    <Board
      bench={bench}
      plan={plan}
      live={live}
      act={act}
      marked={marked}
      selected={selected}
      label={`Trainer board with ${bench.wires.length} leads. Arrow keys move between terminals, Enter lays a lead, L chooses a lead, M moves its end, Delete removes it.`}
      onSvg={(element) => {
        svg.current = element;
      }}
      onSetting={onSetting}
      className={from !== null || moving !== null ? 'wiring laying' : 'wiring'}
      handlers={{ tabIndex: 0, onPointerDown, onPointerMove, onPointerUp, onKeyDown }}
      overlay={<Overlay plan={plan} store={store} from={from} cursor={cursor} selected={selected} />}
      sheet={<Rubber store={store} path={rubber} ring={ring} shown={from !== null || moving !== null} />}
    />
  );
}

const spell = (ref: string) => ref.replace(':', ' ');

/** The lead that follows the pointer; its shape is written by the pointer itself. */
function Rubber({
  store,
  path,
  ring,
  shown,
}: {
  store: BenchStore;
  path: React.RefObject<SVGPathElement | null>;
  ring: React.RefObject<SVGCircleElement | null>;
  shown: boolean;
}) {
  const colour = useStore(store, ({ moving, bench, colour: next }) =>
    moving ? bench.wires[moving.index]?.colour : next,
  );
  return (
    <>
      <circle ref={ring} className="hover-ring" r={9.5} visibility="hidden" />
      <path
        ref={path}
        className="rubber"
        stroke={leadColour(colour).paint}
        style={{ display: shown ? undefined : 'none' }}
      />
    </>
  );
}

function Overlay({
  plan,
  store,
  from,
  cursor,
  selected,
}: {
  plan: BoardPlan;
  store: BenchStore;
  from: string | null;
  cursor: string | null;
  selected: number | null;
}) {
  const wires = useStore(store, (state) => state.bench.wires);
  const cursorPlace = cursor ? plan.terminal.get(cursor) : undefined;
  const fromPlace = from ? plan.terminal.get(from) : undefined;
  const chosen = selected === null ? undefined : wires[selected];
  const ends = chosen
    ? (['from', 'to'] as const).map((end) => ({ end, place: plan.terminal.get(chosen[end]) }))
    : [];
  return (
    <g>
      {ends.map(
        ({ end, place }) =>
          place && <circle key={end} className="lead-end" data-end={end} cx={place.x} cy={place.y} r={9} />,
      )}
      {fromPlace && (
        <circle
          className="cursor-ring"
          cx={fromPlace.x}
          cy={fromPlace.y}
          r={13}
          style={{ strokeDasharray: 'none' }}
        />
      )}
      {cursorPlace && (
        <circle className="cursor-ring keyboard" cx={cursorPlace.x} cy={cursorPlace.y} r={13} />
      )}
    </g>
  );
}
