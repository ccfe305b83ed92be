import { describe, expect, test } from '@jest/globals';
import {
  compile,
  explain,
  explained,
  faultStory,
  grade,
  isExpectation,
  possibleFaults,
  referenceBench,
  referenceCircuitOf,
  run,
  Simulation,
  terminalsOf,
  writeFault,
} from '@contactum/core';
import { exercise, longList, solverOf } from './help.js';

const BOARDS = [
  'brine-pump-three-wire',
  'salt-harrow-electrical-interlock',
  'blower-star-delta-main-from-start',
];

describe('what a fault changes, and where it is', () => {
  for (const id of BOARDS) {
    const asked = exercise(id);
    const board = referenceCircuitOf(asked);
    const refs = new Set<string>(terminalsOf(board.bench));
    const faults = possibleFaults(compile(board.bench)).filter((_, k) => k % 7 === 0);

    test(`${id}: each change is seen again by a run with the fault put in first`, () => {
      for (const fault of longList(faults)) {
        const { at, changed } = faultStory(board, fault);
        // Every fault of a wired board has a place on it, but for what no terminal names.
        if (fault.kind !== 'interlock-missing')
          expect({ fault, at: at.length > 0 }).toEqual({ fault, at: true });
        expect(at.filter((ref) => !refs.has(ref))).toEqual([]);
        for (const { id: behaviour, steps, found } of changed) {
          const first = asked.behaviours
            .find((one) => one.id === behaviour)!
            .steps.filter(isExpectation)
            .find(
              ({ expect: values }) =>
                !run(board.bench, [{ inject: writeFault(fault) }, ...steps, { expect: values }]).ok,
            );
          expect({ fault, behaviour, found, shown: first !== undefined }).toEqual({
            fault,
            behaviour,
            found,
            shown: true,
          });
        }
      }
    });
  }

  test('every function that the effects of a fault name is told of, and no other', () => {
    const board = referenceCircuitOf(exercise('brine-pump-three-wire'));
    const story = faultStory(board, { kind: 'contact-stuck-open', place: 'KM1:13-14' });
    expect(story.at).toEqual(['KM1:13', 'KM1:14']);
    expect(story.changed.map(({ why }) => why[0])).toContain(
      'KM1 does not pull in: S2 13-14 is open, because S2 is not pressed.',
    );
  });
});

describe('why a lost behaviour was lost', () => {
  test('a wiring without its seal is told that its Start button is open', () => {
    const asked = exercise('brine-pump-three-wire');
    const reference = referenceBench(asked);
    const wires = reference.wires.filter(({ from, to }) => ![from, to].includes('KM1:14' as never));
    const { criteria } = grade(asked, { ...reference, wires });
    const lost = criteria.filter(({ part, evidence }) => part === 'behaviour' && evidence?.steps);
    expect(lost.length).toBeGreaterThan(0);
    for (const { evidence } of lost)
      expect(evidence?.why).toContain('KM1 does not pull in: S2 13-14 is open, because S2 is not pressed.');
  });

  test('each sentence of a slip is what the board says after its steps', () => {
    const asked = exercise('salt-harrow-electrical-interlock');
    const reference = referenceBench(asked);
    for (let k = 0; k < reference.wires.length; k += 3) {
      const wires = reference.wires.filter((_, n) => n !== k);
      const { criteria } = grade(asked, { ...reference, wires }, { faults: false });
      for (const { evidence } of criteria) {
        if (!evidence?.why || !evidence.steps) continue;
        const simulation = new Simulation(solverOf({ ...reference, wires }));
        for (const step of evidence.steps) if (!isExpectation(step)) simulation.work(step);
        const { solver, state } = simulation;
        const all = explained(solver.circuit).map((tag) => explain(solver, state, tag).sentence);
        for (const sentence of evidence.why) expect(all).toContain(sentence);
      }
    }
  });
});
