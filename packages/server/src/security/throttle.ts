import type pg from 'pg';

/** Wrong sign-ins a minute that cost nothing, by one address for one name; and by one address, or for one name, in all. */
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
/** Sign-ins that may wait at once in a process, by one address for one name, and by one address. */
const WAIT_PAIR = 3;
const WAIT_ADDRESS = 60;

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
 * Slows wrong sign-ins down, by address, by name, and by both together: each further one waits twice as long before its password
 * is looked at. Nobody is locked out: the right password gets in after its wait.
 */
export class Throttle {
  private readonly waiting = new Map<string, number>();

  constructor(
    private readonly limits: Limits,
    private readonly failures: Failures,
  ) {}

  /** Milliseconds that a sign-in has to wait. */
  async delay(address: string, login: string): Promise<number> {
    const [ofPair = 0, ofAddress = 0, ofName = 0] = await this.failures.counts(this.keys(address, login));
    const over =
      Math.max(ofPair - this.limits.pair, ofAddress - this.limits.whole, ofName - this.limits.whole) +
      FORGOTTEN;
    return over < 0 ? 0 : Math.min(LONGEST_DELAY, FIRST_DELAY * 2 ** Math.floor(over));
  }

  /** Waits as long as a sign-in has to; returns whether it may go on, which it may not where too many wait already. */
  async wait(address: string, login: string): Promise<boolean> {
    const delay = await this.delay(address, login);
    if (delay === 0) return true;
    const [pair, whole] = this.keys(address, login);
    if ((this.waiting.get(pair) ?? 0) >= WAIT_PAIR || (this.waiting.get(whole) ?? 0) >= WAIT_ADDRESS)
      return false;
    for (const key of [pair, whole]) this.waiting.set(key, (this.waiting.get(key) ?? 0) + 1);
    await new Promise((resolve) => setTimeout(resolve, delay));
    for (const key of [pair, whole]) {
      const left = (this.waiting.get(key) ?? 1) - 1;
      if (left > 0) this.waiting.set(key, left);
      else this.waiting.delete(key);
    }
    return true;
  }

  async failed(address: string, login: string): Promise<void> {
    await this.failures.add(this.keys(address, login));
  }

  async succeeded(address: string, login: string): Promise<void> {
    await this.failures.forget(this.keys(address, login)[0]);
  }

  private keys(address: string, login: string): [string, string, string] {
    return [
      `${address} ${login}`.slice(0, 200),
      `address ${address}`.slice(0, 200),
      `name ${login}`.slice(0, 200),
    ];
  }
}
