import {
  contactsOf,
  examined,
  isConnected,
  isCounter,
  isEdge,
  isInput,
  isTimer,
  variableOf,
  type Program,
  type TimerBlock,
} from './program.js';

/** Something that a program remembers from one scan to the next. */
export type ProgramPart =
  | {
      readonly kind: 'bit';
      readonly name: string;
      readonly initial: boolean;
      readonly retain: boolean;
      /** A variable that a person may look at, not what an edge or a counter remembers for itself. */
      readonly isShown: boolean;
    }
  | { readonly kind: 'timer'; readonly name: string; readonly does: TimerBlock; readonly seconds: number }
  /** The lower or upper eight bits of a counter's value. */
  | { readonly kind: 'digit'; readonly name: string };

/** What remembers the upper half of a counter's value, and its input in the scan before. */
export const highOf = (counter: string): string => `${counter}~high`;
export const wasOf = (name: string): string => `${name}~was`;

/**
 * What each edge contact of a program compares with, in the order in which a scan works them. An input is
 * the same all through a scan, so its edges share one; what rungs write may change between two contacts.
 */
export function edgesOf(program: Program): readonly string[] {
  const inputs = new Set(program.variables.filter(isInput).map(({ name }) => name));
  let own = 0;
  return [...contactsOf(program)].flatMap(({ contact }) => {
    if (!isEdge(contact)) return [];
    const bit = examined(contact);
    if (inputs.has(variableOf(bit))) return [wasOf(bit)];
    own += 1;
    return [`${wasOf(bit)}${own}`];
  });
}

const hidden = (name: string): ProgramPart => ({
  kind: 'bit',
  name,
  initial: false,
  retain: false,
  isShown: false,
});

/** Everything that a program remembers; what stands at inputs and outputs belongs to the device. */
export function partsOf(program: Program): readonly ProgramPart[] {
  return [
    ...program.variables.flatMap((variable): ProgramPart[] => {
      const { name } = variable;
      if (isConnected(variable)) return [];
      if (isTimer(variable)) return [{ kind: 'timer', name, does: variable.timer, seconds: variable.preset }];
      if (isCounter(variable))
        return [{ kind: 'digit', name }, { kind: 'digit', name: highOf(name) }, hidden(wasOf(name))];
      const { initial = false, retain = false } = variable;
      return [{ kind: 'bit', name, initial, retain, isShown: true }];
    }),
    ...[...new Set(edgesOf(program))].map(hidden),
  ];
}
