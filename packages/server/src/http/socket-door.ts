import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import type { Logger } from 'pino';
import type { z } from 'zod';
import type { Person } from '@contactum/contract';
import { readWith } from '@contactum/core/documents';
import type { Config } from '../config.js';
import { requirePerson } from '../domain/permissions.js';
import { notFound } from '../domain/refusal.js';
import { answerTo } from './errors.js';
import { refuseForeignHost, refuseForeignOrigin } from './request.js';
import { SessionCookies } from './session-cookie.js';

/** Largest message. */
const LARGEST = 16_000;
/** A socket that is silent so long is dead, milliseconds. */
const SILENT = 30_000;

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
  readonly admit: (id: string, person: Person) => Promise<(socket: WebSocket) => Visit>;
}

interface Parts {
  readonly config: Config;
  readonly people: { readonly person: (sid: string) => Promise<Person | null> };
  readonly log: Logger;
}

/** The door for sockets: the same checks as for every request, then whoever the address belongs to. */
export class SocketDoor {
  private readonly sockets = new WebSocketServer({
    noServer: true,
    maxPayload: LARGEST,
    perMessageDeflate: false,
  });
  private readonly cookies: SessionCookies;
  private readonly pulse: NodeJS.Timeout;
  /** By socket, the session that it was opened in. */
  private readonly sessions = new Map<WebSocket, string>();

  constructor(
    private readonly parts: Parts,
    private readonly routes: readonly SocketRoute[],
  ) {
    this.cookies = new SessionCookies(parts.config.sessionSecret);
    this.pulse = setInterval(() => {
      for (const socket of this.sockets.clients) socket.ping();
      void this.endSessions().catch(() => undefined);
    }, SILENT / 2);
  }

  stop(): void {
    clearInterval(this.pulse);
    for (const socket of this.sockets.clients) socket.terminate();
    this.sockets.close();
  }

  /** Takes a request for a socket. */
  upgrade(request: IncomingMessage, stream: Duplex, head: Buffer): void {
    stream.on('error', () => stream.destroy());
    this.check(request).then(
      ({ take, sid }) =>
        this.sockets.handleUpgrade(request, stream, head, (socket) => this.open(socket, sid, take)),
      (error: unknown) => {
        const { status } = answerTo(error, this.parts.log);
        stream.end(`HTTP/1.1 ${status} Refused\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`);
      },
    );
  }

  private open(socket: WebSocket, sid: string, take: (socket: WebSocket) => Visit): void {
    const silent = setTimeout(() => socket.terminate(), SILENT);
    this.sessions.set(socket, sid);
    const visit = take(socket);
    socket.on('pong', () => silent.refresh());
    socket.on('close', () => {
      clearTimeout(silent);
      this.sessions.delete(socket);
      visit.left?.();
    });
    socket.on('error', (error) => this.parts.log.warn({ err: error }, 'a socket'));
    socket.on('message', (data: Buffer) => {
      silent.refresh();
      visit.hear(data.toString('utf8'));
    });
  }

  /** A session that has ended has no socket either. */
  private async endSessions(): Promise<void> {
    const { people } = this.parts;
    for (const [socket, sid] of this.sessions) if (!(await people.person(sid))) socket.close(1008);
  }

  private async check(
    request: IncomingMessage,
  ): Promise<{ take: (socket: WebSocket) => Visit; sid: string }> {
    const { config, people } = this.parts;
    refuseForeignHost(request.headers.host ?? '', config.allowedHosts);
    refuseForeignOrigin(request.headers);
    const address = (request.url ?? '').split('?')[0] ?? '';
    const route = this.routes.find(({ path }) => path.test(address));
    const id = route?.path.exec(address)?.[1];
    const sid = this.cookies.sidOf(request.headers.cookie);
    const person = requirePerson(sid === null ? null : await people.person(sid));
    if (!route || id === undefined || sid === null) throw notFound('address');
    return { take: await route.admit(id, person), sid };
  }
}

/** A message through its schema; what is wrong with it in one line. */
export function readMessage<T>(
  schema: z.ZodType<T>,
  text: string,
): { readonly value: T } | { readonly problem: string } {
  try {
    const read = readWith(schema, JSON.parse(text));
    if (read.ok) return { value: read.value };
    const [first] = read.problems;
    return { problem: `${first?.path ?? ''}: ${first?.message ?? 'cannot be read'}` };
  } catch {
    return { problem: 'is not JSON' };
  }
}
