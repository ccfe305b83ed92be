import { isBitSet, isFixed, type Circuit, type Hands, type MechanicalState } from '../circuit/index.js';

/** Looked up once: a search calls them for every situation. */
const { clz32, imul } = Math;

const WORD = 32;
/**
 * A place of the table holds a situation's number plus one in its lower 24 bits, and bits of its hash
 * above.
 */
const LARGEST = 0xffffff;
/**
 * Places of a table of which it shows that the board is a large one, and of the table that then holds all that
 * a search may meet: to put millions of situations in again and again takes a quarter of the time.
 */
const MANY = 1 << 17;
const MOST = 1 << 23;
/**
 * 2³² divided by the golden ratio, and an odd constant of good avalanche (Knuth, TAOCP 3, 6.4; both from
 * memory).
 */
const GOLDEN = 0x9e3779b1;
const SPREAD = 0x85ebca6b;

/**
 * Every situation that was met, once each: mechanical states packed into a few 32-bit words, found again by
 * open addressing with linear probing. A situation is known by its number, in order of discovery. Its words
 * and its mark, a number that the search keeps with it, lie side by side.
 */
export class Situations {
  count = 0;
  /** A field a mechanism: which one, and where its bits stand. */
  private readonly mechanisms: Int32Array;
  private readonly word: Int32Array;
  private readonly shift: Int32Array;
  private readonly mask: Int32Array;
  private readonly fieldOf: Int32Array;
  private readonly words: number;
  private readonly stride: number;
  private readonly scratch: Int32Array;
  private readonly current: Int32Array;
  /**
   * By bit of the packed words: its field; and the bits above the lowest of each field of something that
   * can move.
   */
  private readonly fieldAt: Int32Array;
  private readonly restless: Int32Array;
  /** The situation at hand, the mechanisms in which it differs from the one before, and their states then. */
  readonly state: MechanicalState;
  readonly changed: Int32Array;
  readonly was: Uint8Array;
  changes = 0;
  private records: Int32Array;
  private table: Int32Array;

  constructor(
    circuit: Circuit,
    /** Mark of a new situation. */
    private readonly fresh: number,
    hands: Hands = 'controls',
    /** By mechanism, 0 where it stays as the bench has it. */
    inside: Uint8Array | null = null,
    capacity = 1 << 10,
  ) {
    const moving = circuit.mechanisms.filter(
      (mechanism) => inside?.[mechanism.index] !== 0 && !isFixed(mechanism, hands),
    );
    this.mechanisms = Int32Array.from(moving, ({ index }) => index);
    this.fieldOf = new Int32Array(circuit.mechanisms.length).fill(-1);
    const places = { word: 0, shift: 0 };
    const fields = moving.map(({ index, states }, k) => {
      this.fieldOf[index] = k;
      const bits = Math.max(1, Math.ceil(Math.log2(states)));
      if (places.shift + bits > WORD) {
        places.word += 1;
        places.shift = 0;
      }
      const field = { ...places, mask: 2 ** bits - 1 };
      places.shift += bits;
      return field;
    });
    this.word = Int32Array.from(fields, ({ word }) => word);
    this.shift = Int32Array.from(fields, ({ shift }) => shift);
    this.mask = Int32Array.from(fields, ({ mask }) => mask);
    this.words = places.word + 1;
    this.stride = this.words + 1;
    this.scratch = new Int32Array(this.words);
    this.current = new Int32Array(this.words);
    this.fieldAt = new Int32Array(this.words * WORD);
    this.restless = new Int32Array(this.words);
    fields.forEach(({ word, shift, mask }, k) => {
      for (let bit = 0; mask >>> bit !== 0; bit += 1) this.fieldAt[word * WORD + shift + bit] = k;
      if (!isBitSet(moving[k]!)) this.restless[word] = this.restless[word]! | ((mask & ~1) << shift);
    });
    this.changed = new Int32Array(moving.length);
    this.was = new Uint8Array(moving.length);
    this.state = circuit.initial.slice();
    for (const index of this.mechanisms) this.state[index] = 0;
    this.records = new Int32Array(capacity * this.stride);
    this.table = new Int32Array(capacity * 2);
  }

  mark(number: number): number {
    return this.records[number * this.stride + this.words]!;
  }

  setMark(number: number, mark: number): void {
    this.records[number * this.stride + this.words] = mark;
  }

  /** Number of a state's situation; a new one where it was not met before. */
  numberOf(state: MechanicalState): number {
    const { scratch, mechanisms, word, shift } = this;
    scratch.fill(0);
    for (let k = 0; k < mechanisms.length; k += 1) {
      const w = word[k]!;
      scratch[w] = scratch[w]! | (state[mechanisms[k]!]! << shift[k]!);
    }
    return this.find();
  }

  /** Writes a situation's state over a state of the same circuit. */
  read(number: number, into: MechanicalState): void {
    const { records, mechanisms, word, shift, mask } = this;
    const base = number * this.stride;
    for (let k = 0; k < mechanisms.length; k += 1) {
      into[mechanisms[k]!] = (records[base + word[k]!]! >>> shift[k]!) & mask[k]!;
    }
  }

  /**
   * Makes a situation the one at hand: `state` becomes its state, and `changed` lists the mechanisms that
   * differ from the one before.
   */
  visit(number: number): void {
    const { records, words, current, state, mechanisms, fieldAt, shift, mask, changed, was } = this;
    const base = number * this.stride;
    let count = 0;
    for (let w = 0; w < words; w += 1) {
      const now = records[base + w]!;
      let difference = now ^ current[w]!;
      current[w] = now;
      while (difference !== 0) {
        const k = fieldAt[(w << 5) + 31 - clz32(difference)]!;
        const s = shift[k]!;
        const m = mask[k]!;
        const mechanism = mechanisms[k]!;
        was[count] = state[mechanism]!;
        state[mechanism] = (now >>> s) & m;
        changed[count] = mechanism;
        count += 1;
        difference &= ~(m << s);
      }
    }
    this.changes = count;
  }

  /**
   * Lists every mechanism of the situation at hand that is not at rest in state 0 or 1: whatever moves is
   * among them.
   */
  movers(found: Int32Array): number {
    const { words, current, restless, fieldAt, mechanisms, shift, mask } = this;
    let count = 0;
    for (let w = 0; w < words; w += 1) {
      let bits = current[w]! & restless[w]!;
      while (bits !== 0) {
        const k = fieldAt[(w << 5) + 31 - clz32(bits)]!;
        found[count] = mechanisms[k]!;
        count += 1;
        bits &= ~(mask[k]! << shift[k]!);
      }
    }
    return count;
  }

  /** Begins a situation that is the one at hand but for what `put` changes. */
  stage(): void {
    const { scratch, current, words } = this;
    for (let w = 0; w < words; w += 1) scratch[w] = current[w]!;
  }

  put(mechanism: number, state: number): void {
    const { scratch } = this;
    const k = this.fieldOf[mechanism]!;
    const w = this.word[k]!;
    const s = this.shift[k]!;
    scratch[w] = (scratch[w]! & ~(this.mask[k]! << s)) | (state << s);
  }

  /** Number of the staged situation. */
  find(): number {
    const { table, records, scratch, words, stride } = this;
    const mask = table.length - 1;
    const hash = home(scratch, 0, words);
    const tag = hash & ~LARGEST;
    let at = hash & mask;
    for (;;) {
      const entry = table[at]!;
      if (entry === 0) return this.add(at, tag);
      if ((entry & ~LARGEST) !== tag) {
        at = (at + 1) & mask;
        continue;
      }
      const found = (entry & LARGEST) - 1;
      const base = found * stride;
      let w = 0;
      while (w < words && records[base + w] === scratch[w]) w += 1;
      if (w === words) return found;
      at = (at + 1) & mask;
    }
  }

  private add(at: number, tag: number): number {
    const number = this.count;
    if (number === LARGEST) throw new Error(`more than ${LARGEST} situations`);
    this.count += 1;
    this.table[at] = tag | this.count;
    const base = number * this.stride;
    if (base + this.stride > this.records.length) {
      const grown = new Int32Array(2 * this.records.length);
      grown.set(this.records);
      this.records = grown;
    }
    for (let w = 0; w < this.words; w += 1) this.records[base + w] = this.scratch[w]!;
    this.records[base + this.words] = this.fresh;
    if (this.count * 2 > this.table.length) this.rehash();
    return number;
  }

  private rehash(): void {
    const { records, words, stride } = this;
    const places = this.table.length;
    this.table = new Int32Array(Math.max(4 * places, places < MANY ? 0 : MOST));
    const mask = this.table.length - 1;
    for (let number = 0; number < this.count; number += 1) {
      const hash = home(records, number * stride, words);
      let at = hash & mask;
      while (this.table[at]! !== 0) at = (at + 1) & mask;
      this.table[at] = (hash & ~LARGEST) | (number + 1);
    }
  }
}

/** Where a packed state's search begins. */
function home(words: Int32Array, base: number, count: number): number {
  let hash = 0;
  for (let w = 0; w < count; w += 1) {
    hash = imul(hash ^ words[base + w]!, SPREAD);
    hash ^= hash >>> 15;
  }
  hash = imul(hash, GOLDEN);
  return hash ^ (hash >>> 15);
}
