import { endsOf, netlistOf, spellWire, type Bench, type Wire } from '@contactum/core';

/** How a lead of one of two wirings is drawn beside the other: shared leads recede. */
type LeadMark = 'same' | 'new';

/** A lead that only one of two wirings has. */
interface LeadDifference {
  readonly of: 'wired' | 'reference';
  readonly lead: Wire;
  /** The other wiring joins the same two terminals by other leads. */
  readonly isJoined: boolean;
  readonly words: string;
}

export interface LeadDifferences {
  readonly list: readonly LeadDifference[];
  /** By the lead's place in its bench. */
  readonly wired: ReadonlyMap<number, LeadMark>;
  readonly reference: ReadonlyMap<number, LeadMark>;
}

/** Places of leads of one wiring that the other does not have; two between the same terminals are two. */
function ownOf(bench: Bench, other: Bench): ReadonlySet<number> {
  const left = new Map<string, number>();
  for (const wire of other.wires) left.set(endsOf(wire), (left.get(endsOf(wire)) ?? 0) + 1);
  return new Set(
    bench.wires.flatMap((wire, k) => {
      const count = left.get(endsOf(wire)) ?? 0;
      if (count > 0) left.set(endsOf(wire), count - 1);
      return count > 0 ? [] : [k];
    }),
  );
}

/** Which leads differ between a wiring and its reference, lead by lead: what differs need not be wrong. */
export function leadDifferences(wired: Bench, reference: Bench): LeadDifferences {
  const nets = { wired: netlistOf(wired).netOf, reference: netlistOf(reference).netOf };
  const own = { wired: ownOf(wired, reference), reference: ownOf(reference, wired) };
  const marks = (bench: Bench, differs: ReadonlySet<number>) =>
    new Map(bench.wires.map((_, k): [number, LeadMark] => [k, differs.has(k) ? 'new' : 'same']));
  const listed = (of: 'wired' | 'reference', bench: Bench): LeadDifference[] =>
    bench.wires.flatMap((lead, k) => {
      if (!own[of].has(k)) return [];
      const other = nets[of === 'wired' ? 'reference' : 'wired'];
      const isJoined = other.get(lead.from) !== undefined && other.get(lead.from) === other.get(lead.to);
      const whose = of === 'wired' ? 'Only as wired' : 'Only in the reference';
      const also = isJoined
        ? of === 'wired'
          ? '; the reference joins the same terminals by other leads'
          : '; joined by other leads as wired'
        : '';
      return [{ of, lead, isJoined, words: `${whose}: ${spellWire(lead)}${also}` }];
    });
  // What changes the circuit stands before what only takes another way.
  const list = [...listed('wired', wired), ...listed('reference', reference)].toSorted(
    (a, b) => Number(a.isJoined) - Number(b.isJoined),
  );
  return { list, wired: marks(wired, own.wired), reference: marks(reference, own.reference) };
}
