import type { SymbolShape, SymbolShapes } from './shape.js';
import type { Operator } from '../catalogue/index.js';
import type { DrawingForm, PartSymbol, PlacedSymbol } from './drawing.js';
import type { At } from './shape.js';

const line = (...points: At[]): SymbolShape => ({ kind: 'line', points });
const dashed = (...points: At[]): SymbolShape => ({ kind: 'line', points, dashed: true });
const circle = (a: number, c: number, r: number): SymbolShape => ({ kind: 'circle', at: [a, c], r });
const box = (a0: number, c0: number, a1: number, c1: number, filled = false): SymbolShape => ({
  kind: 'line',
  points: [
    [a0, c0],
    [a1, c0],
    [a1, c1],
    [a0, c1],
    [a0, c0],
  ],
  filled,
});

const LEADS = [line([0, 0], [12, 0]), line([28, 0], [40, 0])];
const NO_BLADE = line([28, 0], [13, -9]);
const SHUT_BLADE = line([28, 0], [12, 0]);
const NC_FIXED = [...LEADS, line([12, 0], [12, 8])];
const NC_BLADE = line([28, 0], [9, 6.5]);
const NC_PARTED = line([28, 0], [13, -7]);

const plain = (...fixed: SymbolShape[]): SymbolShapes => ({ fixed, moving: null, atRest: 'closed' });

/** What stands beside a contact for what works it. */
const OPERATOR_SHAPES: Readonly<Record<Operator, readonly SymbolShape[]>> = {
  none: [],
  button: [dashed([20, -5], [20, -14]), line([13, -11], [13, -15], [27, -15], [27, -11])],
  estop: [
    dashed([20, -5], [20, -13]),
    line([12, -12], [13, -15], [16, -17.5], [20, -18.5], [24, -17.5], [27, -15], [28, -12], [12, -12]),
  ],
  selector: [
    dashed([20, -5], [20, -15]),
    line([12, -13], [12, -16], [20, -16]),
    line([20, -16], [28, -16], [28, -19]),
  ],
  limit: [dashed([20, -5], [20, -12]), circle(20, -14.5, 2.6)],
  overload: [
    dashed([20, -5], [20, -11]),
    line([11, -11], [11, -16], [29, -16], [29, -11]),
    line([17, -16], [17, -12.5], [23, -12.5], [23, -16]),
  ],
  'on-delay': [
    line([18, -5], [18, -14]),
    line([22, -5], [22, -14]),
    line([13, -11], [15, -14.5], [20, -16], [25, -14.5], [27, -11]),
  ],
  'off-delay': [
    line([18, -5], [18, -14]),
    line([22, -5], [22, -14]),
    line([13, -17], [15, -13.5], [20, -12], [25, -13.5], [27, -17]),
  ],
};

const IEC: Readonly<Partial<Record<PartSymbol, SymbolShapes>>> = {
  'contact-no': { fixed: LEADS, moving: { open: [NO_BLADE], closed: [SHUT_BLADE] }, atRest: 'open' },
  'contact-nc': { fixed: NC_FIXED, moving: { open: [NC_PARTED], closed: [NC_BLADE] }, atRest: 'closed' },
  'contact-main': {
    fixed: [...LEADS, line([12, 0], [10.5, 2.5], [8, 3.6], [5.5, 2.5], [4, 0])],
    moving: { open: [NO_BLADE], closed: [SHUT_BLADE] },
    atRest: 'open',
  },
  breaker: {
    fixed: [...LEADS, line([9, -3], [15, 3]), line([9, 3], [15, -3])],
    moving: { open: [NO_BLADE], closed: [SHUT_BLADE] },
    atRest: 'open',
  },
  disconnector: {
    fixed: [...LEADS, line([12, -4], [12, 4])],
    moving: { open: [NO_BLADE], closed: [SHUT_BLADE] },
    atRest: 'open',
  },
  coil: plain(line([0, 0], [12, 0]), line([28, 0], [40, 0]), box(12, -12, 28, 12)),
  // Inputs and outputs of a controller: within the outline of the device. Common practice, no source.
  'controller-input': controllerPart('I'),
  'controller-output': {
    fixed: [...LEADS, box(5, -13, 35, 9)],
    moving: { open: [NO_BLADE], closed: [SHUT_BLADE] },
    atRest: 'open',
  },
};

const US_BARS = [
  line([0, 0], [16, 0]),
  line([24, 0], [40, 0]),
  line([16, -9], [16, 9]),
  line([24, -9], [24, 9]),
];
const US_BUTTON = [line([0, 0], [9, 0]), line([31, 0], [40, 0]), circle(11.5, 0, 2.5), circle(28.5, 0, 2.5)];
const US: Readonly<Partial<Record<PartSymbol, SymbolShapes>>> = {
  'contact-no': { fixed: US_BARS, moving: { open: [], closed: [line([16, 0], [24, 0])] }, atRest: 'open' },
  'contact-nc': {
    fixed: [...US_BARS, line([12, 9], [28, -9])],
    moving: { open: [], closed: [line([16, 0], [24, 0])] },
    atRest: 'closed',
  },
  'contact-main': { fixed: US_BARS, moving: { open: [], closed: [line([16, 0], [24, 0])] }, atRest: 'open' },
  coil: plain(line([0, 0], [8, 0]), line([32, 0], [40, 0]), circle(20, 0, 12)),
  'controller-input': controllerPart('IN'),
  'controller-output': {
    fixed: [...US_BARS, box(8, -13, 32, 13)],
    moving: { open: [], closed: [line([16, 0], [24, 0])] },
    atRest: 'open',
  },
};

/** Worked by hand or by the load. */
const HANDS: ReadonlySet<Operator> = new Set(['button', 'estop', 'selector', 'limit']);

/**
 * Buttons and other contacts that are worked by hand or load, in the US manner: a bar over two points, or
 * against them.
 */
function usWorked(symbol: PartSymbol, operator: Operator): SymbolShapes {
  const isNc = symbol === 'contact-nc';
  const bar = (c: number) => line([9, c], [31, c]);
  const cap: Readonly<Partial<Record<Operator, readonly SymbolShape[]>>> = {
    estop: [line([12, -13], [16, -16], [24, -16], [28, -13])],
    selector: [line([20, -14], [14, -18])],
    limit: [line([20, -9], [14, -13], [26, -13], [20, -9])],
  };
  const stem = line([20, isNc ? 4 : -7], [20, -14]);
  return {
    fixed: [...US_BUTTON, stem, ...(cap[operator] ?? [])],
    moving: isNc ? { open: [bar(8)], closed: [bar(4)] } : { open: [bar(-7)], closed: [bar(-3)] },
    atRest: isNc ? 'closed' : 'open',
  };
}

/** A part of a controller that takes current: a box with a word. */
function controllerPart(text: string): SymbolShapes {
  return plain(line([0, 0], [8, 0]), line([32, 0], [40, 0]), box(8, -13, 32, 13), {
    kind: 'word',
    text,
    at: [20, 0],
    size: 9,
  });
}

const BOTH: Readonly<Partial<Record<PartSymbol, SymbolShapes>>> = {
  fuse: plain(line([0, 0], [40, 0]), box(8, -6, 32, 6)),
  heater: plain(line([0, 0], [10, 0], [10, 7], [30, 7], [30, 0], [40, 0])),
  lamp: plain(
    line([0, 0], [9, 0]),
    line([31, 0], [40, 0]),
    circle(20, 0, 11),
    line([12.2, -7.8], [27.8, 7.8]),
    line([12.2, 7.8], [27.8, -7.8]),
  ),
  buzzer: plain(
    line([0, 0], [14, 0]),
    line([26, 0], [40, 0]),
    line([10, -10], [10, 0], [30, 0], [30, -10], [10, -10]),
  ),
  impedance: plain(line([0, 0], [8, 0]), line([32, 0], [40, 0]), box(8, -6, 32, 6)),
  brake: plain(
    line([0, 0], [12, 0]),
    line([28, 0], [40, 0]),
    box(12, -12, 28, 12),
    line([12, -12], [28, 12]),
  ),
  'controller-supply': controllerPart('24 V'),
  terminal: plain(circle(8, 0, 4), line([0, 0], [4, 0])),
};

function coilWithTime(symbol: PartSymbol, form: DrawingForm): SymbolShapes {
  const { fixed } = (form === 'us' ? US : IEC).coil!;
  const mark: readonly SymbolShape[] =
    form === 'us'
      ? [{ kind: 'word', text: symbol === 'coil-off-delay' ? 'OFF' : 'ON', at: [20, 0], size: 9 }]
      : symbol === 'coil-off-delay'
        ? [box(12, -12, 28, -6, true)]
        : [box(12, -12, 28, -6), line([12, -12], [28, -6]), line([12, -6], [28, -12])];
  return plain(...fixed, ...mark);
}

/** The shapes of a two-ended symbol in a form. */
function shapesOf(symbol: PartSymbol, operator: Operator, form: DrawingForm): SymbolShapes | null {
  if (symbol.startsWith('coil-')) return coilWithTime(symbol, form);
  const isContact = symbol === 'contact-no' || symbol === 'contact-nc';
  if (form === 'us' && isContact && HANDS.has(operator)) return usWorked(symbol, operator);
  const known = BOTH[symbol] ?? (form === 'us' ? US[symbol] : undefined) ?? IEC[symbol];
  // A US overload contact is known by its name alone.
  const shown = form === 'us' && operator === 'overload' ? 'none' : operator;
  return known && isContact
    ? { ...known, fixed: [...known.fixed, ...OPERATOR_SHAPES[shown]] }
    : (known ?? null);
}

/** Motors, transformers and supplies: shapes in their own box, the same way up in both forms. */
function wideShapes({ symbol, box: [x, y, width, height], terminals }: PlacedSymbol): readonly SymbolShape[] {
  const [cx, cy] = [x + width / 2, y + height / 2];
  const outline: SymbolShape = {
    kind: 'line',
    points: [
      [x, y],
      [x + width, y],
      [x + width, y + height],
      [x, y + height],
      [x, y],
    ],
  };
  if (symbol === 'supply') return [outline];
  if (symbol === 'transformer') {
    const isAcross = Object.values(terminals).some(([at]) => at === x);
    const r = Math.min(width, height) * 0.24;
    const [dx, dy] = isAcross ? [r * 0.62, 0] : [0, r * 0.62];
    return [
      outline,
      { kind: 'circle', at: [cx - dx, cy - dy], r },
      { kind: 'circle', at: [cx + dx, cy + dy], r },
    ];
  }
  const r = Math.min(width, height) / 2 - 6;
  return [
    outline,
    { kind: 'circle', at: [cx, cy], r },
    { kind: 'word', text: 'M', at: [cx, cy - 3], size: 15 },
    { kind: 'word', text: symbol === 'motor-three-phase' ? '3~' : '1~', at: [cx, cy + 13], size: 12 },
  ];
}

/** A placed symbol's shapes in the sheet's own coordinates. */
export function placedShapes(placed: PlacedSymbol, form: DrawingForm): SymbolShapes {
  const {
    symbol,
    operator,
    box: [x, y, width, height],
  } = placed;
  const shapes = shapesOf(symbol, operator, form);
  if (!shapes) return plain(...wideShapes(placed));
  const isSingle = symbol === 'terminal';
  // A single terminal that hangs from below is turned about.
  const [only] = Object.values(placed.terminals);
  const isTurned = isSingle && only !== undefined && (form === 'iec' ? only[1] > y : only[0] > x);
  const along = form === 'iec' ? height : width;
  const put = ([a, c]: At): At => {
    const at = isTurned ? along - a : a;
    return form === 'iec' ? [x + width / 2 + c, y + at] : [x + at, y + height / 2 + c];
  };
  const move = (shape: SymbolShape): SymbolShape =>
    shape.kind === 'line' ? { ...shape, points: shape.points.map(put) } : { ...shape, at: put(shape.at) };
  return {
    fixed: shapes.fixed.map(move),
    moving: shapes.moving && { open: shapes.moving.open.map(move), closed: shapes.moving.closed.map(move) },
    atRest: shapes.atRest,
  };
}
