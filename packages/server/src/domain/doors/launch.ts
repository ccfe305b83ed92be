import type { Knex } from 'knex';
import { jwtVerify, type JWTPayload } from 'jose';
import { z } from 'zod';
import type { Person } from '@contactum/contract';
import { Refusal } from '../../runtime/refusal.js';
import { readWith } from '@contactum/core/documents';
import { addClass } from '../classes/classes.js';
import { enter } from '../classes/consent.js';
import { remoteKeys, type RemoteKeys } from './keys.js';
import { personFor } from './newcomers.js';
import { isOf, originOf, type Platform, type Platforms } from './platforms.js';
import type { Visits } from './visits.js';

/**
 * LTI 1.3 launches. Source: 1EdTech Learning Tools Interoperability Core 1.3, Security Framework 1.0, Deep
 * Linking 2.0, Names and Role Provisioning Services 2.0, Assignment and Grade Services 2.0; from memory.
 */
const LTI = 'https://purl.imsglobal.org/spec/lti/claim';
const DEEP = 'https://purl.imsglobal.org/spec/lti-dl/claim/deep_linking_settings';
const MEMBERS = 'https://purl.imsglobal.org/spec/lti-nrps/claim/namesroleservice';
const GRADES = 'https://purl.imsglobal.org/spec/lti-ags/claim/endpoint';
const ROLES = 'http://purl.imsglobal.org/vocab/lis/v2/membership#';

/** A token is taken so long after it was made, and clocks may differ by so much, seconds. */
const OLDEST = 300;
const CLOCKS = 30;

const text = z.string().min(1).max(2_000);
const claimsSchema = z.object({
  sub: z.string().min(1).max(255),
  nonce: text,
  azp: text.optional(),
  name: z.string().max(500).optional(),
  given_name: z.string().max(200).optional(),
  family_name: z.string().max(200).optional(),
  preferred_username: z.string().max(200).optional(),
  [`${LTI}/version`]: z.literal('1.3.0'),
  [`${LTI}/message_type`]: z.enum(['LtiResourceLinkRequest', 'LtiDeepLinkingRequest']),
  [`${LTI}/deployment_id`]: z.string().min(1).max(255),
  [`${LTI}/target_link_uri`]: text.optional(),
  [`${LTI}/roles`]: z.array(z.string().max(500)).max(50).default([]),
  [`${LTI}/context`]: z
    .object({
      id: z.string().min(1).max(255),
      title: z.string().max(300).optional(),
      label: z.string().max(300).optional(),
    })
    .optional(),
  [`${LTI}/resource_link`]: z.object({ id: z.string().min(1).max(255) }).optional(),
  [`${LTI}/custom`]: z.record(z.string(), z.unknown()).optional(),
  [DEEP]: z.object({ deep_link_return_url: text, data: z.string().max(4_000).optional() }).optional(),
  [MEMBERS]: z.object({ context_memberships_url: text }).optional(),
  [GRADES]: z
    .object({ lineitem: text.optional(), lineitems: text.optional(), scope: z.array(z.string()).optional() })
    .optional(),
});

interface Resource {
  readonly kind: 'assignment' | 'assessment';
  readonly id: string;
}

/** What a launch says, once it is believed. */
interface Claims {
  readonly subject: string;
  readonly name: string;
  readonly login: string | null;
  readonly wish: string | null;
  readonly isInstructor: boolean;
  readonly deploymentId: string;
  readonly context: { readonly id: string; readonly title: string } | null;
  /** An assignment or an assessment of ours that the link names. */
  readonly resource: Resource | null;
  readonly deepLink: { readonly returnUrl: string; readonly data: string | null } | null;
  readonly membersUrl: string | null;
  readonly lineItem: string | null;
}

/** Where a launch leads: somebody who is signed in now, and the page that they wanted. */
export interface Launched {
  readonly person: Person;
  readonly path: string;
}

/** Opens a student's attempt at what is set, and finds the page on which it is worked at. */
type OpenTask = (assignmentId: string, student: Person) => Promise<string>;

const refuse = (why: string): Refusal => new Refusal('forbidden', why);

/** Launches from learning platforms. */
export class Launches {
  /** Keys of platforms by their address: fetched when a token names one that is not known. */
  private readonly keys = new Map<string, RemoteKeys>();

  constructor(
    private readonly database: Knex,
    private readonly platforms: Platforms,
    private readonly visits: Visits,
    private readonly openTask: OpenTask,
  ) {}

  /** Begins a launch: where the browser is to be sent, and what it is known by. */
  async begin(
    given: Readonly<Record<string, string | undefined>>,
    { base, browser }: { readonly base: string; readonly browser: string | null },
  ): Promise<{ readonly to: string; readonly browser: string }> {
    const { iss, login_hint: hint, target_link_uri: target, lti_message_hint: messageHint } = given;
    if (iss === undefined || hint === undefined || target === undefined)
      throw new Refusal('invalid', 'iss, login_hint and target_link_uri are wanted.');
    const platform = await this.platforms.of(iss, given.client_id);
    if (given.lti_deployment_id !== undefined && !platform.deployments.includes(given.lti_deployment_id))
      throw refuse('This deployment is not registered here.');
    // Nobody is sent on to another site.
    if (originIn(target) !== base) throw refuse('The link leads to another site.');
    const visit = await this.visits.begin(browser, { platformId: platform.id });
    const to = new URL(platform.authUrl);
    const query = {
      scope: 'openid',
      response_type: 'id_token',
      response_mode: 'form_post',
      prompt: 'none',
      client_id: platform.clientId,
      redirect_uri: `${base}/api/lti/launch`,
      login_hint: hint,
      state: visit.state,
      nonce: visit.nonce,
      ...(messageHint === undefined ? {} : { lti_message_hint: messageHint }),
    };
    for (const [key, value] of Object.entries(query)) to.searchParams.set(key, value);
    return { to: to.href, browser: visit.browser };
  }

  /** Ends a launch: believes the token or refuses it, and finds person, class and page. */
  async finish(
    { state, id_token: token, error }: Readonly<Record<string, string | undefined>>,
    browser: string | null,
  ): Promise<Launched> {
    const visit = await this.visits.end(state, browser);
    if (error !== undefined) throw refuse(`The learning platform says: ${error.slice(0, 200)}`);
    if (token === undefined || visit.platformId === null) throw refuse('The launch has no token.');
    const platform = await this.platforms.byId(visit.platformId);
    const claims = await this.believed(platform, token, visit.nonce);
    const person = await personFor(this.database, {
      issuer: platform.issuer,
      subject: claims.subject,
      name: claims.name,
      role: claims.isInstructor ? 'instructor' : 'student',
      login: claims.login,
      wish: claims.wish,
    });
    return { person, path: await this.pathOf(platform, claims, person) };
  }

  /** The claims of a token that the platform has signed for this very launch. */
  private async believed(platform: Platform, token: string, nonce: string): Promise<Claims> {
    let payload: JWTPayload;
    try {
      ({ payload } = await jwtVerify(token, this.keysOf(platform.keysUrl), {
        issuer: platform.issuer,
        audience: platform.clientId,
        algorithms: ['RS256'],
        maxTokenAge: OLDEST,
        clockTolerance: CLOCKS,
        requiredClaims: ['sub', 'iat', 'exp', 'nonce'],
      }));
    } catch (error) {
      throw refuse(`The launch cannot be believed: ${(error as Error).message}.`);
    }
    const read = readWith(claimsSchema, payload as unknown);
    if (!read.ok)
      throw refuse(
        `The launch cannot be read: ${read.problems[0]?.path ?? ''} ${read.problems[0]?.message ?? ''}`,
      );
    const { value } = read;
    if (value.nonce !== nonce) throw refuse('The launch is not the one that was begun here.');
    const several = Array.isArray(payload.aud) && payload.aud.length > 1;
    if ((several || value.azp !== undefined) && value.azp !== platform.clientId)
      throw refuse('The launch was made for another tool.');
    const deploymentId = value[`${LTI}/deployment_id`];
    if (!platform.deployments.includes(deploymentId)) throw refuse('This deployment is not registered here.');
    return claimsOf(platform, value, payload);
  }

  private keysOf(url: string): RemoteKeys {
    const known = this.keys.get(url);
    if (known) return known;
    const keys = remoteKeys(url);
    this.keys.set(url, keys);
    return keys;
  }

  // ── class and page ────────────────────────────────────────────────────────────────────────────

  private async pathOf(platform: Platform, claims: Claims, person: Person): Promise<string> {
    if (!claims.context) return '/exercises';
    const course = await this.courseOf(platform, claims, claims.context, person);
    if (person.role !== 'student' && !claims.isInstructor)
      throw refuse('You are an instructor here, but not in this course.');
    await this.enrolled(course.classId, person);
    if (claims.deepLink) {
      if (person.role === 'student') throw refuse('Only instructors choose what is linked.');
      return `/pick/${await this.deepLink(platform, course.id, claims.deepLink, person)}`;
    }
    if (claims.resource === null)
      return person.role === 'student' ? '/exercises' : `/marks/${course.classId}`;
    await this.requireSet(claims.resource, course.classId);
    await this.lineItem(platform, course.id, claims.resource, claims.lineItem);
    const { kind, id } = claims.resource;
    if (kind === 'assessment') return person.role === 'student' ? `/sit/${id}` : `/assessment/${id}`;
    return person.role === 'student' ? this.begun(id, person) : `/marks/${course.classId}`;
  }

  /** A link to what was set to another class, or withdrawn, is nothing here. */
  private async requireSet({ kind, id }: Resource, classId: string): Promise<void> {
    const set =
      kind === 'assignment'
        ? this.database('assignments').where({ id, class_id: classId })
        : this.database('assessments').where({ id, class_id: classId }).whereNull('withdrawn_at');
    if (!(await set.first('id')))
      throw refuse('What this link leads to is no longer assigned to this class.');
  }

  /** The exercise itself, opened at once; a page of its own says why where it cannot be opened. */
  private async begun(assignmentId: string, student: Person): Promise<string> {
    try {
      return await this.openTask(assignmentId, student);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return `/launch/${assignmentId}`;
    }
  }

  private async courseOf(
    platform: Platform,
    { deploymentId, isInstructor, membersUrl }: Claims,
    context: NonNullable<Claims['context']>,
    person: Person,
  ): Promise<{ readonly id: string; readonly classId: string }> {
    const key = { platform_id: platform.id, deployment_id: deploymentId, context_id: context.id };
    const find = (database: Knex) =>
      database('course_links')
        .where(key)
        .first<{ id: string; classId: string } | undefined>('id', 'class_id');
    const url = membersUrl !== null && isOf(platform, membersUrl) ? membersUrl : null;
    const known = await find(this.database);
    if (known) {
      if (url !== null)
        await this.database('course_links').where({ id: known.id }).update({ members_url: url });
      return known;
    }
    if (!isInstructor || person.role === 'student')
      throw refuse('Your instructor opens this course here first; then come again.');
    return this.database.transaction(async (trx) => {
      await trx.raw('select pg_advisory_xact_lock(hashtext(?))', [JSON.stringify(key)]);
      const meanwhile = await find(trx);
      if (meanwhile) return meanwhile;
      const classId = await addClass(trx, { name: context.title.slice(0, 100), term: '' }, person);
      const [course] = await trx('course_links')
        .insert({ ...key, class_id: classId, members_url: url })
        .returning<{ id: string }[]>('id');
      return { id: course?.id ?? '', classId };
    });
  }

  /** Whoever comes by a launch of a course belongs to its class, by what they are here. */
  private async enrolled(classId: string, person: Person): Promise<void> {
    if (person.role === 'student') await enter(this.database, classId, [person.id]);
    else
      await this.database('class_instructors')
        .insert({ class_id: classId, instructor_id: person.id })
        .onConflict()
        .ignore();
  }

  private async deepLink(
    platform: Platform,
    courseId: string,
    { returnUrl, data }: NonNullable<Claims['deepLink']>,
    person: Person,
  ): Promise<string> {
    if (!isOf(platform, returnUrl)) throw refuse('The return address is not the platform’s.');
    const [row] = await this.database('deep_links')
      .insert({
        course_id: courseId,
        person_id: person.id,
        return_url: returnUrl,
        data,
        expires_at: this.database.raw(`now() + interval '2 hours'`),
      })
      .returning<{ id: string }[]>('id');
    return row?.id ?? '';
  }

  /** Where marks of what is set are written; an address elsewhere than at the platform is no line item of it. */
  private async lineItem(
    platform: Platform,
    courseId: string,
    { kind, id }: Resource,
    url: string | null,
  ): Promise<void> {
    if (url === null) return;
    if (!isOf(platform, url)) throw refuse('The line item lies on another site than the platform.');
    await this.database('line_items')
      .insert({ course_id: courseId, [`${kind}_id`]: id, url })
      .onConflict()
      .ignore();
  }
}

const originIn = (url: string): string | null => {
  try {
    return originOf(url);
  } catch {
    return null;
  }
};

const ID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

function resourceIn(custom: Readonly<Record<string, unknown>> | undefined): Resource | null {
  for (const kind of ['assignment', 'assessment'] as const) {
    const id = custom?.[kind];
    if (typeof id === 'string' && ID.test(id)) return { kind, id };
  }
  return null;
}

function claimsOf(platform: Platform, value: z.infer<typeof claimsSchema>, payload: JWTPayload): Claims {
  const roles = value[`${LTI}/roles`];
  const has = (...names: string[]) =>
    roles.some((role) => names.some((name) => role === `${ROLES}${name}` || role === name));
  const context = value[`${LTI}/context`] as { id: string; title?: string; label?: string } | undefined;
  const custom = value[`${LTI}/custom`];
  const deep = value[DEEP] as { deep_link_return_url: string; data?: string } | undefined;
  const isDeep = value[`${LTI}/message_type`] === 'LtiDeepLinkingRequest';
  if (isDeep && !deep) throw refuse('The launch does not say where the answer goes.');
  const members = value[MEMBERS] as { context_memberships_url: string } | undefined;
  const grades = value[GRADES] as { lineitem?: string } | undefined;
  const spelled = [value.given_name, value.family_name].filter(Boolean).join(' ');
  const named = platform.loginClaim === null ? undefined : payload[platform.loginClaim];
  return {
    subject: value.sub,
    name: value.name ?? spelled,
    login: typeof named === 'string' && named !== '' ? named.toLowerCase() : null,
    wish: value.preferred_username ?? null,
    isInstructor: has('Instructor', 'ContentDeveloper', 'Administrator'),
    deploymentId: value[`${LTI}/deployment_id`],
    context: context ? { id: context.id, title: context.title ?? context.label ?? 'Course' } : null,
    resource: resourceIn(custom),
    deepLink: isDeep && deep ? { returnUrl: deep.deep_link_return_url, data: deep.data ?? null } : null,
    membersUrl: members?.context_memberships_url ?? null,
    lineItem: grades?.lineitem ?? null,
  };
}
