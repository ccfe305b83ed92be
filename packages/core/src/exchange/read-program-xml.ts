import { XMLParser } from 'fast-xml-parser';
import { SyntaxValidator } from 'fast-xml-validator';
import {
  COUNTERS,
  TIMERS,
  addressFrom,
  secondsIn,
  type CounterBlock,
  type Program,
  type ProgramVariable,
  type ReadText,
  type Rung,
  type RungAction,
  type RungElement,
  type TimerBlock,
} from '../program/index.js';
import type { XmlNode } from './program-xml.js';
import { seriesBetween, type Wired } from './series-parallel.js';

/** What in a file is no ladder of ours, and in which rung. */
class XmlProblem extends Error {
  constructor(
    message: string,
    /** 0 before the first. */
    readonly rung = 0,
  ) {
    super(message);
  }
}

/**
 * Reads the ladder of the first program in a file of IEC 61131-10 (elements and attributes from memory). What
 * a program of ours has no form for is refused with the line of its rung; nothing is half-read.
 */
export function readProgramXml(text: string): ReadText {
  const flaw = flawOf(text);
  if (flaw) return { ok: false, line: flaw.line, message: `no XML: ${flaw.msg}` };
  try {
    return { ok: true, program: programOf(parsed(text)) };
  } catch (error) {
    if (!(error instanceof XmlProblem)) throw error;
    const before = text
      .split('<Rung')
      .slice(0, error.rung + (error.rung > 0 ? 0 : 1))
      .join('<Rung');
    const line = error.rung === 0 ? 1 : before.split('\n').length;
    return { ok: false, line, message: error.message };
  }
}

/** Why a text is no XML; null where it is. */
function flawOf(text: string): { readonly line: number; readonly msg: string } | null {
  try {
    SyntaxValidator.validate(text);
    return null;
  } catch (error) {
    const { line = 1, message } = error as Error & { readonly line?: number };
    return { line, msg: message };
  }
}

type Parsed = Readonly<Record<string, unknown>>;

function parsed(text: string): XmlNode {
  // Entities of the file's own are not followed.
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseTagValue: false,
    parseAttributeValue: false,
  });
  const take = (list: readonly Parsed[]): XmlNode[] =>
    list.flatMap((one): XmlNode[] => {
      const name = Object.keys(one).find((key) => key !== ':@' && key !== '#text' && !key.startsWith('?'));
      if (name === undefined) return [];
      const inside = one[name] as readonly Parsed[];
      const said = inside.flatMap((child) => ('#text' in child ? [String(child['#text'])] : [])).join('');
      return [
        {
          name: name.replace(/^.*:/, ''),
          attributes: (one[':@'] ?? {}) as Record<string, string>,
          children: take(inside),
          text: said.trim(),
        },
      ];
    });
  return { name: '', attributes: {}, children: take(parser.parse(text) as Parsed[]), text: '' };
}

const all = ({ children }: XmlNode, name: string): XmlNode[] => children.filter((one) => one.name === name);
const first = (node: XmlNode, name: string): XmlNode | undefined => all(node, name)[0];

function found(node: XmlNode, name: string): XmlNode | undefined {
  for (const child of node.children) {
    const one = child.name === name ? child : found(child, name);
    if (one) return one;
  }
  return undefined;
}

const typeOf = ({ attributes }: XmlNode): string => (attributes['xsi:type'] ?? '').replace(/^.*:/, '');

function programOf(root: XmlNode): Program {
  const program = found(root, 'Program');
  if (!program) throw new XmlProblem('there is no program in it');
  const body = found(program, 'BodyContent');
  if (!body || typeOf(body) !== 'LD') throw new XmlProblem('the program has no body in ladder (LD)');
  const variables = all(program, 'Vars').flatMap((section) =>
    all(section, 'Variable').map((one) => variableOf(one, section.attributes.retain === 'true')),
  );
  const presets = new Map<string, number>();
  const rungs = all(body, 'Rung').map((rung, k) => new RungReader(rung, k + 1, presets).read());
  return {
    contactum: 'program/1',
    title: found(root, 'ContentHeader')?.attributes.name ?? program.attributes.name ?? 'Program',
    variables: variables.map((one) => {
      const preset = presets.get(one.name);
      return preset !== undefined && ('timer' in one || 'counter' in one) ? { ...one, preset } : one;
    }),
    rungs,
  };
}

function variableOf(node: XmlNode, retain: boolean): ProgramVariable {
  const { name = '' } = node.attributes;
  const comment = first(node, 'Documentation')?.text;
  const named = { name, ...(comment === undefined ? {} : { comment }) };
  const type = found(node, 'TypeName')?.text ?? '';
  const value = found(node, 'SimpleValue')?.attributes.value;
  if (isTimerType(type)) return { ...named, timer: type, preset: durationOf(value) };
  if (isCounterType(type)) return { ...named, counter: type, preset: Number(value ?? 0) };
  if (type !== 'BOOL') throw new XmlProblem(`"${name}" is ${type}: a variable is BOOL, a timer or a counter`);
  const address = first(node, 'Address')?.attributes.address;
  if (address !== undefined) {
    const at = addressFrom(address);
    if (at === null) throw new XmlProblem(`"${name}" stands at ${address}, which is no input or output`);
    return { ...named, at };
  }
  return {
    ...named,
    ...(value === undefined ? {} : { initial: value.toUpperCase() === 'TRUE' }),
    ...(retain ? { retain } : {}),
  };
}

const isTimerType = (type: string): type is TimerBlock => TIMERS.some((one) => one === type);
const isCounterType = (type: string): type is CounterBlock => COUNTERS.some((one) => one === type);

const durationOf = (text: string | undefined): number => (text === undefined ? 0 : (secondsIn(text) ?? 0));

class RungReader {
  private readonly contacts: Wired[] = [];
  private readonly actions: { readonly from: readonly string[]; readonly action: RungAction }[] = [];
  /** Bits and values that blocks read, by their point. */
  private readonly sources = new Map<string, string>();
  private rail = '';

  constructor(
    private readonly rung: XmlNode,
    private readonly number: number,
    private readonly presets: Map<string, number>,
  ) {}

  read(): Rung {
    for (const one of this.rung.children) this.take(one);
    const [head, ...others] = this.actions;
    if (!head) this.refuse('has no coil and no block');
    const isSame = (list: readonly string[]) => [...list].sort().join() === [...head.from].sort().join();
    if (!others.every(({ from }) => isSame(from))) this.refuse('gives its coils power from different places');
    const when = seriesBetween(this.rail, this.contacts, head.from);
    if (!when) this.refuse('is no series of contacts and branches');
    const comment = first(this.rung, 'Documentation')?.text;
    return {
      ...(comment === undefined ? {} : { comment }),
      when,
      then: this.actions.map(({ action }) => action),
    };
  }

  private refuse(message: string): never {
    throw new XmlProblem(`rung ${this.number} ${message}`, this.number);
  }

  private take(node: XmlNode): void {
    const type = typeOf(node);
    const { operand = '' } = node.attributes;
    const out = first(node, 'ConnectionPointOut')?.attributes.connectionPointOutId ?? '';
    const from = pointsInto(node);
    if (type === 'LeftPowerRail') this.rail = out;
    else if (type === 'DataSource') this.sources.set(out, node.attributes.identifier ?? '');
    else if (type === 'Contact') this.contacts.push({ id: out, from, element: contactOf(node) });
    else if (type === 'Coil') this.actions.push({ from, action: coilOf(node, operand) });
    else if (type === 'Block') this.block(node);
    else if (node.name === 'LdObject' && type !== 'RightPowerRail' && type !== '')
      this.refuse(`has a ${type}, which has no form here`);
  }

  private block(node: XmlNode): void {
    const { typeName = '', instanceName = '' } = node.attributes;
    const inputs = new Map(
      all(first(node, 'InputVariables') ?? node, 'InputVariable').map((one) => [
        one.attributes.parameterName ?? '',
        pointsInto(one),
      ]),
    );
    const said = (key: string) => this.sources.get(inputs.get(key)?.[0] ?? '');
    const power = (key: string) => inputs.get(key) ?? this.refuse(`does not give ${instanceName} its ${key}`);
    if (isTimerType(typeName)) {
      this.presets.set(instanceName, durationOf(said('PT')));
      this.actions.push({ from: power('IN'), action: { timer: instanceName } });
    } else if (isCounterType(typeName)) {
      const isUp = typeName === 'CTU';
      const reset = said(isUp ? 'R' : 'LD');
      this.presets.set(instanceName, Number(said('PV') ?? 0));
      this.actions.push({
        from: power(isUp ? 'CU' : 'CD'),
        action: { counter: instanceName, ...(reset === undefined ? {} : { reset }) },
      });
    } else this.refuse(`has a block ${typeName}, which has no form here`);
  }
}

const pointsInto = (node: XmlNode): string[] =>
  all(first(node, 'ConnectionPointIn') ?? node, 'Connection').map(
    ({ attributes }) => attributes.refConnectionPointOutId ?? '',
  );

function contactOf({ attributes }: XmlNode): RungElement {
  const { operand = '', negated, edge } = attributes;
  if (edge === 'rising') return { rising: operand };
  if (edge === 'falling') return { falling: operand };
  return negated === 'true' ? { nc: operand } : { no: operand };
}

function coilOf({ attributes: { latch, negated } }: XmlNode, operand: string): RungAction {
  if (latch === 'set') return { set: operand };
  if (latch === 'reset') return { reset: operand };
  return negated === 'true' ? { negated: operand } : { coil: operand };
}
