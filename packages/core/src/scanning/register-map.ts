import type { TerminalRef } from '../bench/index.js';
import type { Pass } from './settle.js';

/**
 * The registers in which a scanner offers a board by Modbus TCP: words of 16 bits, addresses from 0, read by
 * function 4; `docs/formats/scanner-registers.md` says the same in words. The box drives one terminal after
 * the other with less than 5 V and 5 mA and reads all others; it never drives a board that has a supply.
 */
export const SCANNER = {
  /** “CO”. */
  magic: 0x434f,
  version: 1,
  /** Most terminals. */
  most: 512,
  /** Where the parts of the map begin. */
  head: 0,
  serial: 16,
  names: 0x1000,
  rows: 0x4000,
  classes: 0x8000,
  /** Coil that asks for the permit relay; discrete inputs that say whether it is closed, and the supply present. */
  permit: 0,
  permitClosed: 0,
  supplyPresent: 1,
  /** Holding register that the master counts up at least once a second, or the permit relay opens. */
  heartbeat: 0,
} as const;

/** Words of one request: a limit of Modbus (MODBUS Application Protocol V1.1b3, 6.4). */
export const WORDS_A_READ = 125;

const SERIAL_WORDS = 16;
const NAME_WORDS = 8;

/** Faults of the box itself, by bit of its status word. */
export const SCANNER_FAULTS = [
  'a supply is present on the board: nothing is driven',
  'a driver does not switch',
  'the reference resistor is off by more than it may be',
  'the box is too warm',
  'the terminal plug is not fully in',
] as const;

/** How well two terminals are joined. */
export const JOINT_CLASSES = ['open', 'joined', 'poor', 'load'] as const;
/** `joined` under 1 Ω, `poor` 1 to 10 Ω as under a loose screw, `load` up to 20 kΩ: a coil, a winding, a lamp. */
export type JointClass = (typeof JOINT_CLASSES)[number];

/** What a scanner says of itself. */
export interface ScannerHead {
  readonly terminals: number;
  readonly faults: readonly string[];
  /** Counts passes; the same number again is the same pass. */
  readonly pass: number;
  /** Milliseconds since the pass was complete. */
  readonly age: number;
  readonly serial: string;
}

/** Words of a row of bits, and of a row of classes. */
const wordsOfRow = (terminals: number): number => Math.ceil(terminals / 16);
const wordsOfClasses = (terminals: number): number => Math.ceil(terminals / 8);

/** A stretch of registers. */
export interface Stretch {
  readonly from: number;
  readonly words: number;
}

/** The requests that read a stretch. */
export function readsOf({ from, words }: Stretch): readonly Stretch[] {
  return Array.from({ length: Math.ceil(words / WORDS_A_READ) }, (_, k) => ({
    from: from + k * WORDS_A_READ,
    words: Math.min(WORDS_A_READ, words - k * WORDS_A_READ),
  }));
}

export const STRETCHES = {
  head: { from: SCANNER.head, words: SCANNER.serial + SERIAL_WORDS },
  names: (terminals: number): Stretch => ({ from: SCANNER.names, words: NAME_WORDS * terminals }),
  rows: (terminals: number): Stretch => ({ from: SCANNER.rows, words: terminals * wordsOfRow(terminals) }),
  classes: (terminals: number): Stretch => ({
    from: SCANNER.classes,
    words: terminals * wordsOfClasses(terminals),
  }),
} as const;

/** ASCII in words, the first letter in the high byte, filled with NUL. */
function textIn(words: readonly number[]): string {
  const bytes = words.flatMap((word) => [word >> 8, word & 0xff]);
  const end = bytes.indexOf(0);
  return String.fromCharCode(...(end < 0 ? bytes : bytes.slice(0, end)));
}

function wordsOfText(text: string, words: number): number[] {
  const code = (k: number): number => (k < text.length ? text.charCodeAt(k) & 0x7f : 0);
  return Array.from({ length: words }, (_, k) => (code(2 * k) << 8) | code(2 * k + 1));
}

/** What the head says. Throws an Error where it is no scanner of ours, or of a later version. */
export function readHead(words: readonly number[]): ScannerHead {
  const [magic, version, terminals = 0, status = 0, high = 0, low = 0, age = 0] = words;
  if (magic !== SCANNER.magic)
    throw new Error('this is no board scanner: its first register does not say so');
  if (version !== SCANNER.version)
    throw new Error(
      `the scanner speaks version ${version} of the register map; this is version ${SCANNER.version}`,
    );
  if (terminals < 2 || terminals > SCANNER.most)
    throw new Error(`the scanner says that it has ${terminals} terminals`);
  return {
    terminals,
    faults: SCANNER_FAULTS.filter((_, bit) => (status >> bit) & 1),
    pass: high * 0x1_0000 + low,
    age,
    serial: textIn(words.slice(SCANNER.serial, SCANNER.serial + SERIAL_WORDS)),
  };
}

export const readNames = (terminals: number, words: readonly number[]): TerminalRef[] =>
  Array.from({ length: terminals }, (_, k) =>
    textIn(words.slice(NAME_WORDS * k, NAME_WORDS * (k + 1))),
  ) as TerminalRef[];

/** The rows of a pass. */
export function readRows(terminals: number, words: readonly number[]): Pass {
  const width = wordsOfRow(terminals);
  return Array.from({ length: terminals }, (_, k) =>
    Array.from({ length: terminals }, (_bit, j) => ((words[k * width + (j >> 4)]! >> (j & 15)) & 1) === 1),
  );
}

/** The class of each pair, by row. */
export function readClasses(terminals: number, words: readonly number[]): JointClass[][] {
  const width = wordsOfClasses(terminals);
  return Array.from({ length: terminals }, (_, k) =>
    Array.from(
      { length: terminals },
      (_pair, j) => JOINT_CLASSES[(words[k * width + (j >> 3)]! >> (2 * (j & 7))) & 3]!,
    ),
  );
}

/** What a box has found, as it offers it. */
export interface ScannerState {
  readonly serial: string;
  readonly names: readonly TerminalRef[];
  readonly pass: number;
  readonly age: number;
  /** Bits of `SCANNER_FAULTS`. */
  readonly status: number;
  readonly classes: readonly (readonly JointClass[])[];
}

/** The input registers of a box: the value of each address; 0 where the map has nothing. */
export function registersOf(state: ScannerState): ReadonlyMap<number, number> {
  const registers = new Map<number, number>();
  const count = state.names.length;
  const put = (from: number, words: readonly number[]) =>
    words.forEach((word, k) => registers.set(from + k, word & 0xffff));
  put(SCANNER.head, [
    SCANNER.magic,
    SCANNER.version,
    count,
    state.status,
    Math.floor(state.pass / 0x1_0000),
    state.pass,
    Math.min(state.age, 0xffff),
    wordsOfRow(count),
  ]);
  put(SCANNER.serial, wordsOfText(state.serial, SERIAL_WORDS));
  state.names.forEach((name, k) => put(SCANNER.names + NAME_WORDS * k, wordsOfText(name, NAME_WORDS)));
  state.classes.forEach((row, k) => {
    const bits = new Array<number>(wordsOfRow(count)).fill(0);
    const twos = new Array<number>(wordsOfClasses(count)).fill(0);
    row.forEach((one, j) => {
      if (one === 'joined' || one === 'poor') bits[j >> 4]! |= 1 << (j & 15);
      twos[j >> 3]! |= JOINT_CLASSES.indexOf(one) << (2 * (j & 7));
    });
    put(SCANNER.rows + k * wordsOfRow(count), bits);
    put(SCANNER.classes + k * wordsOfClasses(count), twos);
  });
  return registers;
}
