import { z } from 'zod';
import { readWith } from '@contactum/core/documents';
import type { DoorKeys } from './keys.js';
import { isOf, type Platform } from './platforms.js';

/** What is asked of a platform's services (OAuth 2.0 client credentials with a signed assertion, RFC 7523). */
const MEMBERS_SCOPE = 'https://purl.imsglobal.org/spec/lti-nrps/scope/contextmembership.readonly';
const SCORE_SCOPE = 'https://purl.imsglobal.org/spec/lti-ags/scope/score';

const FETCH_MS = 10_000;
/** A token is used until so long before it runs out, milliseconds. */
const SPARE_MS = 30_000;
/** Most pages of a roster. */
const MOST_PAGES = 50;

const tokenSchema = z.object({
  access_token: z.string().min(1).max(8_000),
  expires_in: z.number().default(60),
});
const membersSchema = z.object({
  members: z
    .array(
      z.object({
        user_id: z.string().min(1).max(255),
        status: z.string().optional(),
        name: z.string().optional(),
        given_name: z.string().optional(),
        family_name: z.string().optional(),
        lis_person_sourcedid: z.string().optional(),
        roles: z.array(z.string()).default([]),
      }),
    )
    .max(5_000),
});

/** A student of a course, as its platform lists them. */
export interface Listed {
  readonly subject: string;
  readonly name: string;
}

/** A student's mark as a gradebook takes it. */
export interface Score {
  readonly subject: string;
  readonly given: number;
  readonly most: number;
  readonly comment: string;
  readonly at: Date;
}

/** Why a service did not take what it was told: it did not answer, it may take it later, or it will not. */
export type Untaken = 'silent' | 'later' | 'refused';

/** A service that did not take what it was told. */
export class ServiceError extends Error {
  constructor(
    message: string,
    readonly why: Untaken,
  ) {
    super(message);
  }
}

/** A request whose headers are plain. */
interface Asked extends RequestInit {
  readonly headers: Readonly<Record<string, string>>;
}

/** The services of learning platforms: rosters and gradebooks. */
export class Services {
  private readonly tokens = new Map<string, { readonly token: string; readonly until: number }>();

  constructor(private readonly keys: DoorKeys) {}

  private async token(platform: Platform, scope: string): Promise<string> {
    const key = `${platform.id} ${scope}`;
    const known = this.tokens.get(key);
    if (known && known.until > Date.now()) return known.token;
    const assertion = await this.keys.sign(
      { sub: platform.clientId },
      { audience: platform.tokenUrl, issuer: platform.clientId },
    );
    const asked = sent(platform.tokenUrl, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({
        grant_type: 'client_credentials',
        client_assertion_type: 'urn:ietf:params:oauth:client-assertion-type:jwt-bearer',
        client_assertion: assertion,
        scope,
      }),
    });
    const response = await asked.catch((error: unknown) => {
      // It says nothing of what is to be told: a platform that cannot fetch our keys at the moment refuses too.
      if (error instanceof ServiceError && error.why === 'refused')
        throw new ServiceError(`the platform gave no token: ${error.message}`, 'later');
      throw error;
    });
    const read = readWith(tokenSchema, await response.json());
    if (!read.ok) throw new ServiceError('the platform gave no token', 'later');
    const { access_token: token, expires_in: seconds } = read.value;
    this.tokens.set(key, { token, until: Date.now() + 1000 * seconds - SPARE_MS });
    return token;
  }

  private async asked(platform: Platform, scope: string, url: string, init: Asked): Promise<Response> {
    const go = async () =>
      sent(url, {
        ...init,
        headers: { ...init.headers, authorization: `Bearer ${await this.token(platform, scope)}` },
      });
    try {
      return await go();
    } catch (error) {
      // A token that was taken back: once more with a new one.
      if (!(error instanceof ServiceError) || !error.message.startsWith('401')) throw error;
      this.tokens.delete(`${platform.id} ${scope}`);
      return go();
    }
  }

  /** The students of a course who are active there. */
  async students(platform: Platform, url: string): Promise<Listed[]> {
    const listed: Listed[] = [];
    let next: string | null = url;
    for (let page = 0; next !== null && page < MOST_PAGES; page += 1) {
      if (!isOf(platform, next)) throw new ServiceError('the list goes on at another site', 'refused');
      const response = await this.asked(platform, MEMBERS_SCOPE, next, {
        headers: { accept: 'application/vnd.ims.lti-nrps.v2.membershipcontainer+json' },
      });
      const read = readWith(membersSchema, await response.json());
      if (!read.ok) throw new ServiceError('the list of the platform cannot be read', 'refused');
      for (const { user_id: subject, status = 'Active', roles, ...one } of read.value.members)
        if (status === 'Active' && roles.some((role) => /(^|#)Learner$/.test(role)))
          listed.push({
            subject,
            name: one.name ?? [one.given_name, one.family_name].filter(Boolean).join(' '),
          });
      next = /<([^>]+)>\s*;\s*rel="?next"?/.exec(response.headers.get('link') ?? '')?.[1] ?? null;
    }
    return listed;
  }

  /** Tells a line item a student's mark. */
  async tellScore(
    platform: Platform,
    lineItem: string,
    { subject, given, most, comment, at }: Score,
  ): Promise<void> {
    if (!isOf(platform, lineItem)) throw new ServiceError('the line item lies on another site', 'refused');
    const url = new URL(lineItem);
    url.pathname = `${url.pathname.replace(/\/$/, '')}/scores`;
    await this.asked(platform, SCORE_SCOPE, url.href, {
      method: 'POST',
      headers: { 'content-type': 'application/vnd.ims.lis.v1.score+json' },
      body: JSON.stringify({
        userId: subject,
        scoreGiven: given,
        scoreMaximum: most,
        comment,
        timestamp: at.toISOString(),
        activityProgress: 'Completed',
        gradingProgress: 'FullyGraded',
      }),
    });
  }
}

/** Sends a request; throws what is wrong, and whether it may be taken later. */
export async function sent(url: string, init: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(url, { ...init, redirect: 'error', signal: AbortSignal.timeout(FETCH_MS) });
  } catch (error) {
    throw new ServiceError(`${new URL(url).host} does not answer: ${(error as Error).message}`, 'silent');
  }
  if (response.ok) return response;
  const { status } = response;
  await response.body?.cancel();
  throw new ServiceError(
    `${status} from ${new URL(url).host}`,
    status >= 500 || status === 429 || status === 408 || status === 401 ? 'later' : 'refused',
  );
}
