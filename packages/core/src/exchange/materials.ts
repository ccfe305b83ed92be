import type { LeadMaterial, Material, Materials } from '../planning/index.js';
import { numberIn, readCsv, takenOf, writeCsv, type CsvRow, type Preview } from './csv.js';

const COLUMNS = [
  'Kind',
  'Quantity',
  'Name',
  'Rating',
  'Contacts',
  'Designations',
  'Spare',
  'Area, mm²',
  'Length, m',
  'Ferrules',
];

/** Devices and leads in one list, a kind in the first column of each. */
export const writeMaterials = ({ devices, leads }: Materials): string =>
  writeCsv(COLUMNS, [
    ...devices.map(({ quantity, name, rating, contacts, tags, spare }) => [
      'device',
      String(quantity),
      name,
      rating,
      contacts,
      tags.join(' '),
      spare.join('; '),
      '',
      '',
      '',
    ]),
    ...leads.map(({ colour, area, leads: count, metres, ferrules }) => [
      'lead',
      String(count),
      colour,
      '',
      '',
      '',
      '',
      String(area),
      String(metres),
      String(ferrules),
    ]),
  ]);

type Line = { readonly device: Material } | { readonly lead: LeadMaterial };

const split = (cell: string, by: string): string[] =>
  cell === '' ? [] : cell.split(by).map((one) => one.trim());

function lineOf(row: CsvRow): { value: Line } | { problem: string } {
  const quantity = numberIn(row.quantity ?? '');
  if (quantity === null || quantity < 1 || !Number.isInteger(quantity))
    return { problem: `quantity “${row.quantity ?? ''}” is no whole number` };
  if (row.kind === 'device') {
    const tags = split(row.designations ?? '', ' ');
    if (tags.length !== quantity) return { problem: `${quantity} devices, but ${tags.length} designations` };
    return {
      value: {
        device: {
          name: row.name ?? '',
          rating: row.rating ?? '',
          contacts: row.contacts ?? '',
          quantity,
          tags,
          spare: split(row.spare ?? '', ';'),
        },
      },
    };
  }
  if (row.kind !== 'lead') return { problem: `kind “${row.kind ?? ''}” is neither device nor lead` };
  const [area, metres, ferrules] = [row.area, row.length, row.ferrules].map((cell) => numberIn(cell ?? ''));
  if (area === null || metres === null || ferrules === null || area === undefined)
    return { problem: 'a lead needs area, length and ferrules' };
  return {
    value: { lead: { colour: row.name ?? '', area, leads: quantity, metres: metres!, ferrules: ferrules! } },
  };
}

/** Reads a bill of materials; what it says in all stands beside the preview. */
export function readMaterials(text: string): {
  readonly preview: Preview<Line>;
  readonly materials: Materials;
} {
  const preview = readCsv<Line>(text, ['kind', 'quantity', 'name'], lineOf);
  const values = takenOf(preview);
  return {
    preview,
    materials: {
      devices: values.flatMap((one) => ('device' in one ? [one.device] : [])),
      leads: values.flatMap((one) => ('lead' in one ? [one.lead] : [])),
    },
  };
}
