import type { Bench } from '../bench/index.js';
import { drawControl } from './control.js';
import { MEASURES, type Canvas } from './canvas.js';
import type { DrawnLine, DrawnLink, Drawing, DrawingForm, PlacedSymbol, Sheet } from './drawing.js';
import type { At } from './shape.js';
import { dotsOf, liesOn, merged, same } from './geometry.js';
import { labelsOf, tablesOf } from './labels.js';
import { linkagesOf } from './linkages.js';
import { netlistOf, type Netlist } from './nets.js';
import { partsOf, type Part, type PowerPart } from './parts.js';
import { drawPower } from './power.js';
import { Rails } from './rails.js';
import { wireNumbers } from './wire-numbers.js';

/** The circuit of a bench as it is wired: power and control, and nothing that no wire reaches. */
export function drawingOf(bench: Bench, form: DrawingForm): Drawing {
  const netlist = netlistOf(bench);
  const parts = partsOf(bench, netlist);
  const isSupply = ({ symbol }: { readonly symbol: string }) => symbol === 'supply';
  const hasPower = parts.power.some((part) => !isSupply(part));
  const supplies = hasPower ? [] : parts.power.map(asControl);
  const rails = new Rails(bench, netlist);
  const sheets: Draft[] = [];
  if (hasPower) {
    const canvas = drawPower(bench, parts.power, netlist, form);
    sheets.push(draftOf('power', canvas, []));
  }
  if (parts.control.length + supplies.length > 0) {
    const { canvas, paths } = drawControl(parts.control, supplies, netlist, rails, form);
    sheets.push(draftOf('control', canvas, paths));
  }
  return { form, nets: netlist.nets, sheets: finished(sheets, bench, netlist, form) };
}

const asControl = ({ columns, ...part }: PowerPart): Part => ({
  ...part,
  ends: columns.flatMap(({ bottom }) => bottom ?? []),
});

/** A sheet whose lines are joined, before its links are known. */
interface Draft {
  readonly circuit: Sheet['circuit'];
  readonly symbols: readonly PlacedSymbol[];
  readonly lines: readonly DrawnLine[];
  readonly paths: readonly { readonly number: number; readonly at: number }[];
  readonly extent: At;
}

function draftOf(circuit: Sheet['circuit'], canvas: Canvas, paths: readonly number[]): Draft {
  const { margin } = MEASURES[canvas.form];
  const [x, y] = canvas.at(canvas.extent);
  return {
    circuit,
    symbols: canvas.symbols,
    lines: merged(canvas.lines),
    paths: paths.toSorted((a, b) => a - b).map((at, k) => ({ number: k + 1, at })),
    extent:
      canvas.form === 'iec' ? [x + margin.across, y + margin.along] : [x + margin.along, y + margin.across],
  };
}

/** A terminal where it is drawn. */
interface Spot {
  readonly net: number;
  readonly at: At;
  readonly box: PlacedSymbol['box'];
}

const spotsOf = ({ symbols }: Draft, { netOf, wired }: Netlist): Spot[] =>
  symbols.flatMap(({ device, box, terminals }) =>
    Object.entries(terminals).flatMap(([name, at]): Spot[] =>
      wired.has(`${device}:${name}`) ? [{ net: netOf.get(`${device}:${name}`)!, at, box }] : [],
    ),
  );

function finished(drafts: readonly Draft[], bench: Bench, netlist: Netlist, form: DrawingForm): Sheet[] {
  const spots = drafts.map((draft) => spotsOf(draft, netlist));
  const pieces = drafts.map((draft, k) => piecesOf(draft, spots[k]!));
  const count = new Map<number, number>();
  for (const { net } of pieces.flat()) count.set(net, (count.get(net) ?? 0) + 1);
  const links = pieces.map((own) =>
    own.filter(({ net }) => count.get(net)! > 1).map((piece) => linkOf(piece, netlist.nets[piece.net]!.name)),
  );
  const tables = tablesOf(drafts, form);
  return drafts.map((draft, k) => {
    const locks = linkagesOf(bench, draft.symbols, form);
    const numbers = form === 'us' ? wireNumbers(draft.lines, links[k]!, draft.symbols, netlist.nets) : [];
    const texts = [...labelsOf(draft.symbols, form), ...tables[k]!.texts, ...locks.texts, ...numbers];
    return {
      circuit: draft.circuit,
      size: [
        Math.max(draft.extent[0], tables[k]!.size[0]),
        Math.max(draft.extent[1], tables[k]!.size[1]),
      ] as const,
      symbols: draft.symbols,
      lines: draft.lines,
      dots: dotsOf(draft.lines, spots[k]!),
      links: links[k]!,
      texts,
      linkages: locks.linkages,
      paths: draft.paths,
    };
  });
}

/** What of a net hangs together on one sheet: lines, and terminals on them. */
interface Piece {
  readonly net: number;
  readonly lines: readonly DrawnLine[];
  readonly spots: readonly Spot[];
}

function piecesOf({ lines }: Draft, spots: readonly Spot[]): Piece[] {
  const nets = new Set([...lines.map(({ net }) => net), ...spots.map(({ net }) => net)]);
  return [...nets].flatMap((net) => {
    let open: Piece[] = [];
    const add = (piece: Piece, touches: (other: Piece) => boolean) => {
      const joined = open.filter(touches);
      open = [
        ...open.filter((other) => !joined.includes(other)),
        {
          net,
          lines: [...joined.flatMap((one) => one.lines), ...piece.lines],
          spots: [...joined.flatMap((one) => one.spots), ...piece.spots],
        },
      ];
    };
    for (const line of lines)
      if (line.net === net)
        add({ net, lines: [line], spots: [] }, ({ lines: others }) =>
          others.some(
            (other) =>
              line.points.some((point) => liesOn(point, other)) ||
              other.points.some((point) => liesOn(point, line)) ||
              crossesOwn(line, other),
          ),
        );
    spots.forEach((spot) => {
      if (spot.net !== net) return;
      add(
        { net, lines: [], spots: [spot] },
        (other) =>
          other.lines.some((line) => liesOn(spot.at, line)) ||
          other.spots.some(({ at }) => same(at, spot.at)),
      );
    });
    return open;
  });
}

/** Lines of one net that cross are joined there: a dot is put on them. */
function crossesOwn(a: DrawnLine, b: DrawnLine): boolean {
  const [[ax1, ay1], [ax2, ay2]] = a.points;
  const [[bx1, by1], [bx2, by2]] = b.points;
  const overlap = (p: number, q: number, r: number, s: number) =>
    Math.max(Math.min(p, q), Math.min(r, s)) <= Math.min(Math.max(p, q), Math.max(r, s));
  return overlap(ax1, ax2, bx1, bx2) && overlap(ay1, ay2, by1, by2);
}

/** Where the name of a piece stands: at an end of a line that leads to nothing, else at a terminal. */
function linkOf({ net, lines, spots }: Piece, name: string): DrawnLink {
  for (const line of lines)
    for (const [k, at] of line.points.entries()) {
      const isFree =
        !spots.some((spot) => same(spot.at, at)) &&
        !lines.some((other) => other !== line && liesOn(at, other));
      if (!isFree) continue;
      const [x, y] = line.points[k === 0 ? 1 : 0];
      const side = x === at[0] ? (at[1] < y ? 'above' : 'below') : at[0] < x ? 'left' : 'right';
      return { name, at, net, side };
    }
  const [spot] = spots;
  if (!spot) return { name, at: lines[0]!.points[0], net, side: 'left' };
  const [x, y] = spot.box;
  const side =
    spot.at[1] === y
      ? 'above'
      : spot.at[0] === x
        ? 'left'
        : spot.at[1] === y + spot.box[3]
          ? 'below'
          : 'right';
  return { name, at: spot.at, net, side };
}
