import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { SignJWT, UnsecuredJWT, generateKeyPair } from 'jose';
import { freePort } from '../../cli/src/scanner/free-port.js';
import { SignOnStandIn } from '../../stand-ins/src/index.js';
import { readConfig } from '../src/config.js';
import { roleBy } from '../src/domain/doors/sign-on.js';
import { Client, PASSWORD, freshDatabase, people, startProcess, type Server } from './help.js';
import { Visitor } from './visitor.js';

let server: Server;
let college: SignOnStandIn;

beforeAll(async () => {
  const databaseUrl = await freshDatabase();
  const port = await freePort();
  college = await new SignOnStandIn({ tool: `http://127.0.0.1:${port}` }).start();
  server = await startProcess(databaseUrl, {
    PORT: String(port),
    PASSWORDS: 'off',
    ...college.environment,
  });
  await people(databaseUrl);
});
afterAll(async () => {
  await server.kill('SIGTERM');
  await college.stop();
});

/** Goes through the college's sign-on; ends before the answer is brought back where that is asked for. */
async function signedOn(login: string, visitor = new Visitor(), to = '/help') {
  const page = await visitor.go(`${server.base}/api/sign-on?to=${encodeURIComponent(to)}`);
  const answer = page.text.includes('<form') ? await visitor.submit(page, { login }) : page;
  return { visitor, answer };
}

const whoIs = async (visitor: Visitor) => (await visitor.api(server.base, 'GET', '/session')).body;

describe('the college’s sign-on', () => {
  test('signs in by who somebody is there, in the role of the rules, and leads on to the page that was wanted', async () => {
    const petra = await signedOn('petra');
    expect(petra.answer.text).toContain('url=/help');
    expect(await whoIs(petra.visitor)).toMatchObject({
      name: 'Petra Sandell',
      role: 'instructor',
      login: 'petra',
    });
    expect(await whoIs((await signedOn('iver')).visitor)).toMatchObject({ role: 'student' });
    expect(await whoIs((await signedOn('it')).visitor)).toMatchObject({ role: 'administrator' });
    const guest = await signedOn('guest');
    expect(guest.answer).toMatchObject({ status: 403, text: expect.stringContaining('no role here') });
    expect(await whoIs(guest.visitor)).toBeNull();
    // A page elsewhere is none of ours.
    expect((await signedOn('petra', new Visitor(), 'https://elsewhere.example')).answer.text).toContain(
      'url=/"',
    );
  });

  test('passwords are switched off; an administrator’s door stays', async () => {
    const door = await new Client(server.base).ask('GET', '/session/door');
    expect(door.body).toMatchObject({ passwords: false, signOn: 'Saltmarsh sign-on' });
    const ann = await new Client(server.base).ask('POST', '/session', { login: 'ann', password: PASSWORD });
    expect(ann).toMatchObject({
      status: 403,
      body: { error: { message: expect.stringContaining('sign-on') } },
    });
    expect((await new Client(server.base).signIn('head')).cookie).not.toBe('');
  });

  test('signing out signs out there too; sessions end from the college’s side', async () => {
    const { visitor } = await signedOn('petra');
    const other = await signedOn('petra');
    const out = await visitor.api(server.base, 'DELETE', '/session');
    expect(out.body.to).toContain(`${college.issuer}/session/end`);
    expect(await whoIs(visitor)).toBeNull();
    expect(await whoIs(other.visitor)).toMatchObject({ login: 'petra' });
    // The other one signs out at the college: its page tells the server.
    const page = await other.visitor.go(`${college.issuer}/session/end`);
    const done = await other.visitor.go(/action="([^"]*)"/.exec(page.text)?.[1] ?? '', {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({
        xsrf: /name="xsrf" value="([^"]*)"/.exec(page.text)?.[1] ?? '',
        logout: 'yes',
      }),
    });
    expect(done.status).toBe(200);
    expect(await whoIs(other.visitor)).toBeNull();
  });
});

describe('forged sign-ons', () => {
  /** The answer of the sign-on, before the browser has brought it back. */
  async function answerFor(login: string): Promise<{ visitor: Visitor; url: URL }> {
    const visitor = new Visitor();
    const page = await visitor.go(`${server.base}/api/sign-on`);
    const taken: string[] = [];
    const fetched = visitor.fetch.bind(visitor);
    visitor.fetch = async (url, init) => {
      if (!url.includes('/api/sign-on/callback')) return fetched(url, init);
      taken.push(url);
      return new Response('', { status: 200 });
    };
    await visitor.submit(page, { login });
    visitor.fetch = fetched;
    return { visitor, url: new URL(taken[0]!) };
  }
  const refused = async (visitor: Visitor, url: URL) => {
    expect((await visitor.go(url.href)).status).toBe(403);
    expect(await whoIs(visitor)).toBeNull();
  };

  test('an answer is good once', async () => {
    const { visitor, url } = await answerFor('iver');
    expect((await visitor.go(url.href)).status).toBe(200);
    await visitor.api(server.base, 'DELETE', '/session');
    await refused(visitor, url);
  });
  test('in another browser it is nothing', async () => {
    const { url } = await answerFor('iver');
    await refused(new Visitor(), url);
  });
  test('another state', async () => {
    const { visitor, url } = await answerFor('iver');
    url.searchParams.set('state', 'x'.repeat(43));
    await refused(visitor, url);
  });
  test('the state of another sign-in of the same browser', async () => {
    const { visitor, url } = await answerFor('iver');
    const begun = await visitor.fetch(`${server.base}/api/sign-on`);
    url.searchParams.set('state', new URL(begun.headers.get('location')!).searchParams.get('state')!);
    await refused(visitor, url);
  });
  test('another code', async () => {
    const { visitor, url } = await answerFor('iver');
    url.searchParams.set('code', 'invented');
    await refused(visitor, url);
  });
  test('a code of somebody else', async () => {
    const [one, other] = [await answerFor('iver'), await answerFor('petra')];
    one.url.searchParams.set('code', other.url.searchParams.get('code')!);
    await refused(one.visitor, one.url);
  });
  test('another issuer in the answer', async () => {
    const { visitor, url } = await answerFor('iver');
    url.searchParams.set('iss', 'https://elsewhere.example');
    await refused(visitor, url);
  });
  test('an error with a script in it', async () => {
    const visitor = new Visitor();
    const begun = await visitor.fetch(`${server.base}/api/sign-on`);
    const state = new URL(begun.headers.get('location')!).searchParams.get('state')!;
    const answer = await visitor.go(
      `${server.base}/api/sign-on/callback?state=${state}&error=<script>alert(1)</script>`,
    );
    expect(answer.status).toBe(403);
    expect(answer.text).not.toContain('<script>');
  });
  test('a launch’s state is none of a sign-on', async () => {
    const { visitor, url } = await answerFor('iver');
    url.searchParams.delete('state');
    await refused(visitor, url);
  });

  const event = { 'http://schemas.openid.net/event/backchannel-logout': {} };
  const claims = () => {
    const now = Math.floor(Date.now() / 1000);
    return {
      iss: college.issuer,
      aud: college.clientId,
      iat: now,
      exp: now + 60,
      jti: 'one',
      sub: 'petra',
      events: event,
    };
  };
  const foreign = generateKeyPair('RS256');
  const kid = async () =>
    ((await (await fetch(`${college.issuer}/jwks`)).json()) as { keys: { kid: string }[] }).keys[0]!.kid;
  test.each<[string, () => Promise<string>]>([
    ['no signature', () => Promise.resolve(new UnsecuredJWT(claims()).encode())],
    [
      'a strange key',
      async () =>
        new SignJWT(claims())
          .setProtectedHeader({ alg: 'RS256', kid: await kid() })
          .sign((await foreign).privateKey),
    ],
    [
      'a shared secret',
      async () =>
        new SignJWT(claims())
          .setProtectedHeader({ alg: 'HS256', kid: await kid() })
          .sign(Buffer.from(college.clientSecret)),
    ],
    ['rubbish', () => Promise.resolve('a.b.c')],
  ])('a message that ends sessions with %s ends none', async (_name, made) => {
    const { visitor } = await signedOn('petra');
    const answer = await new Visitor().go(`${server.base}/api/sign-on/backchannel`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ logout_token: await made() }),
    });
    expect(answer.status).toBe(403);
    expect(await whoIs(visitor)).toMatchObject({ login: 'petra' });
  });
});

describe('settings of the sign-on', () => {
  const given = { DATABASE_URL: 'postgres://x', SESSION_SECRET: 'a secret of the tests' };
  test('rules name role, claim and value; the first that holds counts, and none gives no role', () => {
    const { signOn } = readConfig({
      ...given,
      OIDC_ISSUER: 'https://sign-on.example',
      OIDC_CLIENT_ID: 'board',
      OIDC_ROLES: 'administrator groups=it; instructor affiliation=staff',
    });
    const rules = signOn!.rules;
    expect(rules).toHaveLength(2);
    expect(roleBy(rules, { groups: ['staff', 'it'], affiliation: 'staff' })).toBe('administrator');
    expect(roleBy(rules, { affiliation: 'staff' })).toBe('instructor');
    expect(roleBy(rules, { affiliation: 'student' })).toBeNull();
    expect(roleBy([], {})).toBe('student');
  });
  test('a rule that is none, an address without HTTPS and a missing client are named', () => {
    const issuer = { OIDC_ISSUER: 'https://sign-on.example' };
    expect(() =>
      readConfig({ ...given, ...issuer, OIDC_CLIENT_ID: 'b', OIDC_ROLES: 'king crown=yes' }),
    ).toThrow('OIDC_ROLES');
    expect(() =>
      readConfig({ ...given, OIDC_ISSUER: 'http://sign-on.example', OIDC_CLIENT_ID: 'b' }),
    ).toThrow('https://');
    expect(() => readConfig({ ...given, ...issuer })).toThrow('OIDC_CLIENT_ID');
  });
});
