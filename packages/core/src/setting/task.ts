import type { Device } from '../catalogue/index.js';
import { referenceBench, writesProgram, type Exercise, type Task } from '../marking/index.js';
import type { Program } from '../program/index.js';
import { without } from '../without.js';

/** A program that says nothing yet. */
const empty = (title: string): Program => ({ contactum: 'program/1', title, variables: [], rungs: [] });

/** A device with a program in it, or without. */
function programmed(device: Device, program: Program | undefined): Device {
  if (device.type !== 'plc') return device;
  const others = without(device.settings, 'program');
  return { ...device, settings: program ? { ...others, program } : others };
}

/**
 * The same board and right solution as another task: what is fitted and what is asked change places. Where a
 * program is to be written the right one is kept aside; where only the program is, all leads are fitted.
 */
export function withTask(exercise: Exercise, task: Exclude<Task, 'find'>): Exercise {
  const right = referenceBench(exercise);
  const rest = without(exercise, 'program', 'task');
  const writes = writesProgram({ task });
  const devices = right.devices.map((device) => (writes ? programmed(device, undefined) : device));
  const all = right.wires;
  const fitted = writesProgram(exercise) && exercise.task === 'program' ? [] : exercise.bench.wires;
  const programs = right.devices.flatMap((device) =>
    device.type === 'plc' ? [[device.tag, device.settings.program ?? empty(exercise.title)] as const] : [],
  );
  return {
    ...rest,
    ...(task === 'wire' ? {} : { task }),
    ...(writes ? { program: Object.fromEntries(programs) } : {}),
    bench: { ...exercise.bench, devices, wires: task === 'program' ? all : fitted },
    reference: task === 'program' ? [] : all.filter((wire) => !fitted.includes(wire)),
  };
}

/** The program of a controller as an exercise has it, wherever it is kept; null where there is none. */
export function programIn(exercise: Exercise, tag: string): Program | null {
  const device = referenceBench(exercise).devices.find((one) => one.tag === tag);
  return device?.type === 'plc' ? (device.settings.program ?? null) : null;
}

/** The exercise with another right program of a controller. */
export function withProgramOf(exercise: Exercise, tag: string, program: Program): Exercise {
  if (writesProgram(exercise)) return { ...exercise, program: { ...exercise.program, [tag]: program } };
  const devices = exercise.bench.devices.map((device) =>
    device.tag === tag ? programmed(device, program) : device,
  );
  return { ...exercise, bench: { ...exercise.bench, devices } };
}
