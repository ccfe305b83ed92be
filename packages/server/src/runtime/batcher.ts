interface Waiting<T, R> {
  readonly item: T;
  readonly done: (result: R) => void;
  readonly failed: (error: unknown) => void;
}

/**
 * Batches that follow each other faster than this gather for as long first, milliseconds: under load one
 * statement serves many.
 */
const GATHER_MS = 6;

/**
 * Answers what is asked at one moment together: while one batch is under way the next one gathers. What is
 * asked now and then goes out at once.
 */
export class Batcher<T, R> {
  private waiting: Waiting<T, R>[] = [];
  private running = false;
  private last = 0;

  constructor(
    /** Answers a batch, item by item in its order. */
    private readonly answer: (items: readonly T[]) => Promise<readonly R[]>,
    /** Items that may not stand in one batch have the same key. */
    private readonly keyOf: (item: T) => string,
    private readonly most = 200,
  ) {}

  ask(item: T): Promise<R> {
    return new Promise((done, failed) => {
      this.waiting.push({ item, done, failed });
      if (!this.running) void this.run();
    });
  }

  private async run(): Promise<void> {
    this.running = true;
    while (this.waiting.length > 0) {
      if (performance.now() - this.last < 2 * GATHER_MS)
        await new Promise((resolve) => setTimeout(resolve, GATHER_MS));
      this.last = performance.now();
      const now = this.next();
      try {
        const answers = await this.answer(now.map(({ item }) => item));
        now.forEach(({ done }, k) => done(answers[k] as R));
      } catch (error) {
        for (const { failed } of now) failed(error);
      }
    }
    this.running = false;
  }

  private next(): Waiting<T, R>[] {
    const keys = new Set<string>();
    const now: Waiting<T, R>[] = [];
    this.waiting = this.waiting.filter((one) => {
      const key = this.keyOf(one.item);
      if (now.length >= this.most || keys.has(key)) return true;
      keys.add(key);
      now.push(one);
      return false;
    });
    return now;
  }
}
