/** Conductor colours: IEC 60757 codes and names (from memory), and what the screen paints. */
export interface LeadColour {
  readonly name: string;
  readonly code: string;
  readonly paint: string;
  /** Second colour of a striped conductor. */
  readonly stripe?: string;
  readonly use: string;
}

/** Uses by IEC 60204-1, 13.2 (from memory). */
export const LEAD_COLOURS: readonly LeadColour[] = [
  { name: 'black', code: 'BK', paint: '#23282b', use: 'power' },
  { name: 'brown', code: 'BN', paint: '#7a4a24', use: 'power' },
  { name: 'grey', code: 'GY', paint: '#80888d', use: 'power' },
  { name: 'light blue', code: 'BU', paint: '#4f9fd6', use: 'neutral' },
  { name: 'red', code: 'RD', paint: '#c8322b', use: 'AC control' },
  { name: 'blue', code: 'DBU', paint: '#1f4fa3', use: 'DC control' },
  { name: 'green-yellow', code: 'GNYE', paint: '#3f9b4f', stripe: '#f0d33c', use: 'earth' },
];

const FALLBACK: LeadColour = { name: 'black', code: 'BK', paint: '#23282b', use: 'power' };

export function leadColour(name: string | undefined): LeadColour {
  const wanted = (name ?? '').toLowerCase();
  return (
    LEAD_COLOURS.find((colour) => colour.name === wanted || colour.code.toLowerCase() === wanted) ?? FALLBACK
  );
}

/** Lamp and button caps as IEC 60073 names them (from memory). */
const CAPS: Readonly<Record<string, string>> = {
  red: '#c0372f',
  green: '#3c8c50',
  white: '#fbfaf6',
  black: '#2b3033',
  grey: '#9aa1a5',
  yellow: '#e5b92f',
  amber: '#e59a2f',
  blue: '#3767b0',
};

export const capColour = (name: string | undefined): string =>
  CAPS[(name ?? 'white').toLowerCase()] ?? '#fbfaf6';
