import { spellRef, spellWire, type Bench, type RepairEdit, type Wire } from '@contactum/core';

/**
 * A board with a repair drawn on it: what goes and what comes, by lead. The wiring that runs stays as it
 * was.
 */
export function withRepair(
  bench: Bench,
  repair: readonly RepairEdit[] | null,
): { bench: Bench; edits: ReadonlyMap<number, 'gone' | 'new'> } {
  const edits = new Map<number, 'gone' | 'new'>();
  if (!repair) return { bench, edits };
  const wires = [...bench.wires];
  const go = (wire: Wire): void => {
    const k = bench.wires.findIndex(
      (one, n) => !edits.has(n) && one.from === wire.from && one.to === wire.to,
    );
    if (k >= 0) edits.set(k, 'gone');
  };
  const come = (wire: Wire): void => {
    edits.set(wires.length, 'new');
    wires.push(wire);
  };
  for (const edit of repair) {
    if ('remove' in edit) go(edit.remove);
    else if ('add' in edit) come(edit.add);
    else {
      go(edit.move);
      come(edit.to);
    }
  }
  return { bench: { ...bench, wires }, edits };
}

/** The same wiring once it is repaired. */
export function repaired(bench: Bench, repair: readonly RepairEdit[]): Bench {
  const { bench: drawn, edits } = withRepair(bench, repair);
  return { ...drawn, wires: drawn.wires.filter((_, k) => edits.get(k) !== 'gone') };
}

/** An edit in words. */
export function describeEdit(edit: RepairEdit): string {
  if ('remove' in edit) return `Remove ${spellWire(edit.remove)}`;
  if ('add' in edit) return `Add ${spellWire(edit.add)}`;
  const { move, to } = edit;
  const [end, goes] = move.from === to.from ? [move.to, to.to] : [move.from, to.from];
  return `Move ${spellWire(move)}: its end at ${spellRef(end)} goes to ${spellRef(goes)}`;
}
