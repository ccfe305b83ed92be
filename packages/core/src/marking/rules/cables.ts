import { splitRef } from '../../bench/index.js';
import { group, list, number, optional, text, type ValuesOf } from '../../catalogue/index.js';
import { breachAt, rule } from './rule.js';
import { nameOf } from './wires.js';

const cable = {
  devices: list('Devices in the box', text('Device', 24), [1, 24]),
  cores: number('Cores', { whole: true, min: 1, max: 40 }),
};
type Cable = ValuesOf<typeof cable>;

const boxOf = ({ devices }: Cable): string => devices.join(', ');

/** A station box hangs on a cable: no more leads leave it than the cable has cores. */
export const cables = {
  ...rule<readonly Cable[]>({
    each: (all) => all.map((one) => [one]),
    id: ([one]) => `cable-${(one?.devices[0] ?? '').toLowerCase().replaceAll(/[^a-z0-9]+/g, '-')}`,
    title: ([one]) => (one ? `At most ${one.cores} leads leave the box of ${boxOf(one)}` : ''),
    sentence: (all) =>
      all.map((one) => `The box of ${boxOf(one)} hangs on a cable of ${one.cores} cores.`).join(' '),
    breach({ bench: { wires } }, [one]) {
      if (!one) return null;
      const isInside = (ref: string) => one.devices.includes(splitRef(ref).tag);
      const leaving = wires.filter(({ from, to }) => isInside(from) !== isInside(to));
      if (leaving.length <= one.cores) return null;
      return breachAt(
        leaving.map(({ from, to }) => (isInside(from) ? from : to)),
        `${leaving.length} leads leave it: ${leaving.map(nameOf).join(', ')}`,
      );
    },
  }),
  field: optional(list('Cables to station boxes', group('Cable', cable), [1, 12])),
};
