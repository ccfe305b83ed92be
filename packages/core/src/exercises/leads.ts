import type { TerminalRef, Wire } from '../bench/index.js';

/** What a lead is laid for; a form of an exercise gives each a colour and an area. */
const PURPOSES = ['power', 'control', 'return', 'earth', 'plus', 'minus'] as const;
export type Purpose = (typeof PURPOSES)[number];

/** How the leads of one purpose look. */
export interface Paint {
  readonly colour: string;
  /** mm² */
  readonly area: number;
}

const ENDS = /^(\S+(?: [^\s>]+)+) > (\S+(?: [^\s>]+)+)$/;

/**
 * Leads written shortly, one purpose a line: `power: G1 L1 L2 L3 > Q1 1 3 5; Q1 2 > F1 1`. A device is
 * followed by its terminals; as many on either side, joined in order. Throws with the words that are no
 * lead.
 */
export function readLeads(text: string, paint: Readonly<Record<Purpose, Paint>>): Wire[] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .flatMap((line) => {
      const [head = '', rest = ''] = line.split(': ');
      const purpose = PURPOSES.find((one) => one === head);
      if (!purpose) throw new Error(`"${line}" does not begin with what its leads are for`);
      return rest.split('; ').flatMap((run) => readRun(run, paint[purpose]));
    });
}

function readRun(run: string, { colour, area }: Paint): Wire[] {
  const [, from = '', to = ''] = ENDS.exec(run) ?? [];
  const [here, there] = [terminalsOf(from), terminalsOf(to)];
  if (here.length === 0 || here.length !== there.length) throw new Error(`"${run}" is no run of leads`);
  return here.map((ref, k) => ({ from: ref, to: there[k]!, colour, area }));
}

function terminalsOf(text: string): TerminalRef[] {
  const [tag = '', ...names] = text.split(' ');
  return names.map((name): TerminalRef => `${tag}:${name}`);
}
