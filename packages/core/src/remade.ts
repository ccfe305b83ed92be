type Leaf = string | number;

/** How plain data is made anew: its texts and numbers, and the keys of its objects. */
export interface Remaking {
  /** Of a text or number, under its key and in its object; an element of a list has no key. */
  readonly leaf: (value: Leaf, key: string, parent: object) => Leaf;
  readonly key?: (key: string) => string;
}

/** Plain data made anew throughout; what is neither text nor number stays as it is. */
export function remade<T>(value: T, how: Remaking, key = '', parent: object = {}): T {
  if (typeof value === 'string' || typeof value === 'number') return how.leaf(value, key, parent) as T;
  if (Array.isArray(value)) return value.map((one: unknown) => remade(one, how, '', value)) as T;
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([name, inner]) => [
      how.key?.(name) ?? name,
      remade<unknown>(inner, how, name, value),
    ]),
  ) as T;
}

/** Every text of plain data rewritten, keys too. */
export const rewritten = <T>(value: T, rewrite: (text: string) => string): T =>
  remade(value, { leaf: (one) => (typeof one === 'string' ? rewrite(one) : one), key: rewrite });
