/**
 * What a document may say of a device, one field an option or setting: unit, limits, default and label.
 * Schemas, checks and forms are made from fields; the types of documents follow from them too.
 */

import type { Program } from '../program/index.js';

/** The form of a field's value, and its limits. */
export type FieldShape =
  | {
      readonly kind: 'number';
      readonly unit?: string;
      /** Exclusive lower limit. */
      readonly above?: number;
      readonly min?: number;
      readonly max?: number;
      readonly whole?: boolean;
      /** Name of the option, a pair of limits, within which it lies as this device is built. */
      readonly within?: string;
      /**
       * Set with a screwdriver while the board is wired: between these limits, or between those of
       * `within`.
       */
      readonly screw?: readonly [least: number, most: number] | true;
    }
  | { readonly kind: 'choice'; readonly of: readonly (string | number)[] }
  | { readonly kind: 'flag' }
  /** Free words; `among` names the option, a list, of which it is one. */
  | { readonly kind: 'text'; readonly least?: number; readonly most: number; readonly among?: string }
  /** Designation of a device on the same board that has a motor. */
  | { readonly kind: 'motor' }
  /** `"NO 13-14"`, `"NC 21-22"`. */
  | { readonly kind: 'contacts'; readonly least: number; readonly most: number }
  /** `"13-14"`. */
  | { readonly kind: 'contact-name' }
  | { readonly kind: 'list'; readonly of: Field; readonly least: number; readonly most: number }
  /** A program of a programmable controller. */
  | { readonly kind: 'program' }
  /** Lower and upper limit. */
  | { readonly kind: 'limits'; readonly unit: string }
  | { readonly kind: 'group'; readonly fields: Fields };

declare const VALUE: unique symbol;

type Presence = 'is there' | 'is completed' | 'may be missing';

/** One option or setting whose value is of type V. */
export interface Field<V = unknown, P extends Presence = Presence> {
  readonly label: string;
  readonly shape: FieldShape;
  readonly default?: unknown;
  /**
   * A document may leave it out: no value then; or one that follows from the other fields
   * (`DeviceKind.complete`).
   */
  readonly leftOut?: 'none' | 'completed';
  /** A setting that is worked by a hand (`open`, `turn`), not set. */
  readonly worked?: boolean;
  readonly [VALUE]?: readonly [V, P];
}

export type Fields = Readonly<Record<string, Field>>;

type Always<V> = Field<V, 'is there'>;
type Completed<V> = Field<V, 'is completed'>;
type Perhaps<V> = Field<V, 'may be missing'>;

type ValueOf<F> = F extends Field<infer V> ? V : never;
/** Keys of the fields of one presence. */
type KeysOf<F extends Fields, P extends Presence> = {
  [K in keyof F]: F[K] extends Field<unknown, P> ? K : never;
}[keyof F];

type Values<F extends Fields, Optional extends Presence> = {
  readonly [K in Exclude<keyof F, KeysOf<F, Optional>>]: ValueOf<F[K]>;
} & { readonly [K in KeysOf<F, Optional>]?: ValueOf<F[K]> | undefined };

/** The values that some fields take in a complete document. */
export type ValuesOf<F extends Fields> = Values<F, 'may be missing'>;

/** The values that a document gives: what is completed may be missing still. */
export type GivenOf<F extends Fields> = Values<F, 'may be missing' | 'is completed'>;

type NumberShape = Omit<Extract<FieldShape, { kind: 'number' }>, 'kind'>;

export const number = (label: string, limits: NumberShape, standard?: number): Always<number> => ({
  label,
  shape: { kind: 'number', ...limits },
  ...(standard === undefined ? {} : { default: standard }),
});

/** A number above zero. */
export const positive = (label: string, unit: string, standard?: number): Always<number> =>
  number(label, { unit, above: 0 }, standard);

export const choice = <const V extends string | number>(
  label: string,
  of: readonly V[],
  standard?: V,
): Always<V> => ({
  label,
  shape: { kind: 'choice', of },
  ...(standard === undefined ? {} : { default: standard }),
});

export const flag = (label: string, standard: boolean): Always<boolean> => ({
  label,
  shape: { kind: 'flag' },
  default: standard,
});

export const text = (
  label: string,
  most: number,
  more: { readonly least?: number; readonly among?: string } = {},
): Always<string> => ({ label, shape: { kind: 'text', most, ...more } });

export const motorTag = (label: string): Always<string> => ({ label, shape: { kind: 'motor' } });

export const contacts = (
  label: string,
  [least, most]: readonly [number, number],
  standard: readonly string[],
): Always<readonly string[]> => ({ label, shape: { kind: 'contacts', least, most }, default: standard });

export const contactName = (label: string): Always<string> => ({ label, shape: { kind: 'contact-name' } });

export const list = <V>(
  label: string,
  of: Field<V>,
  [least, most]: readonly [number, number],
  standard?: readonly V[],
): Always<readonly V[]> => ({
  label,
  shape: { kind: 'list', of, least, most },
  ...(standard === undefined ? {} : { default: standard }),
});

export const programField = (label: string): Always<Program> => ({ label, shape: { kind: 'program' } });

export const limits = (label: string, unit: string): Always<readonly [number, number]> => ({
  label,
  shape: { kind: 'limits', unit },
});

export const group = <F extends Fields>(label: string, fields: F): Always<ValuesOf<F>> => ({
  label,
  shape: { kind: 'group', fields },
});

/** The same field, which a document may leave out. */
export const optional = <V>(field: Field<V>): Perhaps<V> => ({ ...field, leftOut: 'none' }) as Perhaps<V>;

/** The same field; where a document leaves it out it follows from the others. */
export const completed = <V>(field: Field<V>): Completed<V> =>
  ({ ...field, leftOut: 'completed' }) as Completed<V>;

/** The same field, which a hand works. */
export const worked = <V>(field: Field<V>): Always<V> => ({ ...field, worked: true }) as Always<V>;
