import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Knex } from 'knex';
import pino from 'pino';
import { exercise } from '../../core/test/help.js';
import { openDatabase } from '../src/database/database.js';
import { ServiceError, type Score, type Services, type Untaken } from '../src/domain/doors/services.js';
import { MarkTelling } from '../src/domain/doors/tell-marks.js';
import { freshDatabase, people, startProcess } from './help.js';

let database: Knex;
let assignment: string;
let classId: string;

beforeAll(async () => {
  const databaseUrl = await freshDatabase();
  const server = await startProcess(databaseUrl);
  ({ classId } = await people(databaseUrl));
  await server.kill('SIGTERM');
  database = openDatabase(databaseUrl);
  const pump = exercise('brine-pump-three-wire');
  const setter = await database('people').where({ role: 'instructor' }).first<{ id: string }>('id');
  const [row] = await database('assignments')
    .insert({ class_id: classId, exercise_id: pump.id, document: JSON.stringify(pump), set_by: setter.id })
    .returning<{ id: string }[]>('id');
  assignment = row!.id;
});
afterAll(() => database.destroy());

/** A course of a platform with so many marks of students that are to be told there; the line item's address. */
async function course(name: string, marks: number): Promise<string> {
  const [platform] = await database('platforms')
    .insert({
      name,
      issuer: `https://${name}.example`,
      client_id: name,
      auth_url: '',
      token_url: '',
      keys_url: '',
    })
    .returning<{ id: string }[]>('id');
  const [link] = await database('course_links')
    .insert({ platform_id: platform!.id, deployment_id: '1', context_id: '1', class_id: classId })
    .returning<{ id: string }[]>('id');
  const url = `https://${name}.example/items/1`;
  const [item] = await database('line_items')
    .insert({ course_id: link!.id, assignment_id: assignment, url })
    .returning<{ id: string }[]>('id');
  for (let k = 0; k < marks; k += 1) {
    const login = `${name}-${k}`;
    const [person] = await database('people')
      .insert({ login, name: login, role: 'student', password: '' })
      .returning<{ id: string }[]>('id');
    await database('person_links').insert({
      issuer: `https://${name}.example`,
      subject: login,
      person_id: person!.id,
    });
    await database('told_marks').insert({
      place: item!.id,
      assignment_id: assignment,
      student_id: person!.id,
      mark: JSON.stringify({ recorded: k, max: 10, passed: false }),
    });
  }
  return item!.id;
}

/** Services that take what they are told, or do not, and remember it. */
function services(why: (subject: string) => Untaken | null) {
  const asked: string[] = [];
  const tellScore = async (_platform: unknown, _url: string, { subject }: Score): Promise<void> => {
    asked.push(subject);
    const untaken = why(subject);
    if (untaken) throw new ServiceError(`${subject} was not taken`, untaken);
    return Promise.resolve();
  };
  return { asked, telling: { tellScore } as unknown as Services };
}

const telling = (of: Services) => new MarkTelling(database, of, null, pino({ level: 'silent' }));

/** Marks of a place that are not told, and in how many seconds each is tried again. */
const untold = (place: string) =>
  database('told_marks')
    .where({ place })
    .whereNull('told_at')
    .orderBy('mark')
    .select<{ problem: string; seconds: number }[]>(
      'problem',
      database.raw('round(extract(epoch from next_at - now()))::int as seconds'),
    );

test('a platform that does not answer is asked once in a turn, and holds up no other', async () => {
  const dead = await course('dead', 4);
  const alive = await course('alive', 3);
  const { asked, telling: own } = services((subject) => (subject.startsWith('dead') ? 'silent' : null));
  expect(await telling(own).turn()).toBe(3);
  expect(asked.filter((subject) => subject.startsWith('dead'))).toHaveLength(1);
  expect(await untold(alive)).toEqual([]);
  const put = await untold(dead);
  expect(put).toHaveLength(4);
  for (const { problem, seconds } of put) {
    expect(problem).toMatch(/^dead-\d was not taken$/);
    expect(seconds).toBeLessThanOrEqual(2);
  }
  // It answers again.
  await database('told_marks').where({ place: dead }).update({ next_at: database.fn.now() });
  expect(await telling(services(() => null).telling).turn()).toBe(4);
  expect(await untold(dead)).toEqual([]);
});

test('what is refused is tried again, less and less often up to a day; others of the place are told', async () => {
  const place = await course('strict', 3);
  const { telling: own } = services((subject) => (subject === 'strict-1' ? 'refused' : null));
  const marks = telling(own);
  expect(await marks.turn()).toBe(2);
  const pauses: number[] = [];
  for (let k = 0; k < 14; k += 1) {
    const [row] = await untold(place);
    pauses.push(row!.seconds);
    await database('told_marks').where({ place }).update({ next_at: database.fn.now() });
    expect(await marks.turn()).toBe(0);
  }
  const near = (seconds: number) => expect.closeTo(seconds, -1.3);
  expect(pauses.slice(0, 4)).toEqual([60, 120, 240, 480].map(near));
  expect(pauses.at(-1)).toEqual(near(86_400));
});
