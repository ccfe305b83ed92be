import {
  compile,
  referenceBench,
  type Bench,
  type Exercise,
  type TerminalRef,
  type Wire,
} from '@contactum/core';

type Random = () => number;

const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;

/**
 * One thing that a learner does wrong with a lead: leaves it out, puts an end elsewhere, adds one,
 * exchanges two ends.
 */
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
  for (let count = 1 + Math.floor(random() * 4); count > 0; count -= 1)
    wires = spoil(wires, terminals, random);
  return { ...board, wires: wires.filter(({ from, to }) => from !== to) };
}

/**
 * A board of an exercise wired anyhow: leads left out, moved and added, between any two terminals; what nobody
 * would wire, but somebody will.
 */
export function wiredAnyhow(exercise: Exercise, random: Random): Bench {
  const board = referenceBench(exercise);
  const { terminals } = compile(board);
  const used = board.wires.flatMap(({ from, to }) => [from, to]);
  const any = () => pick(random, random() < 0.8 ? used : terminals);
  const some = (most: number) => Array.from({ length: Math.floor(random() * (most + 1)) });
  let wires: readonly Wire[] = [...board.wires, ...some(3).map(() => ({ from: any(), to: any() }))];
  for (const _ of some(2)) wires = wires.toSpliced(Math.floor(random() * wires.length), 1);
  for (const _ of some(2)) {
    const k = Math.floor(random() * wires.length);
    wires = wires.with(k, { ...wires[k]!, [random() < 0.5 ? 'from' : 'to']: any() });
  }
  return { ...board, wires: wires.filter(({ from, to }) => from !== to) };
}

/**
 * A board of an exercise with two leads wrong: left out, or one end on another terminal; two edits put it
 * right.
 */
export function twoWrong(exercise: Exercise, random: Random): Bench {
  const board = referenceBench(exercise);
  const { terminals } = compile(board);
  const locked = exercise.bench.wires.length;
  const wires = [...board.wires];
  const chosen = new Set<number>();
  while (chosen.size < Math.min(2, wires.length - locked))
    chosen.add(locked + Math.floor(random() * (wires.length - locked)));
  for (const k of [...chosen].sort((a, b) => b - a)) {
    const wire = wires[k] as Wire;
    if (random() < 0.3) {
      wires.splice(k, 1);
      continue;
    }
    const end = random() < 0.5 ? 'from' : 'to';
    let ref = wire[end];
    while (ref === wire.from || ref === wire.to) ref = pick(random, terminals);
    wires[k] = { ...wire, [end]: ref };
  }
  return { ...board, wires };
}
