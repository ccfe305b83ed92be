import { choice, positive } from '../fields.js';
import { deviceKind } from '../kind.js';
import { closed, poles } from '../shared-fields.js';
import { switchgear } from './switchgear.js';

/** Circuit breaker with a thermal and a magnetic release. */
export const breaker = deviceKind({
  type: 'breaker',
  name: 'Breaker',
  letters: { iec: 'Q', us: 'CB' },
  symbol: () => 'breaker',
  options: {
    poles: poles(3),
    rating: positive('Rated current', 'A', 10),
    curve: choice('Curve', ['B', 'C', 'D'], 'C'),
  },
  settings: { closed },
  verbs: ['open', 'close', 'trip', 'reset'],
  told: 'state',
  toldByDefault: false,
  rating: ({ curve, rating }) => `${curve} ${rating} A`,
  anatomy: ({ options, settings }) =>
    switchgear(options.poles, settings.closed, 'tripped', (names) => ({
      curve: 'breaker',
      poles: names,
      rating: options.rating,
      band: options.curve,
    })),
});
