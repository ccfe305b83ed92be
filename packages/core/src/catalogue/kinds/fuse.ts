import { choice, flag, positive, worked } from '../fields.js';
import { deviceKind } from '../kind.js';
import { poles } from '../shared-fields.js';
import { switchgear } from './switchgear.js';

/** Fuse links in their carrier. */
export const fuse = deviceKind({
  type: 'fuse',
  name: 'Fuse',
  letters: { iec: 'F', us: 'FU' },
  symbol: () => 'fuse',
  options: {
    poles: poles(1),
    rating: positive('Rated current', 'A', 2),
    class: choice('Class', ['gG', 'aM'], 'gG'),
  },
  settings: { fitted: worked(flag('Fitted', true)) },
  verbs: ['open', 'close', 'reset'],
  told: 'nothing',
  toldByDefault: false,
  rating: (options) => `${options.class} ${options.rating} A`,
  anatomy: ({ options, settings }) =>
    switchgear(options.poles, settings.fitted, 'blown', (names) => ({
      curve: 'fuse',
      poles: names,
      rating: options.rating,
      class: options.class,
    })),
});
