import { isController, programOf, withProgram } from '../catalogue/index.js';
import { referenceBench, writesProgram, type Exercise, type Task } from '../marking/index.js';
import type { Program } from '../program/index.js';
import { without } from '../without.js';

/** A program that says nothing yet. */
const empty = (title: string): Program => ({ contactum: 'program/1', title, variables: [], rungs: [] });

/**
 * The same board and right solution as another task: what is fitted and what is asked change places. Where a
 * program is to be written the right one is kept aside; where only the program is, all leads are fitted.
 */
export function withTask(exercise: Exercise, task: Exclude<Task, 'find'>): Exercise {
  const right = referenceBench(exercise);
  const rest = without(exercise, 'program', 'task');
  const writes = writesProgram({ task });
  const devices = right.devices.map((device) => (writes ? withProgram(device, null) : device));
  const fitted = exercise.task === 'program' ? [] : exercise.bench.wires;
  const programs = right.devices.flatMap((device) =>
    isController(device) ? [[device.tag, programOf(device) ?? empty(exercise.title)] as const] : [],
  );
  return {
    ...rest,
    ...(task === 'wire' ? {} : { task }),
    ...(writes ? { program: Object.fromEntries(programs) } : {}),
    bench: { ...exercise.bench, devices, wires: task === 'program' ? right.wires : fitted },
    reference: task === 'program' ? [] : right.wires.filter((wire) => !fitted.includes(wire)),
  };
}

/** The program of a controller as an exercise has it, wherever it is kept; null where there is none. */
export const programIn = (exercise: Exercise, tag: string): Program | null =>
  programOf(referenceBench(exercise).devices.find((one) => one.tag === tag));

/** The exercise with another right program of a controller. */
export function withProgramOf(exercise: Exercise, tag: string, program: Program): Exercise {
  if (writesProgram(exercise)) return { ...exercise, program: { ...exercise.program, [tag]: program } };
  const devices = exercise.bench.devices.map((device) =>
    device.tag === tag ? withProgram(device, program) : device,
  );
  return { ...exercise, bench: { ...exercise.bench, devices } };
}
