import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { SKILL_IDS, knownAfter } from '@contactum/core';
import { exercise } from '../../core/test/help.js';
import { College, marked, wire } from './help.js';

const pump = exercise('brine-pump-three-wire');
let college: College;

beforeAll(async () => {
  college = await College.started();
});
afterAll(() => college.server.kill('SIGTERM'));

const skills = async () => (await college.ann.ask('GET', '/skills')).body;
const standing = async (skill: string) =>
  (await skills()).standings.find((one: { skill: string }) => one.skill === skill);

test('marks show skills in their order; what is held back shows nothing; the class sees a map', async () => {
  const fresh = await skills();
  expect(fresh.standings.map((one: { skill: string }) => one.skill)).toEqual(SKILL_IDS);
  expect(fresh.standings.every((one: { known: number | null }) => one.known === null)).toBe(true);
  expect(fresh.next).toHaveLength(4);

  const setting = await college.set(pump.id);
  // The seal-in is missing, then all is right.
  const first = await college.open(setting);
  const withoutSeal = pump.reference.filter(({ from, to }) => !`${from} ${to}`.includes('KM1:14'));
  await wire(college.ann, first, withoutSeal);
  await college.ann.ask('POST', `/attempts/${first}/hand-in`, {});
  await marked(college.ann, first);
  expect((await standing('holding')).known).toBeCloseTo(knownAfter([false]), 10);
  const second = await college.open(setting);
  await wire(college.ann, second, pump.reference);
  await college.ann.ask('POST', `/attempts/${second}/hand-in`, {});
  await marked(college.ann, second);
  const holding = await standing('holding');
  expect(holding.known).toBeCloseTo(knownAfter([false, true]), 10);
  expect(holding.evidence.map(({ attemptId }: { attemptId: string }) => attemptId)).toEqual([second, first]);
  // What is passed is no longer what to practise next.
  expect((await skills()).next.map(({ exerciseId }: { exerciseId: string }) => exerciseId)).not.toContain(
    pump.id,
  );

  // An assessment's marks are held: they show nothing before they are out, and its board is not suggested.
  const held = await college.set('sluice-gate-jog-relay', { mode: 'assessment' });
  const third = await college.open(held);
  await college.ann.ask('POST', `/attempts/${third}/hand-in`, {});
  await marked(college.first, third);
  expect((await standing('momentary')).known).toBeNull();
  expect((await skills()).next.map(({ exerciseId }: { exerciseId: string }) => exerciseId)).not.toContain(
    'sluice-gate-jog-relay',
  );

  const map = (await college.first.ask('GET', `/classes/${college.classId}/skills`)).body;
  expect(map.students.map(({ name }: { name: string }) => name)).toEqual(['Person ann', 'Person ben']);
  expect(map.students[0].known[SKILL_IDS.indexOf('holding')]).toBeCloseTo(holding.known, 10);
  expect(map.students[1].known.every((known: number | null) => known === null)).toBe(true);
});
