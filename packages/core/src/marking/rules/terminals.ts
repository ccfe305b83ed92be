import { conductorsByTerminal } from '../../bench/index.js';
import { anatomy, number, optional } from '../../catalogue/index.js';
import type { Circuit } from '../../circuit/index.js';
import { breachAtEach, rule, type Breach } from './rule.js';

/** Conductors that an ordinary terminal takes. */
const ORDINARY = 2;

/** Judged on every board: where the exercise gives no number, by what each terminal takes. */
export const maxWiresPerTerminal = {
  ...rule<number | undefined>({
    otherwise: undefined,
    id: () => 'conductors-per-terminal',
    title: (most) =>
      most === undefined ? 'No terminal overfilled' : `At most ${most} conductors on a terminal`,
    sentence: (most) => (most === undefined ? '' : `At most ${most} conductors on a terminal.`),
    breach: overfilled,
  }),
  field: optional(number('Conductors on a terminal', { whole: true, min: 1, max: 8 })),
};

function overfilled({ bench }: Circuit, most: number | undefined): Breach | null {
  const limits = new Map<string, number>(
    bench.devices.flatMap((device) =>
      anatomy(device).terminals.map(({ name, conductors }) => [`${device.tag}:${name}`, conductors] as const),
    ),
  );
  const full = [...conductorsByTerminal(bench.wires)].filter(([ref, count]) => {
    const own = limits.get(ref) ?? ORDINARY;
    // Supply terminals take any number and strips four; the house rule speaks of ordinary terminals.
    return count > (own === ORDINARY ? (most ?? own) : own);
  });
  return breachAtEach(
    full.length,
    full.map(([ref]) => ref),
    full.map(([ref, count]) => `${count} conductors on ${ref}`).join(', '),
  );
}
