import {
  BARE,
  REST,
  contactEnds,
  contactTerminals,
  movingContacts,
  screws,
  type Anatomy,
  type ContactSpec,
} from './anatomy.js';
import type { DeviceOf } from './device.js';

function plunger(contacts: readonly string[], kind: 'plunger' | 'latch'): Anatomy {
  return {
    ...BARE,
    terminals: screws(...contactTerminals(contacts)),
    mechanism: { kind, states: 4, initial: REST },
    contacts: movingContacts(contacts, 'control'),
  };
}

export const pushbutton = (d: DeviceOf<'pushbutton'>): Anatomy => plunger(d.options.contacts, 'plunger');
export const limitSwitch = (d: DeviceOf<'limit-switch'>): Anatomy => plunger(d.options.contacts, 'plunger');
/** Stays in until it is released. */
export const estop = (d: DeviceOf<'estop'>): Anatomy => plunger(d.options.contacts, 'latch');

/** State in which a selector of n positions is on its way from i to j. */
export function turning(n: number, from: number, to: number): number {
  return n + from * n + to;
}

/** Where a selector that is on its way is going to. */
export function turningTo(n: number, state: number): number {
  return (state - n) % n;
}

/** Maintained selector: a contact is closed in its positions, and on the way between two of them. */
export function selector(device: DeviceOf<'selector'>): Anatomy {
  const { positions, contacts } = device.options;
  const n = positions.length;
  const specs = contacts.map((contact): ContactSpec => {
    const [a, b] = contactEnds(contact.terminals);
    const at = positions.map((position) => contact.closedIn.includes(position));
    const between = positions.flatMap((_, i) => positions.map((__, j) => Boolean(at[i]) && Boolean(at[j])));
    return {
      name: contact.terminals,
      a,
      b,
      role: 'control',
      normally: 'none',
      closedIn: [...at, ...between],
    };
  });
  return {
    ...BARE,
    terminals: screws(...new Set(specs.flatMap(({ a, b }) => [a, b]))),
    mechanism: {
      kind: 'selector',
      states: n + n * n,
      initial: Math.max(0, positions.indexOf(device.settings.position)),
      positions,
    },
    contacts: specs,
  };
}
