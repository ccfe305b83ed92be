import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  actOn,
  arrive,
  choicesOf,
  compile,
  isHeldByCoil,
  isMoving,
  keptState,
  react,
  stateName,
  type Circuit,
  type Mechanism,
  type Stimulus,
} from '@contactum/core';
import { bench } from './help.js';

/**
 * How people say that these things work (common practice, no source). After the device each step says what
 * is done and what it is then: a verb, `on` and `off` for its coil, `end` for the end of its way.
 */
const STORIES = [
  'S1: press released, end pressed, press pressed, release pressed, end released, release released',
  'S1: press released, end pressed, release pressed, press released',
  'S0: press released, end pressed, release pressed, end released',
  'S4: turn run ?, end run, turn run run, turn off ?, turn run ?, end run, turn nowhere run',
  'KM1: on out, on out, end in, on in, off in, end out, off out, end out, off out',
  'KM1: on out, off out, end out',
  'KM1: on out, end in, off in, on in',
  'F2: trip healthy, end tripped, trip tripped, reset tripped, end healthy, reset healthy',
  'Q1: open open, open open, close closed, trip tripped, close tripped, open tripped, reset closed',
  'F1: trip blown, close blown, reset closed',
  'G1: open open, open open, close closed, lose L2 closed, restore L2 closed, trip tripped, reset closed',
  'KT1: on timing, off idle, on timing, elapse timing, end done, off idle, end idle',
  'KT2: on timing, end done, off timing, on done, off timing, elapse idle, end idle',
  'KT3: on timing, elapse timing, end done, off idle, end idle',
];

const board: Circuit = compile(
  bench(
    [
      { tag: 'G1', type: 'supply-3n' },
      { tag: 'Q1', type: 'breaker' },
      { tag: 'F1', type: 'fuse' },
      { tag: 'S1', type: 'pushbutton' },
      { tag: 'S0', type: 'estop' },
      {
        tag: 'S4',
        type: 'selector',
        options: {
          positions: ['jog', 'off', 'run'],
          contacts: [{ terminals: '13-14', closedIn: ['run'] }],
        },
      },
      { tag: 'KM1', type: 'contactor', options: { coil: { voltage: 230, kind: 'ac' } } },
      { tag: 'F2', type: 'overload', options: { range: [4, 6] } },
      ...(['on-delay', 'off-delay'] as const).map((does, k) => ({
        tag: `KT${k + 1}`,
        type: 'timer',
        options: { function: does, coil: { voltage: 230, kind: 'ac' } },
      })),
      { tag: 'KT3', type: 'star-delta-timer', options: { coil: { voltage: 230, kind: 'ac' } } },
      { tag: 'H1', type: 'lamp' },
    ],
    '',
  ),
);

const mechanismOf = (tag: string): Mechanism => board.mechanisms[board.mechanismOf.get(tag)!]!;

/** Where one step of a story leads. */
function done(mechanism: Mechanism, state: number, act: string, detail: string): number {
  const { tag } = mechanism.device;
  if (act === 'on' || act === 'off') return react(mechanism, state, [act === 'on']);
  if (act === 'end') return isMoving(mechanism, state) ? arrive(mechanism, state) : state;
  if (act === 'elapse') {
    const choice = choicesOf(mechanism, tag).find((one) => 'elapse' in one.stimulus && one.when === state);
    if (!choice) throw new Error(`${tag} does not run`);
    return choice.to;
  }
  const all = board.initial.slice();
  all[mechanism.index] = state;
  actOn(board, all, { [act]: tag, to: detail, phase: detail } as unknown as Stimulus);
  return all[mechanism.index]!;
}

describe('mechanisms move as people say that they do', () => {
  for (const story of STORIES)
    test(story, () => {
      const [tag = '', steps = ''] = story.split(': ');
      const mechanism = mechanismOf(tag);
      let state = board.initial[mechanism.index]!;
      for (const [k, step] of steps.split(', ').entries()) {
        const words = step.split(' ');
        const [act = '', word = ''] = [words[0], words.at(-1)];
        state = done(mechanism, state, act, words.length > 2 ? (words[1] ?? '') : '');
        expect({ k, step, is: stateName(mechanism, state) ?? '?' }).toEqual({ k, step, is: word });
      }
    });
});

describe('whatever is done to it, in any order', () => {
  const acts = fc.array(
    fc.constantFrom('on', 'off', 'end', 'press', 'release', 'turn', 'trip', 'reset', 'open', 'close'),
    {
      maxLength: 25,
    },
  );
  for (const { device, index, kind } of board.mechanisms.filter(({ kind }) => kind !== 'winding'))
    test(`${device.tag}, ${kind}: it comes to rest, and its choices begin where they say`, () => {
      const mechanism = board.mechanisms[index]!;
      fc.assert(
        fc.property(acts, fc.constantFrom('jog', 'off', 'run'), (list, detail) => {
          let state = board.initial[index]!;
          for (const act of list) state = done(mechanism, state, act, detail);
          // A way has one end: two moves at the most, one where a set time has just run out.
          for (let k = 0; k < 3 && isMoving(mechanism, state); k += 1) state = arrive(mechanism, state);
          expect(isMoving(mechanism, state)).toBe(false);
          // At rest it has a word, and every contact of it is either made or not.
          expect(stateName(mechanism, state)).not.toBeNull();
          for (const contact of board.switches.filter((one) => one.mechanism === index))
            expect(typeof contact.closedIn[state]).toBe('boolean');
          // A choice that begins here leads away from here.
          for (const { when, to } of choicesOf(mechanism, device.tag))
            if (when === state) expect(to).not.toBe(state);
          // What is kept when the board is wired again is a state at rest.
          const kept = keptState(mechanism, state);
          if (kept !== null) expect(isMoving(mechanism, kept)).toBe(false);
          // What no coil holds stays when the coil is dead.
          if (!isHeldByCoil(mechanism, state, 0)) expect(react(mechanism, state, [false])).toBe(state);
        }),
        { numRuns: 500 },
      );
    });
});
