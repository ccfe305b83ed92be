/** Reads documents: schema first, then what must fit together; every problem with its JSON path. */
import { z } from 'zod';
import { benchProblems, splitRef, wireProblems, type Bench, type Problem } from './bench/index.js';
import { benchSchema } from './bench/schema.js';
import { contactEnds, isController, programMisfits } from './catalogue/index.js';
import { compile, type Circuit } from './circuit/index.js';
import { programProblems, programWarnings, type Program, type ProgramWarning } from './program/index.js';
import { programSchema } from './program/schema.js';
import { observerOf, scriptProblems, type Script } from './simulation/index.js';
import { scriptSchema } from './simulation/schema.js';
import { faultProblem, readFault, type WrittenFault } from './faults/index.js';
import { marksOfQuestions, referenceBench, writesProgram, type Exercise } from './marking/index.js';
import { observationsSchema, type Observations } from './diagnosis/schema.js';
import { exerciseSchema } from './marking/schema.js';
import { AskedBoard, type Answers, type Question } from './questions/index.js';
import { answersSchema } from './questions/schema.js';
import type { Joints } from './scanning/index.js';
import { jointsSchema } from './scanning/schema.js';

export { benchSchema, deviceSchema, editSchema, wireSchema } from './bench/schema.js';
export { faultSchema, writtenFaultSchema } from './faults/schema.js';
export { observationSchema } from './diagnosis/schema.js';
export type { Observations } from './diagnosis/schema.js';
export { actSchema, settingSchema, scriptSchema, stepSchema } from './simulation/schema.js';
export { answerEntrySchema } from './questions/schema.js';
export { exerciseSchema, rulesSchema } from './marking/schema.js';
export { sheetEntriesSchema } from './planning/sheet/schema.js';

export type Read<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problems: readonly Problem[] };

export type DocumentKind =
  'bench' | 'script' | 'exercise' | 'report' | 'observations' | 'program' | 'answers' | 'joints';

/** What a document is, and what in it is allowed and seldom meant. */
export interface DocumentRead {
  readonly kind: DocumentKind;
  readonly warnings?: readonly ProgramWarning[];
}

/** A zod path in the notation of messages: `devices[3].options.coil.voltage`. */
export function jsonPath(path: readonly PropertyKey[]): string {
  let text = '';
  for (const key of path) {
    if (typeof key === 'number') text += `[${key}]`;
    else if (/^[A-Za-z_][\w-]*$/.test(String(key))) text += text ? `.${String(key)}` : String(key);
    else text += `[${JSON.stringify(String(key))}]`;
  }
  return text;
}

function valueAt(root: unknown, path: readonly PropertyKey[]): unknown {
  let value = root;
  for (const key of path) {
    if (typeof value !== 'object' || value === null) return undefined;
    value = (value as Record<PropertyKey, unknown>)[key];
  }
  return value;
}

function quoted(value: unknown): string {
  if (value === undefined) return 'missing';
  const text = JSON.stringify(value);
  return text.length > 60 ? `${text.slice(0, 57)}…` : text;
}

/** One issue of a schema in the words of our messages. */
function inWords(issue: z.core.$ZodIssue, root: unknown): Problem[] {
  const value = valueAt(root, issue.path);
  const path = jsonPath(issue.path) || '(document)';
  const is = value === undefined ? 'is missing' : `is ${quoted(value)}`;
  switch (issue.code) {
    case 'unrecognized_keys':
      return issue.keys.map((key) => ({ path: jsonPath([...issue.path, key]), message: 'unknown key' }));
    case 'invalid_type':
      return [
        { path, message: value === undefined ? 'is missing' : `must be ${article(issue.expected)}, ${is}` },
      ];
    case 'too_small':
      return [
        {
          path,
          message: `must be ${issue.inclusive === false ? 'above' : 'at least'} ${String(issue.minimum)}${unitOf(issue.origin)}, ${sizeOf(value, is)}`,
        },
      ];
    case 'too_big':
      return [
        {
          path,
          message: `must be ${issue.inclusive === false ? 'below' : 'at most'} ${String(issue.maximum)}${unitOf(issue.origin)}, ${sizeOf(value, is)}`,
        },
      ];
    case 'invalid_value':
      return [{ path, message: `must be ${issue.values.map((v) => JSON.stringify(v)).join(' or ')}, ${is}` }];
    case 'invalid_union': {
      if ('discriminator' in issue && typeof issue.discriminator === 'string') {
        const key = [...issue.path];
        if (key.at(-1) !== issue.discriminator) key.push(issue.discriminator);
        const found = valueAt(root, key);
        return [
          {
            path: jsonPath(key),
            message: found === undefined ? 'is missing' : `unknown ${issue.discriminator} ${quoted(found)}`,
          },
        ];
      }
      return [{ path, message: `is not of any form known here, ${is}` }];
    }
    case 'invalid_format':
      return [
        {
          path,
          message: `${issue.message.startsWith('must') ? issue.message : 'has the wrong form'}, ${is}`,
        },
      ];
    default:
      return [{ path, message: issue.message }];
  }
}

const article = (word: string) => (/^[aeiou]/.test(word) ? `an ${word}` : `a ${word}`);
const unitOf = (origin: string) =>
  origin === 'string' ? ' characters long' : origin === 'array' ? ' items long' : '';
const sizeOf = (value: unknown, is: string) =>
  Array.isArray(value) || (typeof value === 'string' && value.length > 20) ? `is ${value.length}` : is;

/** Deepest nesting of a document; ours need no more than ten levels. */
const DEEPEST = 64;

/**
 * Where a value is nested deeper than any document of ours; found without recursion, which such a value
 * would end.
 */
function tooDeep(root: unknown): Problem | null {
  const inside = (value: unknown, top?: string) =>
    typeof value === 'object' && value !== null
      ? Object.entries(value).map(([key, inner]: [string, unknown]) => ({ value: inner, top: top ?? key }))
      : [];
  let level = inside(root);
  for (let depth = 1; level.length > 0; depth += 1) {
    if (depth > DEEPEST)
      return { path: jsonPath([level[0]?.top ?? '']), message: `is nested more than ${DEEPEST} levels deep` };
    level = level.flatMap(({ value, top }) => inside(value, top));
  }
  return null;
}

/** Reads any value through a schema, with problems in words. */
export function readWith<T>(schema: z.ZodType<T>, value: unknown): Read<T> {
  const deep = tooDeep(value);
  if (deep) return { ok: false, problems: [deep] };
  const read = schema.safeParse(value);
  if (read.success) return { ok: true, value: read.data };
  const problems = read.error.issues.flatMap((issue) => inWords(issue, value));
  return {
    ok: false,
    problems: problems.length > 0 ? problems : [{ path: '(document)', message: 'cannot be read' }],
  };
}

function refuse<T>(problems: readonly Problem[]): Read<T> {
  return { ok: false, problems };
}

export function readBench(value: unknown): Read<Bench> {
  const read = readWith(benchSchema, value);
  if (!read.ok) return read;
  const problems = benchProblems(read.value);
  return problems.length > 0 ? refuse(problems) : read;
}

/** Reads a program; whether a controller has its addresses is checked with the bench on which it stands. */
export function readProgram(value: unknown): Read<Program> {
  const read = readWith(programSchema, value);
  if (!read.ok) return read;
  const problems = programProblems(read.value);
  return problems.length > 0 ? refuse(problems) : read;
}

export function readScript(value: unknown): Read<Script> {
  return readWith(scriptSchema, value);
}

/** Reads what was seen on a board; that it fits the board is checked by `observationProblems`. */
export function readObservations(value: unknown): Read<Observations> {
  return readWith(observationsSchema, value);
}

/** Reads which terminals are joined; whether a board has them is checked where it is wired by them. */
export const readJoints = (value: unknown): Read<Joints> => readWith(jointsSchema, value);

/** Reads an exercise and checks that its reference, behaviours and observed values fit its board. */
export function readExercise(value: unknown): Read<Exercise> {
  const read = readWith(exerciseSchema, withMarks(value));
  if (!read.ok) return read;
  const exercise = read.value;
  const problems = [
    ...benchProblems(exercise.bench, 'bench'),
    ...wireProblems(exercise.reference, exercise.bench, 'reference'),
    ...wireProblems(exercise.laid ?? [], exercise.bench, 'laid'),
  ];
  problems.push(...writtenProgramProblems(exercise));
  if (problems.length > 0) return refuse(problems);
  // A program that is still to be written names no variables that behaviours could look at.
  const circuit = compile(exercise.bench);
  exercise.observe.forEach((what, k) => {
    const outcome = observerOf(circuit, what);
    if ('problem' in outcome) problems.push({ path: `observe[${k}]`, message: outcome.problem });
    else if (outcome.observer.timed || outcome.observer.numeric) {
      problems.push({
        path: `observe[${k}]`,
        message: `"${what}" changes continuously and cannot be compared in settled states`,
      });
    }
  });
  const ids = new Set<string>();
  exercise.behaviours.forEach((behaviour, k) => {
    problems.push(...scriptProblems(circuit, behaviour.steps, `behaviours[${k}].steps`));
    if (ids.has(behaviour.id))
      problems.push({ path: `behaviours[${k}].id`, message: `"${behaviour.id}" stands twice` });
    ids.add(behaviour.id);
  });
  problems.push(...faultProblems(exercise), ...questionProblems(exercise));
  return problems.length > 0 ? refuse(problems) : read;
}

/** An exercise of questions is worth what they are worth where it does not say otherwise. */
function withMarks(value: unknown): unknown {
  const { task, marks, questions } = (value ?? {}) as Partial<
    Record<'task' | 'marks' | 'questions', unknown>
  >;
  if (task !== 'answer' || marks !== undefined || !Array.isArray(questions)) return value;
  const asked = questions as readonly (Partial<Question> | null)[];
  const behaviour = asked.reduce((sum, one) => sum + (typeof one?.points === 'number' ? one.points : 0), 0);
  return { ...(value as object), marks: marksOfQuestions(behaviour) };
}

/** What of the questions of an exercise does not fit its board, or has no answer on it. */
function questionProblems(exercise: Exercise): Problem[] {
  const { task, questions } = exercise;
  if (task !== 'answer')
    return questions
      ? [{ path: 'questions', message: 'only an exercise whose task is "answer" asks any' }]
      : [];
  if (!questions)
    return [{ path: 'questions', message: 'is missing: an exercise whose task is "answer" asks something' }];
  const board = new AskedBoard(referenceBench(exercise));
  const ids = new Set<string>();
  return questions.flatMap((question, k): Problem[] => {
    const twice = ids.has(question.id);
    ids.add(question.id);
    return [
      ...(twice ? [{ path: `questions[${k}].id`, message: `"${question.id}" stands twice` }] : []),
      ...board.problems(question).map(({ path, message }) => ({ path: `questions[${k}].${path}`, message })),
    ];
  });
}

/** Reads answers; whether they belong to an exercise is checked where they are marked. */
export function readAnswers(value: unknown): Read<Answers> {
  return readWith(answersSchema, value);
}

/** What of the right programs of an exercise does not fit its task, or their controllers. */
function writtenProgramProblems(exercise: Exercise): Problem[] {
  const { program, task = 'wire', bench } = exercise;
  if (!program)
    return writesProgram({ task })
      ? [
          {
            path: 'program',
            message: `is missing: an exercise whose task is "${task}" has one right program`,
          },
        ]
      : [];
  if (!writesProgram({ task }))
    return [{ path: 'program', message: 'belongs to an exercise whose task is "program" or "both"' }];
  return Object.entries(program).flatMap(([tag, right]): Problem[] => {
    const device = bench.devices.find((one) => one.tag === tag);
    if (!device || !isController(device))
      return [{ path: `program.${tag}`, message: `"${tag}" is not a controller of this bench` }];
    return programMisfits(right, device).map(({ path, message }) => ({
      path: `program.${tag}.${path}`,
      message,
    }));
  });
}

/** What of the faults of an exercise does not fit its board as it should be wired. */
function faultProblems(exercise: Exercise): Problem[] {
  const { task, sets = [], faults, survive = [] } = exercise;
  const circuit = compile(referenceBench(exercise));
  const wrong = (written: WrittenFault, path: string): Problem[] => {
    const fault = readFault(written);
    const message = faultProblem(circuit, fault);
    return message === null ? [] : [{ path: `${path}["${fault.kind}"]`, message }];
  };
  return [
    ...(task === 'find' && sets.length === 0
      ? [{ path: 'sets', message: 'an exercise to find needs at least one set of faults' }]
      : []),
    ...(task !== 'find' && sets.length > 0
      ? [{ path: 'sets', message: 'only an exercise whose task is "find" has sets' }]
      : []),
    // A fault that is only listed may name a lead that the reference does not have, but nothing that is not
    // on the board.
    ...faults.flatMap(({ fault }, k) => {
      const { kind, place } = readFault(fault);
      const unknown = unknownIn(circuit, place);
      return unknown === null
        ? []
        : [{ path: `faults[${k}].fault["${kind}"]`, message: `"${unknown}" is not on this board` }];
    }),
    ...survive.flatMap(({ fault }, k) => {
      // A wiring that is right may have no lead there: what it must bear is in a device.
      const { kind } = readFault(fault);
      return kind.endsWith('-wire')
        ? [{ path: `survive[${k}].fault["${kind}"]`, message: 'must be a fault of a device, not of a lead' }]
        : wrong(fault, `survive[${k}].fault`);
    }),
    ...essentialProblems(exercise),
    ...sets.flatMap((set, k) => set.faults.flatMap((one, n) => wrong(one, `sets[${k}].faults[${n}]`))),
  ];
}

/** House rules that are called essential and not asked for. */
const essentialProblems = ({ essentialRules = [], rules }: Exercise): Problem[] =>
  essentialRules.flatMap((key, k) =>
    rules[key] === undefined || rules[key] === false
      ? [{ path: `essentialRules[${k}]`, message: `"${key}" is not among the rules of this exercise` }]
      : [],
  );

/**
 * The part of a fault's place that names no device, terminal or contact of a board; null where there is
 * none.
 */
function unknownIn(circuit: Circuit, place: string): string | null {
  const isKnown = (part: string): boolean => {
    const { tag, terminal } = splitRef(part);
    if (!part.includes(':')) return circuit.bench.devices.some((device) => device.tag === part);
    return contactEnds(terminal).every((end) => end === '' || circuit.indexOf.has(`${tag}:${end}`));
  };
  return place.split(' ').find((part) => !isKnown(part)) ?? null;
}

/** What every report has; what is beside it depends on the marker's version. */
const reportSchema = z.looseObject({
  contactum: z.literal('report/1'),
  score: z.number(),
  max: z.number(),
  passed: z.boolean(),
  criteria: z.array(z.unknown()),
});

/** Every kind of document with its schema. */
export const DOCUMENT_SCHEMAS = {
  bench: benchSchema,
  script: scriptSchema,
  exercise: exerciseSchema,
  observations: observationsSchema,
  report: reportSchema,
  program: programSchema,
  answers: answersSchema,
  joints: jointsSchema,
} as const satisfies Readonly<Record<DocumentKind, z.ZodType>>;

/**
 * The JSON Schema (draft 2020-12) of a kind of document as it is written; what fits together across a
 * document is checked beyond it.
 */
export function jsonSchemaOf(kind: DocumentKind): Readonly<Record<string, unknown>> {
  const schema = z.toJSONSchema(DOCUMENT_SCHEMAS[kind], {
    io: 'input',
    unrepresentable: 'any',
    reused: 'ref',
  });
  return { title: `Contactum ${kind}/1`, ...schema };
}

/** Reads a document of any kind by what it says it is. */
export function readDocument(value: unknown): Read<DocumentRead> {
  const stated =
    typeof value === 'object' && value !== null ? (value as { contactum?: unknown }).contactum : undefined;
  const kindOnly = <T>(
    read: Read<T>,
    kind: DocumentKind,
    warnings: (value: T) => readonly ProgramWarning[] = () => [],
  ): Read<DocumentRead> => {
    if (!read.ok) return read;
    const found = warnings(read.value);
    return { ok: true, value: found.length > 0 ? { kind, warnings: found } : { kind } };
  };
  switch (stated) {
    case 'bench/1':
      return kindOnly(readBench(value), 'bench');
    case 'script/1':
      return kindOnly(readScript(value), 'script');
    case 'exercise/1':
      return kindOnly(readExercise(value), 'exercise');
    case 'program/1':
      return kindOnly(readProgram(value), 'program', programWarnings);
    case 'observations/1':
      return kindOnly(readObservations(value), 'observations');
    case 'answers/1':
      return kindOnly(readAnswers(value), 'answers');
    case 'joints/1':
      return kindOnly(readJoints(value), 'joints');
    case 'report/1':
      return kindOnly(readWith(reportSchema, value), 'report');
    case undefined:
      return refuse([{ path: 'contactum', message: 'is missing' }]);
    default:
      return refuse([{ path: 'contactum', message: `unknown kind or version ${quoted(stated)}` }]);
  }
}
