import session from 'express-session';
import type pg from 'pg';
import type { Person } from '@contactum/contract';
import { Batcher } from '../runtime/batcher.js';

const DAY = 24 * 3600 * 1000;

/**
 * Sessions in the database, read together with their person as that is now: one statement a request. A
 * removed person has no session (the row goes with the person), and neither has one whose password was
 * changed (a trigger ends them).
 */
export class SessionStore extends session.Store {
  constructor(private readonly pool: pg.Pool) {
    super();
  }

  /** The person of a session now; null where there is no such session, or nobody in it. */
  readonly person = (() => {
    const batcher = new Batcher<string, Person | null>(
      async (sids) => {
        const { rows } = await this.pool.query<Person & { sid: string }>({
          name: 'session-people',
          text: 'select s.sid, p.id, p.login, p.name, p.role, p.must_set_password as "mustSetPassword" from sessions s join people p on p.id = s.person_id where s.sid = any($1::text[]) and s.expire > now()',
          values: [sids],
        });
        const found = new Map(rows.map(({ sid, ...person }) => [sid, person]));
        return sids.map((sid) => found.get(sid) ?? null);
      },
      (sid) => sid,
    );
    return (sid: string) => batcher.ask(sid);
  })();

  override get(sid: string, done: (error: unknown, data?: session.SessionData | null) => void): void {
    this.pool
      .query<{ sess: session.SessionData; person: Person | null }>({
        name: 'session',
        text: `select s.sess, case when p.id is null then null else json_build_object('id', p.id, 'login', p.login, 'name', p.name, 'role', p.role, 'mustSetPassword', p.must_set_password) end as person
          from sessions s left join people p on p.id = s.person_id where s.sid = $1 and s.expire > now()`,
        values: [sid],
      })
      .then(({ rows: [row] }) => done(null, row ? withPerson(row.sess, row.person) : null))
      .catch((error: unknown) => done(error));
  }

  override set(
    sid: string,
    data: session.SessionData,
    done: (error?: unknown) => void = () => undefined,
  ): void {
    const { person, ...sess } = data;
    this.pool
      .query({
        name: 'session-set',
        text: `insert into sessions (sid, person_id, sess, expire) values ($1, $2, $3, $4)
          on conflict (sid) do update set person_id = excluded.person_id, sess = excluded.sess, expire = excluded.expire`,
        values: [
          sid,
          person?.id ?? null,
          JSON.stringify(sess),
          new Date(Date.now() + (sess.cookie.originalMaxAge ?? DAY)),
        ],
      })
      .then(() => done())
      .catch((error: unknown) => done(error));
  }

  override destroy(sid: string, done: (error?: unknown) => void = () => undefined): void {
    this.pool
      .query({ name: 'session-destroy', text: 'delete from sessions where sid = $1', values: [sid] })
      .then(() => done())
      .catch((error: unknown) => done(error));
  }

  /** A session lasts its days from signing in; being used does not write to it. */
  override touch(_sid: string, _data: session.SessionData, done: () => void = () => undefined): void {
    done();
  }

  /** Forgets what has run out. */
  async prune(): Promise<void> {
    await this.pool.query('delete from sessions where expire < now()');
  }
}

function withPerson(sess: session.SessionData, person: Person | null): session.SessionData {
  return person ? { ...sess, person } : sess;
}
