import { Alert } from 'antd';
import { spellRef, type Incident, type IncidentKind } from '@contactum/core';

const WORDS: Readonly<Record<IncidentKind, string>> = {
  'phase-to-phase': 'Short circuit between two phases',
  'phase-to-neutral': 'Short circuit from phase to neutral',
  'phase-to-earth': 'Short circuit from phase to earth',
  'dc-short': 'Short circuit of the DC supply',
  'coil-overvoltage': 'Coil gets too much voltage',
  'coil-burnt': 'Coil has burnt out',
  'lamp-burnt': 'Lamp has burnt out',
  chatter: 'Armature chatters',
  'overload-trip': 'Overload relay has tripped',
  'breaker-trip': 'Breaker has opened',
  'fuse-blown': 'Fuse has blown',
  'single-phasing': 'Motor runs on two lines only',
  stall: 'Motor is stalled',
  plugging: 'Motor is driven against its turning',
  'live-earth': 'Voltage on a frame that is not earthed',
  'pushed-in-live': 'Armature pushed in by hand with voltage on its contactor',
};

const ADVICE: Partial<Readonly<Record<IncidentKind, string>>> = {
  'breaker-trip': 'Find the cause with the supply off, then reset it at its lever.',
  'fuse-blown': 'Find the cause with the supply off, then click the fuse to replace it.',
  'overload-trip': 'Let it cool, then press Reset.',
  chatter: 'Look for a coil fed through its own normally closed contact.',
  'single-phasing': 'A line to the motor is missing.',
  'live-earth': 'Join the motor’s PE to the supply’s PE.',
  'pushed-in-live': 'An armature is pushed in on a dead board only: switch off and prove dead first.',
};

const SHORTS: readonly IncidentKind[] = ['phase-to-phase', 'phase-to-neutral', 'phase-to-earth', 'dc-short'];

export const isShort = (kind: IncidentKind): boolean => SHORTS.includes(kind);

/** What happened, where, and what to do; the last few incidents of this board. */
export function IncidentBanner({
  incidents,
  onClose,
}: {
  incidents: readonly Incident[];
  onClose: () => void;
}) {
  if (incidents.length === 0) return null;
  const recent = incidents.slice(-3);
  const last = recent.at(-1);
  return (
    <Alert
      className="incident"
      type="error"
      showIcon
      closable={{ onClose, 'aria-label': 'Clear incidents' }}
      title={recent.map((incident) => sentence(incident)).join(' ')}
      description={last ? ADVICE[last.kind] : undefined}
    />
  );
}

/** An incident in a sentence that names the place. */
export function sentence({ kind, where }: Incident): string {
  if (!isShort(kind)) return `${WORDS[kind]}: ${where.join(', ')}.`;
  const spelled = where.map(spellRef);
  const way = spelled.slice(1, -1);
  return `${WORDS[kind]}: ${spelled[0] ?? ''} met ${spelled.at(-1) ?? ''}${way.length > 0 ? ` by way of ${way.join(', ')}` : ''}.`;
}
