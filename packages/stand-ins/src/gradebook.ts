import { randomUUID } from 'node:crypto';
import express, { type Request, type Response } from 'express';
import { SignJWT, createRemoteJWKSet, exportJWK, generateKeyPair, jwtVerify, type JWK } from 'jose';
import { Served, escaped, page, postingPage } from './served.js';

/**
 * A small learning platform with two courses, for trying launches, rosters and grades without one: LTI 1.3 with
 * deep linking, names and roles, assignments and grades, and a store of xAPI statements. From memory of the
 * published specifications of 1EdTech and of xAPI 1.0.3.
 */

const LTI = 'https://purl.imsglobal.org/spec/lti/claim';
const ROLE = 'http://purl.imsglobal.org/vocab/lis/v2/membership#';
const MEMBERS_SCOPE = 'https://purl.imsglobal.org/spec/lti-nrps/scope/contextmembership.readonly';
const SCORE_SCOPE = 'https://purl.imsglobal.org/spec/lti-ags/scope/score';

export interface PlatformPerson {
  readonly id: string;
  readonly name: string;
  readonly login: string;
  readonly role: 'Instructor' | 'Learner';
}

export interface Course {
  readonly id: string;
  readonly title: string;
  readonly people: readonly PlatformPerson[];
  /** What was chosen by deep linking. */
  readonly links: CourseLink[];
}

export interface CourseLink {
  readonly id: string;
  readonly title: string;
  readonly custom: Readonly<Record<string, string>>;
  readonly lineItem: string | null;
  readonly most: number;
}

export interface StoredScore {
  readonly userId: string;
  readonly scoreGiven: number;
  readonly scoreMaximum: number;
  readonly timestamp: string;
  readonly comment?: string;
}

export interface GradebookOptions {
  readonly port?: number;
  /** Where the tool is. */
  readonly tool: string;
  readonly clientId?: string;
  readonly deploymentId?: string;
  readonly courses?: readonly Omit<Course, 'links'>[];
}

const person = (id: string, name: string, role: PlatformPerson['role']): PlatformPerson => ({
  id,
  name,
  login: name.toLowerCase().replace(/[^a-z]+/g, '.'),
  role,
});

const COURSES: readonly Omit<Course, 'links'>[] = [
  {
    id: 'course-pumps',
    title: 'Brine pumps, first year',
    people: [
      person('p-1', 'Petra Sandell', 'Instructor'),
      person('p-2', 'Iver Holm', 'Learner'),
      person('p-3', 'Mads Terkel', 'Learner'),
      person('p-4', 'Liv Aune', 'Learner'),
    ],
  },
  {
    id: 'course-gates',
    title: 'Sluice gates, second year',
    people: [
      person('p-5', 'Odd Brekke', 'Instructor'),
      person('p-6', 'Siri Dahl', 'Learner'),
      person('p-2', 'Iver Holm', 'Learner'),
    ],
  },
];

/** The stand-in of a learning platform. */
export class Gradebook {
  readonly courses: Course[];
  readonly scores = new Map<string, StoredScore[]>();
  readonly statements = new Map<string, unknown>();
  /** Requests for which it does not answer: how often still. */
  failing = 0;
  /** Tokens that it refuses, as if the keys of the tool could not be fetched: how many still. */
  refusing = 0;
  /** Token of the last launch, before it was posted. */
  private readonly tokens = new Set<string>();
  private keys: {
    readonly privateKey: Awaited<ReturnType<typeof generateKeyPair>>['privateKey'];
    readonly publicJwk: JWK;
    readonly kid: string;
  }[] = [];
  private served: Served | null = null;
  issuer = '';
  readonly clientId: string;
  readonly deploymentId: string;

  constructor(private readonly options: GradebookOptions) {
    this.clientId = options.clientId ?? 'contactum';
    this.deploymentId = options.deploymentId ?? 'deployment-1';
    this.courses = (options.courses ?? COURSES).map((course) => ({ ...course, links: [] }));
  }

  /** What an administrator enters at the tool. */
  get registration() {
    return {
      name: 'College platform',
      issuer: this.issuer,
      clientId: this.clientId,
      authUrl: `${this.issuer}/auth`,
      tokenUrl: `${this.issuer}/token`,
      keysUrl: `${this.issuer}/keys`,
      loginClaim: null,
      deployments: [this.deploymentId],
    };
  }

  async start(): Promise<this> {
    await this.rotate();
    const app = express();
    app.use(express.urlencoded({ extended: false }));
    app.use(express.json({ type: ['application/json', 'application/vnd.ims.lis.v1.score+json'] }));
    this.pages(app);
    this.launching(app);
    this.linking(app);
    this.services(app);
    this.store(app);
    this.served = await Served.begin(app, this.options);
    this.issuer = this.served.address;
    return this;
  }

  async stop(): Promise<void> {
    await this.served?.stop();
  }

  /** Signs with a new key from now on; the old one is published on. */
  async rotate(): Promise<void> {
    const { privateKey, publicKey } = await generateKeyPair('RS256', { extractable: true });
    const kid = randomUUID();
    this.keys.unshift({
      privateKey,
      kid,
      publicJwk: { ...(await exportJWK(publicKey)), kid, alg: 'RS256', use: 'sig' },
    });
  }

  /** Tokens that it gave are good no more. */
  forgetTokens(): void {
    this.tokens.clear();
  }

  /** Signs claims as this platform does. */
  async sign(claims: Record<string, unknown>): Promise<string> {
    const [key] = this.keys;
    if (!key) throw new Error('it was not started');
    return new SignJWT(claims)
      .setProtectedHeader({ alg: 'RS256', kid: key.kid, typ: 'JWT' })
      .sign(key.privateKey);
  }

  /** The claims of a launch. */
  claims({
    course,
    person: who,
    nonce,
    link = null,
    deep = false,
  }: {
    readonly course: Course;
    readonly person: PlatformPerson;
    readonly nonce: string;
    readonly link?: CourseLink | null;
    readonly deep?: boolean;
  }): Record<string, unknown> {
    const now = Math.floor(Date.now() / 1000);
    return {
      iss: this.issuer,
      aud: this.clientId,
      sub: who.id,
      iat: now,
      exp: now + 300,
      nonce,
      name: who.name,
      preferred_username: who.login,
      [`${LTI}/version`]: '1.3.0',
      [`${LTI}/message_type`]: deep ? 'LtiDeepLinkingRequest' : 'LtiResourceLinkRequest',
      [`${LTI}/deployment_id`]: this.deploymentId,
      [`${LTI}/target_link_uri`]: `${this.options.tool}/`,
      [`${LTI}/roles`]: [`${ROLE}${who.role}`],
      [`${LTI}/context`]: {
        id: course.id,
        title: course.title,
        type: ['http://purl.imsglobal.org/vocab/lis/v2/course#CourseSection'],
      },
      ...(link
        ? { [`${LTI}/resource_link`]: { id: link.id, title: link.title }, [`${LTI}/custom`]: link.custom }
        : {}),
      ...(!link && !deep ? { [`${LTI}/resource_link`]: { id: `home-${course.id}` } } : {}),
      ...(deep
        ? {
            'https://purl.imsglobal.org/spec/lti-dl/claim/deep_linking_settings': {
              deep_link_return_url: `${this.issuer}/links/${course.id}`,
              accept_types: ['ltiResourceLink'],
              accept_presentation_document_targets: ['window'],
              data: course.id,
            },
          }
        : {}),
      'https://purl.imsglobal.org/spec/lti-nrps/claim/namesroleservice': {
        context_memberships_url: `${this.issuer}/courses/${course.id}/members`,
        service_versions: ['2.0'],
      },
      'https://purl.imsglobal.org/spec/lti-ags/claim/endpoint': {
        scope: [SCORE_SCOPE],
        lineitems: `${this.issuer}/courses/${course.id}/lineitems`,
        ...(link?.lineItem ? { lineitem: link.lineItem } : {}),
      },
    };
  }

  course(id: string): Course {
    const found = this.courses.find((one) => one.id === id);
    if (!found) throw new Error(`no course ${id}`);
    return found;
  }

  // ── pages ───────────────────────────────────────────────────────────────────────────────────

  private pages(app: express.Express): void {
    app.get('/', (_request, response) => {
      response
        .type('html')
        .send(
          page(
            'Courses',
            '<p>A stand-in of a learning platform. The people are made up.</p>',
            ...this.courses.map((course) => this.courseRows(course)),
          ),
        );
    });
  }

  private courseRows(course: Course): string {
    const open = (who: PlatformPerson, words: string, more = '') =>
      `<a href="/open?course=${course.id}&amp;person=${who.id}${more}">${escaped(words)}</a>`;
    const rows = course.people.map((who) => {
      const own = course.links.map((link) => {
        const score = (this.scores.get(link.lineItem ?? '') ?? []).findLast(
          ({ userId }) => userId === who.id,
        );
        const shown = score ? `${score.scoreGiven} of ${score.scoreMaximum}` : '–';
        return `${open(who, 'Open', `&amp;link=${link.id}`)} <b>${who.role === 'Learner' ? shown : ''}</b>`;
      });
      const deep = who.role === 'Instructor' ? open(who, 'Add from Contactum', '&amp;deep=1') : '';
      return row('td', [escaped(who.name), who.role, `${open(who, 'Open the course')} ${deep}`, ...own]);
    });
    const head = row('th', ['Name', 'Role', '', ...course.links.map(({ title }) => escaped(title))]);
    return `<h2>${escaped(course.title)}</h2><table>${head}${rows.join('')}</table>`;
  }

  // ── launches ────────────────────────────────────────────────────────────────────────────────

  private launching(app: express.Express): void {
    app.get('/keys', (_request, response) => {
      response.json({ keys: this.keys.map(({ publicJwk }) => publicJwk) });
    });
    // Somebody presses a button of a course: the tool is told, and asks who it is.
    app.get('/open', (request, response) => {
      const { course, person: who, link, deep } = request.query as Record<string, string | undefined>;
      const login = new URL(`${this.options.tool}/api/lti/login`);
      const query = {
        iss: this.issuer,
        login_hint: who ?? '',
        target_link_uri: `${this.options.tool}/`,
        client_id: this.clientId,
        lti_deployment_id: this.deploymentId,
        lti_message_hint: JSON.stringify({ course, link, deep }),
      };
      for (const [key, value] of Object.entries(query)) login.searchParams.set(key, value);
      response.redirect(302, login.href);
    });
    app.get('/auth', async (request, response) => {
      const {
        login_hint: hint,
        nonce,
        state,
        redirect_uri: to,
        lti_message_hint: message,
      } = request.query as Record<string, string>;
      const {
        course: id = '',
        link,
        deep,
      } = JSON.parse(message ?? '{}') as Record<string, string | undefined>;
      const course = this.course(id);
      const who = course.people.find((one) => one.id === hint);
      if (!who || to !== `${this.options.tool}/api/lti/launch`) {
        response.status(400).send('no such person or tool');
        return;
      }
      const claims = this.claims({
        course,
        person: who,
        nonce: nonce ?? '',
        link: course.links.find((one) => one.id === link) ?? null,
        deep: deep !== undefined,
      });
      response.type('html').send(postingPage(to, { id_token: await this.sign(claims), state: state ?? '' }));
    });
  }

  /** Takes what was chosen by deep linking. */
  private linking(app: express.Express): void {
    app.post('/links/:course', async (request, response) => {
      const course = this.course(request.params.course);
      const keys = createRemoteJWKSet(new URL(`${this.options.tool}/api/lti/keys`));
      const { payload } = await jwtVerify((request.body as { JWT: string }).JWT, keys, {
        issuer: this.clientId,
        audience: this.issuer,
      });
      const items = payload['https://purl.imsglobal.org/spec/lti-dl/claim/content_items'] as {
        title: string;
        custom: Record<string, string>;
        lineItem?: { scoreMaximum: number };
      }[];
      for (const { title, custom, lineItem } of items) {
        const id = randomUUID();
        course.links.push({
          id,
          title,
          custom,
          lineItem: lineItem ? `${this.issuer}/courses/${course.id}/lineitems/${id}` : null,
          most: lineItem?.scoreMaximum ?? 0,
        });
      }
      response.redirect(303, '/');
    });
  }

  // ── services ────────────────────────────────────────────────────────────────────────────────

  private services(app: express.Express): void {
    app.post('/token', async (request, response) => {
      if (this.fails(response)) return;
      if (this.refusing > 0) {
        this.refusing -= 1;
        response.status(400).json({ error: 'invalid_client', error_description: 'keys cannot be fetched' });
        return;
      }
      const { client_assertion: assertion, scope = '' } = request.body as Record<string, string | undefined>;
      try {
        const keys = createRemoteJWKSet(new URL(`${this.options.tool}/api/lti/keys`));
        await jwtVerify(assertion ?? '', keys, {
          issuer: this.clientId,
          subject: this.clientId,
          audience: `${this.issuer}/token`,
        });
      } catch (error) {
        response.status(400).json({ error: 'invalid_client', error_description: (error as Error).message });
        return;
      }
      const token = `${scope} ${randomUUID()}`;
      this.tokens.add(token);
      response.json({
        access_token: Buffer.from(token).toString('base64url'),
        token_type: 'Bearer',
        expires_in: 3600,
        scope,
      });
    });
    app.get('/courses/:course/members', (request, response) => {
      if (this.fails(response) || !this.may(request, response, MEMBERS_SCOPE)) return;
      const course = this.course(request.params.course);
      response.json({
        id: request.originalUrl,
        context: { id: course.id, title: course.title },
        members: course.people.map(({ id, name, role }) => ({
          status: 'Active',
          user_id: id,
          name,
          roles: [`${ROLE}${role}`],
        })),
      });
    });
    app.post('/courses/:course/lineitems/:item/scores', (request, response) => {
      if (this.fails(response) || !this.may(request, response, SCORE_SCOPE)) return;
      const { course: id, item } = request.params;
      const link = this.course(id).links.find((one) => one.id === item);
      if (!link?.lineItem) {
        response.status(404).end();
        return;
      }
      this.scores.set(link.lineItem, [
        ...(this.scores.get(link.lineItem) ?? []),
        request.body as StoredScore,
      ]);
      response.status(204).end();
    });
  }

  private fails(response: Response): boolean {
    if (this.failing <= 0) return false;
    this.failing -= 1;
    response.status(503).end();
    return true;
  }

  private may({ headers }: Request, response: Response, scope: string): boolean {
    const given = Buffer.from((headers.authorization ?? '').replace('Bearer ', ''), 'base64url').toString(
      'utf8',
    );
    if (this.tokens.has(given) && given.split(' ').includes(scope)) return true;
    response.status(401).end();
    return false;
  }

  private store(app: express.Express): void {
    app.put('/xapi/statements', (request, response) => {
      if (this.fails(response)) return;
      const { statementId: id } = request.query as Record<string, string>;
      if (request.headers['x-experience-api-version'] === undefined || id === undefined) {
        response.status(400).end();
        return;
      }
      if (this.statements.has(id)) {
        response.status(409).end();
        return;
      }
      this.statements.set(id, request.body);
      response.status(204).end();
    });
    app.get('/xapi/statements', (_request, response) => {
      response.json({ statements: [...this.statements.values()] });
    });
  }
}

const row = (tag: 'td' | 'th', cells: readonly string[]): string =>
  `<tr>${cells.map((cell) => `<${tag}>${cell}</${tag}>`).join('')}</tr>`;
