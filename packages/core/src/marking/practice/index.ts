/**
 * Work practice: one entry for each thing that an exercise may ask for, judged from the log of an attempt
 * worked again.
 */
import type { Bench, Wiring } from '../../bench/index.js';
import type { DeadTest, Practice } from '../exercise.js';
import type { RuleVerdict } from '../rules/index.js';
import { judgeDeadTest } from './dead-test.js';
import { replayWork } from './replay.js';
import { deadTestsOf } from './usual-tests.js';
import { judgeWiringOrder } from './wiring-order.js';
import { atTime, type WorkEvent, type WorkFindings } from './work.js';
import { KEPT_BY_INCIDENT } from '../../tolerances.js';

export { isOhmsExpected, isReadingOf, ohmsLimits } from './dead-test.js';
export { replayWork } from './replay.js';
export { controlTests, deadTestsOf, expectedOhms } from './usual-tests.js';
export {
  describeOhms,
  noteHeld,
  type Reading as WorkReading,
  type AttemptEntry,
  type WorkEvent,
  type WorkFindings,
} from './work.js';

/** An attempt worked again. */
interface Work {
  /** What the dead test asks for. */
  readonly tests: readonly DeadTest[];
  readonly log: readonly WorkEvent[];
  readonly findings: WorkFindings;
  /** The exercise's board without its reference wiring. */
  readonly board: Wiring;
}

type Outcome = Pick<RuleVerdict, 'broken' | 'kept'>;

/** What is known of one thing that an exercise may ask of the way of working; V is what it says of it. */
interface Habit<V> {
  readonly id: string;
  readonly title: (asked: V) => string;
  readonly sentence: (asked: V) => string;
  readonly judge: (work: Work, asked: V) => Outcome;
}

const KEPT: Outcome = { broken: null };
const NEVER: Outcome = { broken: { found: 'the board was never energised' } };

const HABITS: { readonly [K in keyof Required<Practice>]: Habit<NonNullable<Practice[K]>> } = {
  deadTest: {
    id: 'dead-test',
    title: () => 'Dead test before the first energising',
    sentence: () => 'Test the wiring dead before you first switch on.',
    judge: ({ tests, log, findings }) => judgeDeadTest(tests, log, findings),
  },
  permission: {
    id: 'permission',
    title: () => 'Energised only with permission',
    sentence: () => 'Switch on only with the instructor’s permission; a changed wiring needs a new one.',
    judge({ findings: { energised } }) {
      if (energised.length === 0) return NEVER;
      const wrong = energised.filter(({ permitted }) => !permitted);
      if (wrong.length === 0) return KEPT;
      const times = wrong.length === 1 ? 'once' : `${wrong.length} times`;
      return { broken: { found: `energised without permission ${times}, first${atTime(wrong[0])}` } };
    },
  },
  incidents: {
    id: 'incidents',
    title: (most) => (most === 0 ? 'No incident while working' : `At most ${most} incidents while working`),
    sentence: (most) =>
      most === 0 ? 'No incident while working.' : `At most ${most} incidents while working.`,
    judge({ findings: { energised, incidents } }, most) {
      if (energised.length === 0) return NEVER;
      const over = incidents.length - most;
      if (over <= 0) return KEPT;
      const named = incidents.slice(0, 6).map((incident) => `${incident.kind}${atTime(incident)}`);
      return {
        broken: { found: `${incidents.length} incidents: ${named.join(', ')}` },
        kept: KEPT_BY_INCIDENT ** over,
      };
    },
  },
  minutes: {
    id: 'time',
    title: (most) => `Done within ${most} minutes`,
    sentence: (most) => `Done within ${most} minutes.`,
    judge({ log }, most) {
      const first = log.find(({ kind }) => kind === 'edit');
      const last = log.at(-1);
      const used = first && last ? (last.t - first.t) / 60 : 0;
      const over = used - most;
      if (over <= 0) return KEPT;
      return {
        broken: { found: `${used.toFixed(0)} minutes were used` },
        kept: Math.max(0, 1 - over / most),
      };
    },
  },
  wiringOrder: {
    id: 'wiring-order',
    title: (order) =>
      order === 'power-first'
        ? 'Power circuit wired before the control circuit'
        : 'Control circuit wired before the power circuit',
    sentence: (order) =>
      order === 'power-first' ? 'Power circuit first, then control.' : 'Control circuit first, then power.',
    judge: ({ log, board }, order) => judgeWiringOrder(order, log, board),
  },
};

/** What an exercise asks for, with the table's entry for it. */
function asked(practice: Practice): { habit: Habit<unknown>; value: unknown }[] {
  return (Object.keys(HABITS) as (keyof Practice)[]).flatMap((key) => {
    const value = practice[key];
    return value === undefined || value === false
      ? []
      : [{ habit: HABITS[key] as unknown as Habit<unknown>, value }];
  });
}

/** Work practice as the exercise asks for it, judged from the log of an attempt worked again. */
export function judgePractice(
  practice: Practice,
  log: readonly WorkEvent[],
  { board, reference }: { readonly board: Wiring; readonly reference: Bench },
): RuleVerdict[] {
  const tests = deadTestsOf(practice, reference);
  const work: Work = { tests, log, findings: replayWork(board, log), board };
  return asked(practice).map(({ habit, value }) => ({
    key: habit.id,
    id: habit.id,
    title: habit.title(value),
    ...habit.judge(work, value),
  }));
}

/** What an exercise asks of the way of working, in sentences. */
export const practiceSentences = (practice: Practice | undefined): string[] =>
  practice ? asked(practice).map(({ habit, value }) => habit.sentence(value)) : [];
