import { kindOf, programOf, usTag, withProgram } from '../catalogue/index.js';
import type { Program } from '../program/index.js';
import type { Exercise } from '../marking/index.js';
import { renameDevice } from '../setting/index.js';

/**
 * An exercise with the designations of US practice, number before letters (`1M`, `2CR`, `1OL`), in what
 * people read too.
 */
export function withUsTags(exercise: Exercise): Exercise {
  const counts = new Map<string, number>();
  const names = exercise.bench.devices.map(({ tag, type }): readonly [string, string] => {
    const letters = kindOf({ type }).letters.us;
    const n = (counts.get(letters) ?? 0) + 1;
    counts.set(letters, n);
    return [tag, usTag(letters, n)];
  });
  const renamed = names.reduce((before, [from, to]) => renameDevice(before, from, to), exercise);
  const byName = new Map(names);
  const said = (text: string): string =>
    text.replace(/\b[A-Z]{1,3}\d+\b/g, (word) => byName.get(word) ?? word);
  return {
    ...renamed,
    title: said(renamed.title),
    brief: said(renamed.brief),
    behaviours: renamed.behaviours.map((one) => ({ ...one, title: said(one.title) })),
    faults: renamed.faults.map((one) => ({ ...one, title: said(one.title) })),
    bench: {
      ...renamed.bench,
      title: said(renamed.bench.title),
      devices: renamed.bench.devices.map((device) => {
        const program = programOf(device);
        return program ? withProgram(device, commented(program, said)) : device;
      }),
    },
    ...(renamed.program
      ? {
          program: Object.fromEntries(
            Object.entries(renamed.program).map(([tag, one]) => [tag, commented(one, said)]),
          ),
        }
      : {}),
    ...(renamed.survive
      ? { survive: renamed.survive.map((one) => ({ ...one, title: said(one.title) })) }
      : {}),
  };
}

/** A program with the designations in its comments, which people read beside the board. */
const commented = (program: Program, said: (text: string) => string): Program => ({
  ...program,
  variables: program.variables.map((one) =>
    one.comment === undefined ? one : { ...one, comment: said(one.comment) },
  ),
  rungs: program.rungs.map((one) =>
    one.comment === undefined ? one : { ...one, comment: said(one.comment) },
  ),
});
