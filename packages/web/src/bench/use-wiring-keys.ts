import type { KeyboardEvent } from 'react';
import { plural, spellRef, type Lead, type TerminalRef } from '@contactum/core';
import { terminalTowards } from '../board/geometry.js';
import type { BenchStore } from './store.js';
import type { WiringHand } from './wiring-hand.js';

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

const endsAt = ({ from, to }: Lead, ref: string | undefined): boolean => from === ref || to === ref;

/** Wiring with the keyboard: arrows move between terminals, other keys work the lead there. */
export function useWiringKeys(store: BenchStore, hand: WiringHand, announce: (text: string) => void) {
  const { actions } = store;

  const step = (cursor: TerminalRef | null, at: TerminalRef, arrow: readonly [number, number]) => {
    const next = cursor ? (terminalTowards(hand.plan, at, ...arrow) as TerminalRef) : at;
    actions.patch({ cursor: next });
    const place = hand.plan.terminal.get(next);
    if (place) hand.follow(place);
    const leads = store.getState().bench.wires.filter((lead) => endsAt(lead, next)).length;
    announce(`${spellRef(next)}, ${leads === 0 ? 'no lead' : plural(leads, 'lead')}.`);
  };

  /** The next lead at the cursor. */
  const choose = (at: TerminalRef | undefined) => {
    const { bench, selected } = store.getState();
    const here = bench.wires.filter((lead) => endsAt(lead, at));
    const next = here[(here.findIndex(({ id }) => id === selected) + 1) % Math.max(here.length, 1)];
    actions.patch({ selected: next?.id ?? null });
    announce(next ? `Lead from ${spellRef(next.from)} to ${spellRef(next.to)} chosen.` : 'No lead here.');
  };

  /** Takes off the chosen lead's end at the cursor. */
  const takeEnd = (at: TerminalRef | undefined) => {
    const { bench, selected } = store.getState();
    const lead = bench.wires.find(({ id }) => id === selected);
    if (!lead || !endsAt(lead, at)) return;
    hand.take({ lead: lead.id, end: lead.from === at ? 'from' : 'to' });
    announce('End taken off. Go to another terminal and press Enter.');
  };

  const remove = () => {
    const { selected } = store.getState();
    if (selected === null) return;
    announce('Lead removed.');
    actions.cut(selected);
  };

  return (event: KeyboardEvent<SVGSVGElement>): void => {
    const { cursor } = store.getState();
    if ((event.target as Element).closest('.handle') || event.ctrlKey || event.metaKey || event.altKey)
      return;
    const at = cursor ?? (hand.plan.terminal.keys().next().value as TerminalRef | undefined);
    const arrow = ARROWS[event.key];
    const keys: Readonly<Record<string, () => void>> = {
      Enter: () => at && hand.touch(at),
      ' ': () => at && hand.touch(at),
      Delete: remove,
      Backspace: remove,
    };
    if (arrow && at) {
      event.preventDefault();
      step(cursor, at, arrow);
    } else if (event.key in keys) {
      event.preventDefault();
      keys[event.key]?.();
    } else if (event.key === 'Escape') hand.empty();
    else if (event.key === 'l') choose(at);
    else if (event.key === 'm') takeEnd(at);
  };
}
