import { expect, test } from '@jest/globals';
import { candidateBench, compare, grade, prove, run } from '@contactum/core';
import { readCases } from './help.js';

/** Conformance cases of the format: what they want is what each command finds. */
for (const one of readCases().filter(({ command }) => command !== 'drawing')) {
  test(`case ${one.name}`, () => {
    const { want } = one;
    switch (one.command) {
      case 'run': {
        const result = run(one.bench, one.script?.steps ?? []);
        expect(result.ok).toBe(want.ok);
        break;
      }
      case 'prove': {
        const proof = prove(one.bench);
        expect(proof.complete).toBe(true);
        const found = Object.fromEntries(proof.properties.map(({ id, holds }) => [id, holds]));
        expect(found).toMatchObject(want.properties as object);
        break;
      }
      case 'compare': {
        if (!one.reference) throw new Error('no reference');
        const result = compare(one.reference, one.bench, one.observe ? { observe: one.observe } : {});
        expect(result).toMatchObject({ complete: true, equivalent: want.equivalent });
        break;
      }
      case 'grade': {
        if (!one.exercise) throw new Error('no exercise');
        const fitted = candidateBench(one.exercise, one.bench);
        if ('problems' in fitted) throw new Error(JSON.stringify(fitted.problems));
        const report = grade(one.exercise, fitted.bench);
        if ('passed' in want) expect(report.passed).toBe(want.passed);
        expect(report.score === report.max).toBe(want.full);
        if ('equivalent' in want) expect(report.equivalence.equivalent).toBe(want.equivalent);
        const lost = new Set(
          report.criteria.filter(({ points, max }) => points < max).map(({ part }) => part),
        );
        if ('loses' in want) expect([...lost]).toEqual(want.loses);
        break;
      }
      default:
        throw new Error(`unknown command ${one.command}`);
    }
  });
}
