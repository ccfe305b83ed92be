import { putBounded } from '../bounded.js';

/** Wrong sign-ins a minute that cost nothing, by one address for one name; and by one address, or for one name, in all. */
interface Limits {
  readonly pair: number;
  readonly whole: number;
}

interface Failures {
  count: number;
  at: number;
  waiting: number;
}

/** Seconds in which half of the failures are forgotten. */
const HALF_LIFE = 60;
const LONGEST_DELAY = 8_000;
const FIRST_DELAY = 250;
/** Addresses and names that are remembered; the oldest are forgotten first. */
const REMEMBERED = 5_000;
/** Sign-ins that may wait at once, by one address for one name, and by one address. */
const WAIT_PAIR = 3;
const WAIT_ADDRESS = 60;

/**
 * Slows wrong sign-ins down, by address, by name, and by both together: each further one waits twice as long before its password
 * is looked at. Nobody is locked out: the right password gets in after its wait. Memory is bounded.
 */
export class Throttle {
  private readonly known = new Map<string, Failures>();

  constructor(
    private readonly limits: Limits,
    private readonly now: () => number = Date.now,
  ) {}

  /** Milliseconds that a sign-in has to wait; null where too many wait already. */
  delay(address: string, login: string): number | null {
    const [pair, whole, name] = this.keys(address, login).map((key) => this.of(key)) as [
      Failures,
      Failures,
      Failures,
    ];
    if (pair.waiting >= WAIT_PAIR || whole.waiting >= WAIT_ADDRESS) return null;
    const over = Math.max(
      pair.count - this.limits.pair,
      whole.count - this.limits.whole,
      name.count - this.limits.whole,
    );
    return over < 0 ? 0 : Math.min(LONGEST_DELAY, FIRST_DELAY * 2 ** Math.floor(over));
  }

  /** Waits as long as a sign-in has to; returns whether it may go on. */
  async wait(address: string, login: string): Promise<boolean> {
    const delay = this.delay(address, login);
    if (delay === null) return false;
    if (delay === 0) return true;
    const [pair, whole] = this.keys(address, login).map((key) => this.of(key)) as [
      Failures,
      Failures,
      Failures,
    ];
    pair.waiting += 1;
    whole.waiting += 1;
    await new Promise((resolve) => setTimeout(resolve, delay));
    pair.waiting -= 1;
    whole.waiting -= 1;
    return true;
  }

  failed(address: string, login: string): void {
    for (const key of this.keys(address, login)) this.of(key).count += 1;
  }

  succeeded(address: string, login: string): void {
    this.known.delete(this.keys(address, login)[0] as string);
  }

  get size(): number {
    return this.known.size;
  }

  private keys(address: string, login: string): string[] {
    return [`${address} ${login}`, `address ${address}`, `name ${login}`];
  }

  private of(key: string): Failures {
    const t = this.now() / 1000;
    const known = this.known.get(key);
    if (known) {
      known.count *= 0.5 ** ((t - known.at) / HALF_LIFE);
      known.at = t;
      return known;
    }
    const fresh = { count: 0, at: t, waiting: 0 };
    putBounded(this.known, key, fresh, REMEMBERED);
    return fresh;
  }
}
