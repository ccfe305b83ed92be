import type { Problem } from '../bench/index.js';

/** A two-ended element of a deck: resistor, inductor, or a source. */
export interface DeckElement {
  readonly name: string;
  readonly kind: 'r' | 'l' | 'v' | 'e' | 'f';
  readonly nodes: readonly [string, string];
  /** Ohms or henries; of a source what it gives. */
  readonly value?: number;
  readonly dc?: number;
  readonly ac?: { readonly volts: number; readonly degrees: number };
  /**
   * Of a controlled source: by which two nodes or through which source it is controlled, and how much of
   * it.
   */
  readonly by?: readonly string[];
  readonly gain?: number;
}

/** A deck for an analysis of one contact state: its title and what lies between its nodes. */
export interface Deck {
  readonly title: string;
  readonly elements: readonly DeckElement[];
}

/** Writes a deck, an element a line. */
export function writeDeck({ title, elements }: Deck): string {
  return [
    `* ${title.replace(/\s+/g, ' ')}`,
    ...elements.map(elementLine),
    '.options rshunt=1e9',
    '.end',
    '',
  ].join('\n');
}

function elementLine({ name, kind, nodes, value, dc, ac, by = [], gain }: DeckElement): string {
  const ends = nodes.join(' ');
  if (kind === 'r' || kind === 'l') return `${name} ${ends} ${value ?? 0}`;
  if (kind !== 'v') return `${name} ${ends} ${by.join(' ')} ${gain ?? 0}`;
  if (dc === undefined) return `${name} ${ends} ${value ?? 0}`;
  return `${name} ${ends} dc ${dc}${ac ? ` ac ${ac.volts} ${ac.degrees}` : ''}`;
}

/** Endings of numbers: `2.2k`, `5m`, `3meg`. */
const SCALES: readonly (readonly [RegExp, number])[] = [
  [/^meg/, 1e6],
  [/^t/, 1e12],
  [/^g/, 1e9],
  [/^k/, 1e3],
  [/^m/, 1e-3],
  [/^u/, 1e-6],
  [/^n/, 1e-9],
  [/^p/, 1e-12],
];

function numberOf(word: string): number | null {
  const found = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)([a-z]*)$/.exec(word.toLowerCase());
  if (!found) return null;
  const scale = SCALES.find(([ending]) => ending.test(found[2] ?? ''))?.[1] ?? 1;
  return Number(found[1]) * scale;
}

/**
 * Reads a deck of resistors, inductors, sources and switches in one position; what it has no meaning for is
 * named with its line. Lines that begin with `+` go on with the one before; a first line that is no element
 * is the title.
 */
export function readDeck(text: string): { readonly deck: Deck; readonly problems: readonly Problem[] } {
  const problems: Problem[] = [];
  const elements: DeckElement[] = [];
  const lines = joinedLines(text);
  let title = '';
  for (const [k, { line, at }] of lines.entries()) {
    if (line.startsWith('*')) {
      if (k === 0) title = line.slice(1).trim();
      continue;
    }
    if (line.startsWith('.')) continue;
    const element = readElement(line.split(/\s+/));
    if (typeof element !== 'string') elements.push(element);
    // The first line of a deck is its title, whatever stands in it.
    else if (k === 0) title = line;
    else problems.push({ path: `line ${at}`, message: element });
  }
  const names = new Set<string>();
  for (const { name } of elements) {
    if (names.has(name)) problems.push({ path: name, message: `"${name}" stands twice` });
    names.add(name);
  }
  return { deck: { title, elements }, problems };
}

function joinedLines(text: string): { line: string; at: number }[] {
  const lines: { line: string; at: number }[] = [];
  text.split(/\r?\n/).forEach((raw, k) => {
    const line = raw.replace(/[;$].*$/, '').trim();
    const before = lines.at(-1);
    if (line.startsWith('+') && before) before.line += ` ${line.slice(1).trim()}`;
    else if (line !== '') lines.push({ line, at: k + 1 });
  });
  return lines;
}

/** An element, or what is wrong with its line. */
function readElement([name = '', a, b, ...rest]: readonly string[]): DeckElement | string {
  const kind = name[0]?.toLowerCase();
  if (a === undefined || b === undefined) return `"${name}" needs two nodes`;
  const nodes = [a, b] as const;
  if (kind === 'r' || kind === 'l') {
    const value = numberOf(rest[0] ?? '');
    return value === null ? `"${name}" has no value` : { name, kind, nodes, value };
  }
  if (kind === 'v') return readSource(name, nodes, rest);
  if (kind === 'e' || kind === 'f') {
    const by = rest.slice(0, kind === 'e' ? 2 : 1);
    const gain = numberOf(rest[by.length] ?? '');
    return gain === null ? `"${name}" has no gain` : { name, kind, nodes, by, gain };
  }
  return `"${name}" is no resistor, inductor or source`;
}

function readSource(
  name: string,
  nodes: readonly [string, string],
  words: readonly string[],
): DeckElement | string {
  const lower = words.map((word) => word.toLowerCase());
  const after = (key: string, k = 1) => {
    const at = lower.indexOf(key);
    return at < 0 ? null : numberOf(lower[at + k] ?? '');
  };
  const plain = numberOf(lower[0] ?? '');
  if (plain !== null) return { name, kind: 'v', nodes, value: plain };
  const [dc, volts] = [after('dc'), after('ac')];
  if (dc === null && volts === null) return `"${name}" has no value`;
  return {
    name,
    kind: 'v',
    nodes,
    dc: dc ?? 0,
    ...(volts === null ? {} : { ac: { volts, degrees: after('ac', 2) ?? 0 } }),
  };
}
