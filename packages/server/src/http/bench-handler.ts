import type { Knex } from 'knex';
import { benchMessage } from '@contactum/contract';
import type { SessionManager } from '../benches/session-manager.js';
import type { Places } from '../domain/assessments/place.js';
import { requireWorkableSearch } from '../domain/people/permissions.js';
import { ID } from './request.js';
import { readMessage, type SocketRoute } from './socket-handler.js';

/** Sockets of live benches: opened by the student whose search it is. */
export const benchRoute = (database: Knex, hub: SessionManager, places: Places): SocketRoute => ({
  path: new RegExp(`^/api/searches/(${ID})/live$`, 'i'),
  admit: async (id, person, address) => {
    const { attemptId } = await requireWorkableSearch(database, id, person);
    if (attemptId !== null) await places.require(attemptId, address);
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
