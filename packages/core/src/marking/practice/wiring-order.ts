import { foldEdits, type Wiring } from '../../bench/index.js';
import { circuitOfLead, placesOf } from '../../circuit/index.js';
import type { Practice } from '../exercise.js';
import type { RuleVerdict } from '../rules/index.js';
import type { WorkEvent } from './work.js';

/**
 * Of the leads that stayed, those of the later circuit that went in before the last of the earlier one. Leads
 * that were found together on a physical board tell nothing of their order.
 */
export function judgeWiringOrder(
  order: NonNullable<Practice['wiringOrder']>,
  log: readonly WorkEvent[],
  opening: Wiring,
): Pick<RuleVerdict, 'broken' | 'kept'> {
  const places = placesOf(opening);
  const events = log.flatMap((event) => (event.kind === 'edit' ? [event] : []));
  const folded = foldEdits(
    opening,
    events.map(({ edit }) => edit),
  );
  const stays = new Set(folded.wires.map(({ from, to }) => `${from} ${to}`));
  const placed = events.flatMap(({ edit, source }, when) => {
    if (source === 'scan') return [];
    const wire = edit.do === 'connect' ? edit.wire : edit.do === 'move' ? edit.to : null;
    const circuit = wire && circuitOfLead(places, wire);
    return wire && circuit && stays.has(`${wire.from} ${wire.to}`)
      ? [{ circuit, when, name: `${wire.from} to ${wire.to}` }]
      : [];
  });
  const first = order === 'power-first' ? 'power' : 'control';
  const lastOfFirst = Math.max(-1, ...placed.flatMap((one) => (one.circuit === first ? [one.when] : [])));
  const later = placed.filter(({ circuit }) => circuit !== first);
  const early = later.filter(({ when }) => when < lastOfFirst);
  if (early.length === 0) return { broken: null };
  return {
    broken: {
      found: `${early.length} of ${later.length} leads of the other circuit went in before the ${first} circuit was complete, first ${early[0]?.name ?? ''}`,
    },
    kept: 1 - early.length / later.length,
  };
}
