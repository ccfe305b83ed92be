import { describe, expect, test } from '@jest/globals';
import {
  FollowedBench,
  editsTo,
  isExpectation,
  openingBoard,
  readFault,
  referenceBench,
  type Behaviour,
  type Exercise,
  type Stimulus,
  type WorkEntry,
} from '@contactum/core';
import { exercise, exercises } from './help.js';

interface Logged {
  readonly t: number;
  readonly entry: WorkEntry;
}

const wired = (one: Exercise): Logged[] =>
  editsTo(openingBoard(one), one.reference).map((edit, k) => ({ t: k / 10, entry: { kind: 'edit', edit } }));

/** The programs that are written, where they are not in the controllers already. */
const programmed = (one: Exercise): Logged[] =>
  Object.entries(one.program ?? {}).map(([device, to]) => ({
    t: one.reference.length / 10,
    entry: { kind: 'edit', edit: { do: 'program', device, from: null, to } },
  }));

/** A board wired as its reference, switched on, and worked as a function asks, with a hand's pauses. */
function logOf(
  one: Exercise,
  { steps }: Behaviour,
): { readonly log: readonly Logged[]; readonly end: number } {
  const log = [...wired(one), ...programmed(one)];
  let t = log.length / 10 + 1;
  const add = (entry: WorkEntry, pause: number): void => {
    log.push({ t, entry });
    t += pause;
  };
  add({ kind: 'supply', on: true }, 0.6);
  for (const step of steps) {
    if (isExpectation(step)) continue;
    if ('wait' in step) t += step.wait + 0.1;
    else if ('elapse' in step) t += 11;
    else add({ kind: 'act', stimulus: step as Stimulus }, 0.5);
  }
  return { log, end: t };
}

const follow = (one: Exercise, behaviours: readonly Behaviour[]): FollowedBench =>
  new FollowedBench({ opening: openingBoard(one), behaviours, testsDead: true });

describe('a bench that is followed by its log', () => {
  const shipped = exercises().filter(
    ({ id }) => id !== 'sluice-gate-jog-button' && id !== 'salt-harrow-no-interlock',
  );
  test.each(shipped.map((one) => [one.id, one] as const))(
    'each function of %s is shown by its log, however often it is looked at meanwhile',
    (_, one) => {
      for (const [k, behaviour] of one.behaviours.entries()) {
        const { log, end } = logOf(one, behaviour);
        const [once, often] = [follow(one, [behaviour]), follow(one, [behaviour])];
        let last = 0;
        for (const { t, entry } of log) {
          // At moments that have nothing to do with what is done.
          for (let at = last + 0.13 * (k + 1); at < t; at += 0.31) often.advanceTo(at);
          often.take(t, entry);
          once.take(t, entry);
          last = t;
        }
        for (const bench of [once, often]) bench.advanceTo(end + 3);
        const { standing } = once;
        expect(standing).toMatchObject({
          shown: 1,
          functions: 1,
          step: 'hand-in',
          leads: referenceBench(one).wires.length,
        });
        expect(often.standing).toEqual(standing);
      }
    },
  );

  test('it stands at the step that its log shows, and an edit makes everything unproved', () => {
    const one = exercise('brine-pump-three-wire');
    const bench = follow(one, one.behaviours);
    expect(bench.standing).toMatchObject({ step: 'wire', leads: one.bench.wires.length, supplyOn: false });
    for (const { t, entry } of wired(one)) bench.take(t, entry);
    bench.take(10, { kind: 'reading', from: 'G1:L1', to: 'G1:L2' });
    expect(bench.standing.step).toBe('dead-test');
    bench.take(11, { kind: 'supply', on: true });
    expect(bench.standing).toMatchObject({ step: 'energise', supplyOn: true, shown: 0 });
    bench.take(12, { kind: 'act', stimulus: { press: 'S2' } });
    bench.take(13, { kind: 'act', stimulus: { release: 'S2' } });
    bench.advanceTo(16);
    expect(bench.standing).toMatchObject({ step: 'prove', incidents: 0 });
    expect(bench.standing.running).toContain('M1 forward');
    expect(bench.standing.running).toContain('KM1 in');
    bench.take(17, { kind: 'supply', on: false });
    bench.take(18, { kind: 'edit', edit: { do: 'cut', lead: 'w1', wire: one.reference[0]! } });
    expect(bench.standing).toMatchObject({ shown: 0, running: '' });
  });

  test('what it suffers is told, a fault that is put in shows, and an edit that does not fit is refused', () => {
    const one = exercise('brine-pump-three-wire');
    const bench = follow(one, one.behaviours);
    for (const [k, [from, to]] of (
      [
        ['G1:L1', 'Q1:1'],
        ['G1:L2', 'Q1:1'],
      ] as const
    ).entries())
      bench.take(k, { kind: 'edit', edit: { do: 'connect', lead: `w${k + 1}`, wire: { from, to } } });
    bench.take(3, { kind: 'supply', on: true });
    bench.advanceTo(4);
    const { incidents, lastIncident } = bench.standing;
    expect(incidents).toBeGreaterThan(0);
    expect(lastIncident).toMatch(/^[A-Z].*\.$/);
    expect(() =>
      bench.take(5, { kind: 'edit', edit: { do: 'cut', lead: 'w99', wire: one.reference[0]! } }),
    ).toThrow();
    const sound = follow(one, one.behaviours);
    for (const { t, entry } of wired(one)) sound.take(t, entry);
    sound.setFaults([readFault({ 'coil-open': 'KM1' })]);
    sound.take(20, { kind: 'supply', on: true });
    sound.take(21, { kind: 'act', stimulus: { press: 'S2' } });
    sound.advanceTo(22);
    expect(sound.standing.running).not.toContain('KM1 in');
    sound.setFaults([]);
    expect(sound.standing.supplyOn).toBe(true);
  });
});
