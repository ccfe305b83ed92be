import {
  contactsOf,
  examined,
  isConnected,
  isCounter,
  isEdge,
  isMemory,
  isTimer,
  programName,
  standardAddress,
  type Program,
  type ProgramVariable,
  type Rung,
  type RungAction,
  type RungElement,
  type RungSeries,
} from './program.js';

/**
 * A program as structured text (IEC 61131-3). A rung that does several things keeps its result in a temporary
 * variable, since what it writes may change what it has read; each edge is a block of its own.
 */
export function programText(program: Program): string {
  return new Writer(program).text();
}

/** A comment that ends where it should. */
const comment = (text: string): string => `(* ${text.replaceAll('*)', '* )')} *)`;

/** `T#1.5s`; whole milliseconds where it has to be. */
export function timeText(seconds: number): string {
  const isPlain = Number.isInteger(Math.round(seconds * 1e6) / 1e5);
  return isPlain ? `T#${seconds}s` : `T#${Number((seconds * 1000).toFixed(6))}ms`;
}

/** A name that no variable has. */
function freeName(taken: ReadonlySet<string>, name: string): string {
  for (let k = 0; ; k += 1) {
    const tried = k === 0 ? name : `${name}${k}`;
    if (!taken.has(tried.toUpperCase())) return tried;
  }
}

class Writer {
  private readonly result: string;
  /** Names of the edge blocks in the order in which a scan works them. */
  private readonly edges: readonly { readonly name: string; readonly type: string; readonly clock: string }[];
  private edge = 0;

  constructor(private readonly program: Program) {
    const taken = new Set(program.variables.map(({ name }) => name.toUpperCase()));
    this.result = freeName(taken, 'Result');
    this.edges = [...contactsOf(program)].flatMap(({ contact }) => {
      if (!isEdge(contact)) return [];
      const own = freeName(taken, 'Edge');
      taken.add(own.toUpperCase());
      return [{ name: own, type: 'rising' in contact ? 'R_TRIG' : 'F_TRIG', clock: examined(contact) }];
    });
  }

  text(): string {
    const { title, rungs } = this.program;
    return [
      comment(title),
      `PROGRAM ${programName(title)}`,
      ...this.declarations(),
      ...rungs.flatMap((rung, k) => ['', ...this.rung(rung, k)]),
      'END_PROGRAM',
      '',
    ].join('\n');
  }

  private declarations(): string[] {
    const lines: string[] = [];
    let section = '';
    const put = (kind: string, line: string): void => {
      if (kind !== section) lines.push(...(section ? ['END_VAR'] : []), kind);
      section = kind;
      lines.push(`  ${line}`);
    };
    for (const variable of this.program.variables)
      put(isMemory(variable) && variable.retain ? 'VAR RETAIN' : 'VAR', declared(variable));
    for (const { name, type } of this.edges) put('VAR', `${name} : ${type};`);
    if (this.program.rungs.some(({ then }) => then.length > 1)) put('VAR_TEMP', `${this.result} : BOOL;`);
    return section ? [...lines, 'END_VAR'] : lines;
  }

  private rung({ comment: said, when, then }: Rung, k: number): string[] {
    const first = this.edge;
    const on = this.series(when);
    const calls = this.edges.slice(first, this.edge).map(({ name, clock }) => `${name}(CLK := ${clock});`);
    const [only] = then;
    return [
      comment(`Rung ${k + 1}${said ? `: ${said}` : ''}`),
      ...calls,
      ...(only && then.length === 1
        ? [this.action(only, on)]
        : [`${this.result} := ${on};`, ...then.map((one) => this.action(one, this.result))]),
    ];
  }

  private action(action: RungAction, on: string): string {
    if ('coil' in action) return `${action.coil} := ${on};`;
    if ('negated' in action) return `${action.negated} := NOT (${on});`;
    if ('set' in action) return `IF ${on} THEN ${action.set} := TRUE; END_IF;`;
    if ('timer' in action) {
      const variable = this.program.variables.find(({ name }) => name === action.timer);
      const preset = variable && isTimer(variable) ? variable.preset : 0;
      return `${action.timer}(IN := ${on}, PT := ${timeText(preset)});`;
    }
    if (!('counter' in action)) return `IF ${on} THEN ${action.reset} := FALSE; END_IF;`;
    const variable = this.program.variables.find(({ name }) => name === action.counter);
    const [counter, preset] =
      variable && isCounter(variable) ? [variable.counter, variable.preset] : (['CTU', 0] as const);
    const [counts, again] = counter === 'CTU' ? ['CU', 'R'] : ['CD', 'LD'];
    const reset = action.reset === undefined ? '' : `, ${again} := ${action.reset}`;
    return `${action.counter}(${counts} := ${on}${reset}, PV := ${preset});`;
  }

  private series(series: RungSeries): string {
    return series.length === 0 ? 'TRUE' : series.map((element) => this.element(element)).join(' AND ');
  }

  private element(element: RungElement): string {
    if ('any' in element) return `(${element.any.map((branch) => this.series(branch)).join(' OR ')})`;
    if (isEdge(element)) {
      this.edge += 1;
      return `${this.edges[this.edge - 1]!.name}.Q`;
    }
    return 'nc' in element ? `NOT ${element.nc}` : examined(element);
  }
}

function declared(variable: ProgramVariable): string {
  const { name, comment: said } = variable;
  const tail = said ? ` ${comment(said)}` : '';
  if (isConnected(variable)) return `${name} AT ${standardAddress(variable.at)} : BOOL;${tail}`;
  if (isTimer(variable))
    return `${name} : ${variable.timer};${tail} ${comment(`preset ${timeText(variable.preset)}`)}`;
  if (isCounter(variable))
    return `${name} : ${variable.counter};${tail} ${comment(`preset ${variable.preset}`)}`;
  const { initial } = variable;
  return `${name} : BOOL${initial === undefined ? '' : ` := ${initial ? 'TRUE' : 'FALSE'}`};${tail}`;
}
