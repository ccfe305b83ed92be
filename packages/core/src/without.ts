/** The same object without some of its keys. */
export function without<T extends object, K extends keyof T>(object: T, ...keys: readonly K[]): Omit<T, K> {
  const left = { ...object };
  for (const key of keys) Reflect.deleteProperty(left, key);
  return left;
}
