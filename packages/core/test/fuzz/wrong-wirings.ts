import { compile, referenceBench, type Bench, type Exercise, type TerminalRef, type Wire } from '@contactum/core';

type Random = () => number;

const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;

/** One thing that a learner does wrong with a lead: leaves it out, puts an end elsewhere, adds one, exchanges two ends. */
function spoil(wires: readonly Wire[], terminals: readonly TerminalRef[], random: Random): Wire[] {
  const k = Math.floor(random() * wires.length);
  const wire = wires[k];
  const kind = random();
  if (!wire || kind < 0.15) return [...wires, { from: pick(random, terminals), to: pick(random, terminals) }];
  if (kind < 0.35) return wires.toSpliced(k, 1);
  if (kind < 0.75) {
    // Most wrong ends sit on a neighbour: another terminal of the same device.
    const end = random() < 0.5 ? 'from' : 'to';
    const near = terminals.filter((ref) => ref.split(':')[0] === wire[end].split(':')[0]);
    return wires.with(k, { ...wire, [end]: pick(random, random() < 0.6 ? near : terminals) });
  }
  const other = Math.floor(random() * wires.length);
  const second = wires[other];
  if (!second || other === k) return [...wires];
  return wires.with(k, { ...wire, to: second.to }).with(other, { ...second, to: wire.to });
}

/** A board of an exercise with one to four leads wrong, the same for the same random numbers. */
export function wrongWiring(exercise: Exercise, random: Random): Bench {
  const board = referenceBench(exercise);
  const { terminals } = compile(board);
  let wires: readonly Wire[] = board.wires;
  for (let count = 1 + Math.floor(random() * 4); count > 0; count -= 1) wires = spoil(wires, terminals, random);
  return { ...board, wires: wires.filter(({ from, to }) => from !== to) };
}
