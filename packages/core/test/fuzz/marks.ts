import {
  grade,
  groundOf,
  referenceBench,
  rightWirings,
  wrongWirings,
  type Bench,
  type Exercise,
  type Report,
  type WrongWiring,
} from '@contactum/core';
import { exercises, seeded } from '../help.js';
import { templated } from './templates.js';

/** Marks of boards that are rightly wired otherwise, and of the usual mistakes made on one of them. */
export interface Marked {
  readonly right: number;
  readonly wrong: number;
  /** Passes although it should not, and cannot be told from the reference in any order of working. */
  readonly alike: readonly string[];
  /** Marks with which a careful instructor would not agree. */
  readonly findings: readonly string[];
}

const SHIPPED = exercises().filter(({ task, reference }) => task !== 'find' && reference.length > 0);
/** Every how many seeds a template comes after the exercises. */
const TURN = SHIPPED.length;

/** By turns each exercise that ships and a template. */
const exerciseOf = (seed: number): Exercise => SHIPPED[seed % (2 * TURN)] ?? templated(seed);

export function marksOf(seed: number, kinds: (kind: string) => boolean = () => true): Marked {
  const exercise = exerciseOf(seed);
  const random = seeded(seed);
  const boardOf = ({ wires, devices }: Pick<WrongWiring, 'wires' | 'devices'>): Bench => ({
    ...exercise.bench,
    devices,
    wires: [...exercise.bench.wires, ...wires],
  });
  const mark = (wiring: Pick<WrongWiring, 'wires' | 'devices'>) =>
    grade(exercise, boardOf(wiring), { faults: false });
  const otherwise = rightWirings(groundOf(exercise), random);
  const { devices } = referenceBench(exercise);
  const findings = otherwise.flatMap(({ title, wires }) => {
    const report = mark({ wires, devices });
    return isFull(report) ? [] : [`${exercise.id}: right, ${title}: ${told(report)}`];
  });
  // The mistakes are made on a board that is not the reference's.
  const ground = groundOf({ ...exercise, reference: otherwise[seed % otherwise.length]!.wires });
  const one = new Map<string, WrongWiring>();
  for (const wiring of wrongWirings(ground, Number.POSITIVE_INFINITY, random))
    if (kinds(wiring.kind) && !one.has(wiring.kind)) one.set(wiring.kind, wiring);
  const alike: string[] = [];
  for (const wiring of one.values()) {
    const report = mark(wiring);
    const isWrong = wiring.verdict === 'fails' ? report.passed : isFull(report);
    if (!isWrong) continue;
    const text = `${exercise.id}: ${wiring.title} (${wiring.verdict}): ${told(report)}`;
    if (report.equivalence.equivalent && report.properties.every(({ holds, lesson }) => holds || lesson))
      alike.push(text);
    else findings.push(text);
  }
  return { right: otherwise.length, wrong: one.size, alike, findings };
}

const isFull = ({ score, max, passed }: Report): boolean => passed && score === max;

const told = ({ score, passed, reason, criteria }: Report): string =>
  `${score}${passed ? ', passed' : ''}; ${reason ?? criteria.find(({ evidence }) => evidence)?.evidence?.found ?? 'nothing lost'}`;
