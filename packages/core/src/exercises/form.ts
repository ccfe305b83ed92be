import type { Paint, Purpose } from './leads.js';

/**
 * In which country's way an exercise is set: its voltages, colours, and where its control circuit is fed
 * from.
 */
export const FORMS = ['iec', 'us'] as const;
export type FormName = (typeof FORMS)[number];

export interface Form {
  /** What the coils of an AC board are made for. */
  readonly coil: { readonly voltage: number; readonly kind: 'ac' };
  readonly paint: Readonly<Record<Purpose, Paint>>;
  /** What stands in braces in the texts of an exercise. */
  readonly terms: Readonly<Record<string, string>>;
}

const DC = { plus: { colour: 'red', area: 0.75 }, minus: { colour: 'blue', area: 0.75 } };

export const FORM: Readonly<Record<FormName, Form>> = {
  iec: {
    coil: { voltage: 230, kind: 'ac' },
    paint: {
      power: { colour: 'black', area: 2.5 },
      control: { colour: 'red', area: 1 },
      return: { colour: 'light blue', area: 1 },
      earth: { colour: 'green-yellow', area: 2.5 },
      ...DC,
    },
    terms: {
      feed: 'control: Q1 2 > F1 1',
      return: 'G1 N',
      running: '1350..1500',
      rated: '1400..1500',
    },
  },
  us: {
    coil: { voltage: 120, kind: 'ac' },
    paint: {
      power: { colour: 'black', area: 3.3 },
      control: { colour: 'red', area: 1.5 },
      return: { colour: 'white', area: 1.5 },
      earth: { colour: 'green', area: 3.3 },
      // NFPA 79: DC control is blue (from memory).
      plus: { colour: 'blue', area: 0.75 },
      minus: { colour: 'blue', area: 0.75 },
    },
    terms: {
      feed: 'earth: T1 X2 > G1 PE\npower: Q1 2 4 > T1 H1 H2\ncontrol: T1 X1 > F1 1',
      return: 'T1 X2',
      running: '1620..1800',
      rated: '1680..1800',
    },
  },
};
