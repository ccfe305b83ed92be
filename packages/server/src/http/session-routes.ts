import { Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import type { Knex } from 'knex';
import { signInRequest, type Person } from '@contactum/contract';
import { PersonModel } from '../database/models.js';
import { verifyPassword } from '../security/passwords.js';
import { Refusal } from './errors.js';
import { bodyOf, personOf } from './request.js';

/** The name that a sign-in tries, as far as it has one. */
function loginIn(body: unknown): string {
  const login = typeof body === 'object' && body !== null && 'login' in body ? body.login : '';
  return typeof login === 'string' ? login.trim().toLowerCase() : '';
}

/** Signing in and out. */
export function sessionRoutes(database: Knex, failuresAMinute: number): Router {
  const router = Router();
  const limiter = rateLimit({
    windowMs: 60_000,
    limit: failuresAMinute,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    keyGenerator: (request) => `${request.socket.remoteAddress ?? ''} ${loginIn(request.body)}`,
    handler: () => {
      throw new Refusal('too-many', 'Too many wrong sign-ins. Wait a minute and try again.');
    },
  });

  router.get('/', (request, response) => {
    response.json(request.session.person ?? null);
  });

  router.post('/', limiter, async (request, response) => {
    const { login, password } = bodyOf(request, signInRequest);
    const row = await PersonModel.query(database).findOne({ login: login.trim().toLowerCase() });
    if (!(await verifyPassword(password, row?.password)) || !row) throw new Refusal('unauthenticated', 'The name or the password is wrong.');
    const person: Person = { id: row.id, login: row.login, name: row.name, role: row.role };
    await new Promise<void>((resolve, reject) => request.session.regenerate((error) => (error ? reject(error as Error) : resolve())));
    request.session.person = person;
    response.status(201).json(person);
  });

  router.delete('/', async (request, response) => {
    personOf(request);
    await new Promise<void>((resolve, reject) => request.session.destroy((error) => (error ? reject(error as Error) : resolve())));
    response.status(204).end();
  });

  return router;
}
