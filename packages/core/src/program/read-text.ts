import {
  addressFrom,
  type CounterBlock,
  type Program,
  type ProgramVariable,
  type Rung,
  type RungAction,
  type RungElement,
  type RungSeries,
  type TimerBlock,
} from './program.js';
import { Tokens, TextProblem, type Token } from './tokens.js';

/** A program read from text, or what in it has no ladder form, with its line. */
export type ReadText =
  | { readonly ok: true; readonly program: Program }
  | { readonly ok: false; readonly line: number; readonly message: string };

/** A condition before it is a rung: contacts in series and in parallel. */
type Expression =
  | { readonly kind: 'bit'; readonly name: string; readonly line: number }
  | { readonly kind: 'not'; readonly of: Expression; readonly isWhole: boolean; readonly line: number }
  | { readonly kind: 'and' | 'or'; readonly of: readonly Expression[]; readonly line: number }
  | { readonly kind: 'value'; readonly on: boolean; readonly line: number };

/**
 * Reads structured text (IEC 61131-3) as a ladder: assignments, IF that sets and resets, timers, counters and
 * edges. What has no ladder form (loops, arithmetic, comparisons) is refused with its line.
 */
export function readProgramText(text: string): ReadText {
  try {
    return { ok: true, program: new Reader(new Tokens(text)).program() };
  } catch (error) {
    if (!(error instanceof TextProblem)) throw error;
    return { ok: false, line: error.line, message: error.message };
  }
}

/** Statements that no rung can do. */
const LOOPS: ReadonlySet<string> = new Set(['FOR', 'WHILE', 'REPEAT', 'CASE', 'RETURN', 'EXIT']);
const SECTIONS = ['VAR', 'VAR_TEMP', 'VAR_INPUT', 'VAR_OUTPUT'] as const;
const TYPES: ReadonlySet<string> = new Set(['BOOL', 'TON', 'TOF', 'TP', 'CTU', 'CTD', 'R_TRIG', 'F_TRIG']);

interface Declared {
  readonly type: string;
  readonly variable: ProgramVariable | null;
}

class Reader {
  private readonly variables: ProgramVariable[] = [];
  private readonly declared = new Map<string, Declared>();
  private readonly presets = new Map<string, number>();
  /** What each edge block looks at, as a contact. */
  private readonly edges = new Map<string, RungElement>();
  private readonly rungs: Rung[] = [];
  private comment: string | undefined;
  /** The temporary variable that holds the result of the rung that is being read. */
  private held: string | null = null;

  constructor(private readonly tokens: Tokens) {}

  program(): Program {
    const { tokens } = this;
    const title = tokens.comment() ?? 'Program';
    const isNamed = tokens.takes('PROGRAM');
    if (isNamed) tokens.name();
    while (SECTIONS.some((word) => tokens.ahead(word))) this.section();
    while (!tokens.at('END_PROGRAM') && !tokens.isEnd) this.statement();
    if (isNamed) tokens.needs('END_PROGRAM');
    const variables = this.variables.map((variable): ProgramVariable => {
      const preset = this.presets.get(variable.name.toUpperCase());
      return ('timer' in variable || 'counter' in variable) && preset !== undefined
        ? { ...variable, preset }
        : variable;
    });
    return { contactum: 'program/1', title, variables, rungs: this.rungs };
  }

  // Variables.

  private section(): void {
    const { tokens } = this;
    const isTemporary = tokens.next().upper === 'VAR_TEMP';
    const retain = tokens.takes('RETAIN');
    while (!tokens.takes('END_VAR')) this.declaration(retain, isTemporary);
  }

  private declaration(retain: boolean, isTemporary: boolean): void {
    const { tokens } = this;
    const token = tokens.name();
    const at = tokens.takes('AT') ? this.address() : undefined;
    tokens.needs(':');
    const type = tokens.name();
    if (!TYPES.has(type.upper))
      throw new TextProblem(
        type.line,
        `${type.text} has no ladder form: a variable is BOOL, a timer or a counter`,
      );
    const initial = tokens.takes(':=') ? this.truth() : undefined;
    tokens.needs(';');
    const { said, preset } = this.remarks();
    if (this.declared.has(token.upper))
      throw new TextProblem(token.line, `"${token.text}" is declared twice`);
    const { text: name } = token;
    const more = said === undefined ? {} : { comment: said };
    const memory = {
      name,
      ...more,
      ...(initial === undefined ? {} : { initial }),
      ...(retain ? { retain } : {}),
    };
    const made = (): ProgramVariable | null => {
      if (isTemporary || type.upper.endsWith('_TRIG')) return null;
      if (at !== undefined) return { name, ...more, at };
      if (type.upper === 'BOOL') return memory;
      const value = preset ?? 0;
      return type.upper.startsWith('T')
        ? { name, ...more, timer: type.upper as TimerBlock, preset: value }
        : { name, ...more, counter: type.upper as CounterBlock, preset: value };
    };
    const variable = made();
    this.declared.set(token.upper, { type: isTemporary ? 'TEMPORARY' : type.upper, variable });
    if (variable) this.variables.push(variable);
  }

  /** What is said behind a declaration, and the preset of a block that no rung works. */
  private remarks(): { said: string | undefined; preset: number | undefined } {
    let said: string | undefined;
    let preset: number | undefined;
    for (let one = this.tokens.comment(); one !== null; one = this.tokens.comment()) {
      const [, value] = /^preset (\S+)$/.exec(one) ?? [];
      if (value === undefined) said = one;
      else preset = value.startsWith('T#') ? secondsOf(value, 0) : Number(value);
    }
    return { said, preset };
  }

  private address(): string {
    const token = this.tokens.next();
    const at = addressFrom(token.text);
    if (at === null)
      throw new TextProblem(token.line, `${token.text} is no input or output such as %IX0.0 or %QX0.2`);
    return at;
  }

  private truth(): boolean {
    const token = this.tokens.next();
    if (token.upper === 'TRUE' || token.text === '1') return true;
    if (token.upper === 'FALSE' || token.text === '0') return false;
    throw new TextProblem(token.line, `${token.text} is neither TRUE nor FALSE`);
  }

  private find(token: Token): Declared {
    const found = this.declared.get(token.upper);
    if (!found) throw new TextProblem(token.line, `"${token.text}" is not declared`);
    return found;
  }

  private nameOf(token: Token): string {
    return this.find(token).variable?.name ?? token.text;
  }

  // Statements.

  private statement(): void {
    const { tokens } = this;
    const said = tokens.comment();
    if (said !== null) {
      const [, rest] = /^Rung \d+(?:: ([\s\S]*))?$/.exec(said) ?? [null, said];
      this.comment = rest;
      this.held = null;
      return;
    }
    if (tokens.takes(';')) return;
    const token = tokens.next();
    if (LOOPS.has(token.upper)) throw new TextProblem(token.line, `${token.upper} has no ladder form`);
    if (token.upper === 'IF') this.branch(token);
    else if (tokens.takes('(')) this.call(token);
    else {
      tokens.needs(':=');
      this.assign(token, this.expression());
      tokens.needs(';');
    }
  }

  private assign(token: Token, on: Expression): void {
    const { type } = this.find(token);
    if (type === 'TEMPORARY') {
      this.put(on, []);
      this.held = token.upper;
      return;
    }
    if (type !== 'BOOL') throw new TextProblem(token.line, `${token.text} is a block and no bit`);
    const name = this.nameOf(token);
    if (on.kind === 'not' && on.isWhole) this.put(on.of, [{ negated: name }]);
    else this.put(on, [{ coil: name }]);
  }

  /** IF sets and resets; with ELSE that does the opposite it is a coil. */
  private branch({ line }: Token): void {
    const on = this.expression();
    const then = this.block('THEN');
    const otherwise = this.tokens.takes('ELSE') ? this.block(null) : [];
    if (this.tokens.at('ELSIF')) throw new TextProblem(this.tokens.next().line, 'ELSIF has no ladder form');
    this.tokens.needs('END_IF');
    this.tokens.needs(';');
    if (otherwise.length === 0) {
      this.put(
        on,
        then.map(({ name, value }) => (value ? { set: name } : { reset: name })),
      );
      return;
    }
    const actions = then.map(({ name, value }): RungAction => {
      const k = otherwise.findIndex((one) => one.name === name && one.value !== value);
      if (k < 0)
        throw new TextProblem(
          line,
          `IF with ELSE is a coil only where both write "${name}", each the opposite`,
        );
      otherwise.splice(k, 1);
      return value ? { coil: name } : { negated: name };
    });
    if (otherwise.length > 0)
      throw new TextProblem(line, `IF with ELSE is a coil only where both write "${otherwise[0]!.name}"`);
    this.put(on, actions);
  }

  private block(word: string | null): { name: string; value: boolean }[] {
    const { tokens } = this;
    if (word !== null) tokens.needs(word);
    const found: { name: string; value: boolean }[] = [];
    while (!tokens.at('END_IF') && !tokens.at('ELSE') && !tokens.at('ELSIF')) {
      if (tokens.comment() !== null) continue;
      const token = tokens.name();
      if (this.find(token).type !== 'BOOL' || !tokens.takes(':='))
        throw new TextProblem(token.line, 'within IF a bit is set TRUE or FALSE, nothing else');
      found.push({ name: this.nameOf(token), value: this.truth() });
      tokens.needs(';');
    }
    return found;
  }

  private call(token: Token): void {
    const { type } = this.find(token);
    const values = new Map<string, { on: Expression | null; number: number | null; line: number }>();
    do {
      const key = this.tokens.name();
      this.tokens.needs(':=');
      const at = this.tokens.peek();
      const number =
        key.upper === 'PT'
          ? secondsOf(this.tokens.next().text, at.line)
          : key.upper === 'PV'
            ? Number(this.tokens.next().text)
            : null;
      values.set(key.upper, { on: number === null ? this.expression() : null, number, line: at.line });
    } while (this.tokens.takes(','));
    this.tokens.needs(')');
    this.tokens.needs(';');
    const input = (key: string): Expression => {
      const found = values.get(key)?.on;
      if (!found) throw new TextProblem(token.line, `${token.text} has no ${key}`);
      return found;
    };
    const preset = values.get('PT')?.number ?? values.get('PV')?.number;
    if (preset !== undefined && preset !== null) this.presets.set(token.upper, preset);
    const name = this.nameOf(token);
    if (type.endsWith('_TRIG')) {
      const clock = this.contact(input('CLK'));
      if (!('no' in clock)) throw new TextProblem(token.line, 'an edge looks at one bit');
      this.edges.set(token.upper, type === 'R_TRIG' ? { rising: clock.no } : { falling: clock.no });
    } else if (type.startsWith('T') && type !== 'TEMPORARY') this.put(input('IN'), [{ timer: name }]);
    else if (type.startsWith('C')) {
      const again = values.get(type === 'CTU' ? 'R' : 'LD')?.on;
      const bit = again ? this.contact(again) : null;
      if (bit && !('no' in bit)) throw new TextProblem(token.line, 'a counter is reset by one bit');
      this.put(input(type === 'CTU' ? 'CU' : 'CD'), [
        { counter: name, ...(bit && 'no' in bit ? { reset: bit.no } : {}) },
      ]);
    } else throw new TextProblem(token.line, `${token.text} is not a block`);
  }

  /** One rung more, or what the result of the rung before does as well. */
  private put(on: Expression, then: RungAction[]): void {
    const last = this.rungs.at(-1);
    if (this.held !== null && last && on.kind === 'bit' && on.name === this.held) {
      this.rungs[this.rungs.length - 1] = { ...last, then: [...last.then, ...then] };
      return;
    }
    this.held = null;
    const { comment } = this;
    this.comment = undefined;
    this.rungs.push({ ...(comment === undefined ? {} : { comment }), when: this.series(on), then });
  }

  // Conditions.

  private expression(): Expression {
    return this.list('OR', () => this.list('AND', () => this.factor()));
  }

  private list(word: 'AND' | 'OR', part: () => Expression): Expression {
    const { tokens } = this;
    const { line } = tokens.peek();
    const of = [part()];
    while (tokens.takes(word) || (word === 'AND' && tokens.takes('&'))) of.push(part());
    if (tokens.at('XOR')) throw new TextProblem(tokens.peek().line, 'XOR has no ladder form of its own');
    return of.length === 1 ? of[0]! : { kind: word === 'AND' ? 'and' : 'or', of, line };
  }

  private factor(): Expression {
    const { tokens } = this;
    const { line } = tokens.peek();
    if (tokens.takes('NOT')) {
      const isWhole = tokens.at('(');
      return { kind: 'not', of: this.factor(), isWhole, line };
    }
    if (tokens.takes('(')) {
      const inner = this.expression();
      tokens.needs(')');
      return inner;
    }
    const token = tokens.next();
    if (token.upper === 'TRUE' || token.upper === 'FALSE')
      return { kind: 'value', on: token.upper === 'TRUE', line };
    if (!/^[A-Za-z_]/.test(token.text))
      throw new TextProblem(line, `"${token.text}" has no ladder form: a rung looks at bits`);
    const { type } = this.find(token);
    if (type === 'BOOL' || type === 'TEMPORARY')
      return { kind: 'bit', name: type === 'BOOL' ? this.nameOf(token) : token.upper, line };
    tokens.needs('.');
    const output = tokens.name();
    if (output.upper !== 'Q')
      throw new TextProblem(line, `${token.text}.${output.text} has no ladder form: a rung looks at bits`);
    return { kind: 'bit', name: type.endsWith('_TRIG') ? token.upper : `${this.nameOf(token)}.Q`, line };
  }

  /** A condition as a series; what a ladder has no form for is refused. */
  private series(on: Expression): RungSeries {
    if (on.kind === 'and') return on.of.flatMap((one) => this.series(one));
    if (on.kind === 'value' && on.on) return [];
    return [this.contact(on)];
  }

  private contact(on: Expression): RungElement {
    switch (on.kind) {
      case 'or':
        return { any: on.of.map((one) => this.series(one)) };
      case 'not':
        return this.negated(on.of);
      case 'bit':
        return this.edges.get(on.name) ?? { no: on.name };
      case 'and':
        return { any: [this.series(on)] };
      case 'value':
        throw new TextProblem(on.line, 'TRUE or FALSE stands alone in a rung');
    }
  }

  /** What is on where something is off: each contact the other way, series and branches exchanged. */
  private negated(on: Expression): RungElement {
    switch (on.kind) {
      case 'bit':
        if (this.edges.has(on.name)) throw new TextProblem(on.line, 'an edge has no opposite in a ladder');
        return { nc: on.name };
      case 'not':
        return this.contact(on.of);
      case 'and':
        return { any: on.of.map((one) => [this.negated(one)]) };
      case 'or':
        return { any: [on.of.map((one) => this.negated(one))] };
      case 'value':
        throw new TextProblem(on.line, 'TRUE or FALSE stands alone in a rung');
    }
  }
}

const UNITS: Readonly<Record<string, number>> = { d: 86_400, h: 3600, m: 60, s: 1, ms: 0.001 };

/** Seconds of a duration such as `T#1m30s`; null where it is none. */
export function secondsIn(text: string): number | null {
  const [, rest = ''] = /^(?:T|TIME)#(.+)$/i.exec(text.replaceAll('_', '')) ?? [];
  const parts = [...rest.matchAll(/(\d+(?:\.\d+)?)(ms|d|h|m|s)/gi)];
  if (parts.length === 0 || parts.map(([part]) => part).join('') !== rest) return null;
  const sum = parts.reduce(
    (total, [, value, unit]) => total + Number(value) * UNITS[unit!.toLowerCase()]!,
    0,
  );
  return Number(sum.toFixed(9));
}

function secondsOf(text: string, line: number): number {
  const seconds = secondsIn(text);
  if (seconds === null) throw new TextProblem(line, `${text} is no duration such as T#5s`);
  return seconds;
}
