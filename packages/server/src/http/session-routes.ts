import { createHmac } from 'node:crypto';
import { Router, type Request } from 'express';
import type { Knex } from 'knex';
import {
  emptyRequest,
  joinNewRequest,
  passwordRequest,
  signInRequest,
  signInTicket,
  type Door,
  type Person,
  type SignedOut,
} from '@contactum/contract';
import { PersonModel } from '../database/models.js';
import { note } from '../domain/people/audit.js';
import { joinClass, requireCode } from '../domain/classes/classes.js';
import { endSessions, exportPerson, personOfRow, refuseTaken } from '../domain/people/people.js';
import { Refusal, invalidAt } from '../runtime/refusal.js';
import { hashPassword, verifyPassword } from '../security/passwords.js';
import { knownDevice, rememberDevice } from './device-cookie.js';
import type { SignOn } from '../domain/doors/sign-on.js';
import type { SignInLine } from '../security/sign-in-line.js';
import type { Throttle } from '../security/throttle.js';
import { baseOf, bodyOf, knownOf, personOf } from './request.js';

interface Parts {
  readonly database: Knex;
  readonly throttle: Throttle;
  readonly line: SignInLine;
  /** Days for which somebody stays signed in who asks for it; 0 where nobody may. */
  readonly stayDays: number;
  /** What browsers that are known again are signed with, and whether their cookie travels by HTTPS alone. */
  readonly device: { readonly secret: string; readonly secure: boolean };
  /** Whether people sign in with passwords; an administrator always may. */
  readonly passwords: boolean;
  /** The college's own sign-on, where there is one. */
  readonly signOn: SignOn | null;
  readonly publicUrl: string | null;
}

const TOO_MANY = 'Too many sign-ins at once. Wait a moment and try again.';

/** Signing in and out, one's own password, sessions and data. */
export function sessionRoutes(parts: Parts): Router {
  const { database, throttle, line, stayDays, device, passwords, signOn } = parts;
  const router = Router();

  router.get('/', (request, response) => {
    response.json(request.session.person ?? null);
  });

  router.get('/door', (_request, response) => {
    response.json({ stayDays, passwords, signOn: signOn?.config.name ?? null } satisfies Door);
  });

  /** Where a sign-in stands whose password waits to be looked at; null where it does not. */
  router.get('/line/:ticket', async (request, response) => {
    const ticket = signInTicket.safeParse(request.params.ticket);
    response.json(ticket.success ? await line.place(ticket.data) : null);
  });

  router.post('/', async (request, response) => {
    const { login: given, password, stay = false, ticket } = bodyOf(request, signInRequest);
    const login = given.trim().toLowerCase();
    const address = request.ip ?? '';
    const known = knownDevice(request, login, device.secret);
    // Guesses made elsewhere, or at other browsers of the same college, are nothing to one in which the
    // owner has signed in.
    const [from, name] = known === null ? [address, login] : [`device ${known}`, `${login} at ${known}`];
    const found = await throttle.attempt(from, name, async () => {
      const row = await PersonModel.query(database).findOne({ login });
      const right = await line.during(ticket, () => verifyPassword(password, row?.password));
      return { right: right && row !== undefined, value: right ? (row ?? 'wrong') : 'wrong' };
    });
    if (found === null) throw new Refusal('too-many', TOO_MANY);
    if (found === 'wrong') {
      await note(database, { actor: null, name: login.slice(0, 60), kind: 'sign-in refused', address });
      throw new Refusal('unauthenticated', 'The name or the password is wrong.');
    }
    const row = found as PersonModel;
    if (!passwords && row.role !== 'administrator')
      throw new Refusal('forbidden', 'Sign in with the college’s sign-on: passwords are switched off.');
    rememberDevice(response, login, device);
    const person: Person = { ...personOfRow(row), mustSetPassword: row.mustSetPassword };
    // Who can change what everybody has signs in anew.
    const stays = stay && stayDays > 0 && person.role !== 'administrator';
    await beginSession(request, person, stays ? stayDays * DAY_MS : undefined);
    await note(database, { actor: person, kind: 'signed in', address });
    response.status(201).json(person);
  });

  /** Somebody who has the code of a class and no account: both at once. */
  router.post('/join', async (request, response) => {
    const { code, name, login, password } = bodyOf(request, joinNewRequest);
    if (!passwords) throw new Refusal('forbidden', 'Sign in with the college’s sign-on, and join then.');
    const address = request.ip ?? '';
    await requireCode(database, throttle, code, address);
    await refuseTaken(database, login);
    const hashed = await hashPassword(password);
    const person = await database.transaction(async (trx) => {
      const row = await PersonModel.query(trx)
        .insert({ name, login, role: 'student', password: hashed })
        .returning('*');
      await joinClass(trx, code, personOfRow(row));
      return personOfRow(row);
    });
    await beginSession(request, person);
    response.status(201).json(person);
  });

  own(router, parts);
  return router;
}

function own(router: Router, { database, device: { secret }, signOn, publicUrl }: Parts): void {
  /** One's own password; every session of it ends, and this one begins anew. */
  router.post('/password', async (request, response) => {
    const person = knownOf(request);
    const { password, next } = bodyOf(request, passwordRequest);
    const row = await PersonModel.query(database).findById(person.id);
    if (!(await verifyPassword(password, row?.password)))
      throw invalidAt('password', 'is not your present password');
    if (password === next) throw invalidAt('next', 'must be another password than the present one');
    await PersonModel.query(database)
      .findById(person.id)
      .patch({ password: await hashPassword(next), mustSetPassword: false });
    const now: Person = { ...person, mustSetPassword: false };
    await beginSession(request, now, lastsOf(request));
    await note(database, { actor: now, kind: 'set a password', address: request.ip });
    response.json(now);
  });

  /** Everywhere else too. */
  router.post('/end-others', async (request, response) => {
    const person = personOf(request);
    bodyOf(request, emptyRequest);
    const lasts = lastsOf(request);
    await endSessions(database, person.id, person);
    await beginSession(request, person, lasts);
    response.json(person);
  });

  /**
   * What a person keeps in a browser is sealed with this; it is theirs alone, and the same wherever they
   * sign in.
   */
  router.get('/key', (request, response) => {
    const { id } = personOf(request);
    const key = createHmac('sha256', `kept ${secret}`).update(id).digest('base64');
    response.json({ key });
  });

  router.get('/export', async (request, response) => {
    const person = personOf(request);
    response.attachment('my-data.json').json(await exportPerson(database, person.id, person));
  });

  router.delete('/', async (request, response) => {
    const person = knownOf(request);
    const { signedOn } = request.session;
    await new Promise<void>((resolve, reject) =>
      request.session.destroy((error) => (error ? reject(error as Error) : resolve())),
    );
    await note(database, { actor: person, kind: 'signed out', address: request.ip });
    // Whoever came by the college's sign-on is signed out there too; one that does not answer keeps nobody in.
    const to =
      signedOn && signOn ? await signOn.outTo(signedOn, baseOf(request, publicUrl)).catch(() => null) : null;
    if (to === null) response.status(204).end();
    else response.json({ to } satisfies SignedOut);
  });
}

const DAY_MS = 24 * 3600 * 1000;

/** How long the session of a request was begun for, milliseconds: one that takes its place lasts as long. */
const lastsOf = ({ session }: Request): number | undefined => session.cookie.originalMaxAge ?? undefined;

/** Begins a session; with milliseconds of its own where it shall last longer than others. */
export async function beginSession(request: Request, person: Person, lasts?: number): Promise<void> {
  await new Promise<void>((resolve, reject) =>
    request.session.regenerate((error) => (error ? reject(error as Error) : resolve())),
  );
  request.session.person = person;
  if (lasts !== undefined) request.session.cookie.maxAge = lasts;
}
