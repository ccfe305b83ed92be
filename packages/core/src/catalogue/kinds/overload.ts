import { BARE, POLES, contactEnds, movingContacts, poleTerminals, screws } from '../anatomy.js';
import { choice, completed, flag, limits, number } from '../fields.js';
import { deviceKind } from '../kind.js';
import { REST } from '../states.js';

/** Thermal overload relay: three heaters in the line, NC 95-96 and NO 97-98 on one trip bar. */
export const overload = deviceKind({
  type: 'overload',
  name: 'Overload',
  letters: { iec: 'F', us: 'OL' },
  symbol: () => 'overload',
  options: {
    range: limits('Range', 'A'),
    class: choice('Trip class', ['10A', '10', '20', '30'], '10'),
    phaseLossSensitive: flag('Sensitive to a lost phase', true),
  },
  settings: {
    dial: completed(number('Dial', { unit: 'A', above: 0, within: 'range', screw: true })),
    reset: choice('Reset', ['manual', 'auto'], 'manual'),
  },
  complete: ({ range }, { dial }) => ({ settings: { dial: dial ?? range[0] } }),
  verbs: ['trip', 'reset'],
  told: 'state',
  toldByDefault: false,
  rating: (options) => `${options.range[0]} to ${options.range[1]} A, class ${options.class}`,
  anatomy: ({ options, settings }) => ({
    ...BARE,
    terminals: [...poleTerminals(POLES), ...screws('contact', '95', '96', '97', '98')],
    links: POLES.map(contactEnds),
    mechanism: { kind: 'trip', states: 4, initial: REST, reset: settings.reset },
    contacts: [
      ...movingContacts(['NC 95-96'], 'overload-nc'),
      ...movingContacts(['NO 97-98'], 'overload-no'),
    ],
    protection: { curve: 'overload', poles: POLES, dial: settings.dial, ...options },
  }),
});
