import type { DrawnLine, DrawnLink, DrawnText, Net, PlacedSymbol } from './drawing.js';

/** Shortest stretch of a line that has room for a number, drawing units. */
const SHORTEST = 22;
/** A number stands this far above its line. */
const ABOVE = 4;
/** Room that a letter takes, and the height of a number over its line. */
const LETTER = 6.5;
const HEIGHT = 14;
/** Where along a stretch a number is tried, per unit. */
const PARTS = [0.5, 0.3, 0.7, 0.15, 0.85] as const;

/**
 * The number of each conductor on its longest stretch across, clear of symbols; one that bears its name at a
 * link is not named again (wire numbers on every conductor: NFPA 79, from memory).
 */
export function wireNumbers(
  lines: readonly DrawnLine[],
  links: readonly DrawnLink[],
  symbols: readonly PlacedSymbol[],
  nets: readonly Net[],
): DrawnText[] {
  const named = new Set(links.map(({ net }) => net));
  const stretches = new Map<number, Stretch[]>();
  for (const { net, points } of lines) {
    const [[x1, y1], [x2, y2]] = points;
    const room = Math.abs(x2 - x1);
    if (y1 !== y2 || named.has(net) || room < SHORTEST) continue;
    stretches.set(net, [...(stretches.get(net) ?? []), { from: Math.min(x1, x2), y: y1, room }]);
  }
  const upright = lines.filter(({ points: [a, b] }) => a[0] === b[0]);
  return [...stretches].flatMap(([net, own]): DrawnText[] => {
    const text = nets[net]?.name ?? '';
    const half = (text.length * LETTER) / 2;
    const offSymbols = ({ x, y }: Place) =>
      symbols.every(
        ({ box: [left, top, width, height] }) =>
          x + half < left || x - half > left + width || y < top || y - HEIGHT > top + height,
      );
    const offLines = ({ x, y }: Place) =>
      upright.every(({ points: [a, b] }) => {
        const [low, high] = [Math.min(a[1], b[1]), Math.max(a[1], b[1])];
        return a[0] < x - half - 1 || a[0] > x + half + 1 || high <= y - HEIGHT || low >= y;
      });
    const places = own
      .toSorted((a, b) => b.room - a.room)
      .flatMap(({ from, y, room }) => PARTS.map((part) => ({ x: from + part * room, y })));
    const clear = places.filter(offSymbols);
    const place = clear.find(offLines) ?? clear[0];
    return text !== '' && place
      ? [{ text, at: [place.x, place.y - ABOVE], anchor: 'middle', kind: 'wire' }]
      : [];
  });
}

interface Place {
  readonly x: number;
  readonly y: number;
}

interface Stretch {
  readonly from: number;
  readonly y: number;
  readonly room: number;
}
