import { Router, type Request } from 'express';
import type { Knex } from 'knex';
import { passwordRequest, signInRequest, type Person } from '@contactum/contract';
import { PersonModel } from '../database/models.js';
import { hashPassword, verifyPassword } from '../security/passwords.js';
import { Throttle } from '../security/throttle.js';
import { Refusal } from '../domain/refusal.js';
import { bodyOf, personOf } from './request.js';

/** Signing in and out. */
export function sessionRoutes(database: Knex, failuresAMinute: number): Router {
  const router = Router();
  const throttle = new Throttle({ pair: failuresAMinute, whole: 20 * failuresAMinute });

  router.get('/', (request, response) => {
    response.json(request.session.person ?? null);
  });

  router.post('/', async (request, response) => {
    const { login: given, password } = bodyOf(request, signInRequest);
    const login = given.trim().toLowerCase();
    const address = request.ip ?? '';
    if (!(await throttle.wait(address, login)))
      throw new Refusal('too-many', 'Too many sign-ins at once. Wait a moment and try again.');
    const row = await PersonModel.query(database).findOne({ login });
    if (!(await verifyPassword(password, row?.password)) || !row) {
      throttle.failed(address, login);
      throw new Refusal('unauthenticated', 'The name or the password is wrong.');
    }
    throttle.succeeded(address, login);
    const person: Person = { id: row.id, login: row.login, name: row.name, role: row.role };
    await beginSession(request, person);
    response.status(201).json(person);
  });

  /** One's own password; every session of it ends, and this one begins anew. */
  router.post('/password', async (request, response) => {
    const person = personOf(request);
    const { password, next } = bodyOf(request, passwordRequest);
    const row = await PersonModel.query(database).findById(person.id);
    if (!(await verifyPassword(password, row?.password)))
      throw new Refusal('invalid', 'password: is not your present password', {
        problems: [{ path: 'password', message: 'is not your present password' }],
      });
    await PersonModel.query(database)
      .findById(person.id)
      .patch({ password: await hashPassword(next) });
    await beginSession(request, person);
    response.json(person);
  });

  router.delete('/', async (request, response) => {
    personOf(request);
    await new Promise<void>((resolve, reject) =>
      request.session.destroy((error) => (error ? reject(error as Error) : resolve())),
    );
    response.status(204).end();
  });

  return router;
}

async function beginSession(request: Request, person: Person): Promise<void> {
  await new Promise<void>((resolve, reject) =>
    request.session.regenerate((error) => (error ? reject(error as Error) : resolve())),
  );
  request.session.person = person;
}
