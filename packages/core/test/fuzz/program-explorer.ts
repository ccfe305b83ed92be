import type { Program } from '@contactum/core';
import { PlainScanner } from './scanner.js';

/**
 * A plain explorer of a controller with two buttons and two contactors that report back: scan by scan, in
 * every order in which anything may arrive. Written beside the engine from what the format says of proofs;
 * nothing of it is the engine's.
 */

type Place = 'rest' | 'in' | 'pulling in' | 'falling' | 'letting go';

interface Plain {
  supply: boolean;
  buttons: Place[];
  contactors: Place[];
  /** What the program has seen at its inputs, and what stands at its outputs. */
  seen: boolean[];
  shown: boolean[];
  memory: string;
}

/** What reaches the inputs: a button, or a contactor's auxiliary contact. */
export type Feed = { readonly button: number } | { readonly contactor: number };

export interface Found {
  readonly settled: number;
  readonly chatters: boolean;
}

const copy = (one: Plain): Plain => JSON.parse(JSON.stringify(one)) as Plain;

export class ProgramExplorer {
  private readonly ends = new Map<string, { ends: Set<string>; sticks: boolean }>();

  constructor(
    private readonly program: Program,
    private readonly feeds: readonly Feed[],
    /** Which output feeds each contactor's coil. */
    private readonly outputs: readonly number[],
  ) {}

  explore(limit = 20_000): Found | null {
    const fresh: Plain = {
      supply: true,
      buttons: ['rest', 'rest'],
      contactors: ['rest', 'rest'],
      seen: this.feeds.map(() => false),
      shown: this.outputs.map(() => false),
      memory: new PlainScanner(this.program, 0.01).save(),
    };
    const settled = new Set<string>();
    let chatters = false;
    const take = (from: Plain): void => {
      const { ends, sticks } = this.settle(from);
      if (sticks) chatters = true;
      for (const end of ends) settled.add(end);
    };
    take(fresh);
    for (const key of settled) {
      if (settled.size > limit) return null;
      for (const next of this.stimuli(JSON.parse(key) as Plain)) take(next);
    }
    return { settled: settled.size, chatters };
  }

  private stimuli(state: Plain): Plain[] {
    const supply = copy(state);
    supply.supply = !state.supply;
    return [
      supply,
      ...state.buttons.map((place, k) => {
        const next = copy(state);
        next.buttons[k] = place === 'rest' ? 'pulling in' : 'falling';
        return next;
      }),
    ];
  }

  /** Every situation at rest that can follow; whether one can out of which no order leads to rest. */
  private settle(from: Plain): { ends: Set<string>; sticks: boolean } {
    const start = JSON.stringify(from);
    const known = this.ends.get(start);
    if (known) return known;
    const seen = new Map<string, string[]>([[start, []]]);
    const ends = new Set<string>();
    for (const key of seen.keys()) {
      const next = this.next(JSON.parse(key) as Plain).map((one) => JSON.stringify(one));
      if (next.length === 0) ends.add(key);
      for (const one of next) seen.set(one, [...(seen.get(one) ?? []), key]);
    }
    // Backwards from what is at rest: what is not met leads nowhere.
    const rests = new Set(ends);
    for (const key of rests) for (const from of seen.get(key) ?? []) rests.add(from);
    const found = { ends, sticks: rests.size < seen.size };
    this.ends.set(start, found);
    return found;
  }

  private next(state: Plain): Plain[] {
    const decided = this.decide(state);
    if (decided) return [decided];
    const scanned = this.scan(state);
    return scanned.length > 0 ? scanned : this.arrivals(state);
  }

  private isFed(state: Plain, contactor: number): boolean {
    return state.supply && state.shown[this.outputs[contactor]!]!;
  }

  /** Coils act at once. */
  private decide(state: Plain): Plain | null {
    const next = copy(state);
    state.contactors.forEach((place, k) => {
      if (this.isFed(state, k)) {
        if (place === 'rest' || place === 'falling') next.contactors[k] = 'pulling in';
        if (place === 'letting go') next.contactors[k] = 'in';
      } else if (place === 'in') next.contactors[k] = 'letting go';
    });
    return JSON.stringify(next) === JSON.stringify(state) ? null : next;
  }

  private scan(state: Plain): Plain[] {
    const scanner = new PlainScanner(this.program, 0.01);
    scanner.load(state.memory);
    if (!state.supply) {
      scanner.restart();
      const off = { ...copy(state), seen: state.seen.map(() => false), shown: state.shown.map(() => false) };
      off.memory = scanner.save();
      return JSON.stringify(off) === JSON.stringify(state) ? [] : [off];
    }
    const bits = state.shown.map((_, k) => scanner.read(`Q${k}`));
    if (bits.some((bit, k) => bit !== state.shown[k])) return [{ ...copy(state), shown: bits }];
    const there = this.feeds.map((feed) =>
      'button' in feed
        ? state.buttons[feed.button] === 'in'
        : ['in', 'letting go'].includes(state.contactors[feed.contactor]!),
    );
    const unseen = there.flatMap((on, k) => (on === state.seen[k] ? [] : [k]));
    const variants = unseen.length > 1 ? [...unseen.map((k) => [k]), unseen] : [unseen];
    return variants.flatMap((taken) => {
      const next = copy(state);
      for (const k of taken) next.seen[k] = there[k]!;
      scanner.load(state.memory);
      scanner.work(Object.fromEntries(next.seen.map((on, k) => [`I0.${k}`, on])));
      next.memory = scanner.save();
      return JSON.stringify(next) === JSON.stringify(state) ? [] : [next];
    });
  }

  private arrivals(state: Plain): Plain[] {
    const found: Plain[] = [];
    const go = (list: 'buttons' | 'contactors', k: number, to: Place): void => {
      const next = copy(state);
      next[list][k] = to;
      found.push(next);
    };
    const arrives = { 'pulling in': 'in', falling: 'rest', 'letting go': 'falling' } as const;
    state.buttons.forEach((place, k) => {
      if (place !== 'rest' && place !== 'in') go('buttons', k, arrives[place]);
    });
    // The lag of an armature that lets go is shorter than the travel of one that pulls in.
    const parting = state.contactors.includes('letting go');
    state.contactors.forEach((place, k) => {
      if (place === 'rest' || place === 'in' || (parting && place === 'pulling in')) return;
      go('contactors', k, arrives[place]);
      if (place === 'pulling in' && !this.isFed(state, k)) go('contactors', k, 'falling');
    });
    return found;
  }
}
