import { useEffect, useRef, useState, type RefObject } from 'react';
import { CompressOutlined, MinusOutlined, PlusOutlined } from '@ant-design/icons';
import { select, zoom as d3Zoom, zoomIdentity, type ZoomBehavior, type ZoomTransform } from 'd3';
import type { BoardPlan } from '@contactum/core';

const MOST = 5;
const STEP = 1.5;

interface Size {
  readonly width: number;
  readonly height: number;
}

export interface Zoom {
  readonly factor: number;
  /** What of the board is shown, in board millimetres. */
  readonly window: Size & { readonly x: number; readonly y: number };
  readonly by: (factor: number) => void;
  readonly fit: () => void;
  /** Brings a place of the board into the middle. */
  readonly to: (x: number, y: number) => void;
}

/** Things that a press is meant for, so that it does not move the board. */
const TAKEN = '.handle, .terminal, .lead, .lead-end, [data-terminal]';

/** The size of an element in pixels, as it is and becomes. */
function useSize(stack: RefObject<HTMLDivElement | null>, { width, height }: Size, isOn: boolean): Size {
  const [size, setSize] = useState<Size>({ width, height });
  useEffect(() => {
    const element = stack.current;
    if (!element || !isOn) return undefined;
    const measure = () =>
      setSize({ width: element.clientWidth || width, height: element.clientHeight || height });
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, [stack, width, height, isOn]);
  return size;
}

/** Wheel, pinch and a drag on the bare panel enlarge and move a board: only the window on it changes. */
export function useZoom(
  stack: RefObject<HTMLDivElement | null>,
  { width, height }: Size,
  isOn: boolean,
): Zoom {
  const [transform, setTransform] = useState(zoomIdentity);
  const size = useSize(stack, { width, height }, isOn);
  const behaviour = useRef<ZoomBehavior<HTMLDivElement, unknown> | null>(null);
  useEffect(() => {
    const element = stack.current;
    if (!element || !isOn) return undefined;
    const zoom = d3Zoom<HTMLDivElement, unknown>()
      .scaleExtent([1, MOST])
      .extent([
        [0, 0],
        [size.width, size.height],
      ])
      .translateExtent([
        [0, 0],
        [size.width, size.height],
      ])
      .filter((event: Event) => {
        if (event.type === 'wheel') return true;
        const isBare = event.target instanceof Element && !event.target.closest(TAKEN);
        if (event.type === 'touchstart') return isBare || (event as TouchEvent).touches.length > 1;
        return isBare && (event as MouseEvent).button === 0 && !element.classList.contains('laying');
      })
      .clickDistance(4)
      .on('zoom', ({ transform: now }: { transform: ZoomTransform }) => setTransform(now));
    behaviour.current = zoom;
    const selection = select(element);
    selection.call(zoom).on('dblclick.zoom', null);
    return () => {
      selection.on('.zoom', null);
    };
  }, [stack, size, isOn]);
  // Pixels of a board millimetre when all of the board is shown, and where its corner then stands.
  const scale = Math.min(size.width / width, size.height / height);
  const [left, top] = [(size.width - width * scale) / 2, (size.height - height * scale) / 2];
  const { k, x, y } = transform;
  const window = {
    x: (-x / k - left) / scale,
    y: (-y / k - top) / scale,
    width: size.width / (k * scale),
    height: size.height / (k * scale),
  };
  const ask = (act: (zoom: ZoomBehavior<HTMLDivElement, unknown>, element: HTMLDivElement) => void) => {
    if (behaviour.current && stack.current) act(behaviour.current, stack.current);
  };
  return {
    factor: k,
    window,
    by: (factor) => ask((zoom, element) => zoom.scaleBy(select(element), factor)),
    fit: () => ask((zoom, element) => zoom.transform(select(element), zoomIdentity)),
    to: (px, py) =>
      ask((zoom, element) => zoom.translateTo(select(element), px * scale + left, py * scale + top)),
  };
}

const MAP_WIDTH = 132;

/** Larger, smaller, whole; and while it is enlarged a small map of the board. */
export function ZoomTools({ zoom, plan }: { zoom: Zoom; plan: BoardPlan }) {
  const { factor: k, window } = zoom;
  return (
    <div className="zoom-tools">
      {k > 1.02 && (
        <svg
          className="zoom-map"
          viewBox={`0 0 ${plan.width} ${plan.height}`}
          width={MAP_WIDTH}
          height={(MAP_WIDTH * plan.height) / plan.width}
          role="img"
          aria-label="The whole board, and what of it is shown"
          onPointerDown={({ currentTarget, clientX, clientY }) => {
            const box = currentTarget.getBoundingClientRect();
            zoom.to(
              ((clientX - box.left) / box.width) * plan.width,
              ((clientY - box.top) / box.height) * plan.height,
            );
          }}
        >
          {plan.devices.map((place) => (
            <rect
              key={place.device.tag}
              x={place.x}
              y={place.y}
              width={place.width}
              height={place.height}
              rx={4}
            />
          ))}
          <rect className="window" {...window} />
        </svg>
      )}
      <div className="zoom-buttons" role="group" aria-label="Size of the board">
        <button type="button" aria-label="Smaller" onClick={() => zoom.by(1 / STEP)} disabled={k <= 1}>
          <MinusOutlined />
        </button>
        <button type="button" aria-label="Whole board" onClick={zoom.fit} disabled={k === 1}>
          <CompressOutlined />
        </button>
        <button type="button" aria-label="Larger" onClick={() => zoom.by(STEP)} disabled={k >= MOST}>
          <PlusOutlined />
        </button>
      </div>
    </div>
  );
}
