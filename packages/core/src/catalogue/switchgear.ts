import {
  BARE,
  CLOSED,
  OPEN,
  REST,
  contactEnds,
  contactTerminals,
  movingContacts,
  screws,
  type Anatomy,
  type ContactSpec,
} from './anatomy.js';
import type { DeviceOf } from './device.js';

const POLES = ['1-2', '3-4', '5-6'];

function polePairs(poles: number): string[] {
  return POLES.slice(0, poles);
}

function protectivePoles(poles: number): ContactSpec[] {
  return polePairs(poles).map((name) => {
    const [a, b] = contactEnds(name);
    return { name, a, b, role: 'pole', normally: 'none', closedIn: [true, false, false] };
  });
}

/** Breaker, fuse and disconnector: poles that are closed, open, or tripped (blown). */
function protective(poles: number, closed: boolean): Anatomy {
  return {
    ...BARE,
    terminals: screws(...polePairs(poles).flatMap(contactEnds)),
    mechanism: { kind: 'switchgear', states: 3, initial: closed ? CLOSED : OPEN },
    contacts: protectivePoles(poles),
  };
}

export const breaker = (d: DeviceOf<'breaker'>): Anatomy => protective(d.options.poles, d.settings.closed);
export const fuse = (d: DeviceOf<'fuse'>): Anatomy => protective(d.options.poles, d.settings.fitted);
export const disconnector = (d: DeviceOf<'disconnector'>): Anatomy =>
  protective(d.options.poles, d.settings.closed);

/** Three main poles, a coil, and auxiliary contacts that all move with one armature. */
export function contactor(device: DeviceOf<'contactor'>): Anatomy {
  const { coil, aux } = device.options;
  return {
    ...BARE,
    terminals: screws(...POLES.flatMap(contactEnds), 'A1', 'A2', ...contactTerminals(aux)),
    mechanism: { kind: 'armature', states: 5, initial: REST },
    contacts: [
      ...movingContacts(
        POLES.map((pole) => `NO ${pole}`),
        'pole',
      ),
      ...movingContacts(aux, 'aux'),
    ],
    coil: { ...coil, a: 'A1', b: 'A2' },
  };
}

/** Plug-in bases with their coil pins and contacts (octal-8: coil 2, 7; octal-11: coil 2, 10). Common practice, no source. */
export const RELAY_BASES = {
  'octal-8': { coil: ['2', '7'], contacts: ['NO 1-3', 'NC 1-4', 'NO 8-6', 'NC 8-5'] },
  'octal-11': { coil: ['2', '10'], contacts: ['NO 1-3', 'NC 1-4', 'NO 6-7', 'NC 6-5', 'NO 11-9', 'NC 11-8'] },
} as const;

/** Control relay, with free contacts or on a plug-in base. */
export function relay(device: DeviceOf<'relay'>): Anatomy {
  const { base, coil } = device.options;
  const [a, b] = base ? RELAY_BASES[base].coil : (['A1', 'A2'] as const);
  const contacts = base ? RELAY_BASES[base].contacts : device.options.contacts;
  return {
    ...BARE,
    terminals: screws(a, b, ...contactTerminals(contacts)),
    mechanism: { kind: 'armature', states: 5, initial: REST },
    contacts: movingContacts(contacts, 'aux'),
    coil: { ...coil, a, b },
  };
}

/** Thermal overload relay: three heaters in the line, NC 95-96 and NO 97-98 on one trip bar. */
export function overload(): Anatomy {
  const trip: ContactSpec[] = [
    ...movingContacts(['NC 95-96'], 'overload-nc'),
    ...movingContacts(['NO 97-98'], 'overload-no'),
  ];
  return {
    ...BARE,
    terminals: screws(...POLES.flatMap(contactEnds), '95', '96', '97', '98'),
    links: POLES.map(contactEnds),
    mechanism: { kind: 'trip', states: 4, initial: REST },
    contacts: trip,
  };
}
