import { putBounded } from '../bounded.js';

/**
 * How often one person may ask for something dear: some at once, then so many a second. Memory is bounded.
 */
export class Pace {
  private readonly known = new Map<string, { left: number; at: number }>();

  constructor(
    private readonly burst: number,
    private readonly perSecond: number,
    // A clock that nobody puts back.
    private readonly now: () => number = () => performance.now(),
  ) {}

  /** True where another request may be answered now. */
  admits(who: string): boolean {
    const at = this.now() / 1000;
    const before = this.known.get(who) ?? { left: this.burst, at };
    const left = Math.min(this.burst, before.left + (at - before.at) * this.perSecond);
    putBounded(this.known, who, { left: left >= 1 ? left - 1 : left, at }, REMEMBERED);
    return left >= 1;
  }
}

const REMEMBERED = 5_000;
