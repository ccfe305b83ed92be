import type { PinWire } from './board.js';
import type { Case } from './case.js';
import { Candidate } from './wiring.js';

/**
 * The fewest edits after which exactly that is joined which the reference joins: every lead between two of
 * its potentials must go, and every one of its potentials that lies in pieces is put together; a lead that
 * goes may be put to use as one that comes, where it keeps one of its ends. So no wiring is left without a
 * repair; a shorter one may join other things.
 */
export function towardsReference(given: Case): Candidate {
  const { board, own, wanted } = given;
  const wrong = own.flatMap(({ a, b }, name) =>
    wanted[a] !== wanted[b] && !given.task.bench.wires[name]!.fitted ? [name] : [],
  );
  const kept = own.filter((_, name) => !wrong.includes(name));
  const nets = board.nets(kept);
  const pieces = new Map<number, Set<number>>();
  wanted.forEach((potential, pin) => {
    const known = pieces.get(potential) ?? new Set<number>();
    pieces.set(potential, known.add(nets[pin]!));
  });
  const lacking = new Map(
    [...pieces].flatMap(([potential, { size }]) => (size > 1 ? [[potential, size - 1] as const] : [])),
  );
  const moved = matching(given, wrong, lacking);
  const added: PinWire[] = [];
  for (const [potential, roots] of pieces) {
    if (roots.size < 2) continue;
    const left = new Set(roots);
    const join = (pin: number): void => {
      const from = nets[pin]!;
      const to = [...left].find((root) => root !== from);
      if (to === undefined) return;
      added.push({ a: pin, b: to });
      // The two pieces are one from now on, whichever pin stands for them.
      for (let p = 0; p < nets.length; p += 1) if (nets[p] === to) nets[p] = from;
      left.delete(to);
    };
    for (const { pin } of moved.filter((one) => one.potential === potential)) join(pin);
    while (left.size > 1) join([...left][0]!);
  }
  return new Candidate(board, own, wrong, added, wrong.length + added.length);
}

/**
 * Which leads that go serve again, each at the potential of one of its ends: as many as can (augmenting
 * paths, Kuhn 1955).
 */
function matching(
  { own, wanted }: Case,
  wrong: readonly number[],
  lacking: ReadonlyMap<number, number>,
): { readonly potential: number; readonly pin: number }[] {
  const servedBy = new Map<number, number[]>();
  const assign = (name: number, seen: Set<number>): boolean => {
    for (const pin of [own[name]!.a, own[name]!.b]) {
      const potential = wanted[pin]!;
      const places = lacking.get(potential) ?? 0;
      if (places === 0 || seen.has(potential)) continue;
      seen.add(potential);
      const taken = servedBy.get(potential) ?? [];
      servedBy.set(potential, taken);
      if (taken.length < places) {
        taken.push(name);
        return true;
      }
      const k = taken.findIndex((other) => assign(other, seen));
      if (k >= 0) {
        taken[k] = name;
        return true;
      }
    }
    return false;
  };
  for (const name of wrong) assign(name, new Set());
  return [...servedBy].flatMap(([potential, names]) =>
    names.map((name) => {
      const { a, b } = own[name]!;
      return { potential, pin: wanted[a] === potential ? a : b };
    }),
  );
}
