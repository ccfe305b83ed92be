import type { Knex } from 'knex';
import { benchMessage } from '@contactum/contract';
import type { SessionManager } from '../benches/session-manager.js';
import { requireWorkableSearch } from '../domain/people/permissions.js';
import { ID } from './request.js';
import { readMessage, type SocketRoute } from './socket-handler.js';

/** Sockets of live benches: opened by the student whose search it is. */
export const benchRoute = (database: Knex, hub: SessionManager): SocketRoute => ({
  path: new RegExp(`^/api/searches/(${ID})/live$`, 'i'),
  admit: async (id, person) => {
    await requireWorkableSearch(database, id, person);
    return (socket) => {
      void hub.attach(id, socket).catch(() => socket.close(1011));
      return {
        hear: (text) => {
          const message = readMessage(benchMessage, text);
          if ('problem' in message) socket.send(JSON.stringify({ kind: 'refused', reason: message.problem }));
          else hub.enter(id, socket, message.value);
        },
      };
    };
  },
});
