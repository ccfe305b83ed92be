import {
  plural,
  spellRef,
  terminalsOf,
  type Bench,
  type Lead,
  type LeadId,
  type Stimulus,
  type TerminalRef,
  type Wiring,
} from '@contactum/core';
import { LEAD_COLOURS } from '../board/colours.js';
import type { Ends } from './three-phase.js';

/** One typed line, understood. */
export type Command =
  | { readonly kind: 'connect'; readonly leads: readonly Ends[]; readonly colour?: string }
  | { readonly kind: 'cut'; readonly lead: LeadId }
  | { readonly kind: 'move'; readonly lead: LeadId; readonly end: 'from' | 'to'; readonly to: TerminalRef }
  | { readonly kind: 'do'; readonly stimulus: Stimulus }
  | { readonly kind: 'supply'; readonly on: boolean }
  | { readonly kind: 'undo' | 'redo' }
  | { readonly kind: 'wrong'; readonly text: string };

export const TYPED_HELP =
  'KM1 13 > S2 13 lays a lead; G1 L1 L2 L3 > Q1 1 3 5 lays three; S1 22 > S2 13 > KM1 13 goes on; ; between ' +
  'several. Also: KM1 13 > S2 13 red, cut KM1 13 > S2 13, move KM1 13 > S2 13 to S2 14, undo, redo, on, off, ' +
  'press S2, release S2, trip F2, reset F2.';

const wrong = (text: string): Command => ({ kind: 'wrong', text });

/** `KM1 13`, `KM1:13` or `km1.13`, matched to a terminal of the bench whatever the case. */
function terminal(bench: Bench, text: string): TerminalRef | null {
  const wanted = text
    .trim()
    .replace(/[\s:.]+/, ':')
    .toLowerCase();
  return terminalsOf(bench).find((ref) => ref.toLowerCase() === wanted) ?? null;
}

const ARROW = /\s*(?:>|->|→)\s*/;
const HOW = 'Write two terminals with > between them, as in KM1 13 > S2 13.';

/** `Q1 1 3 5`: terminals of one device, or one as `terminal` reads it. */
function terminalsIn(bench: Bench, text: string): readonly TerminalRef[] | string {
  const [tag = '', ...names] = text.trim().split(/[\s:.]+/);
  if (names.length < 2) {
    const one = terminal(bench, text);
    return one ? [one] : `“${text.trim()}” is not a terminal of this board.`;
  }
  const found: TerminalRef[] = [];
  for (const name of names) {
    const ref = terminal(bench, `${tag} ${name}`);
    if (!ref) return `“${tag} ${name}” is not a terminal of this board.`;
    found.push(ref);
  }
  return found;
}

/** Leads of one part of a line: from each list of terminals to the next, one by one. */
function leadsIn(bench: Bench, text: string): readonly Ends[] | string {
  const leads: Ends[] = [];
  let before: readonly TerminalRef[] | null = null;
  for (const part of text.split(ARROW)) {
    const list: readonly TerminalRef[] | string = part.trim() === '' ? HOW : terminalsIn(bench, part);
    if (typeof list === 'string') return list;
    if (before && before.length !== list.length)
      return (
        `${plural(before.length, 'terminal')} and ${plural(list.length, 'terminal')} ` +
        'stand on the sides of a >: write as many on each.'
      );
    for (const [n, from] of (before ?? []).entries()) {
      const to = list[n];
      if (to) leads.push({ from, to });
    }
    before = list;
  }
  return leads.length > 0 ? leads : HOW;
}

function pair(bench: Bench, text: string): Ends | string {
  const leads = leadsIn(bench, text);
  if (typeof leads === 'string') return leads;
  const [only, ...others] = leads;
  return only && others.length === 0 ? only : HOW;
}

/** The lead between two terminals that was laid last. */
const leadBetween = ({ wires }: Wiring, from: TerminalRef, to: TerminalRef): Lead | undefined =>
  wires.findLast((wire) => (wire.from === from && wire.to === to) || (wire.from === to && wire.to === from));

/** Reads a typed line on this bench. */
export function readTyped(bench: Wiring, line: string): Command {
  const text = line.trim();
  const word = text.toLowerCase();
  if (word === 'undo' || word === 'redo') return { kind: word };
  if (word === 'on' || word === 'off') return { kind: 'supply', on: word === 'on' };
  const stimulus = readStimulus(bench, text);
  if (stimulus) return stimulus;

  const cut = /^(?:cut|remove)\s+(.+)$/i.exec(text);
  const move = /^move\s+(.+?)\s+to\s+(.+)$/i.exec(text);
  const body = cut?.[1] ?? move?.[1] ?? text;
  const { lead, colour } = splitColour(body);
  if (!cut && !move) {
    const leads: Ends[] = [];
    for (const part of lead.split(';').filter((one) => one.trim() !== '')) {
      const own = leadsIn(bench, part);
      if (typeof own === 'string') return wrong(own);
      leads.push(...own);
    }
    if (leads.length === 0) return wrong(HOW);
    return { kind: 'connect', leads, ...(colour ? { colour } : {}) };
  }
  const ends = pair(bench, lead);
  if (typeof ends === 'string') return wrong(ends);
  const found = leadBetween(bench, ends.from, ends.to);
  if (!found) return wrong(`There is no lead from ${spellRef(ends.from)} to ${spellRef(ends.to)}.`);
  if (cut) return { kind: 'cut', lead: found.id };
  const to = terminal(bench, move?.[2] ?? '');
  if (!to) return wrong(`“${move?.[2] ?? ''}” is not a terminal of this board.`);
  // The end that was written last is the one that moves.
  const end = found.to === ends.to ? 'to' : 'from';
  return { kind: 'move', lead: found.id, end, to };
}

function splitColour(text: string): { lead: string; colour?: string } {
  const lower = text.toLowerCase();
  // Longest name first: "light blue" before "blue".
  const names = LEAD_COLOURS.flatMap(({ name, code }) => [
    { word: name, name },
    { word: code.toLowerCase(), name },
  ]).sort((a, b) => b.word.length - a.word.length);
  for (const { word, name } of names)
    if (lower.endsWith(` ${word}`)) return { lead: text.slice(0, -word.length - 1).trim(), colour: name };
  return { lead: text };
}

const VERBS: readonly { readonly pattern: RegExp; readonly make: (tag: string) => Stimulus }[] = [
  { pattern: /^press\s+(\S+)$/i, make: (press) => ({ press }) },
  { pattern: /^(?:let go|release)\s+(\S+)$/i, make: (release) => ({ release }) },
  { pattern: /^trip\s+(\S+)$/i, make: (trip) => ({ trip }) },
  { pattern: /^reset\s+(\S+)$/i, make: (reset) => ({ reset }) },
  { pattern: /^open\s+(\S+)$/i, make: (open) => ({ open }) },
  { pattern: /^close\s+(\S+)$/i, make: (close) => ({ close }) },
];

function readStimulus(bench: Bench, text: string): Command | null {
  for (const { pattern, make } of VERBS) {
    const tag = pattern.exec(text)?.[1];
    if (tag === undefined) continue;
    const device = bench.devices.find((d) => d.tag.toLowerCase() === tag.toLowerCase());
    return device ? { kind: 'do', stimulus: make(device.tag) } : wrong(`There is no ${tag} on this board.`);
  }
  return null;
}

/** Most that is offered while a line is typed. */
const OFFERED = 12;

/** How a typed line may go on: terminals after a lead's first letters, words that begin a line. */
export function completions(bench: Bench, line: string): string[] {
  const [, head = '', tail = ''] = /^(.*?(?:>|->|→|^cut |^move |\bto )\s*)?([^>]*)$/.exec(line) ?? [];
  const before = line.slice(0, line.length - tail.length) || head;
  const wanted = tail
    .trim()
    .toLowerCase()
    .replace(/[:.\s]+/g, ' ');
  if (wanted === '' && before === '') return [];
  return terminalsOf(bench)
    .map(spellRef)
    .filter((text) => text.toLowerCase().startsWith(wanted) && text.toLowerCase() !== wanted)
    .slice(0, OFFERED)
    .map((text) => `${before}${text}`);
}
