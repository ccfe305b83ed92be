import { BARE, POLES, contactEnds, poleTerminals, type Anatomy, type ProtectionSpec } from '../anatomy.js';
import { CLOSED, OPEN } from '../states.js';

/** What breaker, fuse and disconnector have in common: poles that are closed, open, or tripped (blown). */
export function switchgear(
  count: number,
  closed: boolean,
  tripped: 'tripped' | 'blown',
  protection?: (poles: readonly string[]) => ProtectionSpec,
): Anatomy {
  const poles = POLES.slice(0, count);
  return {
    ...BARE,
    terminals: poleTerminals(poles),
    mechanism: { kind: 'switchgear', states: 3, initial: closed ? CLOSED : OPEN, tripped },
    contacts: poles.map((name) => {
      const [a, b] = contactEnds(name);
      return { name, a, b, role: 'pole', normally: 'none', closedIn: [true, false, false] };
    }),
    ...(protection ? { protection: protection(poles) } : {}),
  };
}
