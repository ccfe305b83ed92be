import { shippedExercises } from '@contactum/core/exercises';
import { classAtWork } from './demo/at-work.js';
import { CLASSES, INSTRUCTOR, PASSWORD, READERS } from './demo/people.js';
import { seeded } from './demo/wirings.js';

/** The class of the demonstration that is at work, in a process of its own: `BASE` says where the service is. */
const { BASE = '', PACE = '1' } = process.env;
const ended = new AbortController();
for (const signal of ['SIGTERM', 'SIGINT', 'SIGHUP'] as const) process.on(signal, () => ended.abort());
// It ends with the start that began it.
process.on('disconnect', () => ended.abort());

const logins = (CLASSES.at(-1)?.students ?? []).map(([login]) => login as string);
await classAtWork(
  logins.filter((login) => !READERS.has(login) && login !== INSTRUCTOR.login),
  {
    base: BASE,
    password: PASSWORD,
    exercises: shippedExercises(),
    pace: Number(PACE),
    random: seeded(Date.now() % 2 ** 31),
  },
  ended.signal,
  (problem) => process.stderr.write(`The class at work: ${problem}\n`),
);
