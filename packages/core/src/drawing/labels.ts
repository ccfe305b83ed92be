import { isCoilSymbol, type DrawingForm, type DrawnText, type PlacedSymbol, type Sheet } from './drawing.js';
import type { At } from './shape.js';

/** Designations and terminal numbers beside their symbols. A device's poles bear its designation once. */
export function labelsOf(symbols: readonly PlacedSymbol[], form: DrawingForm): DrawnText[] {
  const poles = new Set(['contact-main', 'breaker', 'fuse', 'disconnector', 'heater']);
  const tagged = new Set<string>();
  return symbols.flatMap((placed) => {
    const { device, symbol, terminals, box } = placed;
    const isPole = poles.has(symbol);
    const isFirst = !isPole || !tagged.has(device);
    if (isPole) tagged.add(device);
    const tag: DrawnText[] = isFirst ? [tagOf(placed, form)] : [];
    if (symbol === 'supply') return [...tag, supplyName(placed)];
    return [
      ...tag,
      ...Object.entries(terminals).map(([name, at]) => terminalText(device, name, at, box, form)),
    ];
  });
}

function tagOf(
  { device, symbol, box: [x, y, width, height], operator }: PlacedSymbol,
  form: DrawingForm,
): DrawnText {
  const common = { text: device, of: device, kind: 'tag' } as const;
  const isWide = symbol.startsWith('motor') || symbol === 'transformer';
  if (isWide)
    return form === 'us'
      ? { ...common, at: [x + width / 2, y - 6], anchor: 'middle' }
      : { ...common, at: [x - 6, y + height / 2 + 4], anchor: 'end' };
  if (symbol === 'supply') return { ...common, at: [x + width / 2, y - 4], anchor: 'middle' };
  if (form === 'us')
    return { ...common, at: [x + width / 2, y - (operator.endsWith('delay') ? 12 : 5)], anchor: 'middle' };
  return { ...common, at: [x - (operator === 'none' ? 5 : 14), y + height / 2 + 4], anchor: 'end' };
}

const supplyName = ({ part, device, box: [x, y, width, height] }: PlacedSymbol): DrawnText => ({
  text: part,
  at: [x + width / 2, y + height / 2 + 4],
  of: device,
  anchor: 'middle',
  kind: 'terminal',
});

/** Beside the terminal, off the line that leaves it. */
function terminalText(
  device: string,
  name: string,
  [x, y]: At,
  [left, top, width, height]: PlacedSymbol['box'],
  form: DrawingForm,
): DrawnText {
  const common = { text: name, of: device, kind: 'terminal' } as const;
  if (y === top && x > left && x < left + width) return { ...common, at: [x + 4, y - 3], anchor: 'start' };
  if (y === top + height && x > left && x < left + width)
    return { ...common, at: [x + 4, y + 10], anchor: 'start' };
  const isLeft = x === left;
  return {
    ...common,
    at: [isLeft ? x - 3 : x + 3, form === 'us' ? y + 11 : y - 4],
    anchor: isLeft ? 'end' : 'start',
  };
}

type Draft = Pick<Sheet, 'circuit' | 'symbols' | 'lines' | 'paths'> & { readonly extent: At };

/** Where a contact stands: its path or rung; null on the power sheet. */
interface ContactPlace {
  readonly part: string;
  readonly isNc: boolean;
  readonly path: number | null;
}

const CONTACTS: ReadonlySet<string> = new Set(['contact-no', 'contact-nc', 'contact-main']);
const LINE = 13;

/**
 * Cross references: below each coil a table of its contacts with their paths (IEC), or behind its rung the
 * rungs of its contacts, NC ones underlined (US); at each contact the path of its coil.
 */
export function tablesOf(
  drafts: readonly Draft[],
  form: DrawingForm,
): { readonly texts: DrawnText[]; readonly size: At }[] {
  const axis = form === 'iec' ? 0 : 1;
  const pathOf = (draft: Draft, { terminals }: PlacedSymbol): number | null => {
    const at = Object.values(terminals)[0]?.[axis];
    return draft.paths.find((path) => path.at === at)?.number ?? null;
  };
  const contacts = new Map<string, ContactPlace[]>();
  const coils = new Map<string, { readonly part: string; readonly path: number }>();
  for (const draft of drafts)
    for (const placed of draft.symbols) {
      const { device, symbol, part } = placed;
      const path = pathOf(draft, placed);
      if (CONTACTS.has(symbol)) {
        const place = { part, isNc: symbol === 'contact-nc', path };
        contacts.set(device, [...(contacts.get(device) ?? []), place]);
      } else if (isCoilSymbol(symbol) && path !== null) coils.set(device, { part, path });
    }
  return drafts.map((draft) => {
    const [width, height] = draft.extent;
    const told = new Set<string>();
    const texts: DrawnText[] = [];
    let deepest = height;
    for (const placed of draft.symbols) {
      const { device, symbol, box, operator } = placed;
      const coil = coils.get(device);
      if (isCoilSymbol(symbol) && draft.circuit === 'control') {
        const list = contacts.get(device) ?? [];
        texts.push(
          ...(form === 'iec' ? tableBelow(placed, list, height) : referencesBehind(placed, list, width)),
        );
        if (form === 'iec') deepest = Math.max(deepest, height + (list.length + 1) * LINE);
      } else if (
        CONTACTS.has(symbol) &&
        coil !== undefined &&
        (operator === 'none' || operator.endsWith('delay')) &&
        !(symbol === 'contact-main' && told.has(device))
      ) {
        texts.push(contactReference(box, device, coil, form));
        told.add(device);
      }
    }
    const numbers = draft.paths.map(({ number, at }): DrawnText => ({
      text: String(number),
      at: form === 'iec' ? [at, 22] : [22, at + 4],
      anchor: 'middle',
      kind: 'number',
    }));
    return { texts: [...texts, ...numbers], size: [form === 'us' ? width + 60 : width, deepest] };
  });
}

function tableBelow(
  { device, terminals }: PlacedSymbol,
  list: readonly ContactPlace[],
  from: number,
): DrawnText[] {
  const x = Object.values(terminals)[0]![0];
  return list.map(({ part, path, isNc }, k) => ({
    text: `${isNc ? 'NC' : 'NO'} ${part}  ${path === null ? 'power' : `/${path}`}`,
    at: [x - 34, from - 26 + (k + 1) * LINE] as const,
    of: device,
    to: { device, part },
    anchor: 'start',
    kind: 'reference',
  }));
}

function referencesBehind(
  { device, box: [, y] }: PlacedSymbol,
  list: readonly ContactPlace[],
  width: number,
): DrawnText[] {
  return list
    .filter(({ path }) => path !== null)
    .map(({ path, isNc }, k) => ({
      text: String(path),
      at: [width - 84 + k * 20, y + 16] as const,
      of: device,
      anchor: 'start',
      kind: isNc ? 'reference-nc' : 'reference',
    }));
}

const contactReference = (
  [x, y, width, height]: PlacedSymbol['box'],
  device: string,
  { part, path }: { readonly part: string; readonly path: number },
  form: DrawingForm,
): DrawnText => ({
  text: `/${path}`,
  to: { device, part },
  at: form === 'iec' ? [x - 5, y + height / 2 + 16] : [x + width / 2 + 26, y - 5],
  of: device,
  anchor: form === 'iec' ? 'end' : 'start',
  kind: 'reference',
});
