import type { WebSocket } from 'ws';
import type { Logger } from 'pino';
import { gatewaySays, type BoardNow, type ToGateway } from '@contactum/contract';
import { SCANNERS_CHANNEL } from '../database/migrations/017-scanners.js';
import { requireStudent } from '../domain/people/permissions.js';
import type { Scanners } from '../domain/scanners/scanners.js';
import { listenTo, type Listening } from '../runtime/listen.js';
import { toldTo } from '../runtime/logging.js';
import { Refusal } from '../runtime/refusal.js';
import { ID } from './request.js';
import { readMessage, type SocketRoute, type TokenRoute } from './socket-handler.js';

/** How often a board is looked at anew although nothing was told of it, milliseconds: gateways fall silent. */
const LOOK_MS = 2_000;

/** Where a socket belongs to, and what it was told last. */
interface Line {
  readonly socket: WebSocket;
  readonly tell: () => Promise<string>;
  last: string;
  turn: Promise<void>;
}

/** Live lines of physical boards: of their gateways, and of those who work at them. */
export class ScannerLines {
  private readonly lines = new Map<string, Set<Line>>();
  private readonly listening: Listening;
  private readonly look: NodeJS.Timeout;

  constructor(
    private readonly scanners: Scanners,
    databaseUrl: string,
    private readonly log: Logger,
  ) {
    this.listening = listenTo(databaseUrl, SCANNERS_CHANNEL, log, (id) => {
      for (const one of id === null ? this.lines.keys() : [id]) this.news(one);
    });
    this.look = setInterval(() => {
      for (const id of this.lines.keys()) this.news(id);
    }, LOOK_MS);
  }

  async stop(): Promise<void> {
    clearInterval(this.look);
    await this.listening.stop();
  }

  private add(id: string, socket: WebSocket, tell: () => Promise<string>): () => void {
    const line: Line = { socket, tell, last: '', turn: Promise.resolve() };
    const lines = this.lines.get(id) ?? new Set();
    this.lines.set(id, lines.add(line));
    this.say(line);
    return () => {
      lines.delete(line);
      if (lines.size === 0) this.lines.delete(id);
    };
  }

  private news(id: string): void {
    for (const line of this.lines.get(id) ?? []) this.say(line);
  }

  /** Tells a line how things are now, where it has not been told so; one after the other. */
  private say(line: Line): void {
    line.turn = line.turn
      .then(async () => {
        const text = await line.tell();
        if (text === line.last || line.socket.readyState !== line.socket.OPEN) return;
        line.last = text;
        line.socket.send(text);
      })
      .catch((error: unknown) => {
        // Who may not look on any more is told so; a database that is away is asked again.
        if (error instanceof Refusal) line.socket.close(1008, error.message.slice(0, 100));
        else toldTo(this.log, 'a scanner')(error);
      });
  }

  /** A gateway: it shows its scanner's token, tells what it reads, and is told when the relay may close. */
  readonly gateway: TokenRoute = {
    path: /^\/api\/scanners\/gateway$/i,
    admit: async (token) => {
      const id = await this.scanners.ofToken(token);
      return (socket) => {
        const leave = this.add(id, socket, async () =>
          JSON.stringify({ kind: 'permit', ...(await this.scanners.wanted(id)) } satisfies ToGateway),
        );
        let turn = Promise.resolve();
        return {
          hear: (text) => {
            const message = readMessage(gatewaySays, text);
            if ('problem' in message) {
              const refused: ToGateway = { kind: 'refused', why: message.problem };
              socket.send(JSON.stringify(refused));
              return;
            }
            turn = turn
              .then(() => this.scanners.report(id, message.value))
              .catch(toldTo(this.log, 'what a gateway read'));
          },
          left: () => {
            leave();
            void turn.then(() => this.scanners.lost(id)).catch(toldTo(this.log, 'a gateway'));
          },
        };
      };
    },
  };

  /** Whoever works at a board is told what is read of it. */
  readonly board: SocketRoute = {
    path: new RegExp(`^/api/scanners/(${ID})/live$`, 'i'),
    admit: async (id, person) => {
      const attemptId = await this.scanners.requireAtBoard(id, requireStudent(person));
      return (socket) => {
        const left = this.add(id, socket, async () =>
          JSON.stringify((await this.scanners.now(id, attemptId)) satisfies BoardNow),
        );
        return { hear: () => undefined, left };
      };
    },
  };
}
