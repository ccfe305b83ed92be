import type { Knex } from 'knex';
import { benchSays, floorSays } from '@contactum/contract';
import type { Floor } from '../floor/floor.js';
import {
  requireInstructor,
  requireOwnAttempt,
  requireOwnClass,
  requireStudent,
} from '../domain/people/permissions.js';
import { Refusal, notFound } from '../runtime/refusal.js';
import { ID } from './request.js';
import { readMessage, type SocketRoute } from './socket-handler.js';

/** A student's bench tells the floor how it stands, and is told what the instructor wants. */
export const benchOnFloor = (database: Knex, floor: Floor): SocketRoute => ({
  path: new RegExp(`^/api/attempts/(${ID})/floor$`, 'i'),
  admit: async (id, person) => {
    const student = requireStudent(person);
    const attempt = await requireOwnAttempt(database, id, student);
    const classId = attempt.assignment?.classId;
    if (classId === undefined) throw notFound('attempt');
    if (attempt.state !== 'open') throw new Refusal('conflict', 'This attempt has been handed in.');
    return (socket) => {
      const bench = floor.benchCame({ attemptId: id, classId, student, socket });
      return {
        hear: (text) => {
          const message = readMessage(benchSays, text);
          if ('value' in message) floor.benchSaid(bench, message.value);
        },
        left: () => floor.benchLeft(bench),
      };
    };
  },
});

/** An instructor walks about among the benches of a class. */
export const floorRoute = (database: Knex, floor: Floor): SocketRoute => ({
  path: new RegExp(`^/api/classes/(${ID})/floor$`, 'i'),
  admit: async (id, person) => {
    const instructor = requireInstructor(person);
    await requireOwnClass(database, id, instructor);
    return (socket) => {
      const observer = floor.observerCame({ classId: id, instructor, socket });
      return {
        hear: (text) => {
          const message = readMessage(floorSays, text);
          if ('problem' in message) socket.send(JSON.stringify({ kind: 'refused', why: message.problem }));
          else void floor.observerSaid(observer, message.value);
        },
        left: () => floor.observerLeft(observer),
      };
    };
  },
});
