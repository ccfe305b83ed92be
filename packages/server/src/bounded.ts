/** Puts something into a map that forgets what was put there longest ago once it holds more than `most`. */
export function putBounded<K, V>(map: Map<K, V>, key: K, value: V, most: number): void {
  map.delete(key);
  map.set(key, value);
  if (map.size > most) map.delete(map.keys().next().value as K);
}
