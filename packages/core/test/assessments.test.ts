import { describe, expect, test } from '@jest/globals';
import { sampleCorrelation, sampleVariance } from 'simple-statistics';
import {
  agreementOf,
  cohensKappa,
  cronbachsAlpha,
  itemAnalysis,
  likenesses,
  moderationSample,
  outcomeOf,
  seededNumbers,
  shuffled,
  workOf,
  type AssessmentPlan,
  type Work,
} from '@contactum/core';

const WATCHED = {
  kind: 'observed',
  id: 'bench',
  title: 'At the bench',
  weight: 20,
  minutes: null,
  mustPass: false,
  criteria: [
    {
      id: 'dead',
      title: 'Proves dead',
      critical: true,
      levels: [0, 2, 4].map((points) => ({ title: `${points}`, points })),
    },
    {
      id: 'tidy',
      title: 'Tidy',
      critical: false,
      levels: [0, 6].map((points) => ({ title: `${points}`, points })),
    },
  ],
} as const;
const wired = (id: string, weight: number, mustPass = false) =>
  ({ kind: 'exercise', id, title: id, weight, minutes: null, mustPass }) as const;
const PLAN: AssessmentPlan = {
  tasks: [wired('wire', 60, true), wired('find', 20), WATCHED],
  pass: { sum: 60, each: false },
};
const mark = (points: number, max: number, passed: boolean) =>
  ({ kind: 'exercise', points, max, passed }) as const;
const levels = (dead: number | null, tidy: number | null) =>
  ({ kind: 'observed', levels: { dead, tidy } }) as const;

describe('what the marks of several tasks come to', () => {
  test('each counts by its weight, whatever its own points', () => {
    const { percent, passed, complete, tasks, reasons } = outcomeOf(PLAN, {
      wire: mark(45, 50, true),
      find: mark(10, 20, false),
      bench: levels(2, 1),
    });
    // 60 × 45/50 + 20 × 10/20 + 20 × 10/10
    expect([percent, passed, complete, reasons]).toEqual([84, true, true, []]);
    expect(tasks.map(({ share }) => share)).toEqual([54, 10, 20]);
  });

  test('what must be passed, what is critical and the sum each fail by themselves, and say so', () => {
    const failed = (marks: Parameters<typeof outcomeOf>[1], pass = PLAN.pass) =>
      outcomeOf({ ...PLAN, pass }, marks).reasons;
    const good = { wire: mark(50, 50, true), find: mark(20, 20, true), bench: levels(2, 1) };
    expect(failed(good)).toEqual([]);
    expect(failed({ ...good, wire: mark(44, 50, false) })).toEqual(['“wire” is not passed']);
    expect(failed({ ...good, bench: levels(0, 1) })).toEqual(['“Proves dead” is critical and was not met']);
    expect(failed({ ...good, find: mark(9, 20, false) })).toEqual([]);
    expect(failed({ ...good, find: mark(9, 20, false) }, { sum: null, each: true })).toEqual([
      '“find” is not passed',
    ]);
    expect(
      failed({ ...good, wire: mark(20, 50, true), find: mark(0, 20, false), bench: levels(1, 0) }),
    ).toEqual(['28 %; the pass mark is 60 %']);
  });

  test('what was never begun counts nothing and is marked; what examiners have not judged is not', () => {
    const none = outcomeOf(PLAN, { wire: { kind: 'none' }, find: { kind: 'none' }, bench: levels(null, 1) });
    expect([none.complete, none.percent, none.passed]).toEqual([false, 12, false]);
    const judged = outcomeOf(PLAN, { wire: { kind: 'none' }, find: { kind: 'none' }, bench: levels(1, 1) });
    expect(judged.complete).toBe(true);
    expect(outcomeOf(PLAN, { find: mark(1, 1, true), bench: levels(1, 1) }).complete).toBe(false);
  });
});

describe('agreement', () => {
  /** Pairs of judgements, as often as a table of counts says. */
  const table = (rows: readonly (readonly number[])[]) =>
    rows.flatMap((row, a) =>
      row.flatMap((count, b) => Array.from({ length: count }, (): [number, number] => [a, b])),
    );

  test('Cohen’s κ of the textbook’s fifty applications is 0.4 (20, 5, 10, 15; from memory)', () => {
    expect(
      cohensKappa(
        table([
          [20, 5],
          [10, 15],
        ]),
      ),
    ).toBeCloseTo(0.4, 12);
  });

  test('κ with linear weights, worked by hand', () => {
    // Observed distance 10/40; by the margins 12, 16, 12 and 14, 14, 12: (12·(14+24) + 16·(14+12) + 12·(28+14))/1600.
    const rows = [
      [10, 2, 0],
      [4, 10, 2],
      [0, 2, 10],
    ];
    const expected = (12 * (14 + 2 * 12) + 16 * (14 + 12) + 12 * (2 * 14 + 14)) / 1600;
    expect(cohensKappa(table(rows), 'linear')).toBeCloseTo(1 - 10 / 40 / expected, 12);
  });

  test('nobody, one level alone, all the same, all otherwise', () => {
    expect(cohensKappa([])).toBeNull();
    expect(
      cohensKappa([
        [1, 1],
        [1, 1],
      ]),
    ).toBeNull();
    expect(
      cohensKappa([
        [0, 0],
        [1, 1],
        [2, 2],
      ]),
    ).toBe(1);
    expect(
      cohensKappa([
        [0, 1],
        [1, 0],
      ]),
    ).toBe(-1);
    expect(
      agreementOf([
        [0, 1],
        [2, 2],
        [1, 2],
        [1, 1],
      ]),
    ).toEqual({
      both: 4,
      same: 0.5,
      kappa: expect.any(Number),
      difference: 0.5,
    });
  });
});

describe('what the tasks tell', () => {
  /** Points of a class whose people differ in ability; `worth` says how much an item hangs on it. */
  function points(people: number, worth: readonly number[], seed: number): number[][] {
    const random = seededNumbers(seed);
    return Array.from({ length: people }, () => {
      const ability = random();
      return worth.map((one) => 10 * (one * ability + (1 - one) * random()));
    });
  }

  test('facility, discrimination and α are those of a reference library (simple-statistics)', () => {
    for (let seed = 1; seed <= 20; seed += 1) {
      const rows = points(12, [0.9, 0.7, 0.3, 0.5], seed);
      const { items, alpha, error } = itemAnalysis(rows, [10, 10, 10, 10]);
      const sums = rows.map((row) => row.reduce((sum, one) => sum + one, 0));
      const column = (k: number) => rows.map((row) => row[k]!);
      const own = items.reduce((sum, _, k) => sum + sampleVariance(column(k)), 0);
      const expected = (4 / 3) * (1 - own / sampleVariance(sums));
      expect(alpha).toBeCloseTo(expected, 10);
      expect(error).toBeCloseTo(Math.sqrt(sampleVariance(sums) * (1 - Math.max(0, expected))), 10);
      items.forEach(({ facility, discrimination }, k) => {
        const rest = sums.map((sum, person) => sum - rows[person]![k]!);
        expect(discrimination).toBeCloseTo(sampleCorrelation(column(k), rest), 10);
        expect(facility).toBeCloseTo(column(k).reduce((sum, one) => sum + one, 0) / 120, 10);
      });
    }
  });

  test('α of right and wrong is KR-20 (G. F. Kuder and M. W. Richardson 1937), worked by hand', () => {
    // Five people, four items: shares right 4/5, 3/5, 3/5, 2/5; sums 4, 3, 3, 1, 1.
    const rows = [
      [1, 1, 1, 1],
      [1, 1, 1, 0],
      [1, 0, 1, 1],
      [1, 0, 0, 0],
      [0, 1, 0, 0],
    ];
    const pq = 0.8 * 0.2 + 0.6 * 0.4 + 0.6 * 0.4 + 0.4 * 0.6;
    // Variances of both over n, as KR-20 has them: the part is the same over n − 1.
    const sums = [4, 3, 3, 1, 1];
    const mean = 12 / 5;
    const variance = sums.reduce((all, sum) => all + (sum - mean) ** 2, 0) / 5;
    expect(cronbachsAlpha(rows)).toBeCloseTo((4 / 3) * (1 - pq / variance), 12);
  });

  test('items that tell nothing are named, others are not', () => {
    const rows = points(400, [0.95, 0.9, 0.9, 0.9, 0], 3).map((row) => [...row, 10, 0, 10 - row[1]!, 6]);
    const { items } = itemAnalysis(
      rows,
      Array.from({ length: 9 }, () => 10),
    );
    expect(items.map(({ weakness }) => weakness)).toEqual([
      ...[null, null, null, null],
      'it hardly separates strong from weak',
      'nearly everybody has full marks',
      'nearly everybody has none of the marks',
      'those who do well otherwise do worse here',
      'everybody has the same mark',
    ]);
  });

  test('too few people and too few items say nothing', () => {
    expect(itemAnalysis([], [10])).toEqual({
      people: 0,
      items: [{ facility: 0, discrimination: null, spread: 0, weakness: null }],
      alpha: null,
      error: null,
    });
    expect(cronbachsAlpha([[1, 2]])).toBeNull();
    expect(cronbachsAlpha([[1], [2]])).toBeNull();
    expect(
      cronbachsAlpha([
        [1, 2],
        [1, 2],
      ]),
    ).toBeNull();
  });
});

test('a moderator sees who is near the mark, whose examiners differ, one who failed, and some by lot', () => {
  const marked = Array.from({ length: 36 }, (_, k) => ({
    id: `p${k}`,
    percent: 20 + 2 * k,
    passed: 20 + 2 * k >= 60,
    differs: k === 30,
  }));
  const sample = moderationSample(marked, { passMark: 60, seed: 7 });
  const of = (why: string) => sample.filter((one) => one.why === why).map(({ id }) => id);
  expect(of('near the pass mark')).toEqual(['p18', 'p19', 'p20', 'p21', 'p22']);
  expect(of('examiners differ')).toEqual(['p30']);
  expect(of('not passed')).toHaveLength(1);
  expect(new Set(sample.map(({ id }) => id)).size).toBe(sample.length);
  expect(moderationSample(marked, { passMark: 60, seed: 7 })).toEqual(sample);
  // With nothing near or different, as many as the square root of the class by lot.
  const plain = marked.map((one) => ({ ...one, percent: 90, passed: true, differs: false }));
  expect(moderationSample(plain, { passMark: 60, seed: 7 })).toHaveLength(6);
  expect(moderationSample(plain.slice(0, 3), { passMark: 60, seed: 7 })).toHaveLength(3);
});

describe('whose work is more alike than chance', () => {
  /** Terminals of each potential of a board to wire. */
  const NETS = Array.from({ length: 20 }, (_, n) =>
    Array.from({ length: 2 + (n % 4) }, (__, k) => `N${n}:${k}`),
  );
  const netOf = (terminal: string) => terminal.split(':')[0]!;
  type Lead = { from: string; to: string };

  /**
   * Somebody wires a board in one of some manners, as people do: potential by potential, more or less in the
   * order of the drawing, each as a chain or a star, as they are used to, but not always.
   */
  function honest(id: string, random: () => number): { work: Work; laid: Lead[] } {
    const habit = random();
    const order = NETS.map((_, n) => ({ n, at: n + 5 * random() * (random() < 0.3 ? 3 : 1) }))
      .sort((a, b) => a.at - b.at)
      .map(({ n }) => n);
    const laid = order.flatMap((n): Lead[] => {
      const ends = random() < 0.5 ? NETS[n]! : shuffled(NETS[n]!, random);
      const isStar = random() < (habit < 0.4 ? 0.8 : 0.2);
      return ends.slice(1).map((to, k) => ({ from: isStar ? ends[0]! : ends[k]!, to }));
    });
    return { work: workOf(id, laid, laid, netOf), laid };
  }
  const classOf = (people: number, seed: number) => {
    const random = seededNumbers(seed);
    return { random, all: Array.from({ length: people }, (_, k) => honest(`p${k}`, random)) };
  };

  test('30 honest classes of 24: at most one pair is named without a reason', () => {
    const named = Array.from({ length: 30 }, (_, seed) => {
      const { all } = classOf(24, 100 + seed);
      return likenesses(
        all.map(({ work }) => work),
        seed,
      ).pairs.length;
    });
    expect(named.reduce((sum, one) => sum + one, 0)).toBeLessThanOrEqual(1);
  });

  /** Of some classes: in how many a copy is the first that is named, and how many others are named. */
  function copies(classes: number, copy: (laid: readonly Lead[], random: () => number) => Work) {
    const named = Array.from({ length: classes }, (_, seed) => {
      const { all, random } = classOf(24, 500 + seed);
      const works = all.map(({ work }, k) => (k === 17 ? copy(all[3]!.laid, random) : work));
      return likenesses(works, seed).pairs.map(({ one, other }) => `${one} ${other}`);
    });
    const found = named.filter(([first]) => first === 'p3 p17').length;
    return { found: found / classes, others: named.flat().filter((pair) => pair !== 'p3 p17').length };
  }

  test('leads that were copied are found in 95 % of the classes, laid in an order of their own and some changed', () => {
    const { found, others } = copies(40, (laid, random) => {
      const changed = laid.map((lead) => (netOf(lead.from) === 'N5' ? { from: 'N5:2', to: lead.to } : lead));
      return workOf('p17', changed, shuffled(changed, random), netOf);
    });
    expect(found).toBeGreaterThanOrEqual(0.95);
    expect(others).toBeLessThanOrEqual(1);
  });

  test('laid as the neighbour laid them they are always found; what both chose is told, the rarest first', () => {
    expect(copies(20, (laid) => workOf('p17', laid, laid, netOf)).found).toBe(1);
    const { all } = classOf(24, 77);
    const works = all.map(({ work }, k) => (k === 17 ? { ...all[3]!.work, id: 'p17' } : work));
    const { pairs, usual, trials } = likenesses(works);
    expect(pairs.map(({ one, other }) => [one, other])).toEqual([['p3', 'p17']]);
    expect(pairs[0]!.bits).toBeGreaterThan(usual);
    expect(pairs[0]!.chance).toBeCloseTo(2 / (trials + 1), 10);
    const others = pairs[0]!.shared.map((one) => one.others);
    expect(others).toEqual(others.toSorted((a, b) => a - b));
    expect(pairs[0]!.shared[0]!.where).toMatch(/^(after|leads of) N/);
  });

  test('nobody is compared with nobody', () => {
    expect(likenesses([]).pairs).toEqual([]);
    const { all } = classOf(2, 1);
    expect(likenesses([all[0]!.work, { ...all[0]!.work, id: 'p1' }]).pairs).toEqual([]);
  });
});
