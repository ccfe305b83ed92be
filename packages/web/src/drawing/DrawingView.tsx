import { memo, useEffect, useMemo, useRef, type RefObject } from 'react';
import {
  linkText,
  placedShapes,
  type Drawing,
  type DrawnLinkage,
  type Frame,
  type PlacedSymbol,
  type Sheet,
  type SymbolShape,
  type TerminalRef,
} from '@contactum/core';
import type { LiveBench } from '../bench/live.js';
import { pointAt, type LinkStore } from '../board/link.js';
import { fitted, sheetsIn, useRoom, type Fit } from './fit.js';
import './drawing.css';

/** A drawing of the wires as they are; live, it shows what conducts. */
export function DrawingView({
  drawing,
  live,
  link,
  struck,
  label,
  fit,
  onTerminal,
}: {
  drawing: Drawing;
  live?: LiveBench | undefined;
  link?: LinkStore | undefined;
  /** Nets that are wholly fitted, by place: struck off. */
  struck?: ReadonlySet<number>;
  label: string;
  /** How it stands in its room; where nothing is said as large as it comes. */
  fit?: Fit;
  /** Told a terminal that is clicked: a probe may be put on it. */
  onTerminal?: (ref: TerminalRef) => void;
}) {
  const root = useRef<HTMLDivElement | null>(null);
  const room = useRoom(root);
  useLiveDrawing(root, drawing, live);
  useLiftedNets(root, drawing, link);
  if (drawing.sheets.length === 0)
    return (
      <p className="drawing-empty">Nothing is wired yet. The drawing follows the wires as they are laid.</p>
    );
  const sheets = fit ? sheetsIn(drawing, fit) : drawing.sheets;
  const so =
    fit && room
      ? fitted(
          sheets.map(({ size }) => size),
          room,
          fit,
        )
      : null;
  return (
    <div
      className="drawing"
      data-fit={so ? (so.isRow ? 'row' : 'column') : undefined}
      ref={root}
      role="img"
      aria-label={label}
      onClick={({ target }) => {
        const ref = (target as Element).closest<SVGElement>('[data-at]')?.dataset.at;
        if (ref) onTerminal?.(ref as TerminalRef);
      }}
    >
      {sheets.map((sheet) => (
        <SheetView key={sheet.circuit} drawing={drawing} sheet={sheet} struck={struck} scale={so?.scale} />
      ))}
    </div>
  );
}

const points = (list: readonly (readonly [number, number])[]): string =>
  list.map((at) => at.join(',')).join(' ');

/** As wide as a scale says; without one as wide as there is room. */
const sheetStyle = (width: number, scale: number | undefined) =>
  scale === undefined
    ? { maxWidth: width * 1.15, flexGrow: width, flexBasis: `min(100%, ${width * 0.85}px)` }
    : { width: width * scale, flex: 'none' };

export const SheetView = memo(function SheetView({
  drawing: { nets, form },
  sheet,
  struck,
  scale,
  window,
}: {
  drawing: Drawing;
  sheet: Sheet;
  struck: ReadonlySet<number> | undefined;
  /** Pixels a unit; where nothing is said as wide as there is room. */
  scale?: number | undefined;
  /** The part that is shown, x, y, width and height; the whole where nothing is said. */
  window?: readonly [number, number, number, number];
}) {
  const [width, height] = sheet.size;
  return (
    <svg
      className="sheet"
      viewBox={(window ?? [0, 0, width, height]).join(' ')}
      data-circuit={sheet.circuit}
      style={sheetStyle(width, scale)}
    >
      {sheet.lines.map(({ points: [a, b], net }, k) => (
        <g
          key={k}
          data-net={net}
          data-lead-from={nets[net]?.terminals[0]}
          data-struck={struck?.has(net) ? 'yes' : undefined}
        >
          <line className="wire" x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} />
          <line className="wire-hit" x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} />
        </g>
      ))}
      {sheet.dots.map(([x, y]) => (
        <circle key={`${x} ${y}`} className="dot" cx={x} cy={y} r={2.6} />
      ))}
      {sheet.symbols.map((symbol) => (
        <SymbolView key={`${symbol.device} ${symbol.part}`} symbol={symbol} form={form} />
      ))}
      {sheet.linkages.map((linkage) => (
        <LinkageView key={linkage.between.join(' ')} linkage={linkage} />
      ))}
      {sheet.links.map((one) => (
        <LinkView key={one.at.join(' ')} link={one} lead={nets[one.net]?.terminals[0]} />
      ))}
      {sheet.texts.map(({ text, at: [x, y], anchor, kind, of }) => (
        <text
          key={`${text} ${x} ${y}`}
          className={kind}
          x={x}
          y={y}
          textAnchor={anchor}
          data-mark-device={kind === 'tag' ? of : undefined}
        >
          {text}
        </text>
      ))}
    </svg>
  );
});

/** Where a lead goes on at another place or on another sheet. */
function LinkView({ link, lead }: { link: Sheet['links'][number]; lead: TerminalRef | undefined }) {
  const { x, y, anchor } = linkText(link);
  return (
    <g data-net={link.net} data-lead-from={lead}>
      <circle className="link" cx={link.at[0]} cy={link.at[1]} r={2.6} />
      <text className="link-name" x={x} y={y} textAnchor={anchor}>
        {link.name}
      </text>
    </g>
  );
}

function LinkageView({ linkage: { between, shapes } }: { linkage: DrawnLinkage }) {
  return (
    <g className="linkage">
      <title>{`${between.join(' and ')} are locked mechanically: one cannot come in while the other is in`}</title>
      {shapes.map((shape, k) => (
        <ShapeView key={k} shape={shape} />
      ))}
    </g>
  );
}

function SymbolView({ symbol, form }: { symbol: PlacedSymbol; form: Drawing['form'] }) {
  const { device, part, box } = symbol;
  const { fixed, moving, atRest } = placedShapes(symbol, form);
  return (
    <g
      className={`symbol ${symbol.symbol}`}
      data-symbol={device}
      data-part={moving ? `${device}:${part}` : undefined}
      data-closed={moving ? (atRest === 'closed' ? '1' : '0') : undefined}
      data-mark-device={device}
    >
      <rect className="symbol-hit" x={box[0]} y={box[1]} width={box[2]} height={box[3]} />
      {fixed.map((shape, k) => (
        <ShapeView key={k} shape={shape} />
      ))}
      {Object.entries(symbol.terminals).map(([name, [x, y]]) => (
        <circle key={name} className="terminal-hit" data-at={`${device}:${name}`} cx={x} cy={y} r={7} />
      ))}
      {moving && (
        <>
          <g className="when-open">
            {moving.open.map((shape, k) => (
              <ShapeView key={k} shape={shape} />
            ))}
          </g>
          <g className="when-closed">
            {moving.closed.map((shape, k) => (
              <ShapeView key={k} shape={shape} />
            ))}
          </g>
        </>
      )}
    </g>
  );
}

function ShapeView({ shape }: { shape: SymbolShape }) {
  if (shape.kind === 'circle')
    return <circle className="stroke" cx={shape.at[0]} cy={shape.at[1]} r={shape.r} />;
  if (shape.kind === 'word')
    return (
      <text
        className="word"
        x={shape.at[0]}
        y={shape.at[1] + shape.size / 3}
        fontSize={shape.size}
        textAnchor="middle"
      >
        {shape.text}
      </text>
    );
  const kind = shape.filled ? 'stroke filled' : shape.dashed ? 'stroke dashed' : 'stroke';
  return <polyline className={kind} points={points(shape.points)} />;
}

/** Writes what conducts to the drawing's elements, without rendering. */
function useLiveDrawing(
  root: RefObject<HTMLDivElement | null>,
  drawing: Drawing,
  live: LiveBench | undefined,
): void {
  useEffect(() => {
    const element = root.current;
    if (!element || !live) return undefined;
    const all = (selector: string) => [...element.querySelectorAll<SVGElement>(selector)];
    const nets = all('[data-net]').map((one) => ({
      one,
      refs: drawing.nets[Number(one.dataset.net)]?.terminals ?? [],
    }));
    const parts = all('[data-part]');
    const symbols = all('[data-symbol]');
    let last: Frame | null = null;
    const paint = () => {
      const { frame, shape } = live.store.getState();
      if (!frame || !shape || (last && looksAlike(last, frame))) return;
      last = frame;
      const index = new Map(shape.terminals.map((ref, k) => [ref, k] as const));
      const isLive = (ref: TerminalRef) => frame.live[index.get(ref) ?? -1] === 1;
      for (const { one, refs } of nets) set(one, 'data-live', refs.some(isLive) ? '1' : '0');
      for (const one of parts) {
        const k = shape.contacts.indexOf(one.dataset.part ?? '');
        if (k >= 0) set(one, 'data-closed', String(frame.closed[k]));
      }
      for (const one of symbols) {
        const tag = one.dataset.symbol ?? '';
        const lamp = shape.lamps.indexOf(tag);
        const state = lamp >= 0 ? frame.lamps[lamp] : frame.states[shape.devices.indexOf(tag)];
        const motor = frame.motors[shape.motors.indexOf(tag)];
        set(one, 'data-state', motor ? (isTurning(motor) ? 'turning' : motor.driven) : (state ?? ''));
      }
    };
    paint();
    return live.store.subscribe(paint);
  }, [root, drawing, live]);
}

const sameList = (a: ArrayLike<unknown>, b: ArrayLike<unknown>): boolean => {
  if (a.length !== b.length) return false;
  for (let k = 0; k < a.length; k += 1) if (a[k] !== b[k]) return false;
  return true;
};

const isTurning = ({ rpm }: Frame['motors'][number]): boolean => Math.abs(rpm) > 5;

/** True of two frames that a drawing shows alike: speeds and currents are not drawn. */
const looksAlike = (a: Frame, b: Frame): boolean =>
  a === b ||
  (sameList(a.live, b.live) &&
    sameList(a.closed, b.closed) &&
    sameList(a.states, b.states) &&
    sameList(a.lamps, b.lamps) &&
    a.motors.every((motor, k) => {
      const other = b.motors[k];
      return other !== undefined && motor.driven === other.driven && isTurning(motor) === isTurning(other);
    }));

function set(element: SVGElement, name: string, value: string): void {
  if (element.getAttribute(name) !== value) element.setAttribute(name, value);
}

/** Lifts what is pointed at in any view, and points for the others. */
function useLiftedNets(
  root: RefObject<HTMLDivElement | null>,
  drawing: Drawing,
  link: LinkStore | undefined,
): void {
  const netOf = useMemo(
    () => new Map(drawing.nets.flatMap(({ terminals }, k) => terminals.map((ref) => [ref, k] as const))),
    [drawing],
  );
  useEffect(() => {
    const element = root.current;
    if (!element || !link) return undefined;
    const lift = () => {
      const { pointed, chosen, why } = link.getState();
      const mark = pointed ?? chosen;
      const told = mark?.kind === 'device' && why?.tag === mark.tag ? why.refs : [];
      const nets = new Set(
        [...told, ...(mark?.kind === 'net' ? [mark.ref] : [])].map((ref) => netOf.get(ref as TerminalRef)),
      );
      const tags = new Set(told.map((ref) => ref.split(':')[0]));
      element.toggleAttribute('data-lifting', mark !== null);
      for (const one of element.querySelectorAll<SVGElement>('[data-net]'))
        one.toggleAttribute('data-lifted', nets.has(Number(one.dataset.net)));
      for (const one of element.querySelectorAll<SVGElement>('[data-symbol]'))
        one.toggleAttribute(
          'data-lifted',
          mark?.kind === 'device' && (one.dataset.symbol === mark.tag || tags.has(one.dataset.symbol)),
        );
    };
    const over = (event: PointerEvent) => pointAt(link, event.target);
    const out = () => link.setState({ pointed: null });
    lift();
    element.addEventListener('pointerover', over);
    element.addEventListener('pointerleave', out);
    const stop = link.subscribe(lift);
    return () => {
      stop();
      element.removeEventListener('pointerover', over);
      element.removeEventListener('pointerleave', out);
    };
  }, [root, netOf, link]);
}
