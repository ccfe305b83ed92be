import { describe, expect, test } from '@jest/globals';
import {
  AskedBoard,
  LONGEST_SEED,
  exerciseVariant,
  gradeAnswers,
  makeQuestions,
  readinessOf,
  referenceBench,
  type Exercise,
} from '@contactum/core';
import { readExercise } from '@contactum/core/documents';
import { shippedQuestions, shippedSearches } from '@contactum/core/exercises';
import { exercise, exercises, longList, longRuns, must } from './help.js';
import { copiedFrom, mistakesUnlike, readingsUnlike, unlikeOriginal, variantRead } from './fuzz/variants.js';
import { plainAnswer } from './fuzz/asked.js';

const SEEDS = Array.from({ length: 20 }, (_, k) => k + 1);
const searches = shippedSearches();
const pairs = exercises().flatMap((one) => SEEDS.map((seed) => ({ one, seed })));
/** Each takes a proof and some marks: where all were proved on these sources one in six of one in six is tried. */
const tried = longList(longList(pairs));

describe('variants of every shipped exercise', () => {
  test('each is readable, its reference is clean, and it has the same leads and states', () => {
    expect(tried.flatMap(({ one, seed }) => unlikeOriginal(one, seed))).toEqual([]);
  });

  test('usual mistakes keep their verdicts and what they lose', () => {
    expect(tried.flatMap(({ one, seed }) => mistakesUnlike(one, seed, (k) => k === seed % 17))).toEqual([]);
  });

  test('a neighbour’s leads and program do not pass', () => {
    const passed = tried.filter(
      ({ one, seed }) => copiedFrom(variantRead(one, seed), variantRead(one, seed + 1)).passed,
    );
    expect(passed.map(({ one, seed }) => `${one.id} ${seed}`)).toEqual([]);
    // Laid on the board that they belong to they do.
    expect(copiedFrom(variantRead(pairs[0]!.one, 1), variantRead(pairs[0]!.one, 1)).passed).toBe(true);
  });

  test('hidden faults are as hard to find: the readings of an expert differ by a tenth at most', () => {
    const seeds = SEEDS.slice(0, longRuns(4));
    expect(searches.flatMap((one) => seeds.flatMap((seed) => readingsUnlike(one, seed)))).toEqual([]);
  });

  test('hidden faults are others', () => {
    const same = searches.flatMap((one) => {
      const variant = exerciseVariant(one, 1).exercise;
      const kinds = (list: Exercise) =>
        list.sets!.map(({ faults }) => faults.map((fault) => Object.keys(fault)[0]));
      expect(kinds(variant)).toEqual(kinds(one));
      return variant.sets!.filter(({ complaint }, k) => complaint === one.sets![k]!.complaint);
    });
    // Where only one place of a board has a fault of that kind, it stays.
    expect(same.length).toBeLessThan(searches.flatMap(({ sets }) => sets!).length / 2);
  });
});

describe('a variant', () => {
  const harrow = exercise('salt-harrow-electrical-interlock');

  test('is the same for the same seed, another one for another seed, and never the exercise itself', () => {
    const made = SEEDS.map((seed) => JSON.stringify(exerciseVariant(harrow, seed).exercise));
    expect(SEEDS.map((seed) => JSON.stringify(exerciseVariant(harrow, seed).exercise))).toEqual(made);
    expect(new Set(made.map((text) => text.replace(/-v\d+"/, '"'))).size).toBe(SEEDS.length);
    expect(exerciseVariant(harrow, LONGEST_SEED).exercise.id).toBe(`${harrow.id}-v${LONGEST_SEED}`);
    const before = JSON.stringify(harrow);
    exerciseVariant(harrow, 5);
    expect(JSON.stringify(harrow)).toBe(before);
  });

  test('says in words what it is on the board, and keeps the ids that marks are compared by', () => {
    for (const seed of SEEDS) {
      const { exercise: variant } = exerciseVariant(harrow, seed);
      const tags = new Set(variant.bench.devices.map(({ tag }) => tag));
      const named = `${variant.brief} ${variant.behaviours.map(({ title }) => title).join(' ')}`.match(
        /\b(?:KM|S|M|F|Q)\d\b/g,
      )!;
      expect(named.filter((tag) => !tags.has(tag))).toEqual([]);
      expect(variant.behaviours.map(({ id }) => id)).toEqual(harrow.behaviours.map(({ id }) => id));
    }
  });

  test('counts contacts in other places and never changes what they do', () => {
    const { exercise: variant } = exerciseVariant(exercise('button-lamp-no'), 3);
    const [contacts] = variant.bench.devices.flatMap(
      ({ options }) => (options as { contacts?: string[] }).contacts ?? [],
    );
    const pair = contacts!.split(' ')[1]!;
    expect(pair).toBe(`${pair[0]}3-${pair[0]}4`);
    expect(variant.brief).toContain(`NO ${pair}`);
    // Read of as “its contact 13-14”: nobody would know which.
    const relay = exerciseVariant(exercise('coil-and-contact'), 3).exercise.bench.devices.find(
      ({ type }) => type === 'relay',
    );
    expect(JSON.stringify(relay!.options)).toContain('NO 13-14');
  });

  test('sets the dial by the plate, within the range of its relay, at another voltage', () => {
    const systems = new Set<unknown>();
    const currents = new Set<number>();
    for (const seed of SEEDS) {
      const { devices } = exerciseVariant(harrow, seed).exercise.bench;
      const relay = devices.find(({ type }) => type === 'overload')!;
      const { dial } = relay.settings as { dial: number };
      const [min, max] = (relay.options as unknown as { range: [number, number] }).range;
      const { plate } = devices.find(({ type }) => type === 'motor-3')!.options as unknown as {
        plate: { current: number; voltage: number };
      };
      const supply = devices.find(({ type }) => type === 'supply-3n')!.options as { lineVoltage?: number };
      expect(dial).toBe(plate.current);
      expect(dial).toBeGreaterThanOrEqual(min);
      expect(dial).toBeLessThanOrEqual(max);
      expect(plate.voltage).toBe(supply.lineVoltage);
      systems.add(supply.lineVoltage);
      currents.add(dial);
    }
    expect([...systems].sort()).toEqual([380, 400, 415]);
    expect(currents.size).toBeGreaterThan(4);
  });

  test('of a controller has other inputs, in program and wiring alike', () => {
    const one = exercise('brine-pump-controller-program');
    const stop = ({ program }: Exercise) => program!.A1!.variables.find(({ name }) => name === 'Stop');
    const at = new Set(
      SEEDS.map((seed) => JSON.stringify(stop(exerciseVariant(one, seed).exercise)).match(/I\d\.\d/)![0]),
    );
    expect(at.size).toBeGreaterThan(3);
  });

  test('of every set of questions that ships can be read: each question has an answer on its own board', () => {
    for (const one of shippedQuestions())
      for (const seed of SEEDS.slice(0, longRuns(8))) {
        const variant = variantRead(one, seed);
        expect(variant.questions!.map(({ id, ask }) => [id, ask])).toEqual(
          one.questions!.map(({ id, ask }) => [id, ask]),
        );
      }
  });

  test('leaves designations of another form as they are, and signs in them are no pattern', () => {
    const odd = JSON.parse(
      JSON.stringify(exercise('brine-pump-momentary'))
        .replaceAll('"S2', '"=H1+S2')
        .replaceAll(' S2', ' =H1+S2'),
    ) as Exercise;
    const variant = variantRead(must(readExercise(odd)), 4);
    expect(variant.bench.devices.map(({ tag }) => tag)).toContain('=H1+S2');
    expect(readinessOf(variant)).toMatchObject({ ready: true });
    expect(variant.reference.some(({ from }) => from.startsWith('=H1+S2:'))).toBe(true);
  });

  test('of questions asks the same of its own board', () => {
    const bench = referenceBench(harrow);
    const asked = must(
      readExercise({
        contactum: 'exercise/1',
        id: 'asked',
        title: 'Asked',
        family: 'reversing',
        task: 'answer',
        bench: JSON.parse(JSON.stringify(bench)) as unknown,
        reference: [],
        questions: makeQuestions(bench, { seed: 4, degree: 3, count: 12 }),
      }),
    );
    const variant = variantRead(asked, 9);
    expect(variant.questions).toHaveLength(asked.questions!.length);
    const board = new AskedBoard(referenceBench(variant));
    expect(board.bench.devices.map(({ tag }) => tag)).not.toEqual(bench.devices.map(({ tag }) => tag));
    const known = variant.questions!.flatMap((question) => {
      const answer = plainAnswer(variant.bench, question);
      return answer === null ? [] : [[question.id, answer] as const];
    });
    const report = gradeAnswers(variant, {
      contactum: 'answers/1',
      exercise: variant.id,
      answers: Object.fromEntries(known),
    });
    const ids = new Set(known.map(([id]) => id));
    expect(known.length).toBeGreaterThan(3);
    expect(report.criteria.filter(({ id, points, max }) => ids.has(id) && points < max)).toEqual([]);
  });
});
