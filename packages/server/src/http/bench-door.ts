import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import type { Logger } from 'pino';
import { benchMessage, type Person } from '@contactum/contract';
import { readWith } from '@contactum/core/documents';
import type { Config } from '../config.js';
import type { Hub } from '../benches/hub.js';
import { requirePerson, requireWorkableSearch } from '../domain/permissions.js';
import { notFound } from '../domain/refusal.js';
import { answerTo } from './errors.js';
import { ID, refuseForeignHost, refuseForeignOrigin } from './request.js';
import { SessionCookies } from './session-cookie.js';
import type { Knex } from 'knex';

const PATH = new RegExp(`^/api/searches/(${ID})/live$`, 'i');
/** Largest message; an entry is far below it. */
const LARGEST = 4_000;
/** A socket that is silent so long is dead, milliseconds. */
const SILENT = 30_000;

interface Parts {
  readonly config: Config;
  readonly database: Knex;
  readonly people: { readonly person: (sid: string) => Promise<Person | null> };
  readonly hub: Hub;
  readonly log: Logger;
}

/** Sockets of live benches: opened by the student whose search it is, with the same checks as every request. */
export class BenchDoor {
  private readonly sockets = new WebSocketServer({
    noServer: true,
    maxPayload: LARGEST,
    perMessageDeflate: false,
  });
  private readonly cookies: SessionCookies;
  private readonly pulse: NodeJS.Timeout;

  constructor(private readonly parts: Parts) {
    this.cookies = new SessionCookies(parts.config.sessionSecret);
    this.pulse = setInterval(() => {
      for (const socket of this.sockets.clients) socket.ping();
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
      (id) => this.sockets.handleUpgrade(request, stream, head, (socket) => this.admit(id, socket)),
      (error: unknown) => {
        const { status } = answerTo(error, this.parts.log);
        stream.end(`HTTP/1.1 ${status} Refused\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`);
      },
    );
  }

  /** Somebody works at a bench over this socket from now on. */
  private admit(id: string, socket: WebSocket): void {
    const { hub, log } = this.parts;
    const silent = setTimeout(() => socket.terminate(), SILENT);
    socket.on('pong', () => silent.refresh());
    socket.on('close', () => clearTimeout(silent));
    socket.on('error', (error) => log.warn({ err: error }, 'a live bench\u2019s socket'));
    socket.on('message', (data: Buffer) => {
      silent.refresh();
      const message = readMessage(data.toString('utf8'));
      if ('problem' in message) socket.send(JSON.stringify({ kind: 'refused', reason: message.problem }));
      else hub.enter(id, socket, message.value);
    });
    void hub.attach(id, socket).catch(() => socket.close(1011));
  }

  private async check(request: IncomingMessage): Promise<string> {
    const { config, people, database } = this.parts;
    refuseForeignHost(request.headers.host ?? '', config.allowedHosts);
    refuseForeignOrigin(request.headers);
    const id = PATH.exec((request.url ?? '').split('?')[0] ?? '')?.[1];
    const sid = this.cookies.sidOf(request.headers.cookie);
    const person = requirePerson(sid === null ? null : await people.person(sid));
    if (id === undefined) throw notFound('search');
    return (await requireWorkableSearch(database, id, person)).id;
  }
}

function readMessage(text: string) {
  try {
    const read = readWith(benchMessage, JSON.parse(text));
    if (read.ok) return { value: read.value };
    const [first] = read.problems;
    return { problem: `${first?.path ?? ''}: ${first?.message ?? 'cannot be read'}` };
  } catch {
    return { problem: 'is not JSON' };
  }
}
