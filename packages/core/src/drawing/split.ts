import type { At } from './shape.js';
import type { Drawing, DrawingForm, DrawnLine, DrawnLink, DrawnText, Sheet } from './drawing.js';
import { dotsOf } from './geometry.js';

/** Along which a sheet is cut: 0 is x, 1 is y. */
export type Axis = 0 | 1;

/** Room kept about what stands at an edge of a piece, drawing units. */
const MARGIN = 40;
/** What a cut stays clear of, drawing units. */
const CLEAR = 12;
/** How much of the room that there is a cut may give away to cross fewer lines, per unit. */
const GIVEN = 0.35;

/**
 * Cuts a sheet that is longer than a page into pieces: between symbols, where the fewest lines cross. A line
 * that is cut goes on under the name of its net on both sides, so that the pieces say what the whole says.
 */
export function splitSheet(
  sheet: Sheet,
  { form, nets }: Pick<Drawing, 'form' | 'nets'>,
  axis: Axis,
  most: number,
): Sheet[] {
  const pieces: Sheet[] = [];
  let rest = sheet;
  while (rest.size[axis] > most) {
    const at = cutOf(rest, axis, most - MARGIN);
    if (at === null) break;
    const [first, second] = halves(rest, { form, nets }, axis, at);
    pieces.push(first);
    rest = second;
  }
  return [...pieces, rest];
}

/** Where symbols, texts and lines along the cut leave a gap; the widest piece among those that cross few lines. */
function cutOf({ symbols, lines, linkages }: Sheet, axis: Axis, most: number): number | null {
  const spans: (readonly [number, number])[] = [
    ...symbols.map(({ box }): [number, number] => [box[axis], box[axis] + box[2 + axis]!]),
    ...lines.flatMap(({ points: [a, b] }) => (a[axis] === b[axis] ? [[a[axis], a[axis]] as const] : [])),
    // A mechanical interlock is not drawn in two halves.
    ...linkages.flatMap(({ shapes }) =>
      shapes.flatMap((shape) =>
        shape.kind === 'line'
          ? [
              [
                Math.min(...shape.points.map((p) => p[axis])),
                Math.max(...shape.points.map((p) => p[axis])),
              ] as const,
            ]
          : [],
      ),
    ),
  ];
  const edges = spans.map(([, end]) => end + CLEAR + 0.5);
  const isFree = (at: number) => spans.every(([from, to]) => at < from - CLEAR || at > to + CLEAR);
  const crossing = (at: number) =>
    lines.filter(({ points: [a, b] }) => Math.min(a[axis], b[axis]) < at && Math.max(a[axis], b[axis]) > at)
      .length;
  const begin = Math.min(...spans.map(([from]) => from));
  const far = edges.filter((at) => at > begin && at <= most && isFree(at));
  const last = Math.max(...far);
  const near = far.filter((at) => at >= last - GIVEN * most);
  if (near.length === 0) return null;
  return near.reduce((best, at) => {
    const less = crossing(at) - crossing(best);
    return less < 0 || (less === 0 && at > best) ? at : best;
  });
}

function halves(
  sheet: Sheet,
  { form, nets }: Pick<Drawing, 'form' | 'nets'>,
  axis: Axis,
  at: number,
): [Sheet, Sheet] {
  const isBefore = (place: At) => place[axis] < at;
  const cut: [DrawnLine[], DrawnLine[]] = [[], []];
  const ends: [DrawnLink[], DrawnLink[]] = [[], []];
  for (const line of sheet.lines) {
    const [a, b] = line.points;
    if (isBefore(a) === isBefore(b)) {
      cut[isBefore(a) ? 0 : 1].push(line);
      continue;
    }
    const [low, high] = isBefore(a) ? [a, b] : [b, a];
    const point = (along: number): At => (axis === 0 ? [along, low[1]] : [low[0], along]);
    const name = nets[line.net]!.name;
    const sides = axis === 0 ? (['right', 'left'] as const) : (['below', 'above'] as const);
    // Each half ends a little before the cut, and where the next begins its net goes on.
    const [before, after] = [point(at - CLEAR / 2), point(at + CLEAR / 2)];
    cut[0].push({ ...line, points: [low, before] });
    ends[0].push({ name, at: before, net: line.net, side: sides[0] });
    cut[1].push({ ...line, points: [after, high] });
    ends[1].push({ name, at: after, net: line.net, side: sides[1] });
  }
  const half = (k: 0 | 1): Sheet => {
    const own = (place: At) => isBefore(place) === (k === 0);
    const symbols = sheet.symbols.filter(({ box }) => own([box[0], box[1]]));
    const spots = symbols.flatMap(({ device, terminals }) =>
      Object.entries(terminals).flatMap(([name, place]) => {
        const net = nets.findIndex(({ terminals: refs }) => refs.some((ref) => ref === `${device}:${name}`));
        return net < 0 ? [] : [{ at: place, net }];
      }),
    );
    const lines = cut[k];
    const links = [...sheet.links.filter(({ at: place }) => own(place)), ...ends[k]];
    return {
      circuit: sheet.circuit,
      size: sheet.size,
      symbols,
      lines,
      dots: dotsOf(lines, spots),
      links,
      texts: sheet.texts.filter(({ at: place }) => own(place)),
      linkages: sheet.linkages.filter(({ shapes: [shape] }) =>
        shape?.kind === 'line' ? own(shape.points[0]!) : k === 0,
      ),
      paths: sheet.paths.filter(({ at: path }) => (pathAxis(form) === axis ? path < at === (k === 0) : true)),
    };
  };
  const [first, second] = [half(0), half(1)];
  return [
    { ...first, size: resized(sheet.size, axis, at + MARGIN) },
    shifted(
      { ...second, size: resized(sheet.size, axis, sheet.size[axis] - at + MARGIN) },
      axis === 0 ? [MARGIN - at, 0] : [0, MARGIN - at],
      form,
    ),
  ];
}

/** Paths are numbered along x where they run down, along y where they run across. */
const pathAxis = (form: DrawingForm): Axis => (form === 'iec' ? 0 : 1);

const resized = (size: At, axis: Axis, length: number): At =>
  axis === 0 ? [length, size[1]] : [size[0], length];

/** A sheet whose content is moved. */
function shifted(sheet: Sheet, [dx, dy]: At, form: DrawingForm): Sheet {
  const to = ([x, y]: At): At => [x + dx, y + dy];
  const axis = pathAxis(form);
  return {
    ...sheet,
    symbols: sheet.symbols.map((symbol) => ({
      ...symbol,
      box: [symbol.box[0] + dx, symbol.box[1] + dy, symbol.box[2], symbol.box[3]] as const,
      terminals: Object.fromEntries(
        Object.entries(symbol.terminals).map(([name, at]) => [name, to(at)] as const),
      ),
    })),
    lines: sheet.lines.map((line) => ({
      ...line,
      points: [to(line.points[0]), to(line.points[1])] as const,
    })),
    dots: sheet.dots.map(to),
    links: sheet.links.map((link) => ({ ...link, at: to(link.at) })),
    texts: sheet.texts.map((text): DrawnText => ({ ...text, at: to(text.at) })),
    linkages: sheet.linkages.map((linkage) => ({
      ...linkage,
      shapes: linkage.shapes.map((shape) =>
        shape.kind === 'line' ? { ...shape, points: shape.points.map(to) } : { ...shape, at: to(shape.at) },
      ),
    })),
    paths: sheet.paths.map(({ number, at }) => ({ number, at: at + (axis === 0 ? dx : dy) })),
  };
}
