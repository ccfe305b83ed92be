import { onRail } from '../looks.js';
import { deviceKind } from '../kind.js';
import { closed, poles } from '../shared-fields.js';
import { switchgear } from './switchgear.js';

/** Opened by hand, by nothing else. */
export const disconnector = deviceKind({
  type: 'disconnector',
  name: 'Isolator',
  letters: { iec: 'Q', us: 'DISC' },
  symbol: () => 'disconnector',
  looks: onRail(1, { pole: 'disconnector' }),
  options: { poles: poles(3) },
  settings: { closed },
  verbs: ['open', 'close'],
  told: 'nothing',
  toldByDefault: false,
  heldDead: { by: 'open', words: 'open' },
  rating: () => '',
  anatomy: ({ options, settings }) => switchgear(options.poles, settings.closed, 'tripped'),
});
