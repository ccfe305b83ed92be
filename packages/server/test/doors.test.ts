import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { SignJWT, UnsecuredJWT, generateKeyPair } from 'jose';
import { freePort } from '../../cli/src/scanner/free-port.js';
import { Gradebook } from '../../stand-ins/src/index.js';
import { exercise } from '../../core/test/help.js';
import { openDatabase } from '../src/database/database.js';
import { ownPath } from '../src/runtime/own-path.js';
import {
  Client,
  freshDatabase,
  marked,
  people,
  query,
  startProcess,
  until,
  wire,
  type Server,
} from './help.js';
import { Visitor, fieldsOf } from './visitor.js';

const pump = exercise('brine-pump-three-wire');
const LTI = 'https://purl.imsglobal.org/spec/lti/claim';
const ROLE = 'http://purl.imsglobal.org/vocab/lis/v2/membership#';

let server: Server;
let databaseUrl: string;
let platform: Gradebook;
let head: Client;
let platformId: string;

beforeAll(async () => {
  databaseUrl = await freshDatabase();
  const port = await freePort();
  platform = await new Gradebook({ tool: `http://127.0.0.1:${port}` }).start();
  server = await startProcess(databaseUrl, {
    PORT: String(port),
    XAPI_URL: `${platform.issuer}/xapi`,
    XAPI_CREDENTIALS: 'contactum:secret',
  });
  await people(databaseUrl);
  head = await new Client(server.base).signIn('head');
  const made = await head.ask('POST', '/doors/platforms', platform.registration);
  platformId = made.body.id as string;
});
afterAll(async () => {
  await server.kill('SIGTERM');
  await platform.stop();
});

const course = () => platform.course('course-pumps');
const whoIs = (name: string) => course().people.find((one) => one.name.startsWith(name))!;

/** Presses a button of a course; stops before the token is posted. */
async function opened(visitor: Visitor, name: string, more = '') {
  const page = await visitor.go(
    `${platform.issuer}/open?course=course-pumps&person=${whoIs(name).id}${more}`,
  );
  if (page.status !== 200) throw new Error(page.text);
  return page;
}

/** The same, and goes on to the page where it leads. */
async function launched(
  name: string,
  more = '',
): Promise<{ visitor: Visitor; path: string; text: string; status: number }> {
  const visitor = new Visitor();
  const page = await visitor.submit(await opened(visitor, name, more));
  return { visitor, path: /url=([^"]*)/.exec(page.text)?.[1] ?? '', text: page.text, status: page.status };
}

const clientOf = (visitor: Visitor): Client => {
  const client = new Client(server.base);
  client.cookie = visitor.cookiesOf(server.base);
  return client;
};

describe('a learning platform', () => {
  test('its instructor founds the class, chooses an exercise, and students work at it and get their marks there', async () => {
    const early = await launched('Iver');
    expect(early).toMatchObject({
      status: 403,
      text: expect.stringContaining('Your instructor opens this course'),
    });
    const home = await launched('Petra');
    expect(home.path).toMatch(/^\/marks\/[0-9a-f-]+$/);
    const teacher = clientOf(home.visitor);
    expect((await teacher.ask('GET', '/session')).body).toMatchObject({
      name: 'Petra Sandell',
      role: 'instructor',
    });
    const classId = home.path.split('/')[2]!;

    // The roster: looked at, then taken; a second time nothing is made twice.
    expect((await teacher.ask('GET', `/classes/${classId}/roster`)).body).toEqual([
      { name: 'Iver Holm', does: 'known' },
      { name: 'Mads Terkel', does: 'new' },
      { name: 'Liv Aune', does: 'new' },
    ]);
    expect((await teacher.ask('POST', `/classes/${classId}/roster`, {})).status).toBe(201);
    const again = await teacher.ask('GET', `/classes/${classId}/roster`);
    expect(again.body.map(({ does }: { does: string }) => does)).toEqual(['member', 'member', 'member']);

    // Deep linking: chosen here, posted back by the browser, believed there.
    const pick = await launched('Petra', '&deep=1');
    expect(pick.path).toMatch(/^\/pick\//);
    const id = pick.path.split('/')[2]!;
    const choice = await pick.visitor.api(server.base, 'GET', `/lti/links/${id}`);
    expect(choice.body).toMatchObject({ className: 'Brine pumps, first year', set: [] });
    const chosen = await pick.visitor.api(server.base, 'POST', `/lti/links/${id}`, { exerciseId: pump.id });
    expect(chosen.status).toBe(204);
    const answered = await pick.visitor.go(`${server.base}/api/lti/links/${id}/answer`);
    expect(answered.status).toBe(200);
    await pick.visitor.submit(answered);
    expect(course().links).toMatchObject([{ title: pump.title, custom: { assignment: expect.any(String) } }]);
    // It is good once.
    expect((await pick.visitor.api(server.base, 'GET', `/lti/links/${id}`)).status).toBe(404);

    const link = course().links[0]!;
    const student = await launched('Iver', `&link=${link.id}`);
    // The exercise itself is open; a second launch goes on with it.
    expect(student.path).toMatch(/^\/bench\/[0-9a-f-]+$/);
    expect((await launched('Iver', `&link=${link.id}`)).path).toBe(student.path);
    const iver = clientOf(student.visitor);
    const attempt = student.path.split('/')[2]!;
    await wire(iver, attempt, pump.reference);
    await iver.ask('POST', `/attempts/${attempt}/hand-in`, {});
    const slip = await marked(iver, attempt);
    const told = () => platform.scores.get(link.lineItem!) ?? [];
    await until(async () => Promise.resolve(told().length > 0));
    await until(async () => Promise.resolve(platform.statements.size === 1));
    expect(told()).toMatchObject([
      { userId: 'p-2', scoreGiven: slip.result.recorded, scoreMaximum: slip.result.max },
    ]);

    // An overrule is told again, although the platform does not answer at first; nothing is told twice.
    platform.failing = 3;
    const overruled = await teacher.ask('POST', `/attempts/${attempt}/points`, {
      part: 'behaviour',
      criterion: pump.behaviours[0]!.id,
      points: 0,
      reason: 'explained it at the bench',
    });
    expect(overruled.status).toBe(201);
    await until(async () => Promise.resolve(told().length > 1));
    await new Promise((resolve) => setTimeout(resolve, 4_500));
    expect(told()).toHaveLength(2);
    expect(told()[1]!.scoreGiven).not.toBe(told()[0]!.scoreGiven);
    // The store of statements has one for each mark that stood.
    await until(async () => Promise.resolve(platform.statements.size === 2));
    expect([...platform.statements.values()]).toMatchObject([
      { actor: { account: { name: 'iver.holm' } }, result: { score: { raw: told()[0]!.scoreGiven } } },
      { result: { score: { raw: told()[1]!.scoreGiven } } },
    ]);

    // A platform that cannot check who asks for a token at the moment is asked again, not left for a day.
    platform.forgetTokens();
    platform.refusing = 1;
    await teacher.ask('POST', `/attempts/${attempt}/points`, {
      part: 'behaviour',
      criterion: pump.behaviours[0]!.id,
      points: 1,
      reason: 'half of it, on second thoughts',
    });
    await until(async () => Promise.resolve(told().length > 2));
    expect(platform.refusing).toBe(0);
  });

  test('a whole assessment is linked: students sit it, and its outcome is told once it is released', async () => {
    const home = await launched('Petra');
    const teacher = clientOf(home.visitor);
    const classId = home.path.split('/')[2]!;
    const assessment = (
      await teacher.ask('POST', `/classes/${classId}/assessments`, {
        title: 'Practical test 1',
        tasks: [
          { kind: 'exercise', exerciseId: pump.id, weight: 60, variants: false },
          {
            kind: 'observed',
            title: 'At the bench',
            weight: 40,
            criteria: [
              {
                title: 'Proves the board dead',
                levels: [
                  { title: 'not done', points: 0 },
                  { title: 'done', points: 4 },
                ],
              },
            ],
          },
        ],
        minutes: 40,
        pass: { sum: 60, each: false },
        start: 'own',
      })
    ).body;
    expect(assessment.error ?? null).toBeNull();
    const id = assessment.id as string;
    const pick = await launched('Petra', '&deep=1');
    const link = pick.path.split('/')[2]!;
    const choice = await pick.visitor.api(server.base, 'GET', `/lti/links/${link}`);
    expect(choice.body).toMatchObject({ assessments: [{ id, title: 'Practical test 1' }] });
    const nothing = await pick.visitor.api(server.base, 'POST', `/lti/links/${link}`, {
      assessmentId: '00000000-0000-4000-8000-000000000000',
    });
    expect(nothing.status).toBe(404);
    await pick.visitor.api(server.base, 'POST', `/lti/links/${link}`, { assessmentId: id });
    await pick.visitor.submit(await pick.visitor.go(`${server.base}/api/lti/links/${link}/answer`));
    const item = course().links.at(-1)!;
    expect(item).toMatchObject({ title: 'Practical test 1', custom: { assessment: id } });
    expect((await launched('Petra', `&link=${item.id}`)).path).toBe(`/assessment/${id}`);

    const student = await launched('Iver', `&link=${item.id}`);
    expect(student.path).toBe(`/sit/${id}`);
    const iver = clientOf(student.visitor);
    expect((await iver.ask('POST', `/sittings/${id}/start`, {})).status).toBe(200);
    const { attemptId } = (await iver.ask('POST', `/sittings/${id}/tasks/task-1`, {})).body;
    await wire(iver, attemptId, pump.reference);
    await iver.ask('POST', `/sittings/${id}/hand-in`, {});
    await marked(teacher, attemptId);
    const [sitting] = (await teacher.ask('GET', `/assessments/${id}`)).body.sittings.filter(
      (one: any) => one.startedAt !== null,
    );
    const where = { student: sitting.student.id, task: 'task-2', criterion: 'criterion-1' };
    await teacher.ask('PUT', `/assessments/${id}/levels`, { ...where, level: 1 });
    const seen = { student: sitting.student.id, verdict: 'confirmed', note: '' };
    await teacher.ask('PUT', `/assessments/${id}/reviews`, seen);
    const told = () => platform.scores.get(item.lineItem!) ?? [];
    // Nothing of it is told before it is released.
    expect(told()).toEqual([]);
    expect((await teacher.ask('POST', `/assessments/${id}/sign-off`, {})).body.error ?? null).toBeNull();
    await teacher.ask('POST', `/assessments/${id}/release`, {});
    await until(async () => Promise.resolve(told().length > 0));
    const { outcome } = (await iver.ask('GET', `/sittings/${id}`)).body;
    expect(told()).toMatchObject([{ userId: 'p-2', scoreGiven: outcome.percent, scoreMaximum: 100 }]);

    // An appeal that is upheld changes the outcome, and it is told again.
    await iver.ask('POST', `/sittings/${id}/appeals`, {
      task: 'task-2',
      criterion: 'criterion-1',
      text: 'Only half of it was done.',
    });
    const [appeal] = (await teacher.ask('GET', `/assessments/${id}`)).body.appeals;
    await teacher.ask('POST', `/appeals/${appeal.id}`, { upheld: true, answer: 'So it was.' });
    await teacher.ask('PUT', `/assessments/${id}/corrections`, {
      ...where,
      level: 0,
      reason: 'as the appeal says',
    });
    await until(async () => Promise.resolve(told().length > 1));
    expect(told().at(-1)!.scoreGiven).toBeCloseTo(outcome.percent - 40, 6);
  });

  test('what cannot be opened is said on a page of its own', async () => {
    const link = course().links[0]!;
    const closes = (at: string) =>
      query(databaseUrl, `update assignments set closes_at = ${at} where id = $1`, [link.custom.assignment]);
    await closes("now() - interval '1 hour'");
    try {
      const { path } = await launched('Mads', `&link=${link.id}`);
      expect(path).toBe(`/launch/${link.custom.assignment}`);
    } finally {
      await closes('null');
    }
  });

  test('keys rotate on both sides, and several platforms and deployments stand beside each other', async () => {
    await platform.rotate();
    // Keys are not fetched more than once a second, whatever a token names.
    await until(async () => (await launched('Petra')).status === 200);
    const before = await head.ask('GET', '/lti/keys');
    expect((await head.ask('POST', '/doors/keys', {})).status).toBe(201);
    const after = await head.ask('GET', '/lti/keys');
    expect(after.body.keys).toHaveLength(before.body.keys.length + 1);
    const other = await new Gradebook({ tool: server.base, clientId: 'other' }).start();
    try {
      const { body } = await head.ask('POST', '/doors/platforms', other.registration);
      const visitor = new Visitor();
      const page = await visitor.go(`${other.issuer}/open?course=course-gates&person=p-5`);
      expect((await visitor.submit(page)).text).toContain('/marks/');
      expect((await head.ask('DELETE', `/doors/platforms/${body.id}`)).status).toBe(204);
    } finally {
      await other.stop();
    }
  });

  test('an account is joined by an administrator or by a trusted claim, never by a name', async () => {
    // A namesake of an account is another person.
    const database = openDatabase(databaseUrl);
    const ann = await database('people').where({ login: 'ann' }).first('id');
    await database.destroy();
    const { body } = await head.ask('POST', `/people/${ann.id}/link`, {
      issuer: platform.issuer,
      subject: 'p-4',
    });
    expect(body).toBe('');
    const joined = await launched('Liv');
    expect((await clientOf(joined.visitor).ask('GET', '/session')).body).toMatchObject({ login: 'ann' });
    await head.ask('PUT', `/doors/platforms/${platformId}`, {
      ...platform.registration,
      loginClaim: 'college_login',
    });
    try {
      const trusted = async (login: string, subject: string) => {
        const visitor = new Visitor();
        const page = await opened(visitor, 'Mads');
        const { state } = fieldsOf(page.text);
        const claims = platform.claims({
          course: course(),
          person: { ...whoIs('Mads'), id: subject },
          nonce: nonceOf(visitor),
        });
        const token = await platform.sign({ ...claims, college_login: login });
        const answer = await visitor.submit(page, { id_token: token, state: state! });
        return { answer, visitor };
      };
      const ben = await trusted('ben', 'p-ben');
      expect((await clientOf(ben.visitor).ask('GET', '/session')).body).toMatchObject({ login: 'ben' });
      // One account has one owner at a platform, and an administrator's is nobody's to claim.
      expect((await trusted('ben', 'p-other')).answer.text).toContain('belongs to somebody else');
      expect((await trusted('head', 'p-head')).answer.text).toContain('by an administrator alone');
    } finally {
      await head.ask('PUT', `/doors/platforms/${platformId}`, platform.registration);
    }
  });
});

/** The nonce that the server has asked the platform for. */
const nonceOf = (visitor: Visitor): string =>
  new URL(visitor.way.findLast((url) => url.includes('/auth?'))!).searchParams.get('nonce')!;

// ── attacks ───────────────────────────────────────────────────────────────────────────────────────

interface Forged {
  readonly name: string;
  /** Changes claims before they are signed as the platform signs. */
  readonly claims?: (claims: Record<string, any>) => Record<string, unknown>;
  /** Makes the token otherwise. */
  readonly token?: (claims: Record<string, any>) => Promise<string>;
  readonly form?: (fields: Record<string, string>) => Record<string, string>;
  readonly who?: string;
}

const now = () => Math.floor(Date.now() / 1000);
const without = (claims: Record<string, any>, key: string) =>
  Object.fromEntries(Object.entries(claims).filter(([name]) => name !== key));
const foreign = generateKeyPair('RS256', { extractable: true });
const header = (more: object) => ({ alg: 'RS256', typ: 'JWT', ...more });
const part = (value: object) => Buffer.from(JSON.stringify(value)).toString('base64url');

const kidOf = async (): Promise<string> =>
  ((await (await fetch(`${platform.issuer}/keys`)).json()) as { keys: { kid: string; n: string }[] }).keys[0]!
    .kid;

const FORGED: readonly Forged[] = [
  { name: 'another nonce', claims: (c) => ({ ...c, nonce: 'another' }) },
  { name: 'no nonce', claims: (c) => without(c, 'nonce') },
  { name: 'an empty nonce', claims: (c) => ({ ...c, nonce: '' }) },
  { name: 'another audience', claims: (c) => ({ ...c, aud: 'other-tool' }) },
  { name: 'no audience', claims: (c) => without(c, 'aud') },
  { name: 'audiences without the one it was made for', claims: (c) => ({ ...c, aud: ['a', 'b'] }) },
  { name: 'several audiences and no authorised party', claims: (c) => ({ ...c, aud: [c.aud, 'other'] }) },
  { name: 'another authorised party', claims: (c) => ({ ...c, azp: 'other' }) },
  {
    name: 'several audiences and another party',
    claims: (c) => ({ ...c, aud: [c.aud, 'other'], azp: 'other' }),
  },
  { name: 'another issuer', claims: (c) => ({ ...c, iss: 'https://elsewhere.example' }) },
  { name: 'the issuer with a slash more', claims: (c) => ({ ...c, iss: `${c.iss}/` }) },
  { name: 'no issuer', claims: (c) => without(c, 'iss') },
  { name: 'another deployment', claims: (c) => ({ ...c, [`${LTI}/deployment_id`]: 'deployment-2' }) },
  { name: 'no deployment', claims: (c) => without(c, `${LTI}/deployment_id`) },
  { name: 'an empty deployment', claims: (c) => ({ ...c, [`${LTI}/deployment_id`]: '' }) },
  { name: 'a deployment in a list', claims: (c) => ({ ...c, [`${LTI}/deployment_id`]: ['deployment-1'] }) },
  { name: 'a token that has run out', claims: (c) => ({ ...c, iat: now() - 200, exp: now() - 100 }) },
  { name: 'a token without an end', claims: (c) => without(c, 'exp') },
  { name: 'a token without a beginning', claims: (c) => without(c, 'iat') },
  { name: 'a stale token with a late end', claims: (c) => ({ ...c, iat: now() - 3600, exp: now() + 3600 }) },
  { name: 'a token of the future', claims: (c) => ({ ...c, iat: now() + 3600, exp: now() + 7200 }) },
  { name: 'a token that is not good yet', claims: (c) => ({ ...c, nbf: now() + 3600 }) },
  { name: 'an end that is no number', claims: (c) => ({ ...c, exp: 'never' }) },
  { name: 'nobody', claims: (c) => without(c, 'sub') },
  { name: 'an empty name of nobody', claims: (c) => ({ ...c, sub: '' }) },
  { name: 'a subject of 300 letters', claims: (c) => ({ ...c, sub: 'x'.repeat(300) }) },
  { name: 'another version', claims: (c) => ({ ...c, [`${LTI}/version`]: '1.1' }) },
  { name: 'no version', claims: (c) => without(c, `${LTI}/version`) },
  {
    name: 'another kind of message',
    claims: (c) => ({ ...c, [`${LTI}/message_type`]: 'LtiStartProctoring' }),
  },
  { name: 'no kind of message', claims: (c) => without(c, `${LTI}/message_type`) },
  {
    name: 'a deep link without a way back',
    claims: (c) => ({ ...c, [`${LTI}/message_type`]: 'LtiDeepLinkingRequest' }),
  },
  {
    name: 'a deep link that leads back elsewhere',
    claims: (c) => ({
      ...c,
      [`${LTI}/message_type`]: 'LtiDeepLinkingRequest',
      'https://purl.imsglobal.org/spec/lti-dl/claim/deep_linking_settings': {
        deep_link_return_url: 'https://elsewhere.example/take',
      },
    }),
  },
  {
    name: 'a deep link that leads back to a script',
    claims: (c) => ({
      ...c,
      [`${LTI}/message_type`]: 'LtiDeepLinkingRequest',
      'https://purl.imsglobal.org/spec/lti-dl/claim/deep_linking_settings': {
        deep_link_return_url: 'javascript:alert(1)',
      },
    }),
  },
  {
    name: 'a student who chooses what is linked',
    who: 'Iver',
    claims: (c) => ({
      ...c,
      [`${LTI}/message_type`]: 'LtiDeepLinkingRequest',
      'https://purl.imsglobal.org/spec/lti-dl/claim/deep_linking_settings': {
        deep_link_return_url: `${platform.issuer}/links/course-pumps`,
      },
    }),
  },
  {
    name: 'a student of an unknown course who founds its class',
    who: 'Iver',
    claims: (c) => ({ ...c, [`${LTI}/context`]: { id: 'unknown', title: 'Mine' } }),
  },
  {
    name: 'a student who calls himself an instructor of an unknown course',
    who: 'Iver',
    claims: (c) => ({
      ...c,
      [`${LTI}/roles`]: [`${ROLE}Instructor`],
      [`${LTI}/context`]: { id: 'unknown', title: 'Mine' },
    }),
  },
  {
    name: 'an instructor here who learns there',
    claims: (c) => ({ ...c, [`${LTI}/roles`]: [`${ROLE}Learner`] }),
  },
  { name: 'an instructor here without a role there', claims: (c) => ({ ...c, [`${LTI}/roles`]: [] }) },
  { name: 'roles that are no list', claims: (c) => ({ ...c, [`${LTI}/roles`]: `${ROLE}Instructor` }) },
  {
    name: 'a link to what is set to another class',
    claims: (c) => ({ ...c, [`${LTI}/custom`]: { assignment: '6f1a1a0e-3f0f-4d34-9f5e-0c6f3b1d2a10' } }),
  },
  {
    name: 'a line item elsewhere',
    claims: (c) => ({
      ...c,
      [`${LTI}/custom`]: course().links[0]!.custom,
      'https://purl.imsglobal.org/spec/lti-ags/claim/endpoint': {
        lineitem: 'https://elsewhere.example/items/1',
      },
    }),
  },
  {
    name: 'a line item with another port',
    claims: (c) => ({
      ...c,
      [`${LTI}/custom`]: course().links[0]!.custom,
      'https://purl.imsglobal.org/spec/lti-ags/claim/endpoint': { lineitem: 'http://127.0.0.1:1/items/1' },
    }),
  },
  {
    name: 'a line item with a name in its address',
    claims: (c) => ({
      ...c,
      [`${LTI}/custom`]: course().links[0]!.custom,
      'https://purl.imsglobal.org/spec/lti-ags/claim/endpoint': {
        lineitem: platform.issuer.replace('http://', 'http://user:word@'),
      },
    }),
  },
  { name: 'algorithm none', token: (c) => Promise.resolve(new UnsecuredJWT(c).encode()) },
  {
    name: 'algorithm none with the key’s name',
    token: async (c) => `${part({ alg: 'none', typ: 'JWT', kid: await kidOf() })}.${part(c)}.`,
  },
  {
    name: 'algorithm NoNe with a signature',
    token: async (c) => `${part({ alg: 'NoNe', kid: await kidOf() })}.${part(c)}.AAAA`,
  },
  {
    name: 'a public key taken for a shared secret',
    token: async (c) => {
      const { keys } = (await (await fetch(`${platform.issuer}/keys`)).json()) as {
        keys: { n: string; kid: string }[];
      };
      return new SignJWT(c)
        .setProtectedHeader({ alg: 'HS256', kid: keys[0]!.kid })
        .sign(Buffer.from(keys[0]!.n));
    },
  },
  {
    name: 'a shared secret of no letters',
    token: async (c) =>
      new SignJWT(c).setProtectedHeader({ alg: 'HS256', kid: await kidOf() }).sign(Buffer.alloc(32)),
  },
  {
    name: 'a strange key',
    token: async (c) =>
      new SignJWT(c).setProtectedHeader(header({ kid: 'strange' }) as never).sign((await foreign).privateKey),
  },
  {
    name: 'a strange key under the platform’s name of its own',
    token: async (c) =>
      new SignJWT(c)
        .setProtectedHeader(header({ kid: await kidOf() }) as never)
        .sign((await foreign).privateKey),
  },
  {
    name: 'a strange key that is brought along',
    token: async (c) => {
      const { privateKey } = await foreign;
      const { exportJWK } = await import('jose');
      const jwk = await exportJWK((await foreign).publicKey);
      return new SignJWT(c).setProtectedHeader(header({ jwk }) as never).sign(privateKey);
    },
  },
  {
    name: 'a key that is to be fetched elsewhere',
    token: async (c) =>
      new SignJWT(c)
        .setProtectedHeader(header({ jku: 'https://elsewhere.example/keys', kid: 'x' }) as never)
        .sign((await foreign).privateKey),
  },
  {
    name: 'another algorithm of the same family',
    token: async (c) =>
      new SignJWT(c)
        .setProtectedHeader({ alg: 'RS512', kid: await kidOf() })
        .sign((await generateKeyPair('RS512')).privateKey),
  },
  {
    name: 'claims that were changed after signing',
    token: async (c) => {
      const [head1 = '', , signature = ''] = (await platform.sign(c)).split('.');
      return `${head1}.${part({ ...c, sub: 'p-2' })}.${signature}`;
    },
  },
  {
    name: 'a signature that is cut off',
    token: async (c) => (await platform.sign(c)).replace(/\.[^.]*$/, '.'),
  },
  { name: 'no token at all', form: ({ state }) => ({ state: state! }) },
  { name: 'a token of rubbish', form: ({ state }) => ({ state: state!, id_token: 'a.b.c' }) },
  { name: 'no state', form: ({ id_token }) => ({ id_token: id_token! }) },
  { name: 'an invented state', form: ({ id_token }) => ({ id_token: id_token!, state: 'x'.repeat(43) }) },
  {
    name: 'the state of an error',
    form: ({ state }) => ({ state: state!, error: '<script>alert(1)</script>' }),
  },
];

/** Begins a launch and ends it with what is forged. */
async function attack({ claims, token, form, who = 'Petra' }: Forged) {
  const visitor = new Visitor();
  const page = await opened(visitor, who);
  const own = platform.claims({ course: course(), person: whoIs(who), nonce: nonceOf(visitor) });
  const fields = fieldsOf(page.text);
  const forged = token ? await token(own) : claims ? await platform.sign(claims(own)) : fields.id_token!;
  const sent = form ? form(fields) : { ...fields, id_token: forged };
  const answer = await visitor.go(`${server.base}/api/lti/launch`, {
    method: 'POST',
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
    body: new URLSearchParams(sent),
  });
  const session = await visitor.api(server.base, 'GET', '/session');
  return { answer, session: session.body };
}

describe('forged launches', () => {
  test.each(FORGED)('$name', async (forged) => {
    const { answer, session } = await attack(forged);
    expect(answer.status).toBe(403);
    expect(answer.text).not.toContain('<script>');
    expect(session).toBeNull();
  });

  test('the same launch with nothing forged is let in: the attacks above are refused for what they forge', async () => {
    const { answer, session } = await attack({ name: 'nothing' });
    expect(answer.status).toBe(200);
    expect(session).toMatchObject({ name: 'Petra Sandell' });
  });

  test('a launch is good once, and only in the browser that began it', async () => {
    const visitor = new Visitor();
    const page = await opened(visitor, 'Petra');
    const post = (who: Visitor) =>
      who.go(`${server.base}/api/lti/launch`, {
        method: 'POST',
        headers: { 'content-type': 'application/x-www-form-urlencoded' },
        body: new URLSearchParams(fieldsOf(page.text)),
      });
    // Somebody else's browser, as after a link in a message: it uses the launch up and gains nothing.
    expect((await post(new Visitor())).status).toBe(403);
    expect((await post(visitor)).status).toBe(403);
    const good = await opened(visitor, 'Petra');
    expect((await visitor.submit(good)).status).toBe(200);
    expect((await visitor.submit(good)).status).toBe(403);
    // With a cookie of one's own making.
    const other = new Visitor();
    const third = await opened(new Visitor(), 'Petra');
    other.setCookie(server.base, 'contactum.visit', 'x'.repeat(43));
    expect((await other.submit(third)).status).toBe(403);
  });

  test('a token of one launch is nothing in another, also within the same browser', async () => {
    const visitor = new Visitor();
    const [first, second] = [await opened(visitor, 'Petra'), await opened(visitor, 'Petra')];
    const mixed = await visitor.submit(second, { id_token: fieldsOf(first.text).id_token! });
    expect(mixed.status).toBe(403);
  });

  test.each([
    ['another site', { target_link_uri: 'https://elsewhere.example/' }],
    ['a site whose name begins like ours', { target_link_uri: 'http://127.0.0.1.elsewhere.example/' }],
    ['no address', { target_link_uri: 'nowhere' }],
    ['a script', { target_link_uri: 'javascript:alert(1)' }],
    ['an unknown issuer', { iss: 'https://elsewhere.example' }],
    ['an unknown client', { client_id: 'other' }],
    ['an unknown deployment', { lti_deployment_id: 'deployment-9' }],
    ['nobody', { login_hint: undefined }],
  ])('a login that names %s begins nothing', async (_name, change) => {
    const given = {
      iss: platform.issuer,
      login_hint: 'p-1',
      target_link_uri: `${server.base}/`,
      client_id: platform.clientId,
      lti_deployment_id: platform.deploymentId,
      ...change,
    };
    const url = new URL(`${server.base}/api/lti/login`);
    for (const [key, value] of Object.entries(given))
      if (value !== undefined) url.searchParams.set(key, value);
    const answer = await new Visitor().fetch(url.href);
    expect(answer.status).toBeGreaterThanOrEqual(400);
    expect(answer.headers.get('location')).toBeNull();
  });

  test('what is wanted after a sign-in is a page of ours', () => {
    for (const path of [
      '//elsewhere.example',
      '/\\elsewhere.example',
      'https://elsewhere.example',
      'javascript:alert(1)',
      '/a"b',
      undefined,
    ])
      expect(ownPath(path)).toBe('/');
    expect(ownPath('/bench/1?a=b')).toBe('/bench/1?a=b');
  });
});
