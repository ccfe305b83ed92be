import type { Knex } from 'knex';
import { jwtVerify } from 'jose';
import * as oidc from 'openid-client';
import type { Person } from '@contactum/contract';
import { PersonModel } from '../../database/models.js';
import { Refusal } from '../../runtime/refusal.js';
import { note } from '../people/audit.js';
import { remoteKeys, type RemoteKeys } from './keys.js';
import { personFor } from './newcomers.js';
import type { Visits } from './visits.js';

type Role = Person['role'];

/** Who has which role at a sign-on: the first rule that holds. */
export interface RoleRule {
  readonly role: Role;
  readonly claim: string;
  readonly value: string;
}

/** The college's own sign-on (OpenID Connect Core 1.0). */
export interface SignOnConfig {
  readonly name: string;
  readonly issuer: string;
  readonly clientId: string;
  readonly clientSecret: string | null;
  readonly rules: readonly RoleRule[];
  /** The claim that names logins of ours; null where the sign-on is not trusted to. */
  readonly loginClaim: string | null;
}

/** What a session keeps of the sign-on that began it. */
export interface SignedOn {
  readonly sub: string;
  readonly sid: string | null;
  readonly idToken: string;
}

const LOGOUT_EVENT = 'http://schemas.openid.net/event/backchannel-logout';
/** A message that ends sessions is taken so long after it was made, seconds. */
const OLDEST = 120;

const refuse = (why: string): Refusal => new Refusal('forbidden', why);

/** True where a claim, a word or a list of words, has a value. */
const hasValue = (claim: unknown, value: string): boolean =>
  Array.isArray(claim) ? claim.includes(value) : claim === value;

/** The role that claims give; null where no rule holds. Without rules everybody is a student. */
export function roleBy(rules: readonly RoleRule[], claims: Readonly<Record<string, unknown>>): Role | null {
  if (rules.length === 0) return 'student';
  return rules.find(({ claim, value }) => hasValue(claims[claim], value))?.role ?? null;
}

/** Signing in and out by the college's own sign-on. */
export class SignOn {
  private found: Promise<oidc.Configuration> | null = null;
  private keys: RemoteKeys | null = null;

  constructor(
    private readonly database: Knex,
    private readonly visits: Visits,
    readonly config: SignOnConfig,
  ) {}

  /** What the sign-on says of itself; asked again while it does not answer. */
  private configuration(): Promise<oidc.Configuration> {
    const { issuer, clientId, clientSecret } = this.config;
    this.found ??= oidc
      .discovery(
        new URL(issuer),
        clientId,
        undefined,
        clientSecret === null ? oidc.None() : oidc.ClientSecretPost(clientSecret),
        // On this machine alone without HTTPS, as the configuration is read.
        // eslint-disable-next-line @typescript-eslint/no-deprecated -- marked so that nobody takes it elsewhere
        issuer.startsWith('http://') ? { execute: [oidc.allowInsecureRequests] } : {},
      )
      .catch((error: unknown) => {
        this.found = null;
        throw new Refusal('unavailable', `${this.config.name} does not answer: ${(error as Error).message}`);
      });
    return this.found;
  }

  /** Begins a sign-in: where the browser is to be sent. */
  async begin({
    base,
    browser,
    target,
  }: {
    readonly base: string;
    readonly browser: string | null;
    readonly target: string;
  }): Promise<{ readonly to: string; readonly browser: string }> {
    const configuration = await this.configuration();
    const verifier = oidc.randomPKCECodeVerifier();
    const visit = await this.visits.begin(browser, { target, verifier });
    const to = oidc.buildAuthorizationUrl(configuration, {
      redirect_uri: `${base}/api/sign-on/callback`,
      scope: 'openid profile',
      code_challenge: await oidc.calculatePKCECodeChallenge(verifier),
      code_challenge_method: 'S256',
      state: visit.state,
      nonce: visit.nonce,
    });
    return { to: to.href, browser: visit.browser };
  }

  /** Ends a sign-in: who it is, and the page that they wanted. */
  async finish(
    url: URL,
    browser: string | null,
  ): Promise<{ readonly person: Person; readonly target: string; readonly signedOn: SignedOn }> {
    const visit = await this.visits.end(url.searchParams.get('state') ?? undefined, browser);
    if (visit.platformId !== null || visit.verifier === null)
      throw refuse('This is no answer of the sign-on.');
    const problem = url.searchParams.get('error');
    if (problem !== null) throw refuse(`${this.config.name} says: ${problem.slice(0, 200)}`);
    const configuration = await this.configuration();
    let tokens: Awaited<ReturnType<typeof oidc.authorizationCodeGrant>>;
    try {
      tokens = await oidc.authorizationCodeGrant(configuration, url, {
        pkceCodeVerifier: visit.verifier,
        expectedState: visit.state,
        expectedNonce: visit.nonce,
        idTokenExpected: true,
      });
    } catch (error) {
      throw refuse(`The sign-in cannot be believed: ${(error as Error).message}.`);
    }
    const claims = tokens.claims() as Readonly<Record<string, unknown>> & { sub: string };
    const person = await this.personOf(claims);
    return {
      person,
      target: visit.target,
      signedOn: {
        sub: claims.sub,
        sid: typeof claims.sid === 'string' ? claims.sid : null,
        idToken: tokens.id_token ?? '',
      },
    };
  }

  private async personOf(claims: Readonly<Record<string, unknown>> & { sub: string }): Promise<Person> {
    const { issuer, rules, loginClaim, name } = this.config;
    const role = roleBy(rules, claims);
    if (role === null) throw refuse(`${name} gives you no role here. Ask your college.`);
    const text = (key: string): string | null => (typeof claims[key] === 'string' ? claims[key] : null);
    const person = await personFor(this.database, {
      issuer,
      subject: claims.sub,
      name: text('name') ?? text('preferred_username') ?? '',
      role,
      login: loginClaim === null ? null : (text(loginClaim)?.toLowerCase() ?? null),
      wish: text('preferred_username'),
    });
    return person.role === role || rules.length === 0 ? person : this.inRole(person, role);
  }

  /** Somebody whom the sign-on gives another role than before; the last administrator stays one. */
  private async inRole(person: Person, role: Role): Promise<Person> {
    return this.database.transaction(async (trx) => {
      if (person.role === 'administrator') {
        const others = await trx('people')
          .where({ role: 'administrator' })
          .whereNull('erased_at')
          .whereNot({ id: person.id })
          .forUpdate()
          .select('id');
        if (others.length === 0) return person;
      }
      await PersonModel.query(trx).findById(person.id).patch({ role });
      await note(trx, {
        actor: null,
        name: this.config.name,
        kind: 'changed a person',
        about: `${person.name} (${person.login}): ${person.role} to ${role}`,
        subjectId: person.id,
      });
      return { ...person, role };
    });
  }

  /** Where somebody signs out of the college too; null where the sign-on has no such place. */
  async outTo({ idToken }: SignedOn, base: string): Promise<string | null> {
    const configuration = await this.configuration();
    if (configuration.serverMetadata().end_session_endpoint === undefined) return null;
    return oidc.buildEndSessionUrl(configuration, {
      post_logout_redirect_uri: `${base}/`,
      id_token_hint: idToken,
    }).href;
  }

  /** Ends sessions from the college's side (OpenID Connect Back-Channel Logout 1.0). */
  async endBy(token: string): Promise<number> {
    const configuration = await this.configuration();
    const { issuer, jwks_uri: keysUrl } = configuration.serverMetadata();
    if (keysUrl === undefined) throw refuse('The sign-on publishes no keys.');
    this.keys ??= remoteKeys(keysUrl);
    let payload: Readonly<Record<string, unknown>>;
    try {
      ({ payload } = await jwtVerify(token, this.keys, {
        issuer,
        audience: this.config.clientId,
        algorithms: ['RS256', 'PS256', 'ES256', 'EdDSA'],
        maxTokenAge: OLDEST,
        requiredClaims: ['iat', 'jti', 'events'],
      }));
    } catch (error) {
      throw refuse(`The message cannot be believed: ${(error as Error).message}.`);
    }
    const { events, nonce, sub, sid } = payload;
    if (nonce !== undefined || typeof events !== 'object' || events === null || !(LOGOUT_EVENT in events))
      throw refuse('This is no message that ends sessions.');
    if (typeof sub !== 'string' && typeof sid !== 'string') throw refuse('The message names nobody.');
    const { rows } = await this.database.raw<{ rows: unknown[] }>(
      `delete from sessions s where s.sess->'signedOn' is not null
        and (?::text is null or s.sess->'signedOn'->>'sid' = ?)
        and (?::text is null or s.sess->'signedOn'->>'sub' = ?) returning s.sid`,
      [sid ?? null, sid ?? null, sub ?? null, sub ?? null] as string[],
    );
    return rows.length;
  }
}
