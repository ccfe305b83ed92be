import { anatomy, kindName, ratingOf, type Device } from '../catalogue/index.js';
import type { Bench } from '../bench/index.js';
import type { PlannedLead } from './leads.js';

/** Devices of one kind and rating, as they are asked for at stores. */
export interface Material {
  readonly name: string;
  readonly rating: string;
  /** Contacts as they are ordered: `2 NO + 1 NC`; empty where it has none. */
  readonly contacts: string;
  readonly quantity: number;
  readonly tags: readonly string[];
  /** Contacts that no lead uses, by device: `KM1 21-22`. */
  readonly spare: readonly string[];
}

/** Leads of one colour and area. */
export interface LeadMaterial {
  readonly colour: string;
  /** mm2 */
  readonly area: number;
  readonly leads: number;
  readonly metres: number;
  /** End sleeves with the lead's number: two a lead. */
  readonly ferrules: number;
}

export interface Materials {
  readonly devices: readonly Material[];
  readonly leads: readonly LeadMaterial[];
}

/**
 * What a board is built of: devices by kind and rating with their spare contacts, leads by colour and area
 * with their lengths.
 */
export function materialsOf(bench: Bench, leads: readonly PlannedLead[]): Materials {
  const wired = new Set(bench.wires.flatMap(({ from, to }) => [from as string, to]));
  const devices = new Map<string, Material>();
  for (const device of bench.devices) {
    const [name, rating, contacts] = [kindName(device), ratingOf(device), contactsOf(device)];
    const key = JSON.stringify([name, rating, contacts]);
    const known = devices.get(key);
    devices.set(key, {
      name,
      rating,
      contacts,
      quantity: (known?.quantity ?? 0) + 1,
      tags: [...(known?.tags ?? []), device.tag],
      spare: [...(known?.spare ?? []), ...sparesOf(device, wired)],
    });
  }
  return { devices: [...devices.values(), ...interlocksOf(bench)], leads: leadMaterials(leads) };
}

/** Mechanical interlocks are ordered beside the contactors that they lock, by how many each locks. */
function interlocksOf({ interlocks }: Bench): Material[] {
  const sizes = new Map<number, string[]>();
  for (const { between } of interlocks)
    sizes.set(between.length, [...(sizes.get(between.length) ?? []), between.join('/')]);
  return [...sizes].map(([size, tags]) => ({
    name: 'Mechanical interlock',
    rating: `for ${size} contactors`,
    contacts: '',
    quantity: tags.length,
    tags,
    spare: [],
  }));
}

function leadMaterials(leads: readonly PlannedLead[]): LeadMaterial[] {
  const found = new Map<string, LeadMaterial>();
  for (const { colour, area, length } of leads) {
    const key = `${colour} ${area}`;
    const known = found.get(key) ?? { colour, area, leads: 0, metres: 0, ferrules: 0 };
    found.set(key, {
      ...known,
      leads: known.leads + 1,
      metres: Math.round((known.metres + length) * 100) / 100,
      ferrules: known.ferrules + 2,
    });
  }
  return [...found.values()].sort((a, b) => b.area - a.area || a.colour.localeCompare(b.colour));
}

/** Contacts that are chosen with a device: not its poles. */
const chosen = (device: Device) => anatomy(device).contacts.filter(({ role }) => role !== 'pole');

function contactsOf(device: Device): string {
  const count = (kind: 'open' | 'closed') =>
    chosen(device).filter(({ normally }) => normally === kind).length;
  const [open, closed] = [count('open'), count('closed')];
  return [open > 0 ? `${open} NO` : '', closed > 0 ? `${closed} NC` : ''].filter(Boolean).join(' + ');
}

const sparesOf = (device: Device, wired: ReadonlySet<string>): string[] =>
  chosen(device)
    .filter(({ a, b }) => !wired.has(`${device.tag}:${a}`) || !wired.has(`${device.tag}:${b}`))
    .map(({ name }) => `${device.tag} ${name}`);
