import type { Circuit, Switch } from './circuit.js';
import { UnionFind } from './union-find.js';

/**
 * Terminals at earth that belong to the circuit of a DC supply which meets every AC supply at earth alone:
 * by terminal the number of that circuit, or −1. Null where there is none.
 *
 * Earth is then the only node that such a circuit shares with the rest. By Kirchhoff's current law no current
 * flows over there in sum, so each of the two is solved as if the other were not there.
 */
export function beyondEarth(circuit: Circuit, sets: UnionFind, moving: readonly Switch[]): Int32Array | null {
  const { sources, earthed, terminals } = circuit;
  if (earthed.length === 0 || sources.every(({ frequency }) => frequency > 0)) return null;
  const earth = sets.find(earthed[0]!);
  const isEarth = (terminal: number) => sets.find(terminal) === earth;
  const ties = tiesOf(circuit, moving);
  const joined = new UnionFind(terminals.length);
  for (const ends of ties) {
    const [first, ...others] = ends.filter((end) => !isEarth(end)).map((end) => sets.find(end));
    for (const other of others) joined.union(first!, other);
  }
  // A supply of which all ends are at earth is shorted: that is for the whole solution to say.
  const partOf = (ends: readonly number[]): number => {
    const other = ends.find((end) => !isEarth(end));
    return other === undefined ? -1 : joined.find(sets.find(other));
  };
  const fed = new Set(sources.map(({ terminal, reference }) => partOf([terminal, reference])));
  const parts = new Set(fed);
  for (const { frequency, terminal } of sources) if (frequency > 0) parts.delete(partOf([terminal]));
  parts.delete(-1);
  const apart = new Int32Array(terminals.length).fill(-1);
  const isTaken = new Uint8Array(terminals.length);
  for (const ends of ties) {
    const part = partOf(ends);
    // What no supply feeds carries nothing, wherever it hangs.
    if (part >= 0 && !fed.has(part)) continue;
    const own = parts.has(part) ? part : -1;
    for (const end of ends) {
      if (!isEarth(end)) continue;
      // A terminal at which two circuits meet would have to be in both.
      if (isTaken[end] === 1 && apart[end] !== own) {
        parts.delete(apart[end]!);
        parts.delete(own);
      }
      apart[end] = own;
      isTaken[end] = 1;
    }
  }
  return parts.size === 0 ? null : apart.map((part) => (parts.has(part) ? part : -1));
}

/** Terminals between which current can pass otherwise than by what is always joined. */
function tiesOf({ sources, elements }: Circuit, moving: readonly Switch[]): (readonly number[])[] {
  return [
    ...moving.map(({ a, b }) => [a, b]),
    ...elements.map(({ windings }) => windings.flat().filter((end) => end >= 0)),
    ...sources.map(({ terminal, reference }) => [terminal, reference]),
  ];
}
