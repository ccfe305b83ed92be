import { BARE, contactEnds, screws, type ContactSpec } from '../anatomy.js';
import { completed, contactName, group, list, text, worked } from '../fields.js';
import { onDoor } from '../looks.js';
import { deviceKind, type Misfit } from '../kind.js';

const position = (among?: string) => text('Position', 24, { least: 1, ...(among ? { among } : {}) });

const HANDLE = 'handle';

/** Maintained selector: a contact is closed in its positions, and on the way between two of them. */
export const selector = deviceKind({
  type: 'selector',
  name: 'Selector',
  letters: { iec: 'S', us: 'SS' },
  symbol: () => 'selector',
  looks: onDoor(3, { operator: 'selector' }),
  options: {
    positions: list('Positions', position(), [2, 6], ['off', 'on']),
    contacts: list(
      'Contacts',
      group('Contact', {
        terminals: contactName('Terminals'),
        closedIn: list('Closed in', text('Position', 24, { among: 'positions' }), [1, Infinity]),
      }),
      [1, 12],
    ),
  },
  settings: { position: completed(worked(text('Position', 24, { among: 'positions' }))) },
  complete: ({ positions }, settings) => ({
    settings: { position: settings.position ?? positions[0] ?? '' },
  }),
  verbs: ['turn'],
  told: 'state',
  toldByDefault: false,
  fresh: () => ({ positions: ['off', 'on'], contacts: [{ terminals: '13-14', closedIn: ['on'] }] }),
  rating: () => '',
  misfits: ({ options: { positions } }): Misfit[] =>
    new Set(positions).size === positions.length
      ? []
      : [{ path: 'options.positions', message: 'a position stands twice' }],
  anatomy({ options: { positions, contacts }, settings }) {
    const n = positions.length;
    const specs = contacts.map((contact): ContactSpec => {
      const [a, b] = contactEnds(contact.terminals);
      const at = positions.map((one) => contact.closedIn.includes(one));
      const between = at.flatMap((from) => at.map((to) => from && to));
      return {
        name: contact.terminals,
        a,
        b,
        movedBy: HANDLE,
        role: 'control',
        normally: 'none',
        closedIn: [...at, ...between],
      };
    });
    return {
      ...BARE,
      terminals: screws('contact', ...new Set(specs.flatMap(({ a, b }) => [a, b]))),
      actuators: [
        {
          name: HANDLE,
          kind: 'selector',
          // One state a position, and one for each way from one to another.
          states: n + n * n,
          initial: Math.max(0, positions.indexOf(settings.position)),
          positions,
        },
      ],
      contacts: specs,
    };
  },
});
