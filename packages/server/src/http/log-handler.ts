import { LRUCache } from 'lru-cache';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Logger } from 'pino';
import { logEntryRequest, type LogEntryRequest, type Person } from '@contactum/contract';
import type { Config } from '../config.js';
import type { Places } from '../domain/assessments/place.js';
import type { Journal } from '../domain/attempts/journal.js';
import { requireStudent, signInFirst } from '../domain/people/permissions.js';
import { Refusal } from '../runtime/refusal.js';
import { answerTo } from './errors.js';
import { SessionCookies } from './session-cookie.js';
import {
  ID,
  refuseBrokenText,
  refuseForeignHost,
  refuseForeignOrigin,
  remoteOf,
  valueOf,
} from './request.js';

const PATH = new RegExp(`^/api/attempts/(${ID})/log$`, 'i');
/** Largest body; a lead is far below it. */
const BODY_LIMIT = 200_000;
/** Sessions whose student is remembered. */
const REMEMBERED = 5_000;
/** Something in a text that could be NUL or half a character. */
const ODD = /\\u(0000|d[89a-f])|[\ud800-\udfff]|\u0000/i;

interface Parts {
  readonly config: Config;
  readonly people: { readonly person: (sid: string) => Promise<Person | null> };
  readonly journal: Journal;
  readonly places: Places;
  readonly log: Logger;
}

/**
 * The one request that comes by the hundreds a second, one entry of a log: taken at the door with the same
 * checks as every other, and without the middleware that it does not need. Returns false for every other
 * request.
 */
export function logHandler(parts: Parts): (request: IncomingMessage, response: ServerResponse) => boolean {
  const door = new LogHandler(parts);
  return (request, response) => {
    const attemptId = request.method === 'POST' ? PATH.exec(request.url ?? '')?.[1] : undefined;
    // What is compressed or in another form is read by those who know more forms.
    if (
      attemptId === undefined ||
      request.headers['content-encoding'] !== undefined ||
      request.headers['content-type']?.startsWith('application/json') !== true
    )
      return false;
    door.take(request, attemptId).then(
      (taken) => answer(response, 201, taken),
      (error: unknown) => {
        const { status, body } = answerTo(error, parts.log);
        answer(response, status, body);
      },
    );
    return true;
  };
}

/** Who comes, and what they bring. */
class LogHandler {
  private readonly cookies: SessionCookies;
  /**
   * Students whom sessions were found to be: what is written for one of these asks again whether that is
   * so.
   */
  private readonly students = new LRUCache<string, string>({ max: REMEMBERED });

  constructor(private readonly parts: Parts) {
    this.cookies = new SessionCookies(parts.config.sessionSecret);
  }

  async take(request: IncomingMessage, attemptId: string): Promise<{ seq: number }> {
    const { config, journal, places } = this.parts;
    refuseForeignHost(request.headers.host ?? '', config.allowedHosts);
    refuseForeignOrigin(request.headers);
    const text = await textOf(request);
    const sid = this.cookies.sidOf(request.headers.cookie);
    if (sid === null) throw signInFirst();
    await places.require(attemptId, remoteOf(request, config.trustProxy));
    const known = this.students.get(sid);
    if (known !== undefined) {
      const entry = entryOf(text);
      const taken = entry && (await journal.appendNext(attemptId, known, sid, entry));
      if (taken) return taken;
    }
    const studentId = await this.studentOf(sid);
    const body = parsed(text);
    if (ODD.test(text)) refuseBrokenText(body);
    return journal.append(attemptId, studentId, valueOf<LogEntryRequest>(body, logEntryRequest));
  }

  private async studentOf(sid: string): Promise<string> {
    this.students.delete(sid);
    const { id } = requireStudent(await this.parts.people.person(sid));
    this.students.set(sid, id);
    return id;
  }
}

function answer(response: ServerResponse, status: number, value: unknown): void {
  const text = JSON.stringify(value);
  const headers = {
    'Content-Type': 'application/json; charset=utf-8',
    'Content-Length': Buffer.byteLength(text),
    'Cache-Control': 'no-store',
    'X-Content-Type-Options': 'nosniff',
  };
  response.writeHead(status, status === 503 ? { ...headers, 'Retry-After': '1' } : headers).end(text);
}

/** The entry that a plain body holds; null for anything else, of which must be said what is wrong. */
function entryOf(text: string): LogEntryRequest | null {
  if (ODD.test(text)) return null;
  try {
    return valueOf<LogEntryRequest>(JSON.parse(text), logEntryRequest);
  } catch {
    return null;
  }
}

function textOf(request: IncomingMessage): Promise<string> {
  return new Promise((resolve, reject) => {
    const parts: Buffer[] = [];
    let size = 0;
    request.on('data', (part: Buffer) => {
      size += part.length;
      if (size <= BODY_LIMIT) parts.push(part);
      else reject(new Refusal('too-large', 'The request is too large.'));
    });
    request.on('end', () => resolve(Buffer.concat(parts).toString('utf8')));
    request.on('error', reject);
  });
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new Refusal('invalid', 'The request is not JSON.');
  }
}
