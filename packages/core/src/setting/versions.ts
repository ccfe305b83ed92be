import { kindName } from '../catalogue/index.js';
import { endsOf, spellWire } from '../bench/index.js';
import { describeStimulus } from '../circuit/index.js';
import { describeExpected, isExpectation, type Step } from '../simulation/index.js';
import { PARTS, ruleSentences, type Exercise } from '../marking/index.js';

/** One thing that is other in a later version of an exercise. */
export interface VersionChange {
  /** What of the exercise it belongs to. */
  readonly of:
    'text' | 'board' | 'reference' | 'behaviours' | 'rules' | 'marks' | 'faults' | 'work' | 'shows';
  readonly kind: 'added' | 'removed' | 'changed';
  readonly what: string;
  /** Marks may rest on it. */
  readonly marks: boolean;
}

/** A value as text in which the order of keys says nothing. */
/** JSON with the keys of every object in order: equal for what is equal, in whatever order it was written. */
export const canonical = (value: unknown): string =>
  JSON.stringify(value, (_, inner: unknown) =>
    typeof inner === 'object' && inner !== null && !Array.isArray(inner)
      ? Object.fromEntries(Object.entries(inner).sort(([a], [b]) => (a < b ? -1 : 1)))
      : inner,
  );

const same = (a: unknown, b: unknown): boolean => canonical(a) === canonical(b);

/** What changed from one version of an exercise to another, in sentences. */
export function versionChanges(before: Exercise, after: Exercise): VersionChange[] {
  return [
    ...textChanges(before, after),
    ...boardChanges(before, after),
    ...behaviourChanges(before, after),
    ...markChanges(before, after),
    ...judgedChanges(before, after),
    ...faultChanges(before, after),
    ...whole('shows', 'When the repair is shown', before.repair, after.repair, false),
    ...whole('work', 'To wire or to find', before.task, after.task),
    ...whole('work', 'Work practice', before.practice, after.practice),
    ...whole('work', 'Dead tests', before.deadTest, after.deadTest, false),
    ...whole('work', 'Instruments', before.tools, after.tools),
    ...whole('shows', 'What the student may see', before.shows, after.shows, false),
    ...whole('shows', 'What hints cost', before.hints, after.hints, true),
  ];
}

function boardChanges(before: Exercise, after: Exercise): VersionChange[] {
  return [
    ...listChanges(before.bench.devices, after.bench.devices, {
      of: 'board',
      key: ({ tag }) => tag,
      name: (device) => `${kindName(device)} ${device.tag}`,
      // Where a device stands changes nothing that is marked.
      same: (a, b) => same({ ...a, at: null }, { ...b, at: null }),
    }),
    ...listChanges(before.reference, after.reference, {
      of: 'reference',
      key: endsOf,
      name: (wire) => `Lead ${spellWire(wire)}`,
    }),
    ...listChanges(before.bench.wires, after.bench.wires, {
      of: 'board',
      key: endsOf,
      name: (wire) => `Fitted lead ${spellWire(wire)}`,
    }),
    ...listChanges(before.laid ?? [], after.laid ?? [], {
      of: 'board',
      key: spellWire,
      name: (wire) => `Lead at the beginning: ${spellWire(wire)}`,
    }),
    ...whole('board', 'Mechanical interlocks', before.bench.interlocks, after.bench.interlocks),
    ...whole('board', 'How leads lie', before.leads, after.leads, false),
  ];
}

/** What is judged beside behaviours and properties. */
function judgedChanges(before: Exercise, after: Exercise): VersionChange[] {
  return [
    ...listChanges(ruleSentences(before.rules), ruleSentences(after.rules), {
      of: 'rules',
      key: String,
      name: String,
    }),
    ...listChanges(before.essentialRules ?? [], after.essentialRules ?? [], {
      of: 'rules',
      key: String,
      name: (key) => `Essential: ${key}`,
    }),
    ...listChanges(before.observe, after.observe, {
      of: 'behaviours',
      key: String,
      name: (what) => `Observed: ${what}`,
    }),
    ...listChanges(before.lesson ?? [], after.lesson ?? [], {
      of: 'marks',
      key: String,
      name: (id) => `Lesson: ${id}`,
    }),
  ];
}

function faultChanges(before: Exercise, after: Exercise): VersionChange[] {
  return [
    ...listChanges(before.faults, after.faults, {
      of: 'faults',
      key: ({ id }) => id,
      name: ({ title }) => `Fault: ${title}`,
      marks: false,
    }),
    ...listChanges(before.sets ?? [], after.sets ?? [], {
      of: 'faults',
      key: ({ id }) => id,
      name: ({ title }) => `Work order: ${title}`,
    }),
    ...listChanges(before.survive ?? [], after.survive ?? [], {
      of: 'marks',
      key: ({ fault }) => JSON.stringify(fault),
      name: ({ title }) => `Fault to withstand: ${title}`,
    }),
  ];
}

const change = (
  of: VersionChange['of'],
  kind: VersionChange['kind'],
  what: string,
  marks = true,
): VersionChange => ({ of, kind, what, marks });

const textChanges = (before: Exercise, after: Exercise): VersionChange[] => [
  ...(before.title === after.title ? [] : [change('text', 'changed', `Title: “${after.title}”`, false)]),
  ...(before.brief === after.brief ? [] : [change('text', 'changed', 'Brief', false)]),
  ...(before.family === after.family ? [] : [change('text', 'changed', `Family: ${after.family}`, false)]),
];

function whole(
  of: VersionChange['of'],
  what: string,
  before: unknown,
  after: unknown,
  marks = true,
): VersionChange[] {
  if (same(before ?? null, after ?? null)) return [];
  const kind = before === undefined ? 'added' : after === undefined ? 'removed' : 'changed';
  return [change(of, kind, what, marks)];
}

interface Listed<T> {
  readonly of: VersionChange['of'];
  readonly key: (one: T) => string;
  readonly name: (one: T) => string;
  readonly same?: (a: T, b: T) => boolean;
  readonly marks?: boolean;
}

function listChanges<T>(
  before: readonly T[],
  after: readonly T[],
  { of, key, name, same: alike = same, marks = true }: Listed<T>,
): VersionChange[] {
  const earlier = new Map(before.map((one) => [key(one), one]));
  const later = new Map(after.map((one) => [key(one), one]));
  return [
    ...before.filter((one) => !later.has(key(one))).map((one) => change(of, 'removed', name(one), marks)),
    ...after.flatMap((one) => {
      const was = earlier.get(key(one));
      if (was === undefined) return [change(of, 'added', name(one), marks)];
      return alike(was, one) ? [] : [change(of, 'changed', name(one), marks)];
    }),
  ];
}

const describeStep = (step: Step): string =>
  isExpectation(step)
    ? `expect ${Object.entries(step.expect)
        .map(([what, value]) => `${what} ${describeExpected(value)}`)
        .join(', ')}`
    : describeStimulus(step);

function behaviourChanges(before: Exercise, after: Exercise): VersionChange[] {
  const named = listChanges(before.behaviours, after.behaviours, {
    of: 'behaviours',
    key: ({ id }) => id,
    name: ({ title }) => title,
    same: () => true,
  });
  const altered = after.behaviours.flatMap((one): VersionChange[] => {
    const was = before.behaviours.find(({ id }) => id === one.id);
    if (!was || same(was, one)) return [];
    const first = one.steps.findIndex((step, k) => !same(step, was.steps[k]));
    const step = one.steps[first];
    const what = [
      ...(was.title === one.title ? [] : ['title']),
      ...(was.points === one.points ? [] : [`${was.points} to ${one.points} points`]),
      ...((was.essential ?? true) === (one.essential ?? true)
        ? []
        : [one.essential === false ? 'not essential any more' : 'essential now']),
      ...(step
        ? [`step ${first + 1}: ${describeStep(step)}`]
        : was.steps.length > one.steps.length
          ? ['fewer steps']
          : []),
    ];
    return [change('behaviours', 'changed', `${one.title}: ${what.join('; ')}`)];
  });
  return [...named, ...altered];
}

const markChanges = (before: Exercise, after: Exercise): VersionChange[] =>
  [...PARTS, 'pass' as const].flatMap((part) =>
    before.marks[part] === after.marks[part]
      ? []
      : [
          change(
            'marks',
            'changed',
            `${part === 'pass' ? 'Pass mark' : `Points of ${part}`}: ${before.marks[part]} to ${after.marks[part]}`,
          ),
        ],
  );
