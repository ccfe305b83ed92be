import type { Knex } from 'knex';
import { Refusal } from '../../runtime/refusal.js';
import { hashOfToken, newToken } from '../../security/tokens.js';

/** How long somebody may take at their own sign-on, minutes. */
const GOOD_FOR = '10 minutes';

/** A sign-in that was begun with a platform or the college's sign-on. */
export interface Visit {
  readonly state: string;
  readonly nonce: string;
  readonly verifier: string | null;
  readonly platformId: string | null;
  readonly target: string;
}

/**
 * Sign-ins under way. Each is good once, for ten minutes, and only in the browser that began it: a link that
 * somebody else has made signs nobody in.
 */
export class Visits {
  constructor(private readonly database: Knex) {}

  /**
   * Begins one.
   * @param browser what the browser is known by, or null for a new one.
   */
  async begin(
    browser: string | null,
    {
      platformId = null,
      target = '/',
      verifier = null,
    }: Partial<Pick<Visit, 'platformId' | 'target' | 'verifier'>>,
  ): Promise<Visit & { readonly browser: string }> {
    const visit = { state: newToken(), nonce: newToken(), platformId, target, verifier };
    const known = browser ?? newToken();
    await this.database('door_visits').insert({
      state: hashOfToken(visit.state),
      browser: hashOfToken(known),
      nonce: visit.nonce,
      verifier,
      platform_id: platformId,
      target,
      expires_at: this.database.raw(`now() + interval '${GOOD_FOR}'`),
    });
    return { ...visit, browser: known };
  }

  /** Ends one: it is good no more, whatever comes of it. */
  async end(state: string | undefined, browser: string | null): Promise<Visit> {
    const [row] =
      state === undefined
        ? []
        : await this.database('door_visits')
            .where({ state: hashOfToken(state) })
            .delete()
            .returning<(Visit & { browser: string; expiresAt: Date })[]>('*');
    if (!row || row.expiresAt < new Date())
      throw new Refusal('forbidden', 'This sign-in has run out or was used already. Begin it anew.');
    if (browser === null || row.browser !== hashOfToken(browser))
      throw new Refusal('forbidden', 'This sign-in was begun in another browser. Begin it anew here.');
    return { ...row, state: state ?? '' };
  }

  async prune(): Promise<void> {
    await this.database('door_visits').where('expires_at', '<', this.database.fn.now()).delete();
    await this.database('deep_links').where('expires_at', '<', this.database.fn.now()).delete();
  }
}
