import { Alert } from 'antd';
import { describeIncident, type Incident, type IncidentKind } from '@contactum/core';

const ADVICE: Partial<Readonly<Record<IncidentKind, string>>> = {
  'breaker-trip': 'Find the cause with the supply off, then reset it at its lever.',
  'fuse-blown': 'Find the cause with the supply off, then click the fuse to replace it.',
  'overload-trip': 'Let it cool, then press Reset.',
  chatter:
    'Look for a coil fed through its own normally closed contact, or a controller output wired back to its input.',
  'single-phasing': 'A line to the motor is missing.',
  'live-earth': 'Join the motor’s PE to the supply’s PE.',
  'pushed-in-live': 'An armature is pushed in on a dead board only: switch off and prove dead first.',
};

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
      title={recent.map((incident) => describeIncident(incident)).join(' ')}
      description={last ? ADVICE[last.kind] : undefined}
    />
  );
}
