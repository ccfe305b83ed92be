import {
  contactsOf,
  examined,
  isConnected,
  isCounter,
  isInput,
  isTimer,
  kindOfAction,
  kindOfContact,
  variableOf,
  workedBy,
  type RungAction,
  type Program,
  type ProgramVariable,
} from './program.js';

/** Something that the parts of a program alone cannot say, with its path inside the program. */
interface Misfit {
  readonly path: string;
  readonly message: string;
}

/** Words of structured text that no variable can be named by (IEC 61131-3, from memory). */
const KEYWORDS = new Set(
  (
    'AND OR XOR NOT MOD TRUE FALSE IF THEN ELSE ELSIF END_IF CASE OF END_CASE FOR TO BY DO END_FOR WHILE ' +
    'END_WHILE REPEAT UNTIL END_REPEAT EXIT RETURN VAR VAR_INPUT VAR_OUTPUT END_VAR RETAIN AT PROGRAM ' +
    'END_PROGRAM BOOL INT TIME TON TOF TP CTU CTD R_TRIG F_TRIG'
  ).split(' '),
);

/** What a schema cannot say of a program: names, addresses, and what may be read and written. */
export function programProblems(program: Program): Misfit[] {
  return [...variableProblems(program.variables), ...rungProblems(program)];
}

function variableProblems(variables: readonly ProgramVariable[]): Misfit[] {
  const problems: Misfit[] = [];
  const names = new Map<string, number>();
  const places = new Map<string, number>();
  variables.forEach((variable, k) => {
    const { name } = variable;
    const key = name.toUpperCase();
    const first = names.get(key);
    if (first !== undefined)
      problems.push({
        path: `variables[${k}].name`,
        message: `"${name}" is already the name of variables[${first}]`,
      });
    else names.set(key, k);
    if (KEYWORDS.has(key))
      problems.push({ path: `variables[${k}].name`, message: `"${name}" is a word of the language` });
    if (!isConnected(variable)) return;
    const other = places.get(variable.at);
    if (other !== undefined)
      problems.push({
        path: `variables[${k}].at`,
        message: `${variable.at} is already the address of "${variables[other]!.name}"`,
      });
    else places.set(variable.at, k);
  });
  return problems;
}

function rungProblems(program: Program): Misfit[] {
  const byName = new Map(program.variables.map((variable) => [variable.name, variable]));
  const problems: Misfit[] = [];
  const read = (bit: string, path: string): void => {
    const found = byName.get(variableOf(bit));
    const isBlock = found !== undefined && (isTimer(found) || isCounter(found));
    if (!found) problems.push({ path, message: `"${variableOf(bit)}" is not a variable of this program` });
    else if (isBlock && !bit.endsWith('.Q'))
      problems.push({ path, message: `"${bit}" is a block: its output is "${bit}.Q"` });
    else if (!isBlock && bit.endsWith('.Q'))
      problems.push({ path, message: `"${variableOf(bit)}" is neither a timer nor a counter and has no Q` });
  };
  for (const { contact, path } of contactsOf(program))
    read(examined(contact), `${path}.${kindOfContact(contact)}`);
  program.rungs.forEach(({ then }, r) =>
    then.forEach((action, k) => {
      const path = `rungs[${r}].then[${k}]`;
      const message = writtenProblem(action, byName.get(workedBy(action)));
      if (message) problems.push({ path: `${path}.${kindOfAction(action)}`, message });
      if ('counter' in action && action.reset !== undefined) read(action.reset, `${path}.reset`);
    }),
  );
  return problems;
}

/** Why an action cannot work a variable; null where it can. */
function writtenProblem(action: RungAction, found: ProgramVariable | undefined): string | null {
  const name = workedBy(action);
  if (!found) return `"${name}" is not a variable of this program`;
  if ('timer' in action) return isTimer(found) ? null : `"${name}" is not a timer`;
  if ('counter' in action) return isCounter(found) ? null : `"${name}" is not a counter`;
  if (isInput(found)) return `"${name}" stands at an input and cannot be written`;
  return isTimer(found) || isCounter(found) ? `"${name}" is a block and no bit that can be written` : null;
}

/** Something in a program that is allowed and seldom meant. */
export interface ProgramWarning {
  readonly path: string;
  readonly what: 'double-coil';
}

/** Bits that two plain coils write: the last one alone decides. */
export function programWarnings({ rungs }: Program): ProgramWarning[] {
  const written = new Set<string>();
  return rungs.flatMap(({ then }, r) =>
    then.flatMap((action, k): ProgramWarning[] => {
      if (!('coil' in action) && !('negated' in action)) return [];
      const name = workedBy(action);
      if (written.has(name)) return [{ path: `rungs[${r}].then[${k}]`, what: 'double-coil' }];
      written.add(name);
      return [];
    }),
  );
}
