import { createInterface } from 'node:readline/promises';
import {
  describeStimulus,
  leadsFromReadings,
  plural,
  readingsFor,
  referenceBench,
  terminalsOf,
  type Bench,
  type BoardReading,
  type FoundLeads,
  type ScannerHead,
  type Stimulus,
} from '@contactum/core';
import type { Answer } from './answer.js';
import { save } from './export.js';
import { Unusable, readBoard, wholeNumber } from './input.js';
import { Scanner, type Scan } from './scanner/client.js';
import type { Change } from './scanner/watch.js';

export interface ScanValues {
  readonly board?: string;
  readonly address?: string;
  readonly work?: boolean;
  /** Seconds for which the board is watched after it was read. */
  readonly follow?: string;
  readonly out?: string;
}

/** Asks a person to work the board, and waits until that is done. */
export type AskHand = (words: string) => Promise<void>;

/** Over the terminal: Enter says that it is done. */
async function withTerminal<T>(go: (ask: AskHand) => Promise<T>): Promise<T> {
  const lines = createInterface({ input: process.stdin });
  const entered = lines[Symbol.asyncIterator]();
  try {
    return await go(async (words) => {
      process.stderr.write(`${words}, then press Enter `);
      if ((await entered.next()).done)
        throw new Unusable('arguments: the input ended before the board was read');
    });
  } finally {
    lines.close();
  }
}

const handWords = (steps: readonly Stimulus[]): string =>
  steps.length === 0
    ? 'Leave the board at rest, isolated, locked off and proved dead'
    : `Do this and keep it so: ${steps.map(describeStimulus).join(', ')}`;

/** Reads which terminals of a real, dead board are joined, and which of them by leads. */
export async function scanCommand(values: ScanValues, hand?: AskHand): Promise<Answer> {
  const { board: file, address, work = false, out, follow = '0' } = values;
  if (file === undefined) throw new Unusable('arguments: scan needs --board FILE');
  if (address === undefined) throw new Unusable('arguments: scan needs --address HOST[:PORT]');
  const seconds = wholeNumber('follow', follow, [0, 86_400]);
  const board = readBoard(file);
  const bench = { ...('exercise' in board ? referenceBench(board.exercise) : board.bench), wires: [] };
  const scanner = await opened(address);
  try {
    const scan = (ask: AskHand) => scanned(scanner, bench, { work, ask, out, seconds });
    if (!work) return await scan(() => Promise.resolve());
    return await (hand ? scan(hand) : withTerminal(scan));
  } catch (error) {
    if (error instanceof Unusable) throw error;
    throw new Unusable(`${address}: (scanner): ${(error as Error).message}`);
  } finally {
    await scanner.close();
  }
}

async function opened(address: string): Promise<Scanner> {
  try {
    return await Scanner.open(address);
  } catch (error) {
    throw new Unusable(`${address}: (scanner): cannot be reached: ${(error as Error).message}`);
  }
}

async function scanned(
  scanner: Scanner,
  bench: Bench,
  {
    work,
    ask,
    out,
    seconds,
  }: {
    readonly work: boolean;
    readonly ask: AskHand;
    readonly out: string | undefined;
    readonly seconds: number;
  },
): Promise<Answer> {
  const names = await scanner.terminals();
  const known = new Set(terminalsOf(bench));
  const strange = names.find((name) => !known.has(name));
  if (strange !== undefined)
    throw new Unusable(
      `--board: (document): the box has a terminal ${strange}, this board has none of that name`,
    );
  const readings: BoardReading[] = [];
  const scans: Scan[] = [];
  for (const steps of work ? readingsFor(bench) : [[]]) {
    await ask(handWords(steps));
    const { faults } = await scanner.head();
    if (faults.length > 0) return refusal(faults);
    const scan = await scanner.scan();
    // What the box found while something was wrong with it, or with the board, says nothing.
    if (scan.head.faults.length > 0) return refusal(scan.head.faults);
    scans.push(scan);
    readings.push({ steps, joined: scan.joined });
  }
  const leads = leadsFromReadings(bench, readings);
  const read = new Set<string>(names);
  const unread = [...known].filter((ref) => !read.has(ref));
  const last = scans.at(-1);
  const changes = last && seconds > 0 ? await watched(scanner, last, seconds) : [];
  const found = foundBy({ head: last?.head ?? (await scanner.head()), scans, leads, unread, changes });
  if (found.holds && out !== undefined)
    save(out, `${JSON.stringify({ contactum: 'joints/1', joined: leads.joined }, null, 2)}\n`);
  return { ...found, words: [found.words, wordsOfOut(found.holds, out)].filter(Boolean).join('\n') };
}

const refusal = (faults: readonly string[]): Answer => ({
  holds: false,
  json: { ok: false, faults },
  words: faults.map((fault) => `! ${fault}`).join('\n'),
});

const wordsOfOut = (holds: boolean, out: string | undefined): string => {
  if (out === undefined) return '';
  return holds ? `written to ${out}` : 'something is doubtful: nothing is written';
};

const changeWords = ({ kind, between }: Change): string =>
  kind === 'joined' ? `+ ${between.join(' – ')}` : `− ${between.join(' – ')}`;

/** Watches a board for some seconds; each change is told on standard error when it is seen. */
async function watched(scanner: Scanner, scan: Scan, seconds: number): Promise<Change[]> {
  const changes: Change[] = [];
  await scanner.follow(
    scan,
    (change) => {
      changes.push(change);
      process.stderr.write(`${changeWords(change)}\n`);
    },
    AbortSignal.timeout(1000 * seconds),
  );
  return changes;
}

function foundBy({
  head,
  scans,
  leads,
  unread,
  changes,
}: {
  readonly head: ScannerHead;
  readonly scans: readonly Scan[];
  readonly leads: FoundLeads;
  readonly unread: readonly string[];
  readonly changes: readonly Change[];
}): Answer {
  const doubtful = scans.flatMap((scan) => scan.doubtful);
  const poor = scans.at(-1)?.poor ?? [];
  const { joined, doubtful: nets, unlike } = leads;
  const holds = doubtful.length === 0 && nets.length === 0 && unlike.length === 0;
  return {
    holds,
    json: {
      ok: holds,
      serial: head.serial,
      terminals: head.terminals,
      passes: scans.reduce((sum, { passes }) => sum + passes, 0),
      joined,
      nets,
      doubtful,
      poor,
      unlike,
      unread,
      changes,
      faults: [],
    },
    words: [
      `${head.serial}: ${plural(head.terminals, 'terminal')}, ${plural(joined.length, 'net')}`,
      ...joined.map((net) => `  ${net.join(' ')}`),
      ...nets.map(
        ({ terminals, through, work }) =>
          `? ${terminals.join(' ')}: joined by leads or through ${through.join(', ') || 'contacts'}` +
          (work.length > 0 ? `; to know, ${work.map(describeStimulus).join(', ')}` : ''),
      ),
      ...doubtful.map(
        ({ between, share, kind }) =>
          `? ${between.join(' – ')} ${kind}: joined in ${Math.round(100 * share)} % of the readings`,
      ),
      ...poor.map((pair) => `! ${pair.join(' – ')}: a poor joint, 1 to 10 Ω`),
      ...unlike.map(({ contact, reading }) => `! ${contact} did not close in reading ${reading + 1}`),
      ...unread.map((ref) => `  ${ref} is not read by the box`),
      ...changes.map(changeWords),
    ].join('\n'),
  };
}
