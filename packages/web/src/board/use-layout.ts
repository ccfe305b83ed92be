import { useState } from 'react';
import {
  layLeads,
  relayLeads,
  type Bench,
  type Layout,
  type Lead,
  type LeadToLay,
  type Wire,
} from '@contactum/core';

/** A lead of a board that is worked at has a name; a wire of a bench has its place. */
export const leadKey = (wire: Wire | Lead, k: number): string => ('id' in wire ? wire.id : String(k));

const leadsOf = ({ wires }: Bench): LeadToLay[] =>
  wires.map((wire, k) => ({ key: leadKey(wire, k), from: wire.from, to: wire.to }));

const sameBoard = (a: Bench['devices'], b: Bench['devices']): boolean =>
  a === b ||
  (a.length === b.length && a.every(({ tag, type }, k) => tag === b[k]?.tag && type === b[k].type));

/** A board's devices and leads in their places; from edit to edit what stays lies as it lay. */
export function useLayout(bench: Bench): Layout {
  const [kept, setKept] = useState(() => ({ bench, layout: layLeads(bench, leadsOf(bench)) }));
  if (kept.bench === bench) return kept.layout;
  const leads = leadsOf(bench);
  const layout = sameBoard(kept.layout.devices, bench.devices)
    ? relayLeads(bench, kept.layout, leads)
    : layLeads(bench, leads);
  setKept({ bench, layout });
  return layout;
}
