import {
  branchedAt,
  connectionAt,
  elementAt,
  examined,
  insertedAfter,
  isCounter,
  isInput,
  isTimer,
  isConnected,
  removedAt,
  readableBits,
  replacedAt,
  wiredVariables,
  without,
  workedBy,
  type ActionKind,
  type Connection,
  type ContactKind,
  type ElementPath,
  type Program,
  type ProgramVariable,
  type Rung,
  type RungAction,
  type RungContact,
  type TerminalRef,
} from '@contactum/core';

/** What is chosen in a program: a rung, an element of it, or something that it does. */
export type Chosen =
  | { readonly rung: number; readonly path: ElementPath }
  | { readonly rung: number; readonly action: number }
  | { readonly rung: number };

/** Contacts by the standard, and as they are also called. */
export const CONTACT_WORDS: Readonly<
  Record<ContactKind, { readonly iec: string; readonly examine: string }>
> = {
  no: { iec: 'NO', examine: 'Examine on' },
  nc: { iec: 'NC', examine: 'Examine off' },
  rising: { iec: 'Rising', examine: 'Rising edge' },
  falling: { iec: 'Falling', examine: 'Falling edge' },
};

export const ACTION_WORDS: Readonly<Record<ActionKind, string>> = {
  coil: 'Coil',
  negated: 'Negated coil',
  set: 'Set',
  reset: 'Reset',
  timer: 'Timer',
  counter: 'Counter',
};

const isWritable = (variable: ProgramVariable): boolean =>
  !isTimer(variable) && !isCounter(variable) && !isInput(variable);

/** Variables that a kind of action can work. */
export const workable = ({ variables }: Program, kind: ActionKind): string[] =>
  variables
    .filter(kind === 'timer' ? isTimer : kind === 'counter' ? isCounter : isWritable)
    .map(({ name }) => name);

export const actionOf = (kind: ActionKind, name: string, reset?: string): RungAction =>
  kind === 'counter'
    ? { counter: name, ...(reset === undefined ? {} : { reset }) }
    : ({ [kind]: name } as unknown as RungAction);

const withRung = (program: Program, k: number, change: (rung: Rung) => Rung): Program => ({
  ...program,
  rungs: program.rungs.map((rung, n) => (n === k ? change(rung) : rung)),
});

/** The bit that a new contact looks at: what the chosen one does, or the first there is. */
function likelyBit(program: Program, chosen: Chosen): string {
  const rung = program.rungs[chosen.rung];
  const element = 'path' in chosen && rung ? elementAt(rung.when, chosen.path) : null;
  return (element && !('any' in element) ? examined(element) : readableBits(program)[0]) ?? '';
}

const nextPath = (path: ElementPath): ElementPath => [...path.slice(0, -1), (path.at(-1) ?? -1) + 1];

/** One more contact behind what is chosen. */
export function insertContact(program: Program, chosen: Chosen): { program: Program; chosen: Chosen } {
  const bit = likelyBit(program, chosen);
  const path = 'path' in chosen ? chosen.path : null;
  return {
    program: withRung(program, chosen.rung, (rung) => ({
      ...rung,
      when: insertedAfter(rung.when, path, { no: bit }),
    })),
    chosen: { rung: chosen.rung, path: path ? nextPath(path) : [0] },
  };
}

/** One more branch about the chosen contact. */
export function insertBranch(
  program: Program,
  chosen: Chosen & { path: ElementPath },
): { program: Program; chosen: Chosen } {
  const { path } = chosen;
  const rung = program.rungs[chosen.rung];
  // A contact that is alone in a branch gets one more beside it.
  const alone = path.length > 2 && rung && isAlone(rung, path);
  const at = alone ? path.slice(0, -2) : path;
  const element = rung && elementAt(rung.when, at);
  const branch = element && 'any' in element ? element.any.length : 1;
  return {
    program: withRung(program, chosen.rung, (one) => ({
      ...one,
      when: branchedAt(one.when, at, { no: likelyBit(program, chosen) }),
    })),
    chosen: { rung: chosen.rung, path: [...at, branch, 0] },
  };
}

function isAlone({ when }: Rung, path: ElementPath): boolean {
  const above = elementAt(when, path.slice(0, -2));
  const branch = path.at(-2) ?? 0;
  return above !== null && 'any' in above && above.any[branch]?.length === 1;
}

export const replaceContact = (
  program: Program,
  chosen: Chosen & { path: ElementPath },
  to: RungContact,
): Program =>
  withRung(program, chosen.rung, (rung) => ({ ...rung, when: replacedAt(rung.when, chosen.path, to) }));

export const replaceAction = (
  program: Program,
  chosen: Chosen & { action: number },
  to: RungAction,
): Program =>
  withRung(program, chosen.rung, (rung) => ({ ...rung, then: rung.then.with(chosen.action, to) }));

/** One thing more that a rung does: the first variable that nothing writes yet. */
export function addAction(program: Program, rung: number): { program: Program; chosen: Chosen } | null {
  const written = new Set(program.rungs.flatMap(({ then }) => then.map(workedBy)));
  const names = workable(program, 'coil');
  const name = names.find((one) => !written.has(one)) ?? names[0];
  if (name === undefined) return null;
  const count = program.rungs[rung]?.then.length ?? 0;
  return {
    program: withRung(program, rung, (one) => ({ ...one, then: [...one.then, { coil: name }] })),
    chosen: { rung, action: count },
  };
}

/** The program without what is chosen; the last thing that a rung does goes with its rung. */
export function removeChosen(program: Program, chosen: Chosen): Program {
  const rung = program.rungs[chosen.rung];
  if (!rung) return program;
  if ('path' in chosen)
    return withRung(program, chosen.rung, (one) => ({ ...one, when: removedAt(one.when, chosen.path) }));
  if ('action' in chosen && rung.then.length > 1)
    return withRung(program, chosen.rung, (one) => ({ ...one, then: one.then.toSpliced(chosen.action, 1) }));
  return { ...program, rungs: program.rungs.toSpliced(chosen.rung, 1) };
}

export const commentRung = (program: Program, k: number, text: string): Program =>
  withRung(program, k, (rung) => {
    const plain = without(rung, 'comment');
    return text === '' ? plain : { ...plain, comment: text };
  });

/** A rung more behind one: it writes what no other does. */
export function addRung(program: Program, after: number): { program: Program; chosen: Chosen } | null {
  const empty: Rung = { when: [], then: [] };
  const rungs = program.rungs.toSpliced(after + 1, 0, empty);
  return addAction({ ...program, rungs }, after + 1);
}

export function moveRung(program: Program, k: number, by: -1 | 1): Program {
  const rung = program.rungs[k];
  const to = k + by;
  if (!rung || to < 0 || to >= program.rungs.length) return program;
  return { ...program, rungs: program.rungs.toSpliced(k, 1).toSpliced(to, 0, rung) };
}

/** What is at the terminals of a controller, by which a terminal of the board names a variable. */
export interface Wired {
  readonly controller: string;
  readonly connections: readonly Connection[];
}

/**
 * A terminal of the board in a rung: its input as a contact behind the others, its output as a coil, or as a
 * contact where something writes it already. A variable is made where none stands there; null where no lead
 * joins the terminal to an input or an output.
 */
export function placeTerminal(
  program: Program,
  { controller, connections }: Wired,
  rung: number,
  ref: string,
): { program: Program; chosen: Chosen } | null {
  const connection = connectionAt(connections, controller, ref as TerminalRef);
  const own = program.rungs[rung];
  if (!connection || !own) return null;
  const { at } = connection;
  const there = program.variables.find((one) => isConnected(one) && one.at === at);
  const [made] = wiredVariables(program, [connection]);
  const variable = there ?? made ?? { name: at.replace('.', '_'), at };
  const known = there ? program : { ...program, variables: [...program.variables, variable] };
  const { name } = variable;
  const isWritten = program.rungs.some(({ then }) => then.some((one) => workedBy(one) === name));
  if (at.startsWith('Q') && !isWritten)
    return {
      program: withRung(known, rung, (one) => ({ ...one, then: [...one.then, { coil: name }] })),
      chosen: { rung, action: own.then.length },
    };
  return {
    program: withRung(known, rung, (one) => ({ ...one, when: [...one.when, { no: name }] })),
    chosen: { rung, path: [own.when.length] },
  };
}
