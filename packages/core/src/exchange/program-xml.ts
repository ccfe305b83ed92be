import XMLBuilder from 'fast-xml-builder';
import {
  examined,
  isConnected,
  isCounter,
  isEdge,
  isMemory,
  isTimer,
  programName,
  standardAddress,
  timeText,
  type Program,
  type ProgramVariable,
  type Rung,
  type RungAction,
  type RungElement,
  type RungSeries,
} from '../program/index.js';

/** An element of XML with its attributes, and what is in it: elements, or text. */
export interface XmlNode {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly XmlNode[];
  readonly text: string;
}

const NAMESPACE = 'www.iec.ch/public/TC65SC65BWG7TF10';
const INSTANCE = 'http://www.w3.org/2001/XMLSchema-instance';
/** No clock is asked: the same program is the same file. */
const MADE = '2000-01-01T00:00:00';

type Content = readonly XmlNode[] | string;

const node = (name: string, attributes: Record<string, string>, content: Content = []): XmlNode => ({
  name,
  attributes,
  children: typeof content === 'string' ? [] : content,
  text: typeof content === 'string' ? content : '',
});

const documentation = (text: string | undefined): XmlNode[] =>
  text === undefined ? [] : [node('Documentation', { 'xsi:type': 'SimpleText' }, text)];

/**
 * A program in the exchange format of IEC 61131-10 (elements and attributes from memory): its variables,
 * and a ladder body with a rung for each rung.
 */
export function programXml(program: Program): string {
  const project = node('Project', { xmlns: NAMESPACE, 'xmlns:xsi': INSTANCE, schemaVersion: '1.0' }, [
    node('FileHeader', { companyName: '', productName: 'Contactum', productVersion: '1' }),
    node('ContentHeader', { name: program.title, creationDateTime: MADE }),
    node('Types', {}, [
      node('GlobalNamespace', {}, [
        node('Program', { name: programName(program.title) }, [
          ...variables(program.variables),
          node('MainBody', {}, [node('BodyContent', { 'xsi:type': 'LD' }, new Ladder(program).rungs())]),
        ]),
      ]),
    ]),
  ]);
  const builder = new XMLBuilder({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    format: true,
    suppressEmptyNode: true,
  });
  return `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build([written(project)]).trim()}\n`;
}

/** In the form that the builder writes. */
const written = ({ name, attributes, children, text }: XmlNode): object => ({
  [name]: text === '' ? children.map(written) : [{ '#text': text }],
  ':@': attributes,
});

/** Variables in their order; a section begins wherever they become retained, or no longer. */
function variables(list: readonly ProgramVariable[]): XmlNode[] {
  const sections: { retain: boolean; nodes: XmlNode[] }[] = [];
  for (const variable of list) {
    const retain = isMemory(variable) && variable.retain === true;
    const last = sections.at(-1);
    if (last?.retain === retain) last.nodes.push(declared(variable));
    else sections.push({ retain, nodes: [declared(variable)] });
  }
  return sections.map(({ retain, nodes }) =>
    node('Vars', { accessSpecifier: 'private', ...(retain ? { retain: 'true' } : {}) }, nodes),
  );
}

function declared(variable: ProgramVariable): XmlNode {
  const { name, comment } = variable;
  const type = isTimer(variable) ? variable.timer : isCounter(variable) ? variable.counter : 'BOOL';
  const initial = isMemory(variable) ? variable.initial : undefined;
  return node('Variable', { name }, [
    ...documentation(comment),
    node('Type', {}, [node('TypeName', {}, type)]),
    ...(initial === undefined
      ? []
      : [node('InitialValue', {}, [node('SimpleValue', { value: initial ? 'TRUE' : 'FALSE' })])]),
    // A preset belongs to the call of a block; of one that no rung works it would be lost.
    ...(isTimer(variable) ? [preset('PT', timeText(variable.preset))] : []),
    ...(isCounter(variable) ? [preset('PV', String(variable.preset))] : []),
    ...(isConnected(variable) ? [node('Address', { address: standardAddress(variable.at) })] : []),
  ]);
}

const preset = (member: string, value: string): XmlNode =>
  node('InitialValue', {}, [
    node('StructValue', {}, [node('Value', { member }, [node('SimpleValue', { value })])]),
  ]);

/** The rungs as objects that are connected; points of connection are numbered through the whole body. */
class Ladder {
  private last = 0;

  constructor(private readonly program: Program) {}

  rungs(): XmlNode[] {
    return this.program.rungs.map((rung, k) =>
      node('Rung', { evaluationOrder: String(k + 1) }, [...documentation(rung.comment), ...this.rung(rung)]),
    );
  }

  private point(): { readonly id: string; readonly out: XmlNode } {
    this.last += 1;
    const id = String(this.last);
    return { id, out: node('ConnectionPointOut', { connectionPointOutId: id }) };
  }

  private rung({ when, then }: Rung): XmlNode[] {
    const rail = this.point();
    const objects = [node('LdObject', { 'xsi:type': 'LeftPowerRail' }, [rail.out])];
    const power = this.series(when, [rail.id], objects);
    for (const action of then) objects.push(...this.action(action, power));
    return objects;
  }

  /** Draws a series; the points from which power goes on. */
  private series(series: RungSeries, from: readonly string[], objects: XmlNode[]): readonly string[] {
    return series.reduce((power, element) => this.element(element, power, objects), from);
  }

  private element(element: RungElement, from: readonly string[], objects: XmlNode[]): readonly string[] {
    if ('any' in element)
      return [...new Set(element.any.flatMap((branch) => this.series(branch, from, objects)))];
    const { id, out } = this.point();
    const edge = isEdge(element) ? { edge: 'rising' in element ? 'rising' : 'falling' } : {};
    const negated = 'nc' in element ? { negated: 'true' } : {};
    objects.push(
      node('LdObject', { 'xsi:type': 'Contact', operand: examined(element), ...negated, ...edge }, [
        comesFrom(from),
        out,
      ]),
    );
    return [id];
  }

  private action(action: RungAction, power: readonly string[]): XmlNode[] {
    const coil = (operand: string, more: Record<string, string> = {}) => [
      node('LdObject', { 'xsi:type': 'Coil', operand, ...more }, [comesFrom(power)]),
    ];
    if ('coil' in action) return coil(action.coil);
    if ('negated' in action) return coil(action.negated, { negated: 'true' });
    if ('set' in action) return coil(action.set, { latch: 'set' });
    if ('timer' in action) {
      const variable = this.program.variables.find(({ name }) => name === action.timer);
      return variable && isTimer(variable)
        ? this.block(
            variable.timer,
            action.timer,
            [{ parameter: 'IN', from: power }],
            ['PT', timeText(variable.preset)],
          )
        : [];
    }
    if (!('counter' in action)) return coil(action.reset, { latch: 'reset' });
    const variable = this.program.variables.find(({ name }) => name === action.counter);
    if (!variable || !isCounter(variable)) return [];
    const isUp = variable.counter === 'CTU';
    const again = action.reset === undefined ? null : this.source(action.reset);
    return [
      ...(again ? [again.node] : []),
      ...this.block(
        variable.counter,
        action.counter,
        [
          { parameter: isUp ? 'CU' : 'CD', from: power },
          ...(again ? [{ parameter: isUp ? 'R' : 'LD', from: [again.id] }] : []),
        ],
        ['PV', String(variable.preset)],
      ),
    ];
  }

  /** A bit or a value that a block reads. */
  private source(identifier: string): { readonly id: string; readonly node: XmlNode } {
    const { id, out } = this.point();
    return { id, node: node('FbdObject', { 'xsi:type': 'DataSource', identifier }, [out]) };
  }

  private block(
    typeName: string,
    instanceName: string,
    inputs: readonly { readonly parameter: string; readonly from: readonly string[] }[],
    [parameter, value]: readonly [string, string],
  ): XmlNode[] {
    const literal = this.source(value);
    const input = (parameterName: string, from: readonly string[]) =>
      node('InputVariable', { parameterName }, [comesFrom(from)]);
    return [
      literal.node,
      node('FbdObject', { 'xsi:type': 'Block', typeName, instanceName }, [
        node('InputVariables', {}, [
          ...inputs.map((one) => input(one.parameter, one.from)),
          input(parameter, [literal.id]),
        ]),
      ]),
    ];
  }
}

const comesFrom = (points: readonly string[]): XmlNode =>
  node(
    'ConnectionPointIn',
    {},
    points.map((id) => node('Connection', { refConnectionPointOutId: id })),
  );
