import {
  PROGRAM_STATES,
  isConnected,
  partsOf,
  programProblems,
  type Program,
  type ProgramPart,
} from '../../program/index.js';
import { BARE, screws, type ContactSpec, type MechanismSpec, type SensorSpec } from '../anatomy.js';
import { flag, list, number, optional, programField, worked } from '../fields.js';
import { deviceKind, type Misfit } from '../kind.js';
import { onRail } from '../looks.js';

/** The processor's actuator: no variable has such a name. */
const PROCESSOR = '*';

/**
 * Input circuit of type 1 (IEC 61131-2, from memory): on from 15 V, off up to 5 V, as it was between; about
 * 5 mA at 24 V.
 */
const INPUT = { voltage: 24, kind: 'dc', ohms: 4800, on: 15, off: 5, takesFewVolts: true } as const;
/** Electronics: from 24 V − 15 % (IEC 61131-2, from memory), 0.15 A. */
const SUPPLY = { voltage: 24, kind: 'dc', ohms: 160, on: 20.4, off: 20.4 } as const;

/** Addresses as they are counted: eight to a byte. */
const address = (letter: 'I' | 'Q', n: number): string => `${letter}${Math.floor(n / 8)}.${n % 8}`;

const inputsOf = (count: number): string[] => Array.from({ length: count }, (_, n) => address('I', n));

/** The outputs, each with the common of its group. */
function outputsOf(groups: readonly number[]): { readonly common: string; readonly name: string }[] {
  let n = 0;
  return groups.flatMap((size, g) =>
    Array.from({ length: size }, () => {
      n += 1;
      return { common: `QC${g + 1}`, name: address('Q', n - 1) };
    }),
  );
}

/** States in which an output's contact is closed. */
const CLOSED_IN = [false, true, false, true];

/** An actuator for something that a program remembers. */
function remembered(part: ProgramPart): MechanismSpec {
  const { name } = part;
  if (part.kind === 'timer')
    return {
      name,
      kind: 'program-timer',
      states: 4,
      initial: PROGRAM_STATES.timer.idle,
      does: part.does,
      delay: part.seconds,
    };
  if (part.kind === 'digit')
    return { name, kind: 'memory', states: 256, initial: 0, retain: false, isShown: false };
  const { initial, retain, isShown } = part;
  return { name, kind: 'memory', states: 2, initial: initial ? 1 : 0, retain, isShown };
}

/** What is wrong with a program in itself, and on a controller with these inputs and outputs. */
export function misfitsOf(
  program: Program,
  { inputs, groups }: { readonly inputs: number; readonly groups: readonly number[] },
): readonly Misfit[] {
  const places = new Set([...inputsOf(inputs), ...outputsOf(groups).map(({ name }) => name)]);
  return [
    ...programProblems(program),
    ...program.variables.flatMap((variable, k): Misfit[] =>
      !isConnected(variable) || places.has(variable.at)
        ? []
        : [{ path: `variables[${k}].at`, message: `there is no ${variable.at} on this controller` }],
    ),
  ];
}

/** Programmable controller with inputs for 24 V of either polarity and relay outputs in groups. */
export const plc = deviceKind({
  type: 'plc',
  name: 'Programmable controller',
  letters: { iec: 'A', us: 'PLC' },
  symbol: () => 'controller',
  looks: onRail(2, { height: 120 }),
  options: {
    inputs: number('Inputs', { whole: true, min: 1, max: 32 }, 8),
    groups: list(
      'Outputs of each common',
      number('Outputs', { whole: true, min: 1, max: 16 }),
      [1, 6],
      [4, 2],
    ),
    scan: number('Scan', { unit: 's', min: 0.001, max: 1 }, 0.01),
    filter: number('Input filter', { unit: 's', min: 0, max: 1 }, 0.003),
  },
  settings: {
    run: worked(flag('In run', true)),
    program: optional(worked(programField('Program'))),
  },
  verbs: ['turn'],
  told: 'state',
  toldByDefault: false,
  rating: ({ inputs, groups }) => `${inputs} in, ${groups.reduce((sum, n) => sum + n, 0)} out, 24 V DC`,
  misfits: ({ options, settings: { program } }) =>
    program
      ? misfitsOf(program, options).map(({ path, message }) => ({
          path: `settings.program.${path}`,
          message,
        }))
      : [],
  anatomy({ options, settings }) {
    const inputs = inputsOf(options.inputs);
    const outputs = outputsOf(options.groups);
    const commons = [...new Set(outputs.map(({ common }) => common))];
    const program = settings.program ?? null;
    const input = (name: string): MechanismSpec => ({ name, kind: 'input', states: 4, initial: 0 });
    const output = ({ name }: { name: string }): MechanismSpec => ({
      name,
      kind: 'output',
      states: 4,
      initial: 0,
    });
    return {
      ...BARE,
      terminals: [
        ...screws('coil', 'L+', 'M'),
        ...screws('coil', 'IC', ...inputs),
        ...commons.flatMap((common) =>
          screws('contact', common, ...outputs.flatMap((one) => (one.common === common ? [one.name] : []))),
        ),
      ],
      actuators: [
        {
          name: PROCESSOR,
          kind: 'processor',
          states: 4,
          initial: settings.run ? 0 : PROGRAM_STATES.processor.inStop,
          program,
          scan: options.scan,
          filter: options.filter,
        },
        ...inputs.map(input),
        ...outputs.map(output),
        ...(program ? partsOf(program).map(remembered) : []),
      ],
      contacts: outputs.map(({ common, name }): ContactSpec => ({
        name: `${common}-${name}`,
        a: common,
        b: name,
        movedBy: name,
        closedIn: CLOSED_IN,
        role: 'aux',
        normally: 'open',
      })),
      sensors: [
        { ...SUPPLY, name: 'supply', a: 'L+', b: 'M', moves: PROCESSOR },
        ...inputs.map((name): SensorSpec => ({ ...INPUT, name, a: name, b: 'IC', moves: name })),
      ],
    };
  },
});
