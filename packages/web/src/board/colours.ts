import { schemeColours, type ColourScheme } from '@contactum/core';

/** Conductor colours: IEC 60757 codes and names (from memory), and what the screen paints. */
export interface LeadColour {
  readonly name: string;
  readonly code: string;
  readonly paint: string;
  /** Second colour of a striped conductor. */
  readonly stripe?: string;
}

export const LEAD_COLOURS: readonly LeadColour[] = [
  { name: 'black', code: 'BK', paint: '#23282b' },
  { name: 'brown', code: 'BN', paint: '#7a4a24' },
  { name: 'grey', code: 'GY', paint: '#80888d' },
  { name: 'light blue', code: 'BU', paint: '#4f9fd6' },
  { name: 'red', code: 'RD', paint: '#c8322b' },
  { name: 'yellow', code: 'YE', paint: '#ecc02f' },
  { name: 'blue', code: 'DBU', paint: '#1f4fa3' },
  { name: 'white', code: 'WH', paint: '#fdfdfa' },
  { name: 'green', code: 'GN', paint: '#2f8f46' },
  { name: 'green-yellow', code: 'GNYE', paint: '#3f9b4f', stripe: '#f0d33c' },
];

/** The colours to choose from, those of a scheme first, each with what it is for there. */
export function paletteOf(scheme: ColourScheme): (LeadColour & { readonly use: string })[] {
  const uses = new Map<string, string[]>();
  for (const { name, use } of schemeColours(scheme))
    uses.set(name, [...new Set([...(uses.get(name) ?? []), use])]);
  const own = LEAD_COLOURS.filter(({ name }) => uses.has(name));
  const others = LEAD_COLOURS.filter(({ name }) => !uses.has(name));
  return [...own, ...others].map((one) => ({ ...one, use: uses.get(one.name)?.join(', ') ?? '' }));
}

/**
 * Area that goes with a colour of a scheme, mm²: of its power or its control conductors (common practice,
 * no source).
 */
export function areaOf(colour: string, scheme: ColourScheme): number {
  const uses = schemeColours(scheme).flatMap(({ name, use }) => (name === colour ? [use] : []));
  const isThin = uses.length > 0 && uses.every((use) => use !== 'power' && use !== 'earth');
  if (scheme === 'us') return isThin ? 1.5 : 3.3;
  return isThin ? 1 : 2.5;
}

const FALLBACK: LeadColour = { name: 'black', code: 'BK', paint: '#23282b' };

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
