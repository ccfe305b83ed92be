import { perObject } from '../per-object.js';
import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import { dequal } from 'dequal';
import type { RepairTask } from '../repair/index.js';
import type { RuleKey, Rules } from './rules/index.js';
import type { WrittenFault } from '../faults/index.js';
import { wiredBoard, type Bench, type TerminalRef, type Wire, type Wiring } from '../bench/index.js';
import { programOf, withProgram, type Device } from '../catalogue/index.js';
import type { Program } from '../program/index.js';
import type { PropertyId } from '../proof/index.js';
import type { Question } from '../questions/index.js';
import type { Range, Step } from '../simulation/index.js';

export const FAMILIES = ['first-circuits', 'seal-in', 'jogging', 'reversing', 'star-delta', 'other'] as const;
export type Family = (typeof FAMILIES)[number];

export const TASKS = ['wire', 'find', 'program', 'both', 'answer'] as const;
export type Task = (typeof TASKS)[number];

export interface Behaviour {
  readonly id: string;
  readonly title: string;
  readonly points: number;
  /** An attempt passes only when every essential behaviour is right; true unless it says false. */
  readonly essential?: boolean | undefined;
  readonly steps: readonly Step[];
}

/**
 * One reading of a dead test: between two terminals with some buttons held, and what a right wiring shows
 * there.
 */
export interface DeadTest {
  readonly between: readonly [TerminalRef, TerminalRef];
  readonly hold: readonly string[];
  /** Ohms where it is a range. */
  readonly expect: 'open' | 'closed' | Range;
}

/** Work practice that is judged from the log of an attempt; what is absent is not judged. */
export interface Practice {
  /**
   * Readings with the supply off before it is first switched on: any that tells something of the wiring, or
   * those of a table.
   */
  readonly deadTest?: boolean | readonly DeadTest[] | undefined;
  /** Switched on only after the instructor's permission. */
  readonly permission?: boolean | undefined;
  /** Incidents that cost nothing; every further one costs half of what is left. */
  readonly incidents?: number | undefined;
  /** Minutes from the first edit to handing in; over twice as long earns nothing. */
  readonly minutes?: number | undefined;
  readonly wiringOrder?: 'power-first' | 'control-first' | undefined;
}

/** What of an exercise its student may be shown. */
export const SHOWN = ['reference', 'progress', 'tests', 'proof', 'causes', 'board', 'drawing'] as const;
export type Shown = (typeof SHOWN)[number];

/** Hints by degree: what goes wrong, where to look, which lead. */
export const HINT_DEGREES = ['symptom', 'net', 'lead'] as const;
export type HintDegree = (typeof HINT_DEGREES)[number];

/** When the repair of a wiring is shown to its student. */
export type RepairFor = 'never' | 'marked';

/** Points of each part, and the score from which an attempt passes. */
export interface Marks {
  readonly behaviour: number;
  readonly safety: number;
  readonly rules: number;
  readonly workmanship: number;
  readonly pass: number;
}

export interface ExerciseFault {
  readonly id: string;
  readonly title: string;
  readonly fault: WrittenFault;
}

/** What a student may use in a search for faults; everything where an exercise names nothing. */
export const TOOLS = ['volts', 'ohms', 'amps', 'sequence', 'lift', 'exchange'] as const;
export type Tool = (typeof TOOLS)[number];

/** Hidden faults with what the operator says of the board, and the time to find them. */
export interface FaultSet {
  readonly id: string;
  readonly title: string;
  /** In plain words; says nothing of the cause. */
  readonly complaint: string;
  readonly faults: readonly WrittenFault[];
  readonly minutes: number;
}

/**
 * A single fault that the board must bear: with it there from the beginning every safety property that the
 * reference keeps is kept.
 */
export interface Survival {
  readonly fault: WrittenFault;
  readonly title: string;
  readonly points: number;
  /** An attempt passes only when it is borne; true unless it says false. */
  readonly essential?: boolean | undefined;
}

/** A bench without the student's wires, one correct wiring of it, and what is asked of any wiring. */
export interface Exercise {
  readonly contactum: 'exercise/1';
  readonly id: string;
  readonly title: string;
  readonly family: Family;
  readonly brief: string;
  readonly bench: Bench;
  readonly reference: readonly Wire[];
  /** Leads that are on the board when an attempt begins, and that may be moved and taken away. */
  readonly laid?: readonly Wire[] | undefined;
  readonly observe: readonly string[];
  readonly behaviours: readonly Behaviour[];
  readonly rules: Rules;
  /** House rules that must be kept to pass. */
  readonly essentialRules?: readonly RuleKey[] | undefined;
  /** Single faults that the board must bear. */
  readonly survive?: readonly Survival[] | undefined;
  readonly practice?: Practice | undefined;
  /**
   * Readings that the job sheet leads through before the board is energised; judged only where the practice
   * asks for a dead test.
   */
  readonly deadTest?: readonly DeadTest[] | undefined;
  /** Instructors always see the repair. */
  readonly repair?: RepairFor | undefined;
  /**
   * What a student may see: the reference as a drawing, how many of its potentials are complete, how each
   * function is tested. Nothing where it is absent.
   */
  readonly shows?: readonly Shown[] | undefined;
  /** Points that each hint costs; where it is absent there are none. */
  readonly hints?: Readonly<Record<HintDegree, number>> | undefined;
  /** Properties whose failure is what this exercise teaches: they are told, and cost nothing. */
  readonly lesson?: readonly PropertyId[] | undefined;
  /** How leads lie on its board: in the ducts of a panel, or hung between plugs. */
  readonly leads?: 'ducts' | 'hung' | undefined;
  readonly marks: Marks;
  readonly faults: readonly ExerciseFault[];
  /**
   * To wire a board, to find what is wrong with one that is wired, to write the program of one that is wired,
   * to wire it and write its program, or to answer questions about it.
   */
  readonly task?: Task | undefined;
  /** By controller: one right program, as `reference` is one right wiring. */
  readonly program?: Readonly<Record<string, Program>> | undefined;
  /** Of an exercise to answer: what is asked about the board. */
  readonly questions?: readonly Question[] | undefined;
  /** Of an exercise to find. */
  readonly sets?: readonly FaultSet[] | undefined;
  readonly tools?: readonly Tool[] | undefined;
}

/** True of an exercise in which a program is written. */
export const writesProgram = ({ task }: Pick<Exercise, 'task'>): boolean =>
  task === 'program' || task === 'both';

/** True of an exercise in which a board is asked about. */
export const isAsked = ({ task }: Pick<Exercise, 'task'>): boolean => task === 'answer';

/** True of an exercise in which faults are searched for. */
export const isSearch = ({ task }: Pick<Exercise, 'task'>): boolean => task === 'find';

/** The exercise's board with its reference wiring, and its right program where one is to be written. */
export function referenceBench({
  bench,
  reference,
  program = {},
}: Pick<Exercise, 'bench' | 'reference' | 'program'>): Bench {
  const devices = bench.devices.map((device) =>
    Object.hasOwn(program, device.tag) ? withProgram(device, program[device.tag] ?? null) : device,
  );
  return { ...bench, devices, wires: [...bench.wires, ...reference] };
}

/** The board as an attempt finds it: what is fitted stays, what was laid before may be changed. */
export const openingBoard = ({
  bench,
  laid = [],
  task,
}: Pick<Exercise, 'bench' | 'laid' | 'task'>): Wiring => ({
  ...wiredBoard(bench, laid),
  ...(writesProgram({ task }) ? { programmable: true } : {}),
});

const isSameProgram = (device: Device, { devices }: Bench): boolean =>
  dequal(programOf(device), programOf(devices.find(({ tag }) => tag === device.tag)));

/** True where nobody has done anything to the leads of a board, or to its program where one is to be written. */
export function isUntouched(
  { bench, laid = [], task }: Pick<Exercise, 'bench' | 'laid' | 'task'>,
  { wires, devices }: Bench,
): boolean {
  if (writesProgram({ task }) && devices.some((device) => !isSameProgram(device, bench))) return false;
  const keys = (list: readonly Wire[]) => list.map(wireKey).sort().join();
  return keys(wires) === keys([...bench.wires, ...laid]);
}

/** What the search for repairs is asked for an exercise and a wiring of its board. */
export function repairTask(exercise: Exercise, bench: Bench): RepairTask {
  const { devices, wires } = bench;
  return {
    bench: { ...wiredBoard(exercise.bench, wires.slice(exercise.bench.wires.length)), devices },
    ...rightOf(exercise),
  };
}

const ALONE = { program: 'alone' } as const;
const TOO = { program: 'too' } as const;

/** What is right, once an exercise: what the search finds out about it is kept with it. */
const rightOf = perObject((exercise: Exercise) => ({
  reference: referenceBench(exercise),
  behaviours: exercise.behaviours.map(({ steps }) => steps),
  observe: exercise.observe,
  ...(exercise.task === 'program' ? ALONE : exercise.task === 'both' ? TOO : {}),
}));

const wireKey = ({ from, to }: { from: TerminalRef; to: TerminalRef }) =>
  from < to ? `${from}|${to}` : `${to}|${from}`;

/**
 * The exercise's own board with a candidate's wires and settings on it. Devices are the exercise's;
 * fitted wires are there whether the candidate names them or not. Returns what does not fit instead
 * where the candidate is not a wiring of this board.
 */
export function candidateBench(
  exercise: Exercise,
  candidate: Bench,
): { bench: Bench } | { problems: { path: string; message: string }[] } {
  const problems: { path: string; message: string }[] = [];
  const given = new Map(candidate.devices.map((device, i) => [device.tag, { device, i }]));
  for (const device of exercise.bench.devices) {
    const found = given.get(device.tag);
    if (!found) problems.push({ path: 'devices', message: `"${device.tag}" of the exercise is missing` });
    else if (found.device.type !== device.type) {
      problems.push({
        path: `devices[${found.i}].type`,
        message: `"${device.tag}" is a ${device.type} in the exercise, not a ${found.device.type}`,
      });
    } else if (!dequal(found.device.options, device.options)) {
      problems.push({
        path: `devices[${found.i}].options`,
        message: `the options of "${device.tag}" are not those of the exercise`,
      });
    }
    given.delete(device.tag);
  }
  for (const { device, i } of given.values())
    problems.push({ path: `devices[${i}].tag`, message: `"${device.tag}" is not a device of the exercise` });
  if (problems.length > 0) return { problems };
  const devices = exercise.bench.devices.map((device) => {
    const own = candidate.devices.find(({ tag }) => tag === device.tag);
    return withSettings(device, own, writesProgram(exercise));
  });
  const own = [...candidate.wires];
  for (const wire of exercise.bench.wires) {
    const k = own.findIndex((other) => wireKey(other) === wireKey(wire));
    if (k >= 0) own.splice(k, 1);
  }
  return {
    bench: { ...exercise.bench, title: candidate.title, devices, wires: [...exercise.bench.wires, ...own] },
  };
}

/** A device of the exercise as the candidate has set it; its program only where one was to be written. */
function withSettings<D extends Device>(device: D, own: Device | undefined, writes: boolean): D {
  const set = { ...device, settings: own?.settings ?? device.settings };
  return writes ? set : withProgram(set, programOf(device));
}

/**
 * Version of an exercise: eight hexadecimal digits that change with anything in it that a mark rests on
 * (FNV-1a, 32 bits).
 */
export function exerciseVersion({
  bench,
  reference,
  observe,
  behaviours,
  rules,
  practice,
  lesson,
  survive,
  essentialRules,
  laid,
  hints,
  marks,
  task,
  sets,
  tools,
  program,
  questions,
}: Exercise): string {
  // Where devices stand on the board changes nothing that is marked.
  const devices = bench.devices.map((device) => ({ ...device, at: undefined }));
  const asked = [{ ...bench, devices }, reference, observe, behaviours, rules, practice ?? null, marks];
  const more = [
    ...(lesson ? [lesson] : []),
    ...(survive ? [{ survive }] : []),
    ...(essentialRules ? [{ essentialRules }] : []),
    ...(laid ? [{ laid }] : []),
    ...(hints ? [{ hints }] : []),
    ...(task === 'find' ? [sets, tools ?? null] : []),
    ...(writesProgram({ task }) ? [{ task, program }] : []),
    ...(task === 'answer' ? [{ questions }] : []),
  ];
  const text = JSON.stringify([...asked, ...more]);
  let hash = 0x811c9dc5;
  for (let k = 0; k < text.length; k += 1) hash = Math.imul(hash ^ text.charCodeAt(k), 0x01000193);
  return (hash >>> 0).toString(16).padStart(8, '0');
}

/** Keys of the exercises that were asked for lately, as lasting as they. */
const keys = new WeakMap<Exercise, string>();

/** By which everything that was worked out of an exercise is kept: its id and a SHA-256 of all that it says. */
export function exerciseKey(exercise: Exercise): string {
  const known = keys.get(exercise);
  if (known !== undefined) return known;
  const key = `${exercise.id} ${bytesToHex(sha256(utf8ToBytes(JSON.stringify(exercise))))}`;
  keys.set(exercise, key);
  return key;
}
