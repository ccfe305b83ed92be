import { choice, positive } from '../fields.js';
import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { closed, poles } from '../shared-fields.js';
import { switchgear } from './switchgear.js';

/** Circuit breaker with a thermal and a magnetic release. */
export const breaker = deviceKind({
  type: 'breaker',
  name: 'Breaker',
  letters: { iec: 'Q', us: 'CB' },
  symbol: () => 'breaker',
  looks: onRail(1, { pole: 'breaker' }),
  options: {
    poles: poles(3),
    rating: positive('Rated current', 'A', 10),
    curve: choice('Curve', ['B', 'C', 'D'], 'C'),
  },
  settings: { closed },
  verbs: ['open', 'close', 'trip', 'reset'],
  told: 'state',
  toldByDefault: false,
  heldDead: { by: 'open', words: 'open' },
  rating: ({ curve, rating }) => `${curve} ${rating} A`,
  anatomy: ({ options, settings }) =>
    switchgear(options.poles, settings.closed, 'tripped', {
      curve: 'breaker',
      rating: options.rating,
      band: options.curve,
    }),
});
