import { spellRef } from '../bench/index.js';
import type { Incident, IncidentKind } from './trace.js';

const WORDS: Readonly<Record<IncidentKind, string>> = {
  'phase-to-phase': 'Short circuit between two phases',
  'phase-to-neutral': 'Short circuit from phase to neutral',
  'phase-to-earth': 'Short circuit from phase to earth',
  'dc-short': 'Short circuit of the DC supply',
  'coil-overvoltage': 'Coil gets too much voltage',
  'coil-burnt': 'Coil has burnt out',
  'lamp-burnt': 'Lamp has burnt out',
  chatter: 'Chattering',
  'overload-trip': 'Overload relay has tripped',
  'breaker-trip': 'Breaker has opened',
  'fuse-blown': 'Fuse has blown',
  'single-phasing': 'Motor runs on two lines only',
  stall: 'Motor is stalled',
  plugging: 'Motor is driven against its turning',
  'live-earth': 'Voltage on a frame that is not earthed',
  'pushed-in-live': 'Armature pushed in by hand with voltage on its contactor',
};

const SHORTS: readonly IncidentKind[] = ['phase-to-phase', 'phase-to-neutral', 'phase-to-earth', 'dc-short'];

export const isShort = (kind: IncidentKind): boolean => SHORTS.includes(kind);

/** An incident in a sentence that names the place. */
export function describeIncident({ kind, where }: Incident): string {
  if (!isShort(kind)) return `${WORDS[kind]}: ${where.join(', ')}.`;
  const spelled = where.map(spellRef);
  const way = spelled.slice(1, -1);
  const by = way.length > 0 ? ` by way of ${way.join(', ')}` : '';
  return `${WORDS[kind]}: ${spelled[0] ?? ''} met ${spelled.at(-1) ?? ''}${by}.`;
}
