import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  fieldOf,
  formulaAmps,
  necFullLoad,
  sizeStarter,
  transformerFor,
  voltDrop,
  type StarterInput,
} from '@contactum/core';
import { exercise } from './help.js';

const US: StarterInput = {
  form: 'us',
  power: 10,
  volts: 460,
  frequency: 60,
  speed: 1745,
  cosPhi: 0.85,
  efficiency: 0.89,
  serviceFactor: 1.15,
  startRatio: 6,
  length: 0,
  starting: 'direct',
};
const IEC: StarterInput = {
  ...US,
  form: 'iec',
  power: 4,
  volts: 400,
  frequency: 50,
  speed: 1440,
  amps: 8.2,
  length: 60,
  starting: 'star-delta',
};

const chosen = (input: StarterInput) =>
  Object.fromEntries(sizeStarter(input).map(({ id, value, chosen: words }) => [id, { value, words }]));

describe('against the handbook (from memory)', () => {
  // NEC Table 430.250.
  const amps: readonly (readonly [number, number, number])[] = [
    [1, 460, 2.1],
    [2, 460, 3.4],
    [5, 460, 7.6],
    [10, 460, 14],
    [20, 460, 27],
    [30, 460, 40],
    [50, 460, 65],
    [10, 230, 28],
    [1, 208, 4.6],
    [5, 208, 16.7],
    [10, 208, 30.8],
  ];
  test.each(amps)('%d hp at %d V takes %d A (NEC Table 430.250)', (hp, volts, wanted) =>
    expect(necFullLoad(hp, volts)).toBe(wanted),
  );

  test('a motor that is not in the table has none', () => {
    expect(necFullLoad(4, 460)).toBeNull();
    expect(necFullLoad(5, 400)).toBeNull();
  });

  test('10 hp at 460 V: overload 125 %, fuse 175 %, breaker 250 %, size 1, conductor for 125 % (NEC 430.32, 430.52, 430.22; NEMA ICS 2)', () => {
    const all = chosen(US);
    expect(all['full-load-current']?.value).toBe(14);
    expect(all.overload?.value).toBeCloseTo(17.5, 6);
    expect(all.fuse?.value).toBe(25);
    expect(all.breaker?.value).toBe(35);
    expect(all.contactor?.words).toBe('size 0');
    expect(all.cable?.words).toBe('14 AWG');
    expect(chosen({ ...US, serviceFactor: 1 }).overload?.value).toBeCloseTo(16.1, 6);
  });

  test('the overload goes by the plate, everything else by the table (NEC 430.6)', () => {
    const all = chosen({ ...US, amps: 12.4 });
    expect(all.overload?.value).toBeCloseTo(15.5, 6);
    expect(all.fuse?.value).toBe(25);
    expect(all['table-current']?.value).toBe(14);
  });

  test('four poles at 60 Hz: 1800 rpm, 3.06 % slip at 1745 rpm; 208 V is 120.1 V to neutral (arithmetic)', () => {
    expect(fieldOf({ frequency: 60, speed: 1745 })).toMatchObject({ poles: 4, rpm: 1800 });
    expect(fieldOf({ frequency: 60, speed: 1745 }).slip).toBeCloseTo(0.0306, 4);
    expect(fieldOf({ frequency: 50, speed: 2890 })).toMatchObject({ poles: 2, rpm: 3000 });
    expect(208 / Math.sqrt(3)).toBeCloseTo(120.1, 1);
  });

  test('locked-rotor letters: 6 kVA/hp is G, 5.3 is F (NEMA MG 1)', () => {
    const letter = (startRatio: number) => chosen({ ...US, startRatio })['code-letter'];
    const perRatio = (Math.sqrt(3) * 460 * 14) / 1000 / 10;
    expect(letter(6 / perRatio)?.words).toBe('G');
    expect(letter(5.3 / perRatio)?.words).toBe('F');
    expect(letter(7.5 / perRatio)?.words).toBe('J');
  });
});

describe('an IEC starter', () => {
  test('4 kW star-delta: dial at the plate, 0.58 of it in the winding leg, 8 s', () => {
    const all = chosen(IEC);
    expect(all.overload?.value).toBe(8.2);
    expect(all['winding-leg-dial']?.value).toBeCloseTo(8.2 * 0.577, 2);
    expect(all.timer?.value).toBe(8);
    expect(all.contactor?.words).toBe('Ie 9 A');
    expect(all.cable?.words).toBe('1.5 mm²');
    expect(formulaAmps({ ...IEC, cosPhi: 0.8, efficiency: 0.88 })).toBeCloseTo(8.2, 1);
  });

  test('volt drop worked by hand: 60 m of 1.5 mm² at 8.2 A, cos φ 0.85', () => {
    // √3 × 8.2 × 60 × (0.015 × 0.85 + 0.00008 × 0.5268)
    expect(voltDrop(8.2, 60, 1.5, 0.85)).toBeCloseTo(10.901, 2);
  });
});

test('more power never takes a smaller part, and every figure has its formula and what it rests on', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('iec' as const, 'us' as const),
      fc.double({ min: 0.5, max: 30, noNaN: true }),
      (form, power) => {
        const base = { ...(form === 'us' ? US : IEC), power, amps: undefined };
        const more = { ...base, power: power * 1.3 };
        const [small, large] = [chosen(base), chosen(more)];
        for (const id of ['overload', 'fuse', 'breaker', 'contactor', 'cable'])
          expect(large[id]!.value >= small[id]!.value || Number.isNaN(large[id]!.value)).toBe(true);
        for (const { how, rests } of sizeStarter(base)) expect(how && rests).toBeTruthy();
      },
    ),
  );
});

test('what is no plate is refused with its name', () => {
  expect(() => sizeStarter({ ...US, speed: 0 })).toThrow('speed: must be positive, is 0');
});

test('a control transformer for the coils of a board', () => {
  const { sealed, inrush, needed, rating } = transformerFor(
    exercise('brine-pump-control-transformer').bench.devices,
  );
  // One contactor: 8 VA sealed, 70 VA as it pulls in.
  expect(sealed).toBeCloseTo(8, 6);
  expect(inrush).toBeCloseTo(62, 6);
  expect(needed).toBeCloseTo(56, 6);
  expect(rating).toBe(63);
});
