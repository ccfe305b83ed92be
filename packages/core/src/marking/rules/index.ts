/**
 * House rules and workmanship: one entry a rule, with its field, its words, when it applies and how it is
 * judged.
 */
import type { Circuit, MechanicalState } from '../../circuit/index.js';
import type { Field, ValuesOf } from '../../catalogue/index.js';
import { areaByProtection } from './areas.js';
import { cables } from './cables.js';
import { estopCutsOutputs, feedback, hardwiredInterlock, plcStopsNormallyClosed } from './controllers.js';
import { controlIsolated } from './control-isolated.js';
import { coilReturnUnswitched, neutralUnswitched, noPoleSealing } from './coils.js';
import { contactDuty } from './contact-duty.js';
import { fusedControl } from './fused-control.js';
import { earthColour, wireColours } from './colours.js';
import { earthBonded, secondaryEarthed } from './earths.js';
import { interlocks } from './interlocks.js';
import { ferruleNumbers } from './numbers.js';
import { overloadDial, overloadPosition, overloadReset } from './overload.js';
import type { Rule, RuleVerdict } from './rule.js';
import { freeContacts, timerSetting } from './settings.js';
import { emergencyStopFirst, stopUpstream } from './stops.js';
import { maxWiresPerTerminal } from './terminals.js';

export { INTERLOCK_KINDS, rivalPairs, type InterlockKind } from './interlocks.js';
export { usualAreas } from './areas.js';
export { COLOUR_SCHEMES, schemeColours, schemeOf, usualColours, type ColourScheme } from './colours.js';
export { programHints, type ProgramHint } from './controllers.js';
export type { RuleVerdict } from './rule.js';

/** Rules of how a circuit is built, by the key under which an exercise says them. */
const HOUSE = {
  overloadPosition,
  coilReturnUnswitched,
  fusedControl,
  stopUpstream,
  emergencyStopFirst,
  interlocks,
  noPoleSealing,
  neutralUnswitched,
  earthBonded,
  secondaryEarthed,
  overloadDial,
  overloadReset,
  contactDuty,
  controlIsolated,
  timerSetting,
  freeContacts,
  cables,
  plcStopsNormallyClosed,
  hardwiredInterlock,
  estopCutsOutputs,
  feedback,
};

/** Rules of how it is wired. */
const WORKMANSHIP = { maxWiresPerTerminal, earthColour, wireColours, areaByProtection, ferruleNumbers };

type FieldsOf<T> = {
  [K in keyof T as T[K] extends { readonly field: Field } ? K : never]: T[K] extends {
    readonly field: infer F;
  }
    ? F
    : never;
};

const fieldsOf = <T extends Readonly<Record<string, object>>>(rules: T) =>
  Object.fromEntries(
    Object.entries(rules).flatMap(([key, one]) => ('field' in one ? [[key, one.field]] : [])),
  ) as FieldsOf<T>;

/** What an exercise may say of rules. */
export const RULE_FIELDS = { ...fieldsOf(HOUSE), ...fieldsOf(WORKMANSHIP) };

/** House rules as an exercise says them; one that is absent is off. */
export type Rules = ValuesOf<typeof RULE_FIELDS>;

/** House rules that an exercise may call essential. */
export const HOUSE_RULES = Object.keys(HOUSE) as (keyof typeof HOUSE)[];
export type RuleKey = (typeof HOUSE_RULES)[number];

/** Rules of a table that an exercise asks for, each value that is a criterion of its own. */
function asked(
  table: Readonly<Record<string, object>>,
  rules: Rules,
): { key: string; one: Rule; value: unknown }[] {
  return Object.entries(table).flatMap(([key, entry]) => {
    const one = entry as Rule;
    const given = (rules as Readonly<Record<string, unknown>>)[key];
    if ((given === undefined || given === false) && !('otherwise' in one)) return [];
    return (one.each?.(given) ?? [given]).map((value) => ({ key, one, value }));
  });
}

function judge(
  table: Readonly<Record<string, object>>,
  circuit: Circuit,
  rules: Rules,
  running: readonly MechanicalState[] = [],
): RuleVerdict[] {
  return asked(table, rules)
    .filter(({ one, value }) => one.applies?.(circuit, value) ?? true)
    .map(({ key, one, value }): RuleVerdict => {
      const { kept, ...broken } = one.breach(circuit, value, running) ?? {};
      return {
        key,
        id: one.id(value),
        title: one.title(value),
        broken: 'found' in broken ? broken : null,
        ...(kept === undefined ? {} : { kept }),
      };
    });
}

/**
 * House rules of the exercise, each judged on the wiring, its settings, and the states in which a motor
 * runs. A rule that is off, or has nothing to judge, is left out.
 */
export const judgeRules = (
  circuit: Circuit,
  rules: Rules,
  running: readonly MechanicalState[],
): RuleVerdict[] => judge(HOUSE, circuit, rules, running);

/** Workmanship: conductors on each terminal, colours, areas and numbers of wires. */
export const judgeWorkmanship = (circuit: Circuit, rules: Rules): RuleVerdict[] =>
  judge(WORKMANSHIP, circuit, rules);

/** The rules of an exercise in sentences. */
export const ruleSentences = (rules: Rules): string[] =>
  Object.entries({ ...HOUSE, ...WORKMANSHIP }).flatMap(([key, entry]) => {
    const given = (rules as Readonly<Record<string, unknown>>)[key];
    const text = given === undefined || given === false ? '' : (entry as Rule).sentence(given);
    return text ? [text] : [];
  });
