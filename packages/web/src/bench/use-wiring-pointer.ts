import { useCallback, useRef, type PointerEvent } from 'react';
import { leadOf, type LeadId, type Point, type TerminalRef } from '@contactum/core';
import { whenDropped } from '../programs/dropped.js';
import type { BenchStore } from './store.js';
import type { WiringHand } from './wiring-hand.js';

/** Pixels the pointer must travel before a press on a terminal is a drag. */
const DRAG = 8;

/** A press that may become a drag. */
interface Gesture {
  readonly x: number;
  readonly y: number;
  /** Terminal from which it began. */
  readonly at: string;
}

/** Where on the board an event was, in the board's own units. */
export function boardPoint(svg: SVGSVGElement | null, event: { clientX: number; clientY: number }): Point {
  const matrix = svg?.getScreenCTM()?.inverse();
  if (!matrix) return { x: 0, y: 0 };
  return { x: matrix.a * event.clientX + matrix.e, y: matrix.d * event.clientY + matrix.f };
}

/** Wiring with the pointer: click and click, or drag. */
export function useWiringPointer(store: BenchStore, hand: WiringHand) {
  const svg = useRef<SVGSVGElement | null>(null);
  const gesture = useRef<Gesture | null>(null);
  const { actions } = store;
  const onSvg = useCallback((element: SVGSVGElement | null) => {
    svg.current = element;
  }, []);
  const begin = ({ clientX: x, clientY: y }: PointerEvent, at: string) => {
    gesture.current = { x, y, at };
    // Let go over a rung of a program, the terminal becomes a contact or a coil there.
    whenDropped(at, () => {
      gesture.current = null;
      actions.patch({ from: null, moving: null });
    });
  };

  const onPointerDown = (event: PointerEvent<SVGSVGElement>) => {
    const target = event.target as Element;
    if (event.button !== 0 || target.closest('.handle')) return;
    svg.current?.focus({ preventScroll: true });
    const point = boardPoint(svg.current, event);
    const { selected, bench, from, moving } = store.getState();
    const taken = target.closest<SVGElement>('[data-end]');
    const near = hand.near(point);
    if (taken && selected !== null) {
      const end = taken.dataset.end === 'from' ? 'from' : 'to';
      hand.take({ lead: selected, end });
      begin(event, leadOf(bench, selected)?.[end] ?? '');
    } else if (near) {
      if (from || moving) gesture.current = null;
      else begin(event, near.ref);
      hand.touch(near.ref as TerminalRef, event.shiftKey);
    } else {
      const lead = target.closest<SVGElement>('[data-lead]')?.dataset.lead;
      actions.patch({
        from: null,
        moving: null,
        selected: (lead as LeadId | undefined) ?? null,
        message: null,
      });
    }
    hand.follow(point);
  };

  const onPointerMove = (event: PointerEvent<SVGSVGElement>) => {
    const point = boardPoint(svg.current, event);
    hand.hover(point);
    if (hand.anchor) hand.follow(point);
  };

  const onPointerUp = (event: PointerEvent<SVGSVGElement>) => {
    const start = gesture.current;
    gesture.current = null;
    if (!start || Math.hypot(event.clientX - start.x, event.clientY - start.y) < DRAG) return;
    const point = boardPoint(svg.current, event);
    const near = hand.near(point);
    if (near && near.ref !== start.at) hand.touch(near.ref as TerminalRef, event.shiftKey);
    else actions.patch({ from: null, moving: null });
    hand.follow(point);
  };

  return { onSvg, onPointerDown, onPointerMove, onPointerUp };
}
