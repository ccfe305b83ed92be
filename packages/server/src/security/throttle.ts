import { setTimeout } from 'node:timers/promises';
import type pg from 'pg';

/**
 * Wrong sign-ins a minute that cost nothing, by one address for one name; and by one address, or for one
 * name, in all.
 */
interface Limits {
  readonly pair: number;
  readonly whole: number;
}

/** Where failures are counted: by key, halved with time. */
export interface Failures {
  /** Failures of some keys as they count now. */
  counts(keys: readonly string[]): Promise<readonly number[]>;
  add(keys: readonly string[]): Promise<void>;
  forget(key: string): Promise<void>;
}

/** Seconds in which half of the failures are forgotten. */
const HALF_LIFE = 60;
const LONGEST_DELAY = 8_000;
const FIRST_DELAY = 250;
/** What a few seconds have forgotten of whole failures does not count. */
const FORGOTTEN = 0.1;
/** Place of the address alone among the keys. */
const BY_ADDRESS = 1;
/** Sign-ins that may wait at once in a process by one address: what it costs to let them wait is bounded. */
const WAIT_ADDRESS = 1_000;

/** In the database: whichever process a sign-in comes to, its failures count. */
export class SharedFailures implements Failures {
  constructor(private readonly pool: pg.Pool) {}

  async counts(keys: readonly string[]): Promise<readonly number[]> {
    // A clock that is put back forgets nothing, and adds nothing.
    const { rows } = await this.pool.query<{ key: string; count: number }>({
      name: 'failures',
      text: `select key, count * power(0.5, greatest(0, extract(epoch from now() - at)) / ${HALF_LIFE}) as count from sign_in_failures where key = any($1::text[])`,
      values: [keys],
    });
    const found = new Map(rows.map(({ key, count }) => [key, count]));
    return keys.map((key) => found.get(key) ?? 0);
  }

  async add(keys: readonly string[]): Promise<void> {
    await this.pool.query({
      name: 'failure',
      // In one order, so that two sign-ins at once do not wait for each other.
      text: `insert into sign_in_failures (key, count, at) select k, 1, now() from unnest($1::text[]) k order by k
        on conflict (key) do update set count = sign_in_failures.count * power(0.5, greatest(0, extract(epoch from now() - sign_in_failures.at)) / ${HALF_LIFE}) + 1, at = now()`,
      values: [keys],
    });
  }

  async forget(key: string): Promise<void> {
    await this.pool.query({
      name: 'failure-forget',
      text: 'delete from sign_in_failures where key = $1',
      values: [key],
    });
  }

  /** Forgets what counts nothing any more. */
  async prune(): Promise<void> {
    await this.pool.query(
      `delete from sign_in_failures where at < now() - interval '${HALF_LIFE * 20} seconds'`,
    );
  }
}

/**
 * Slows wrong sign-ins down, by address, by name, and by both together: each further one waits twice as
 * long before its password is looked at, and what is under way counts as wrong until it was right, so that
 * many at once gain nothing. Nobody is locked out: the right password gets in after its wait, and from a
 * browser that is known at once.
 */
export class Throttle {
  /** Sign-ins under way in this process, by key. */
  private readonly under = new Map<string, number>();

  constructor(
    private readonly limits: Limits,
    private readonly failures: Failures,
  ) {}

  /** Milliseconds that a sign-in has to wait. */
  async delay(address: string, login: string): Promise<number> {
    const keys = this.keys(address, login);
    // Not by address: a whole college behind one signs in at the beginning of a lesson.
    const before = keys.map((key, k) => (k === BY_ADDRESS ? 0 : (this.under.get(key) ?? 0)));
    const counts = await this.failures.counts(keys);
    const [ofPair = 0, ofAddress = 0, ofName = 0] = counts.map((count, k) => count + (before[k] ?? 0));
    const over =
      Math.max(ofPair - this.limits.pair, ofAddress - this.limits.whole, ofName - this.limits.whole) +
      FORGOTTEN;
    return over < 0 ? 0 : Math.min(LONGEST_DELAY, FIRST_DELAY * 2 ** Math.floor(over));
  }

  /**
   * Does what looks at a password, or a code, after as long a wait as it has to have. `true` of what was
   * right is forgiven. Null where too many wait already.
   */
  async attempt<T>(
    address: string,
    login: string,
    look: () => Promise<{ readonly right: boolean; readonly value: T }>,
  ): Promise<T | null> {
    const keys = this.keys(address, login);
    if ((this.under.get(keys[1]) ?? 0) >= WAIT_ADDRESS) return null;
    const delay = this.delay(address, login);
    for (const key of keys) this.under.set(key, (this.under.get(key) ?? 0) + 1);
    try {
      await setTimeout(await delay);
      const { right, value } = await look();
      if (right) await this.failures.forget(keys[0]);
      else await this.failures.add(keys);
      return value;
    } finally {
      for (const key of keys) {
        const left = (this.under.get(key) ?? 1) - 1;
        if (left > 0) this.under.set(key, left);
        else this.under.delete(key);
      }
    }
  }

  private keys(address: string, login: string): [string, string, string] {
    return [
      `${address} ${login}`.slice(0, 200),
      `address ${address}`.slice(0, 200),
      `name ${login}`.slice(0, 200),
    ];
  }
}
