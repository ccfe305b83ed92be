import { choice, flag, positive, worked } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { poles } from '../shared-fields.js';
import { switchgear } from './switchgear.js';

/** Fuse links in their carrier. */
export const fuse = deviceKind({
  type: 'fuse',
  name: 'Fuse',
  letters: { iec: 'F', us: 'FU' },
  symbol: () => 'fuse',
  looks: onRail(1, { pole: 'fuse' }),
  options: {
    poles: poles(1),
    rating: positive('Rated current', 'A', 2),
    class: choice('Class', ['gG', 'aM'], 'gG'),
  },
  settings: { fitted: worked(flag('Fitted', true)) },
  verbs: ['open', 'close', 'reset'],
  told: 'nothing',
  toldByDefault: false,
  heldDead: { by: 'open', words: 'taken out' },
  rating: (options) => `${options.class} ${options.rating} A`,
  anatomy: ({ options, settings }) =>
    switchgear(options.poles, settings.fitted, 'blown', {
      curve: 'fuse',
      rating: options.rating,
      class: options.class,
    }),
});
