/** Sets of small whole numbers as bits. */
export class Bits {
  readonly words: Uint32Array;

  constructor(readonly size: number) {
    this.words = new Uint32Array(Math.ceil(size / 32));
  }

  set(k: number): void {
    this.words[k >> 5]! |= 1 << (k & 31);
  }

  has(k: number): boolean {
    return ((this.words[k >> 5]! >>> (k & 31)) & 1) === 1;
  }

  get count(): number {
    let n = 0;
    for (const word of this.words) n += ones(word);
    return n;
  }

  isWithin(other: Bits): boolean {
    for (let k = 0; k < this.words.length; k += 1) if (this.words[k]! & ~other.words[k]!) return false;
    return true;
  }

  /** How many of these are in another set too. */
  common(other: Bits): number {
    let n = 0;
    for (let k = 0; k < this.words.length; k += 1) n += ones(this.words[k]! & other.words[k]!);
    return n;
  }

  get isEmpty(): boolean {
    for (let k = 0; k < this.words.length; k += 1) if (this.words[k]! !== 0) return false;
    return true;
  }

  equals(other: Bits): boolean {
    for (let k = 0; k < this.words.length; k += 1) if (this.words[k]! !== other.words[k]!) return false;
    return true;
  }

  /** FNV-1a, a word at a time. */
  get hash(): number {
    let h = 0x811c9dc5;
    for (let k = 0; k < this.words.length; k += 1) h = Math.imul(h ^ this.words[k]!, 0x01000193);
    return h;
  }

  /** These without those of another set. */
  without(other: Bits): Bits {
    const rest = new Bits(this.size);
    for (let k = 0; k < this.words.length; k += 1) rest.words[k] = this.words[k]! & ~other.words[k]!;
    return rest;
  }

  static of(size: number, members: readonly number[]): Bits {
    const bits = new Bits(size);
    for (const one of members) bits.set(one);
    return bits;
  }

  members(): number[] {
    const list: number[] = [];
    this.words.forEach((word, k) => {
      for (let w = word; w !== 0; w &= w - 1) list.push(32 * k + 31 - Math.clz32(w & -w));
    });
    return list;
  }
}

function ones(word: number): number {
  let w = word - ((word >>> 1) & 0x55555555);
  w = (w & 0x33333333) + ((w >>> 2) & 0x33333333);
  return Math.imul((w + (w >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

/** Bits of a word. */
const WORD = 32;

/**
 * Turns rows of bits into columns, a square of 32 at a time (Warren, Hacker's Delight, 7-3, from memory):
 * the k-th of the `size` results has those rows that have k.
 */
export function transposed(rows: readonly Bits[], size: number): Bits[] {
  const columns = Array.from({ length: size }, () => new Bits(rows.length));
  const square = new Uint32Array(WORD);
  for (let r = 0; r < rows.length; r += WORD)
    for (let w = 0; w * WORD < size; w += 1) {
      let any = 0;
      for (let k = 0; k < WORD; k += 1) {
        // The lowest bit is the first member: rows go in from the bottom and come out so.
        square[WORD - 1 - k] = rows[r + k]?.words[w] ?? 0;
        any |= square[WORD - 1 - k]!;
      }
      if (any === 0) continue;
      turn(square);
      for (let k = 0; k < WORD && w * WORD + k < size; k += 1)
        columns[w * WORD + k]!.words[r / WORD] = square[WORD - 1 - k]!;
    }
  return columns;
}

/** Transposes a square of 32 bits by 32 in place. */
function turn(square: Uint32Array): void {
  let mask = 0x0000ffff;
  for (let j = WORD / 2; j !== 0; j >>>= 1, mask ^= mask << j)
    for (let k = 0; k < WORD; k = (k + j + 1) & ~j) {
      const swap = (square[k]! ^ (square[k + j]! >>> j)) & mask;
      square[k]! ^= swap;
      square[k + j]! ^= swap << j;
    }
}
