import { useEffect, useRef, type RefObject } from 'react';

const DROPPED = 'terminal-dropped';

/** Tells the rung over which a terminal is let go that it was; calls back where there is one. */
export function whenDropped(ref: string, onDropped: () => void): void {
  const letGo = ({ clientX, clientY }: PointerEvent) => {
    const rung = document.elementFromPoint(clientX, clientY)?.closest('[data-rung]');
    if (!rung || ref === '') return;
    const detail = { ref, rung: Number(rung.getAttribute('data-rung')) };
    rung.dispatchEvent(new CustomEvent(DROPPED, { detail, bubbles: true }));
    onDropped();
  };
  window.addEventListener('pointerup', letGo, { once: true });
}

/** Hears of terminals that are let go over rungs within an element. */
export function useDropped(onDrop: (ref: string, rung: number) => void): RefObject<HTMLDivElement | null> {
  const element = useRef<HTMLDivElement | null>(null);
  const latest = useRef(onDrop);
  useEffect(() => {
    latest.current = onDrop;
  });
  useEffect(() => {
    const here = element.current;
    const hear = (event: Event) => {
      const { ref, rung } = (event as CustomEvent<{ ref: string; rung: number }>).detail;
      latest.current(ref, rung);
    };
    here?.addEventListener(DROPPED, hear);
    return () => here?.removeEventListener(DROPPED, hear);
  }, []);
  return element;
}
