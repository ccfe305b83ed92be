import { anatomy, isSupply, type Device } from '../catalogue/index.js';
import { Canvas, SYMBOL, type Place } from './canvas.js';
import type { DrawingForm, PlacedSymbol, Sheet } from './drawing.js';
import { labelsOf } from './labels.js';
import { controlParts, hasPoles, powerParts, type PowerPart } from './parts.js';

/** From one symbol to the next where the current runs down, and where it runs across; from pole to pole. */
const APART: Readonly<Record<DrawingForm, number>> = { iec: 92, us: 58 };
const POLE = 44;
/** Symbols in a row, and from one row to the next. */
const IN_ROW = 3;
const NEXT: Readonly<Record<DrawingForm, number>> = { iec: 84, us: 130 };
/** What is joined or fed by many alike terminals is shown by this many of them. */
const MOST = 8;
/** Room about the symbols for designations and terminal numbers. */
const EDGE = { x: 46, y: 26 } as const;

/**
 * The symbols of one device in a row, each with its terminals, as both drawings and a catalogue show them;
 * nothing is wired.
 */
export function deviceSheet(device: Device, form: DrawingForm): Sheet {
  const body = anatomy(device);
  const isPower = isSupply(device) || body.motor || body.transformer || body.brakes || hasPoles(body);
  const power = isPower ? powerParts(device, 0, body) : [];
  const control = controlParts(device, 0, body, Boolean(isPower)).map(
    ({ ends: [top, bottom], ...part }): PowerPart => ({
      ...part,
      columns: [{ ...(top ? { top } : {}), ...(bottom ? { bottom } : {}) }],
    }),
  );
  const canvas = new Canvas(form, new Map());
  let across = 0;
  [...power, ...control].slice(0, MOST).forEach((part, k) => {
    if (k % IN_ROW === 0) across = 0;
    const along = Math.floor(k / IN_ROW) * NEXT[form];
    across = put(canvas, part, { along, across }) + (part.symbol === 'contact-main' ? POLE : APART[form]);
  });
  return {
    circuit: 'control',
    size: sizeOf(canvas.symbols),
    symbols: canvas.symbols,
    lines: [],
    dots: [],
    links: [],
    texts: labelsOf(canvas.symbols, form),
    linkages: [],
    paths: [],
  };
}

/** Wide and high enough for all symbols with what is written beside them. */
function sizeOf(symbols: readonly PlacedSymbol[]): [number, number] {
  const far = (k: 0 | 1) => Math.max(0, ...symbols.map(({ box }) => box[k] + box[k + 2]!));
  return [far(0) + EDGE.x, far(1) + EDGE.y];
}

/** Puts a part at a place across the way of the current; where it ends. */
function put(canvas: Canvas, part: PowerPart, { along, across }: Place): number {
  const count = part.columns.length;
  const long =
    part.symbol === 'transformer' || part.symbol.startsWith('motor') ? 2 * SYMBOL.along : SYMBOL.along;
  const width = count > 1 ? (count - 1) * POLE + 40 : SYMBOL.across;
  const first = across + (count > 1 ? 20 : SYMBOL.across / 2);
  const terminals = part.columns.flatMap(({ top, bottom }, k) => [
    ...(top ? [[top, { along, across: first + k * POLE }] as const] : []),
    ...(bottom ? [[bottom, { along: along + long, across: first + k * POLE }] as const] : []),
  ]);
  canvas.symbol(part, { along, across }, { along: long, across: width }, terminals);
  return first + (count - 1) * POLE;
}
