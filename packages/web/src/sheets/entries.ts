/** Some entries with one put in, or taken out where it is null. */
export function withEntry<T>(
  entries: Readonly<Record<string, T>>,
  key: string,
  value: T | null,
): Readonly<Record<string, T>> {
  const others = Object.entries(entries).filter(([name]) => name !== key);
  return Object.fromEntries(value === null ? others : [...others, [key, value]]);
}
