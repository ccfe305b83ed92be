import { parentPort } from 'node:worker_threads';
import {
  SearchBench,
  describeEntry,
  hiddenFaults,
  judgeVerdict,
  likeness,
  readFault,
  referenceCircuitOf,
  type Exercise,
  type Fault,
  type SearchEntry,
  type SearchEvent,
} from '@contactum/core';
import type { BenchNews, NotebookLine, VerdictAnswer, WireFrame } from '@contactum/contract';
import { wireFrame } from './wire-frame.js';

/**
 * Runs the live benches of one process in a thread of its own: entries in, what is perceived out, ten times
 * a second.
 */

export type ToThread =
  | {
      readonly kind: 'open';
      readonly id: string;
      /** Counts how often the bench was claimed: what an earlier opening of it still tells is known by it. */
      readonly epoch: number;
      readonly exercise: Exercise;
      readonly faults: readonly Fault[];
      readonly log: readonly SearchEvent[];
      /** Where its clock had come to. */
      readonly t: number;
    }
  | { readonly kind: 'enter'; readonly id: string; readonly n: number; readonly entry: SearchEntry }
  /** Somebody has come who knows nothing of it yet. */
  | { readonly kind: 'tell'; readonly id: string }
  | { readonly kind: 'close'; readonly id: string };

export type FromThread = { readonly id: string; readonly epoch: number } & FromBench;

type FromBench =
  | { readonly kind: 'news'; readonly text: string; readonly t: number }
  /**
   * An entry was done; it is told once it is written down. The number of its maker stands at the end of the
   * text.
   */
  | {
      readonly kind: 'done';
      readonly n: number;
      readonly event: SearchEvent;
      readonly text: string;
    }
  | { readonly kind: 'failed'; readonly reason: string };

const FRAME_MS = 100;
/** Longest stretch that is caught up after the thread was held up, seconds. */
const LONGEST_STEP = 1;
/** Frames that are still told after everything has come to rest. */
const QUIET_AFTER = 10;

if (!parentPort) throw new Error('this runs in a thread alone');
const port = parentPort;
const tell = (message: FromThread) => port.postMessage(message);

/** One bench, and who is told of it. */
class Running {
  readonly board: SearchBench;
  private last = performance.now();
  private quiet = 0;
  private hidden: Fault[];
  private lines: NotebookLine[] = [];
  private readonly isAlike: ReturnType<typeof likeness>;

  constructor(
    private readonly id: string,
    readonly epoch: number,
    exercise: Exercise,
    faults: readonly Fault[],
    log: readonly SearchEvent[],
    t: number,
  ) {
    const referenceCircuit = referenceCircuitOf(exercise);
    this.isAlike = likeness(referenceCircuit);
    this.board = new SearchBench(referenceCircuit.bench, faults);
    this.hidden = hiddenFaults(faults, log);
    for (const event of log) {
      this.board.advanceTo(event.t);
      this.note(event);
    }
    this.board.advanceTo(t);
    // What happened before somebody looked is no news.
    this.board.frame();
    this.introduce();
  }

  introduce(): void {
    this.news({ kind: 'shape', shape: this.board.shape, notes: this.lines });
    this.news({ kind: 'frame', frame: this.frame() });
  }

  /** Does an entry and returns what its maker is told. */
  private note(event: SearchEvent): Omit<Extract<BenchNews, { kind: 'answer' }>, 'n'> {
    const answer = this.board.do(event);
    const isHidden = event.kind === 'inject' || event.kind === 'clear';
    const line: NotebookLine | null = isHidden
      ? null
      : {
          t: Math.round(event.t * 10) / 10,
          kind: event.kind,
          text: describeEntry(event, answer, this.board.bench),
          ...(event.kind === 'verdict' ? { verdict: this.judge(readFault(event.fault)) } : {}),
        };
    if (line) this.lines = [...this.lines, line];
    return { kind: 'answer', answer, line };
  }

  private judge(guess: Fault): VerdictAnswer {
    const { cause, place } = judgeVerdict(guess, this.hidden, this.isAlike);
    return cause ? 'right' : place ? 'place' : 'wrong';
  }

  private catchUp(): void {
    const now = performance.now();
    const step = Math.min((now - this.last) / 1000, LONGEST_STEP);
    this.last = now;
    this.board.advanceTo(this.board.clock + step);
  }

  enter(n: number, entry: SearchEntry): void {
    this.catchUp();
    const event: SearchEvent = { t: this.board.clock, ...entry };
    if (event.kind === 'inject') this.hidden = [...this.hidden, readFault(event.fault)];
    const news = this.note(event);
    this.quiet = 0;
    this.tell({ kind: 'done', n, event, text: JSON.stringify({ ...news, n }) });
    this.news({ kind: 'frame', frame: this.frame() });
  }

  tick(): void {
    this.catchUp();
    const frame = this.frame();
    this.quiet = frame.running ? 0 : this.quiet + 1;
    if (this.quiet < QUIET_AFTER) this.news({ kind: 'frame', frame });
  }

  private tell(news: FromBench): void {
    tell({ id: this.id, epoch: this.epoch, ...news });
  }

  private news(news: BenchNews): void {
    this.tell({ kind: 'news', text: JSON.stringify(news), t: this.board.clock });
  }

  private frame(): WireFrame {
    const { locked, liftedLeads: lifted } = this.board;
    return wireFrame(this.board.frame(), { locked, lifted });
  }
}

const benches = new Map<string, Running>();

/** A bench that has failed runs no further. */
function fail(id: string, epoch: number, { message }: Error): void {
  benches.delete(id);
  tell({ kind: 'failed', id, epoch, reason: message });
}

port.on('message', (message: ToThread) => {
  try {
    switch (message.kind) {
      case 'open': {
        const { id, epoch, exercise, faults, log, t } = message;
        benches.set(id, new Running(id, epoch, exercise, faults, log, t));
        break;
      }
      case 'enter':
        benches.get(message.id)?.enter(message.n, message.entry);
        break;
      case 'tell':
        benches.get(message.id)?.introduce();
        break;
      case 'close':
        benches.delete(message.id);
    }
  } catch (error) {
    const epoch = message.kind === 'open' ? message.epoch : benches.get(message.id)?.epoch;
    if (epoch !== undefined) fail(message.id, epoch, error as Error);
  }
});

setInterval(() => {
  for (const [id, bench] of benches) {
    try {
      bench.tick();
    } catch (error) {
      fail(id, bench.epoch, error as Error);
    }
  }
}, FRAME_MS);
