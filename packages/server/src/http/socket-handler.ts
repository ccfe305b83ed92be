import { LRUCache } from 'lru-cache';
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import type { Logger } from 'pino';
import type { z } from 'zod';
import type { Person } from '@contactum/contract';
import { readWith } from '@contactum/core/documents';
import { isDeep } from '../runtime/depth.js';
import type { Config } from '../config.js';
import { requirePerson } from '../domain/people/permissions.js';
import { Refusal, notFound } from '../runtime/refusal.js';
import { Allowance } from '../security/pace.js';
import { answerTo } from './errors.js';
import { refuseBrokenText, refuseForeignHost, refuseForeignOrigin, remoteOf } from './request.js';
import { SessionCookies } from './session-cookie.js';

/** Largest message. */
const LARGEST = 16_000;
/** A socket that is silent so long is dead, milliseconds. */
const SILENT = 30_000;

/**
 * What a page may be behind with before its socket is ended, bytes; and how often that is looked at,
 * milliseconds.
 */
const BEHIND = 4_000_000;
const SLOW_MS = 1_000;

/** How long whoever has sent too much waits, and how long the farewell may take, milliseconds. */
const SHUT_MS = 10_000;
const LEAVE_MS = 2_000;

/** What a socket may send: more than any hand and any page does. Messages and bytes at once, and a second. */
const MESSAGES = { burst: 300, perSecond: 50 };
const BYTES = { burst: 500_000, perSecond: 50_000 };

/** What somebody who has come in does with a socket: takes what it says, and its end. */
export interface Visit {
  readonly hear: (text: string) => void;
  readonly left?: () => void;
}

/** An address at which sockets are opened. */
export interface SocketRoute {
  /** Its first group is an id. */
  readonly path: RegExp;
  /** Checks that somebody may come in; what it returns takes the socket. Throws a refusal. */
  readonly admit: (id: string, person: Person, address: string) => Promise<(socket: WebSocket) => Visit>;
}

/** An address at which sockets are opened by whoever shows a token of its own (`Authorization: Bearer`). */
export interface TokenRoute {
  readonly path: RegExp;
  /** Checks the token; what it returns takes the socket. Throws a refusal. */
  readonly admit: (token: string) => Promise<(socket: WebSocket) => Visit>;
}

/** What a socket was opened for, and in which session. */
interface Opened {
  /** The session; of a token's socket a word that stands for the token. */
  readonly sid: string;
  /** Looks whether it may still be open; throws a refusal where it may not. */
  readonly look: () => Promise<void>;
}

interface Parts {
  readonly config: Config;
  readonly people: { readonly person: (sid: string) => Promise<Person | null> };
  readonly log: Logger;
}

/** The door for sockets: the same checks as for every request, then whoever the address belongs to. */
export class SocketHandler {
  private readonly sockets = new WebSocketServer({
    noServer: true,
    maxPayload: LARGEST,
    perMessageDeflate: false,
  });
  private readonly cookies: SessionCookies;
  private readonly pulse: NodeJS.Timeout;
  private readonly slow: NodeJS.Timeout;
  /** By socket, the session that it was opened in, and what it was opened for. */
  private readonly opened = new Map<WebSocket, Opened>();
  /** By session, until when none of its sockets is opened. */
  private readonly shut = new LRUCache<string, number>({ max: 5_000 });
  private looking = false;
  private lookAgain = false;

  constructor(
    private readonly parts: Parts,
    private readonly routes: readonly SocketRoute[],
    private readonly tokenRoutes: readonly TokenRoute[] = [],
  ) {
    this.cookies = new SessionCookies(parts.config.sessionSecret);
    this.pulse = setInterval(() => {
      for (const socket of this.sockets.clients) socket.ping();
      this.look();
    }, SILENT / 2);
    this.slow = setInterval(() => {
      // Whoever does not read what is told keeps it in this process's memory.
      for (const socket of this.sockets.clients) if (socket.bufferedAmount > BEHIND) socket.terminate();
    }, SLOW_MS);
  }

  stop(): void {
    clearInterval(this.pulse);
    clearInterval(this.slow);
    for (const socket of this.sockets.clients) socket.terminate();
    this.sockets.close();
  }

  /** Takes a request for a socket. */
  upgrade(request: IncomingMessage, stream: Duplex, head: Buffer): void {
    stream.on('error', () => stream.destroy());
    this.check(request).then(
      ({ take, ...opened }) =>
        this.sockets.handleUpgrade(request, stream, head, (socket) => this.open(socket, opened, take)),
      (error: unknown) => {
        const { status } = answerTo(error, this.parts.log);
        stream.end(`HTTP/1.1 ${status} Refused\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`);
      },
    );
  }

  private open(socket: WebSocket, opened: Opened, take: (socket: WebSocket) => Visit): void {
    const silent = setTimeout(() => socket.terminate(), SILENT);
    this.opened.set(socket, opened);
    const visit = take(socket);
    socket.on('pong', () => silent.refresh());
    socket.on('close', () => {
      clearTimeout(silent);
      this.opened.delete(socket);
      visit.left?.();
    });
    socket.on('error', (error) => this.parts.log.warn({ err: error }, 'a socket'));
    const [messages, bytes] = [new Allowance(MESSAGES), new Allowance(BYTES)];
    socket.on('message', (data: Buffer) => {
      silent.refresh();
      // What comes after a socket was told to close is not heard.
      if (socket.readyState !== socket.OPEN) return;
      if (messages.takes() && bytes.takes(data.length)) visit.hear(data.toString('utf8'));
      else {
        // Whoever opens it again at once is not let in for a while, before anything is asked of the database.
        this.shut.set(opened.sid, performance.now() + SHUT_MS);
        socket.close(1008, 'Too much was sent at once.');
        setTimeout(() => socket.terminate(), LEAVE_MS).unref();
      }
    });
  }

  /** Looks whether what is open may still be: what somebody may not open any more is closed. */
  look(): void {
    this.lookAgain = true;
    if (this.looking) return;
    this.looking = true;
    void this.lookThrough().finally(() => (this.looking = false));
  }

  private async lookThrough(): Promise<void> {
    while (this.lookAgain) {
      this.lookAgain = false;
      for (const [socket, { look }] of this.opened)
        try {
          await look();
        } catch (error) {
          // A database that is away takes nobody's rights.
          if (error instanceof Refusal) socket.close(1008, error.message.slice(0, 100));
        }
    }
  }

  private async check(request: IncomingMessage): Promise<Opened & { take: (socket: WebSocket) => Visit }> {
    const { config, people } = this.parts;
    refuseForeignHost(request.headers.host ?? '', config.allowedHosts);
    refuseForeignOrigin(request.headers);
    const path = (request.url ?? '').split('?')[0] ?? '';
    const byToken = this.tokenRoutes.find((one) => one.path.test(path));
    if (byToken) return this.checkToken(request, byToken);
    const route = this.routes.find((one) => one.path.test(path));
    const id = route?.path.exec(path)?.[1];
    const sid = this.cookies.sidOf(request.headers.cookie);
    if (sid !== null && (this.shut.get(sid) ?? 0) > performance.now())
      throw new Refusal('too-many', 'Too much was sent at once. Wait a moment and try again.');
    const person = requirePerson(sid === null ? null : await people.person(sid));
    if (!route || id === undefined || sid === null) throw notFound('address');
    const address = remoteOf(request, config.trustProxy);
    return {
      take: await route.admit(id, person, address),
      sid,
      look: () => this.lookAt(sid, route, id, address),
    };
  }

  private async lookAt(sid: string, route: SocketRoute, id: string, address: string): Promise<void> {
    await route.admit(id, requirePerson(await this.parts.people.person(sid)), address);
  }

  private async checkToken(
    { headers }: IncomingMessage,
    route: TokenRoute,
  ): Promise<Opened & { take: (socket: WebSocket) => Visit }> {
    const token = /^Bearer ([\w-]{20,100})$/.exec(headers.authorization ?? '')?.[1];
    if (token === undefined) throw new Refusal('unauthenticated', 'A token is wanted.');
    const sid = `token ${token}`;
    if ((this.shut.get(sid) ?? 0) > performance.now())
      throw new Refusal('too-many', 'Too much was sent at once. Wait a moment and try again.');
    const look = async (): Promise<void> => {
      await route.admit(token);
    };
    return { take: await route.admit(token), sid, look };
  }
}

/** A message through its schema; what is wrong with it in one line. */
export function readMessage<T>(
  schema: z.ZodType<T>,
  text: string,
): { readonly value: T } | { readonly problem: string } {
  if (isDeep(text)) return { problem: 'is nested too deeply' };
  try {
    const given: unknown = JSON.parse(text);
    refuseBrokenText(given);
    const read = readWith(schema, given);
    if (read.ok) return { value: read.value };
    const [first] = read.problems;
    return { problem: `${first?.path ?? ''}: ${first?.message ?? 'cannot be read'}` };
  } catch (error) {
    return { problem: error instanceof Refusal ? error.message : 'is not JSON' };
  }
}
