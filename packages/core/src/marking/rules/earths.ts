import { meets, unbondedEarths, wiredTogether } from '../../circuit/index.js';
import { breachAt, simple } from './rule.js';

export const earthBonded = simple(
  'earth-bonded',
  'Earth bonded everywhere',
  'Every frame is joined to the supply’s PE.',
  {
    breach(circuit) {
      const loose = unbondedEarths(circuit);
      return breachAt(loose, `${loose.join(', ')} not joined to the supply's PE`);
    },
  },
);

export const secondaryEarthed = simple(
  'secondary-earthed',
  'One side of the transformer’s secondary is earthed',
  'One side of the control transformer’s secondary is earthed.',
  {
    applies: ({ transformers }) => transformers.length > 0,
    breach(circuit) {
      const wires = wiredTogether(circuit);
      const wrong = circuit.transformers.filter(
        ({ secondary }) => secondary.filter((end) => meets(wires, circuit.earthed, end)).length !== 1,
      );
      const tags = wrong.map(({ tag }) => tag);
      return breachAt(
        tags,
        `${tags.join(', ')}: neither or both of the secondary’s terminals are joined to PE`,
      );
    },
  },
);
