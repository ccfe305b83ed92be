import type { Knex } from 'knex';
import { agreementOf, itemAnalysis, levelPoints, mostObserved, type Agreement } from '@contactum/core';
import type { LookBack, Person, SetTask } from '@contactum/contract';
import { MarkingModel, type SittingModel } from '../../database/models.js';
import {
  NO_WORK,
  judgedAt,
  judgementsOf,
  outcomesOf,
  standing,
  type Judgements,
  type Level,
} from './outcomes.js';
import { hasSat, requireOwnAssessment } from './set.js';

/** What the marks of an assessment tell of its tasks, by those who sat all of it. */
export async function lookBack(database: Knex, id: string, instructor: Person): Promise<LookBack> {
  const assessment = await requireOwnAssessment(database, id, instructor);
  const { plan } = assessment;
  const sat = assessment.sittings.filter(hasSat);
  const judgements = await judgementsOf(database, id);
  const outcomes = await outcomesOf(database, assessment, ids(sat), judgements);
  const whole = sat.filter(({ studentId }) => outcomes.get(studentId)?.outcome.complete);
  const of = ({ studentId }: SittingModel) => outcomes.get(studentId) ?? NO_WORK;
  const shares = whole.map((one) => of(one).outcome.tasks.map(({ share }) => share));
  const most = whole[0] ? of(whole[0]).outcome.tasks.map(({ mostShare }) => mostShare) : [];
  const criteria = await criterionPoints(database, plan.tasks, whole, { outcomes, judgements });
  return {
    people: whole.length,
    passed: whole.filter((one) => of(one).outcome.passed).length,
    percents: whole.map((one) => of(one).outcome.percent),
    tasks: plan.tasks.map(({ id: task, title }, k) => ({
      id: task,
      title,
      percents: shares.map((row) => partOf(row[k] ?? 0, most[k] ?? 0)),
      minutes: whole.flatMap((one) => {
        const spent = of(one).attempts.find((attempt) => attempt.task === task)?.minutes;
        return spent === null || spent === undefined ? [] : [spent];
      }),
    })),
    byTask: itemAnalysis(shares, most),
    criteria: criteria.map(({ task, title, max }) => ({ task, title, max })),
    byCriterion: itemAnalysis(
      whole.map((_, person) => criteria.map(({ points }) => points[person] ?? 0)),
      criteria.map(({ max }) => max),
    ),
    ...agreements(plan.tasks, judgements),
  };
}

/** Per cent, to one decimal. */
const partOf = (share: number, most: number): number =>
  most > 0 ? Math.round((1000 * share) / most) / 10 : 0;

const ids = (sittings: readonly SittingModel[]): string[] => sittings.map(({ studentId }) => studentId);

interface CriterionPoints {
  readonly task: string;
  readonly title: string;
  readonly max: number;
  /** By person. */
  readonly points: number[];
}

/** Points of every criterion that everybody was marked by, the machine's and the examiners'. */
async function criterionPoints(
  database: Knex,
  tasks: readonly SetTask[],
  whole: readonly SittingModel[],
  {
    outcomes,
    judgements,
  }: {
    readonly outcomes: Awaited<ReturnType<typeof outcomesOf>>;
    readonly judgements: Judgements;
  },
): Promise<CriterionPoints[]> {
  const attempts = whole.map(({ studentId }) => (outcomes.get(studentId) ?? NO_WORK).attempts);
  const reports = await MarkingModel.query(database).whereIn(
    'attemptId',
    attempts.flat().map(({ attemptId }) => attemptId),
  );
  const reportOf = new Map(reports.map(({ attemptId, report }) => [attemptId, report]));
  return tasks.flatMap((task): CriterionPoints[] => {
    if (task.kind === 'observed')
      return task.criteria.map((one) => ({
        task: task.title,
        title: one.title,
        max: mostObserved({ ...task, criteria: [one] }),
        points: whole.map(
          ({ studentId }) =>
            levelPoints(one, standing(judgements, { studentId, task: task.id, criterion: one.id })) ?? 0,
        ),
      }));
    const own = attempts.map((list) => list.find((one) => one.task === task.id));
    const first = own.flatMap((one) => (one && reportOf.get(one.attemptId)) ?? []);
    const keys = new Map(
      first.flatMap(({ criteria }) =>
        criteria.map(({ part, id, title, max }) => [`${part} ${id}`, { title, max }] as const),
      ),
    );
    return [...keys].flatMap(([key, { title, max }]) =>
      max === 0
        ? []
        : [
            {
              task: task.title,
              title,
              max,
              points: own.map((one) => {
                const report = one && reportOf.get(one.attemptId);
                return report?.criteria.find(({ part, id }) => `${part} ${id}` === key)?.points ?? 0;
              }),
            },
          ],
    );
  });
}

/** How far the first two examiners of each criterion agree. */
function agreements(
  tasks: readonly SetTask[],
  { levels }: Judgements,
): Pick<LookBack, 'agreement' | 'agreementInAll'> {
  const pairOf = (one: Level): [number, number][] => {
    const all = judgedAt(levels, one);
    const [first, second] = all;
    return second && first === one ? [[one.level, second.level]] : [];
  };
  const agreement = tasks.flatMap((task) =>
    task.kind === 'observed'
      ? task.criteria.map((criterion): { task: string; criterion: string; of: Agreement } => ({
          task: task.title,
          criterion: criterion.title,
          of: agreementOf(
            levels
              .filter((one) => one.task === task.id && one.criterion === criterion.id)
              .flatMap((one) => pairOf(one)),
          ),
        }))
      : [],
  );
  return { agreement, agreementInAll: agreementOf(levels.flatMap((one) => pairOf(one))) };
}
