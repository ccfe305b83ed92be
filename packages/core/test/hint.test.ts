import { describe, expect, test } from '@jest/globals';
import {
  contactsOf,
  examined,
  grade,
  hintFor,
  netlistOf,
  referenceBench,
  resultWith,
  rungWords,
  spellRef,
  programOf,
  terminalsOf,
  withProgram,
  workedBy,
  type Bench,
  type Exercise,
  type Program,
  type Rung,
  type Wire,
} from '@contactum/core';
import { exercise, exercises, longList } from './help.js';

/** What a lead hint says, done to a wiring. */
function followed(bench: Bench, text: string): Bench {
  const ref = new Map(terminalsOf(bench).map((one) => [spellRef(one), one]));
  const lay = /^Lay a lead from (.+) to (.+)\.$/.exec(text);
  const off = /^Take off the lead (.+) (?:to|–) (.+)\.$/.exec(text);
  const move = /^Move the end at (.+) of the lead (.+) (?:to|–) (.+) to (.+)\.$/.exec(text);
  const wires: Wire[] = [...bench.wires];
  const place = (a: string, b: string) =>
    wires.findIndex(({ from, to }) => [from, to].sort().join() === [ref.get(a), ref.get(b)].sort().join());
  if (lay) wires.push({ from: ref.get(lay[1]!)!, to: ref.get(lay[2]!)! });
  else if (off) wires.splice(place(off[1]!, off[2]!), 1);
  else if (move) {
    const k = place(move[2]!, move[3]!);
    const [end, goes] = [ref.get(move[1]!)!, ref.get(move[4]!)!];
    const { from, to } = wires[k]!;
    wires[k] = from === end ? { from: goes, to } : { from, to: goes };
  } else throw new Error(`not understood: ${text}`);
  return { ...bench, wires };
}

const passes = (asked: Exercise, bench: Bench): boolean => grade(asked, bench, { faults: false }).passed;

describe('hints by degree', () => {
  for (const id of longList([
    'button-lamp-no',
    'coil-and-contact',
    'brine-pump-three-wire',
    'sluice-gate-jog-selector',
  ]))
    test(`${id}: who follows the lead hints from an empty board ends with one that passes`, () => {
      const asked = exercise(id);
      let bench: Bench = { ...asked.bench };
      for (let n = 0; n <= 2 * asked.reference.length; n += 1) {
        const hint = hintFor(asked, bench, 'lead');
        if (!hint) break;
        expect(hint.at).toHaveLength(2);
        bench = followed(bench, hint.text);
      }
      expect(hintFor(asked, bench, 'symptom')).toBeNull();
      expect(passes(asked, bench)).toBe(true);
    });

  test('a lead that joins what must not be joined is the one that is taken off', () => {
    const asked = exercise('brine-pump-three-wire');
    const reference = referenceBench(asked);
    const extra: Wire = { from: 'S1:21', to: 'S1:22' } as Wire;
    const wired = { ...reference, wires: [...reference.wires, extra] };
    const symptom = hintFor(asked, wired, 'symptom');
    expect(symptom).toMatchObject({ degree: 'symptom', at: [] });
    expect(symptom?.text).toMatch(/press S1/);
    expect(hintFor(asked, wired, 'lead')?.text).toMatch(/^Take off the lead S1 2[12] (to|–) S1 2[12]\.$/);
  });

  test('what goes wrong names no terminal of the lead that is missing, where to look names one end', () => {
    const asked = exercise('brine-pump-emergency-stop');
    const reference = referenceBench(asked);
    for (const [k, gone] of reference.wires.entries()) {
      const wired = { ...reference, wires: reference.wires.filter((_, n) => n !== k) };
      const joined = netlistOf(wired).netOf;
      // A second way between the same terminals: nothing goes wrong.
      if (joined.get(gone.from) !== undefined && joined.get(gone.from) === joined.get(gone.to)) continue;
      const symptom = hintFor(asked, wired, 'symptom')!;
      expect(symptom.at).toEqual([]);
      const net = hintFor(asked, wired, 'net')!;
      expect(net.at).toHaveLength(1);
      expect(net.text).toContain(spellRef(net.at[0]!));
      expect(passes(asked, followed(wired, hintFor(asked, wired, 'lead')!.text))).toBe(true);
    }
  });

  test('what hints cost is taken off the score and may cost the pass, and points changed by hand keep it so', () => {
    const asked = exercise('brine-pump-three-wire');
    const reference = referenceBench(asked);
    const without = grade(asked, reference, { faults: false });
    const report = grade(asked, reference, { faults: false, hints: ['symptom', 'net', 'symptom'] });
    expect(report.hints).toEqual({ taken: ['symptom', 'net', 'symptom'], cost: 4 });
    expect(report.score).toBe(without.score - 4);
    expect(report.criteria).toEqual(without.criteria);
    const dear = grade({ ...asked, hints: { symptom: 0, net: 0, lead: 90 } }, reference, {
      faults: false,
      hints: ['lead'],
    });
    expect(dear).toMatchObject({ score: without.score - 90, passed: false });
    expect(dear.reason).toMatch(/are needed/);
    const [first] = report.criteria;
    const changed = resultWith(report, [{ part: first!.part, criterion: first!.id, to: first!.max }]);
    expect(changed.score).toBe(report.score);
    // Who takes none is told nothing of hints.
    expect(without.hints).toBeUndefined();
  });
});

describe('where the program is the student’s', () => {
  const asked = exercise('brine-pump-controller-convert');
  const right = referenceBench(asked);
  const withRungs = (change: (rungs: Program['rungs']) => Program['rungs']): Bench => ({
    ...right,
    devices: right.devices.map((device) => {
      const program = programOf(device);
      return program ? withProgram(device, { ...program, rungs: change(program.rungs) }) : device;
    }),
  });
  const hints = (bench: Bench) =>
    (['net', 'lead'] as const).map((degree) => hintFor(asked, bench, degree)?.text);

  const RUNG = 'NO I0.0, NO I0.2, (NO I0.1 or NO I0.3) → Q0.0';

  test('a controller without one is named, and that every lead is right; then a rung of a right one', () => {
    const first = 'Every lead is right. A1 has no program yet.';
    expect(hints(withRungs(() => []))).toEqual([first, `${first} A correct program has this rung: ${RUNG}.`]);
  });

  test('of one that a single contact makes right first the rung is told, then the contact', () => {
    const sealless = withRungs((rungs) =>
      rungs.map((rung) => ({
        ...rung,
        when: rung.when.map((part) => ('any' in part ? { ...part, any: part.any.slice(0, 1) } : part)),
      })),
    );
    expect(hints(sealless)).toEqual([
      'Look at rung 1 of the program.',
      'Rung 1: NO Runs in parallel with NO Start.',
    ]);
  });

  test('where more is wrong, or a lead, it says so', () => {
    const first = 'Every lead is right. Look at the program.';
    expect(
      hints(withRungs((rungs) => rungs.map((rung) => ({ ...rung, when: rung.when.slice(0, 1) })))),
    ).toEqual([first, `${first} A correct program has this rung: ${RUNG}.`]);
    const lacking = { ...right, wires: right.wires.slice(0, -1) };
    expect(hintFor(asked, lacking, 'lead')?.text).toMatch(/^Lay a lead from /);
    // Without a program and with a lead less, the lead comes first.
    const both = { ...lacking, devices: asked.bench.devices };
    expect(hintFor(asked, both, 'lead')?.text).toMatch(/^Lay a lead from /);
  });
});

test('a rung on one line names every contact and every action, by address where it has one (every shipped program)', () => {
  let rungs = 0;
  for (const { program = {} } of exercises())
    for (const one of Object.values(program))
      for (const rung of one.rungs) {
        rungs += 1;
        const words = rungWords(one, rung);
        const [when, then] = words.split(' → ') as [string, string];
        const placeOf = (name: string) => {
          const variable = one.variables.find((other) => other.name === name);
          return variable && 'at' in variable ? variable.at : name;
        };
        for (const { contact } of contactsOf({ rungs: [rung] }))
          expect(when).toContain(placeOf(examined(contact)));
        for (const action of rung.then) expect(then).toContain(placeOf(workedBy(action)));
        expect(when.split('(').length).toBe(when.split(')').length);
      }
  expect(rungs).toBeGreaterThan(15);
});

test('edges, blocks and what is set and reset are said as such', () => {
  const variables = [
    { name: 'Go', at: 'I0.1' },
    { name: 'Out', at: 'Q0.2' },
    { name: 'Kept' },
    { name: 'Rest', timer: 'TON', preset: 5 },
    { name: 'Starts', counter: 'CTU', preset: 3 },
  ] as const;
  const words = (when: Rung['when'], then: Rung['then']) => rungWords({ variables }, { when, then });
  expect(words([{ rising: 'Go' }], [{ set: 'Kept' }])).toBe('rising edge of I0.1 → set Kept');
  expect(words([{ falling: 'Go' }, { nc: 'Rest.Q' }], [{ reset: 'Kept' }, { negated: 'Out' }])).toBe(
    'falling edge of I0.1, NC Rest.Q → reset Kept, not Q0.2',
  );
  expect(words([{ no: 'Kept' }], [{ timer: 'Rest' }, { counter: 'Starts', reset: 'Go' }])).toBe(
    'NO Kept → Rest (TON 5 s), Starts (CTU 3)',
  );
  expect(words([], [{ coil: 'Out' }])).toBe('always → Q0.2');
});
