import type { Duty, Field } from '../../catalogue/index.js';
import {
  isOfController,
  meets,
  wiredTerminals,
  type Circuit,
  type Coil,
  type Switch,
  type UnionFind,
} from '../../circuit/index.js';
import type { MechanicalState } from '../../circuit/index.js';
import type { Evidence } from '../evidence.js';

/** What breaks a rule, and the part of its points that is kept all the same, 0 to 1; none by default. */
export interface Breach extends Evidence {
  readonly kept?: number;
}

/** A rule that was looked at, and what breaks it. */
export interface RuleVerdict {
  readonly id: string;
  /** Under which an exercise says it. */
  readonly key: string;
  readonly title: string;
  readonly broken: Evidence | null;
  /** Part of the points that is kept although it is broken, 0 to 1; none by default. */
  readonly kept?: number;
}

/** What is known of a house rule, once; V is what an exercise says of it. */
export interface Rule<V = unknown> {
  /** How an exercise says it; a rule without one is judged on every board. */
  readonly field?: Field<V>;
  /** What is judged where an exercise says nothing of it. */
  readonly otherwise?: V;
  /** Values of which each is a criterion of its own. */
  readonly each?: (value: V) => readonly V[];
  readonly id: (value: V) => string;
  readonly title: (value: V) => string;
  /** For the job sheet; empty where there is nothing to tell. */
  readonly sentence: (value: V) => string;
  /** Something on this board can keep or break it. */
  readonly applies?: (circuit: Circuit, value: V) => boolean;
  /** What breaks it; `running` are settled states in which a motor is driven, where they are known. */
  readonly breach: (circuit: Circuit, value: V, running: readonly MechanicalState[]) => Breach | null;
}

/** Declares a rule; its value's type follows from its field. */
export const rule = <V>(entry: Rule<V>): Rule<V> => entry;

/** A rule that is on or off. */
export const simple = (
  id: string,
  title: string,
  sentence: string,
  more: Pick<Rule<boolean>, 'applies' | 'breach'>,
) => ({
  ...rule<boolean>({ id: () => id, title: () => title, sentence: () => sentence, ...more }),
  field: onOff(title),
});

/** Off where an exercise does not say it. */
const onOff = (label: string): Field<boolean, 'may be missing'> => ({
  label,
  shape: { kind: 'flag' },
  leftOut: 'none',
});

// ── what several rules look at ──────────────────────────────────────────────────────────────────

export const dutyOf = (circuit: Circuit, { mechanism }: Switch): Duty | undefined =>
  circuit.mechanisms[mechanism]?.device.duty;

export const namesOf = (contacts: readonly Switch[]): string =>
  contacts.map(({ tag, spec }) => `${tag} ${spec.name}`).join(', ');

export const endsOf = (contacts: readonly Switch[]): string[] =>
  contacts.flatMap(({ tag, spec }) => [`${tag}:${spec.a}`, `${tag}:${spec.b}`]);

export const coilsNamed = (coils: readonly Coil[]): string =>
  coils.map(({ tag }) => `the coil of ${tag}`).join(', ');

/** Coils that are wired at both ends; what a controller measures is none. */
export function wiredCoils(circuit: Circuit): Coil[] {
  const wired = wiredTerminals(circuit);
  return circuit.coils.filter(
    ({ a, b, mechanism }) => wired.has(a) && wired.has(b) && !isOfController(circuit.mechanisms[mechanism]!),
  );
}

/** True where one end of a contact or load is joined to one of some terminals. */
export const touches = (
  sets: UnionFind,
  goals: readonly number[],
  { a, b }: { readonly a: number; readonly b: number },
): boolean => meets(sets, goals, a) || meets(sets, goals, b);

/** What breaks a rule at some devices or terminals; nothing where there are none. */
export const breachAt = (where: readonly string[], found: string): Breach | null =>
  where.length === 0 ? null : { found, where };

/**
 * Part of a criterion's points that is kept with each place where it is broken (common practice, no
 * source).
 */
const KEPT_BY_EACH = 0.5;

/** The same, where every further place costs half of what is left. */
export const breachAtEach = (places: number, where: readonly string[], found: string): Breach | null =>
  where.length === 0 ? null : { found, where, kept: KEPT_BY_EACH ** places };
