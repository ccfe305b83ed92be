import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { ApiError, ask, askEarly } from '../src/api/client.js';
import { loadEarly } from '../src/early.js';

/** What the server would answer next, and which addresses were asked. */
let asked: string[];
let answers: (() => Promise<Response>)[];
const real = globalThis.fetch;

const json =
  (value: unknown, status = 200) =>
  () =>
    Promise.resolve(new Response(JSON.stringify(value), { status }));

beforeEach(() => {
  jest.useFakeTimers();
  asked = [];
  answers = [];
  globalThis.fetch = ((url: string) => {
    asked.push(url);
    return (answers.shift() ?? json({ n: asked.length }))();
  }) as typeof fetch;
});
afterEach(() => {
  jest.runOnlyPendingTimers();
  jest.useRealTimers();
  globalThis.fetch = real;
});

describe('what is asked before its page is there', () => {
  test('is asked once, and given once', async () => {
    askEarly('/attempts/a');
    expect(await ask('GET', '/attempts/a')).toEqual({ n: 1 });
    expect(await ask('GET', '/attempts/a')).toEqual({ n: 2 });
    expect(asked).toEqual(['/api/attempts/a', '/api/attempts/a']);
  });

  test('is asked anew where it failed, was changed meanwhile, or has waited for long', async () => {
    answers = [json({ error: { type: 'internal', message: 'Broken.' } }, 500)];
    askEarly('/exercises');
    // The failure is known before the page comes.
    await Promise.resolve().then(() => jest.advanceTimersByTimeAsync(1));
    expect(await ask('GET', '/exercises')).toEqual({ n: 2 });
    askEarly('/exercises');
    await ask('POST', '/assignments/a/attempts', {});
    expect(await ask('GET', '/exercises')).toEqual({ n: 5 });
    askEarly('/exercises');
    await jest.advanceTimersByTimeAsync(6_000);
    expect(await ask('GET', '/exercises')).toEqual({ n: 7 });
  });

  test('a refusal comes to whoever takes it', async () => {
    answers = [json({ error: { type: 'not-found', message: 'There is no such attempt.' } }, 404)];
    askEarly('/attempts/b');
    await expect(ask('GET', '/attempts/b')).rejects.toMatchObject({
      status: 404,
      message: 'There is no such attempt.',
    });
  });
});

describe('a refusal of the server', () => {
  test('is told in its own words, with what the server knows of the place', async () => {
    answers = [
      json({ error: { type: 'conflict', message: 'Another tab was first.', lastSeq: 7 } }, 409),
      () => Promise.resolve(new Response('<h1>Bad gateway</h1>', { status: 502 })),
      () => Promise.reject(new TypeError('no network')),
    ];
    await expect(ask('POST', '/attempts/a/log', {})).rejects.toMatchObject({
      status: 409,
      type: 'conflict',
      lastSeq: 7,
    });
    await expect(ask('GET', '/session')).rejects.toMatchObject({ message: 'The server answered 502.' });
    const offline = await ask('GET', '/session').catch((error: unknown) => error);
    expect(offline).toBeInstanceOf(ApiError);
    expect(offline).toMatchObject({ status: 0, type: 'offline' });
  });
});

describe('the address that was opened', () => {
  test.each([
    ['/bench/0c', ['/api/session', '/api/attempts/0c', '/api/session/key']],
    ['/exercises', ['/api/session', '/api/exercises']],
    ['/', ['/api/session', '/api/exercises']],
    ['/slip/0c', ['/api/session', '/api/attempts/0c/slip']],
    // An instructor's page of one exercise, and pages that nothing is known of.
    ['/exercises/pump', ['/api/session']],
    ['/bench', ['/api/session']],
    ['/sheets/a', ['/api/session']],
  ])('%s asks for what its page will want', (path, wanted) => {
    loadEarly(path);
    expect(asked).toEqual(wanted);
  });
});
