import { LRUCache } from 'lru-cache';

/** How often something may be done: so many at once, then so many a second in the long run. */
export interface Rate {
  readonly burst: number;
  readonly perSecond: number;
}

/** What is left of a rate; milliseconds of a clock that nobody puts back. */
export class Allowance {
  private left: number;
  private at: number;

  constructor(
    private readonly rate: Rate,
    private readonly now: () => number = () => performance.now(),
  ) {
    this.left = rate.burst;
    this.at = now();
  }

  /** Takes so much of it; false, and nothing taken, where there is not so much left. */
  takes(amount = 1): boolean {
    const { burst, perSecond } = this.rate;
    const now = this.now();
    this.left = Math.min(burst, this.left + ((now - this.at) / 1000) * perSecond);
    this.at = now;
    if (this.left < amount) return false;
    this.left -= amount;
    return true;
  }
}

const REMEMBERED = 5_000;

/** An allowance for each person who asks for something dear. Memory is bounded. */
export class Pace {
  private readonly known = new LRUCache<string, Allowance>({ max: REMEMBERED });
  private readonly rate: Rate;

  constructor(
    burst: number,
    perSecond: number,
    private readonly now?: () => number,
  ) {
    this.rate = { burst, perSecond };
  }

  /** True where another request may be answered now. */
  admits(who: string): boolean {
    const own = this.known.get(who) ?? new Allowance(this.rate, this.now);
    this.known.set(who, own);
    return own.takes();
  }
}
