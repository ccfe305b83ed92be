import {
  blockWords,
  examined,
  isConnected,
  kindOfAction,
  kindOfContact,
  variableOf,
  workedBy,
  type Program,
  type Rung,
  type RungAction,
  type RungContact,
  type RungElement,
  type RungSeries,
} from './program.js';

/** A contact on a rung in words: `NO Start`, `rising edge of Go`. */
export function contactWords(contact: RungContact, nameOf = (bit: string): string => bit): string {
  const kind = kindOfContact(contact);
  const words = kind === 'no' || kind === 'nc' ? kind.toUpperCase() : `${kind} edge of`;
  return `${words} ${nameOf(examined(contact))}`;
}

/**
 * A rung on one line, inputs and outputs by their addresses: `NO I0.0, (NO I0.1 or NO I0.3) → Q0.0`. What
 * stands in a series is put beside each other, what stands in parallel is joined by “or”.
 */
export function rungWords({ variables }: Pick<Program, 'variables'>, { when, then }: Rung): string {
  const nameOf = (name: string): string => {
    const variable = variables.find((one) => one.name === variableOf(name));
    return variable && isConnected(variable) ? variable.at : name;
  };
  const element = (one: RungElement): string => {
    if ('any' in one) return `(${one.any.map(series).join(' or ')})`;
    return contactWords(one, nameOf);
  };
  const series = (list: RungSeries): string => list.map(element).join(', ');
  const action = (one: RungAction): string => {
    const name = nameOf(workedBy(one));
    const variable = variables.find((other) => other.name === workedBy(one));
    const block = variable ? blockWords(variable) : null;
    switch (kindOfAction(one)) {
      case 'coil':
        return name;
      case 'negated':
        return `not ${name}`;
      case 'set':
        return `set ${name}`;
      case 'reset':
        return `reset ${name}`;
      case 'timer':
      case 'counter':
        return block === null ? name : `${name} (${block})`;
    }
  };
  const does = then.map(action).join(', ');
  return when.length === 0 ? `always → ${does}` : `${series(when)} → ${does}`;
}
