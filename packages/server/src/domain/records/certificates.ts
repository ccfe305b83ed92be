import { createHmac, timingSafeEqual } from 'node:crypto';
import type { Knex } from 'knex';
import type { CheckedCertificate } from '@contactum/contract';
import { AttemptModel } from '../../database/models.js';
import { notFound } from '../../runtime/refusal.js';
import { resultOf } from '../attempts/attempts.js';

/**
 * A line of a certificate has the number of its evidence pack and a code: whoever holds the certificate can
 * ask whether the college's record still says so. The code is made of what the line says with the college's
 * key, so nobody can make one up, and a mark that was changed since has another.
 */

/** Digits and letters that are not taken for one another (D. Crockford's base 32). */
const LETTERS = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
const LENGTH = 12;

/** What a line says, as it is signed. */
interface Line {
  readonly number: string;
  readonly recorded: number;
  readonly max: number;
}

function codeWith(privateKey: string, { number, recorded, max }: Line): string {
  const bytes = createHmac('sha256', privateKey).update(`${number} ${recorded} ${max}`).digest();
  const letters = Array.from({ length: LENGTH }, (_, k) => LETTERS[(bytes[k] ?? 0) % LETTERS.length]).join(
    '',
  );
  return letters.replace(/(.{4})(?=.)/g, '$1-');
}

const privateKeys = (database: Knex) =>
  database('signing_keys')
    .orderBy('made_at', 'desc')
    .select<{ privateKey: string; retiredAt: Date | null }[]>('private_key', 'retired_at');

/** Makes the codes of lines; null while the college has no key. */
export async function coder(database: Knex): Promise<(line: Line) => string | null> {
  const key = (await privateKeys(database)).find(({ retiredAt }) => retiredAt === null);
  return (line) => (key ? codeWith(key.privateKey, line) : null);
}

const isSame = (one: string, other: string): boolean =>
  one.length === other.length && timingSafeEqual(Buffer.from(one), Buffer.from(other));

/** What the record says of a number, for whoever knows its code; otherwise there is no such certificate. */
export async function checkedCertificate(
  database: Knex,
  number: string,
  code: string,
): Promise<CheckedCertificate> {
  const attempt = await AttemptModel.query(database)
    .findById(number)
    .where({ state: 'marked', confirmed: true })
    .withGraphFetched('[assignment.class, student, marking, changes]');
  const result = attempt ? resultOf(attempt) : null;
  if (!attempt?.assignment || !result) throw notFound('certificate');
  const line = { number, recorded: result.recorded, max: result.max };
  const given = code.toUpperCase();
  const known = (await privateKeys(database)).some(({ privateKey }) =>
    isSame(codeWith(privateKey, line), given),
  );
  if (!known) throw notFound('certificate');
  return {
    student: attempt.student?.name ?? '',
    className: attempt.assignment.class?.name ?? '',
    exercise: attempt.assignment.document.title,
    recorded: result.recorded,
    max: result.max,
    passed: result.passed,
    handedInAt: attempt.handedInAt?.toISOString() ?? null,
  };
}
