/** What is made of an object, once: kept as long as the object is. */
export function perObject<O extends object, T>(make: (object: O) => T): (object: O) => T {
  const kept = new WeakMap<O, T>();
  return (object) => {
    const known = kept.get(object);
    if (known !== undefined) return known;
    const made = make(object);
    kept.set(object, made);
    return made;
  };
}
