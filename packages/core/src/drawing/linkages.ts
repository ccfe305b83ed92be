import type { Bench } from '../bench/index.js';
import type { DrawingForm, DrawnLinkage, DrawnText, PlacedSymbol } from './drawing.js';
import type { At } from './shape.js';
import type { SymbolShape } from './shape.js';

/** Beside the middle of the contacts, clear of designations; a linkage ends this far before what it links. */
const BESIDE = { iec: 4, us: 37 } as const;
const SHORT = 4;
/** Half the side of the triangle that says of a dashed line that it locks (IEC 60617, from memory). */
const LOCK = 5;

/**
 * Devices of a mechanical interlock that stand beside each other on one sheet, joined by a dashed line with a
 * triangle on it.
 */
export function linkagesOf(
  { interlocks }: Bench,
  symbols: readonly PlacedSymbol[],
  form: DrawingForm,
): { readonly linkages: DrawnLinkage[]; readonly texts: DrawnText[] } {
  const linkages: DrawnLinkage[] = [];
  const texts: DrawnText[] = [];
  const poles = symbols.filter(({ symbol }) => symbol === 'contact-main');
  for (const { between } of interlocks) {
    const placed = between
      .map((tag) => poles.filter(({ device }) => device === tag))
      .filter((own) => own.length > 0)
      .toSorted((a, b) => middleOf(a[0]!, form) - middleOf(b[0]!, form));
    placed.slice(1).forEach((next, k) => {
      const last = placed[k]!.at(-1)!;
      const first = next[0]!;
      // In rows of their own a line from one to the other would run through what stands between.
      if (startOf(last, form) === startOf(first, form))
        linkages.push({ between: [last.device, first.device], shapes: shapesBetween(last, first, form) });
      else texts.push(noteOf([last.device, first.device], first));
    });
  }
  return { linkages, texts };
}

function noteOf([one, other]: readonly [string, string], { box: [x, y, , height] }: PlacedSymbol): DrawnText {
  return {
    text: `${one} and ${other} locked mechanically`,
    at: [x, y + height + 24],
    of: other,
    anchor: 'start',
    kind: 'reference',
  };
}

function shapesBetween(last: PlacedSymbol, first: PlacedSymbol, form: DrawingForm): SymbolShape[] {
  const along = startOf(last, form) + BESIDE[form];
  const [from, to] = [middleOf(last, form) + SHORT, middleOf(first, form) - SHORT];
  const middle = (from + to) / 2;
  const at = (across: number, off = 0): At =>
    form === 'iec' ? [across, along + off] : [along + off, across];
  return [
    { kind: 'line', points: [at(from), at(to)], dashed: true },
    {
      kind: 'line',
      points: [
        at(middle - LOCK, -LOCK),
        at(middle + LOCK, -LOCK),
        at(middle, LOCK),
        at(middle - LOCK, -LOCK),
      ],
      filled: true,
    },
  ];
}

/** Where a symbol begins along the current. */
const startOf = ({ box: [x, y] }: PlacedSymbol, form: DrawingForm): number => (form === 'iec' ? y : x);

/** Its middle across the current. */
const middleOf = ({ box: [x, y, width, height] }: PlacedSymbol, form: DrawingForm): number =>
  form === 'iec' ? x + width / 2 : y + height / 2;
