import { contactsOf, examined, variableOf, workedBy, type Program, type RungAction } from './program.js';

/** Rungs that write a variable and rungs that read it, numbered from 1 as they are printed. */
export interface CrossReference {
  readonly written: readonly number[];
  readonly read: readonly number[];
}

/** What resets a counter is read as contacts are. */
const readBy = (action: RungAction): string[] =>
  'counter' in action && action.reset !== undefined ? [variableOf(action.reset)] : [];

/** The cross references of a program, by variable, in the order in which it has its variables. */
export function crossReferences(program: Program): ReadonlyMap<string, CrossReference> {
  const rungs = program.rungs.map((rung) => ({
    written: new Set(rung.then.map(workedBy)),
    read: new Set([
      ...[...contactsOf({ rungs: [rung] })].map(({ contact }) => variableOf(examined(contact))),
      ...rung.then.flatMap(readBy),
    ]),
  }));
  const numbers = (name: string, of: 'written' | 'read') =>
    rungs.flatMap((rung, k) => (rung[of].has(name) ? [k + 1] : []));
  return new Map(
    program.variables.map(({ name }) => [
      name,
      { written: numbers(name, 'written'), read: numbers(name, 'read') },
    ]),
  );
}
