import type { TerminalRef } from '../bench/index.js';
import type { Exercise } from '../marking/index.js';
import { rewritten } from '../remade.js';

/**
 * What stands about a designation where a document names one: `KM1:13`, `M1.driven`, `volts(KM1:A1,
 * KM1:A2)`, `S2:14 KM1:A1`.
 */
const JOINTS = /([:.,()\s]+)/;

/** A text with a designation in place of another one, wherever it stands as a whole word. */
function renamed(text: string, from: string, to: string): string {
  if (!text.includes(from)) return text;
  const parts = text.split(JOINTS);
  // After a colon stands a terminal's name, which may be written as a designation is: relay terminal
  // `M1:U1` of `U1`.
  return parts.map((part, k) => (part === from && !(parts[k - 1] ?? '').includes(':') ? to : part)).join('');
}

/** Every text of a value, keys too, renamed. */
const deep = <T>(value: T, from: string, to: string): T =>
  rewritten(value, (text) => renamed(text, from, to));

/** True where a value names a device anywhere. */
export const namesDevice = (value: unknown, tag: string): boolean =>
  JSON.stringify(deep(value, tag, '\u0001')) !== JSON.stringify(value);

/** True where a value names one of some terminals, or a contact or winding that ends on one. */
export function namesTerminal(value: unknown, refs: readonly string[]): boolean {
  const words = JSON.stringify(value).split(/[\s,()"\\]+/);
  return words.some((word) => {
    const [tag = '', names = ''] = word.split(':');
    return names !== '' && names.split('-').some((name) => refs.includes(`${tag}:${name}`));
  });
}

/** An exercise in which a device has another designation, everywhere but in what people read. */
export function renameDevice(exercise: Exercise, from: string, to: string): Exercise {
  const { title, brief, behaviours, faults, sets, bench, ...rest } = exercise;
  const ref = (wire: { readonly from: TerminalRef; readonly to: TerminalRef }) => ({
    ...wire,
    from: renamed(wire.from, from, to) as TerminalRef,
    to: renamed(wire.to, from, to) as TerminalRef,
  });
  const { reference, laid, observe, practice, deadTest, survive, program, questions } = rest;
  return {
    ...rest,
    title,
    brief,
    bench: {
      ...bench,
      devices: bench.devices.map((device) => ({
        ...device,
        tag: device.tag === from ? to : device.tag,
        options: renamedMotors(device.options, from, to),
      })) as Exercise['bench']['devices'],
      wires: bench.wires.map(ref),
      interlocks: deep(bench.interlocks, from, to),
    },
    reference: reference.map(ref),
    ...(program
      ? {
          program: Object.fromEntries(
            Object.entries(program).map(([tag, one]) => [tag === from ? to : tag, one]),
          ),
        }
      : {}),
    ...(laid ? { laid: laid.map(ref) } : {}),
    observe: deep(observe, from, to),
    behaviours: behaviours.map((one) => ({ ...one, steps: deep(one.steps, from, to) })),
    faults: faults.map((one) => ({ ...one, fault: deep(one.fault, from, to) })),
    ...(survive ? { survive: deep(survive, from, to) } : {}),
    ...(practice ? { practice: deep(practice, from, to) } : {}),
    ...(deadTest ? { deadTest: deep(deadTest, from, to) } : {}),
    ...(questions ? { questions: deep(questions, from, to) } : {}),
    ...(sets ? { sets: sets.map((set) => ({ ...set, faults: deep(set.faults, from, to) })) } : {}),
  };
}

/** Options that name a motor: of a brake, and the travel of a limit switch. */
function renamedMotors(options: unknown, from: string, to: string): unknown {
  const { motor, travel } = options as { motor?: string; travel?: { motor: string } };
  return {
    ...(options as object),
    ...(motor === from ? { motor: to } : {}),
    ...(travel?.motor === from ? { travel: { ...travel, motor: to } } : {}),
  };
}
