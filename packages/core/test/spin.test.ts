import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { prove, referenceBench, type Bench } from '@contactum/core';
import { FIXTURES, bench, exercise, rewire } from './help.js';

/**
 * Source: SPIN (Debian's package) on hand-written Promela models of the boards (fixtures/spin), run by
 * `node scripts/spin-values.mjs`, which writes values.json. A model and the engine share nothing but the trade's rules.
 */
const { boards } = JSON.parse(readFileSync(join(FIXTURES, 'spin', 'values.json'), 'utf8')) as {
  boards: Record<string, { states: number; violated: string[] }>;
};

const pump = referenceBench(exercise('brine-pump-three-wire'));
const harrow = referenceBench(exercise('salt-harrow-electrical-interlock'));
const blower = referenceBench(exercise('blower-star-delta-timer'));
const jog = bench(
  [
    { tag: 'G1', type: 'supply-1n', options: { voltage: 230 } },
    { tag: 'KM1', type: 'contactor', options: { coil: { voltage: 230, kind: 'ac' } } },
    { tag: 'S1', type: 'pushbutton', duty: 'stop', options: { contacts: ['NC 21-22'] } },
    { tag: 'S2', type: 'pushbutton', duty: 'start', options: { contacts: ['NO 13-14'] } },
    { tag: 'S3', type: 'pushbutton', duty: 'jog', options: { contacts: ['NO 13-14', 'NC 21-22'] } },
  ],
  'G1:L>S1:21 S1:22>S2:13 S2:14>KM1:A1 KM1:A2>G1:N S2:13>S3:21 S3:22>KM1:13 KM1:14>S2:14 S2:13>S3:13 S3:14>S2:14',
);

/**
 * Settled states that SPIN stores beside the board's: after a short circuit its process stops, in three
 * places.
 */
const WRECK = 3;

const pairs: [string, Bench, boolean][] = [
  ['seal-in', pump, false],
  ['jog-race', jog, false],
  ['controller-closed-loop', referenceBench(exercise('brine-pump-controller')), false],
  ['controller-open-loop', referenceBench(exercise('brine-pump-controller-open-loop')), false],
  [
    'reversing-no-interlock',
    rewire(harrow, 'S2:14>KM2:21 KM2:22>KM1:A1 S3:14>KM1:21 KM1:22>KM2:A1', 'S2:14>KM1:A1 S3:14>KM2:A1'),
    true,
  ],
  ['reversing-half-interlock', rewire(harrow, 'S3:14>KM1:21 KM1:22>KM2:A1', 'S3:14>KM2:A1'), true],
  ['reversing-full-interlock', harrow, false],
  ['star-delta-interlock', blower, false],
  // The lag of star is shorter than the travel of delta: without a fault no interlock is needed; what one
  // is worth a fault shows.
  [
    'star-delta-no-interlock',
    rewire(blower, 'KT1:18>KM3:21 KM3:22>KM2:A1 KT1:28>KM2:21 KM2:22>KM3:A1', 'KT1:18>KM2:A1 KT1:28>KM3:A1'),
    false,
  ],
];

test.each(pairs)('%s: the same verdicts as SPIN, and as many settled situations', (name, board, breaks) => {
  const theirs = boards[name] as { states: number; violated: string[] };
  // The models work the controls; breakers and fuses stay closed.
  const proof = prove(board, { hands: 'controls' });
  const broken = proof.properties.filter(({ holds }) => !holds).map(({ id }) => id as string);
  const claims = ['no-short', 'stop-drops', 'overload-drops', 'no-self-start'];
  expect(broken.filter((id) => claims.includes(id))).toEqual(
    theirs.violated.filter((id) => claims.includes(id)),
  );
  // Both ends of letting go of Jog are reachable: that is the race.
  expect(broken.includes('no-race')).toBe(
    theirs.violated.includes('ends-out') && theirs.violated.includes('ends-in'),
  );
  expect(proof.states).toBe(theirs.states - (breaks ? WRECK : 0));
});
