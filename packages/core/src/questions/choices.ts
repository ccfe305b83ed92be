import type { Bench } from '../bench/index.js';
import { anatomy } from '../catalogue/index.js';
import { AskedBoard } from './asked.js';
import type { ValueQuestion } from './question.js';

/** Values that are offered beside the right one. */
const OFFERED = 3;
/** Part by which values of a list differ at least: more than twice what an answer may be off. */
const APART = 0.12;

type Asked = Pick<ValueQuestion, 'of' | 'steps'>;

/** Boards with a mistake that are tried. */
const TRIED = 40;
/** Less than this is read as nothing: what a meter picks up on a lead that hangs loose. */
const LEAST = 0.05;

/** As it would be read: three figures. */
const read = (value: number): number => (value < LEAST ? 0 : Number(value.toPrecision(3)));

const isApart = (a: number, b: number): boolean =>
  Math.abs(a - b) > APART * Math.max(Math.abs(a), Math.abs(b));

/**
 * Values to choose from for a question of a value: the right one, and what the board would say with a wiring
 * mistake in it, from the lowest to the highest. Null where mistakes change too little of it.
 */
export function valueChoices(board: AskedBoard, question: Asked): readonly number[] | null {
  const right = board.value(question);
  if (!right) return null;
  const found = [read(right.value)];
  for (const value of wrongValues(board, question, right.value)) {
    if (found.every((one) => isApart(one, read(value)))) found.push(read(value));
    if (found.length > OFFERED) break;
  }
  return found.length > 2 ? found.sort((a, b) => a - b) : null;
}

/** What comes of mistakes, the most usual first. */
function* wrongValues(board: AskedBoard, question: Asked, right: number): Generator<number> {
  const { of } = question;
  // A winding of a motor in delta carries 1/√3 of its lead's current: taken for each other, once or twice, one
  // way or the other. Which of them are offered goes by what is asked, so that the place in the list tells nothing.
  if (typeof of === 'string' && /\.(dial|current|windingCurrent)$/.test(of)) {
    const below = (of.length + of.charCodeAt(0) + of.charCodeAt(1) + Math.round(100 * right)) % 3;
    for (let k = -below; k <= 2 - below; k += 1) if (k !== 0) yield right * Math.sqrt(3) ** k;
    return;
  }
  let left = TRIED;
  for (const bench of mistaken(board.bench, of)) {
    if (left === 0) return;
    left -= 1;
    const wrong = new AskedBoard(bench).value(question);
    if (wrong && Number.isFinite(wrong.value)) yield Math.abs(wrong.value);
  }
}

/** The board with one mistake: what was not counted, a lead left out, or on the next terminal of its device. */
function* mistaken(bench: Bench, of: Asked['of']): Generator<Bench> {
  if (typeof of === 'string') {
    const [tag] = of.split('.');
    for (const { tag: left } of bench.devices)
      if (left !== tag)
        yield {
          ...bench,
          devices: bench.devices.filter((one) => one.tag !== left),
          wires: bench.wires.filter(({ from, to }) => ![from, to].some((ref) => ref.startsWith(`${left}:`))),
        };
    return;
  }
  const next = new Map(
    bench.devices.flatMap((device) => {
      const names = anatomy(device).terminals.map(({ name }) => `${device.tag}:${name}`);
      return names.map((ref, k): [string, string] => [ref, names[(k + 1) % names.length]!]);
    }),
  );
  for (let k = 0; k < bench.wires.length; k += 1)
    yield { ...bench, wires: bench.wires.filter((_, n) => n !== k) };
  for (const [k, wire] of bench.wires.entries())
    for (const end of ['from', 'to'] as const) {
      const moved = { ...wire, [end]: next.get(wire[end]) ?? wire[end] };
      if (moved.from !== moved.to) yield { ...bench, wires: bench.wires.with(k, moved) };
    }
}
