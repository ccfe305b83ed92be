import fc from 'fast-check';
import type { Exercise } from '@contactum/core';
import {
  TEMPLATE_DEFAULTS,
  TEMPLATE_FAMILIES,
  exerciseFromTemplate,
  templateProblems,
  type TemplateChoices,
} from '@contactum/core/exercises';

/** Whatever may be chosen for a template; some choices do not go together. */
export const choices: fc.Arbitrary<TemplateChoices> = fc
  .record({
    family: fc.constantFrom(...TEMPLATE_FAMILIES),
    form: fc.constantFrom('iec', 'us'),
    control: fc.constantFrom('direct', 'lines', 'transformer', 'dc'),
    controlProtection: fc.constantFrom('fuse', 'breaker'),
    motorProtection: fc.constantFrom('breaker', 'fuses'),
    overload: fc.constantFrom('line', 'coil'),
    relay: fc.constantFrom('thermal', 'electronic'),
    relays: fc.constantFrom('shared', 'in-series', 'own-rung'),
    stations: fc.integer({ min: 1, max: 3 }),
    stationCable: fc.boolean(),
    emergencyStop: fc.boolean(),
    lamps: fc.subarray(['off', 'run', 'trip'] as const),
    runLamp: fc.constantFrom('coil', 'contact'),
    auxiliaryBlock: fc.boolean(),
    colours: fc.constantFrom('form', 'iec', 'us', 'red-yellow-blue'),
    power: fc.constantFrom(0.37, 1.5, 4, 11, 30),
    jog: fc.constantFrom('relay', 'button', 'selector'),
    interlocks: fc.subarray(['electrical', 'mechanical', 'push-button'] as const, { minLength: 1 }),
    limits: fc.boolean(),
    changeover: fc.constantFrom('timer', 'star-delta-timer', 'by-hand'),
    main: fc.constantFrom('start', 'star'),
    leg: fc.constantFrom('line', 'winding'),
    delay: fc.constantFrom(4, 10),
  })
  .map((one) => ({
    ...TEMPLATE_DEFAULTS,
    ...one,
    limits: one.limits && one.family === 'reversing',
    lineVoltage: one.form === 'us' ? (one.control === 'transformer' ? 480 : 208) : 400,
    controlVoltage: one.control === 'dc' ? 24 : one.form === 'us' ? 120 : 110,
  })) as fc.Arbitrary<TemplateChoices>;

/** An exercise from some template whose choices go together, the same for the same seed. */
export function templated(seed: number): Exercise {
  const [given] = fc.sample(
    choices.filter((one) => templateProblems(one).length === 0),
    { seed, numRuns: 1 },
  );
  return exerciseFromTemplate(`template-${seed}`, given!);
}
