import { group, number, optional, type ValuesOf } from '../../catalogue/index.js';
import { secondsSet, wiredTerminals, type Circuit } from '../../circuit/index.js';
import { breachAt, namesOf, rule } from './rule.js';

const seconds = {
  min: optional(number('At least', { unit: 's', min: 0 })),
  max: optional(number('At most', { unit: 's', above: 0 })),
};

const timersOf = ({ mechanisms }: Circuit) =>
  mechanisms.flatMap((one) => {
    const delay = secondsSet(one);
    return delay === null ? [] : [{ tag: one.device.tag, delay }];
  });

const between = ({ min, max }: ValuesOf<typeof seconds>): string => {
  if (min === undefined) return `at most ${max ?? ''}`;
  return max === undefined ? `at least ${min}` : `${min} to ${max}`;
};

/** Seconds between which every timer must be set. */
export const timerSetting = {
  ...rule<ValuesOf<typeof seconds>>({
    id: () => 'timer-setting',
    title: () => 'Timer set as asked',
    sentence: (asked) => `Timers are set to ${between(asked)} s.`,
    applies: (circuit) => timersOf(circuit).length > 0,
    breach(circuit, { min = 0, max = Number.POSITIVE_INFINITY }) {
      const wrong = timersOf(circuit).filter(({ delay }) => delay < min || delay > max);
      const set = wrong.map(({ tag, delay }) => `${tag} is set to ${delay} s`).join(', ');
      return breachAt(
        wrong.map(({ tag }) => tag),
        `${set}; ${min} to ${max} s is asked for`,
      );
    },
  }),
  field: optional(group('Timers', seconds)),
};

/** Auxiliary contacts of contactors and relays that must be left without wires. */
export const freeContacts = {
  ...rule<number>({
    id: () => 'free-contacts',
    title: (least) => `At least ${least} auxiliary contacts left free`,
    sentence: (least) =>
      `${least === 1 ? 'One auxiliary contact stays' : `${least} auxiliary contacts stay`} free.`,
    breach(circuit, least) {
      const wired = wiredTerminals(circuit);
      const free = circuit.switches.filter(
        ({ spec, tag, a, b }) =>
          spec.role === 'aux' &&
          circuit.coils.some((coil) => coil.tag === tag) &&
          !wired.has(a) &&
          !wired.has(b),
      );
      if (free.length >= least) return null;
      return {
        found: free.length === 0 ? 'no auxiliary contact is left free' : `only ${namesOf(free)} left free`,
      };
    },
  }),
  field: optional(number('Free auxiliary contacts', { whole: true, min: 0, max: 40 })),
};
