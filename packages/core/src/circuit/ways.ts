import type { Circuit, Switch, TerminalIndex } from './circuit.js';

/** A shortest way between two terminals along conductors and contacts. */
export interface TerminalWay {
  readonly from: TerminalIndex;
  readonly to: TerminalIndex;
  /** Contacts on it, in order. */
  readonly contacts: readonly Switch[];
  /** Contacts and heaters on it as they are spoken, in order: `Q1 5-6`. */
  readonly passes: readonly string[];
}

interface Step {
  readonly to: TerminalIndex;
  readonly contact: Switch | null;
  /** Contact or heater that it passes, or nothing. */
  readonly passes: string;
}

/** The inner links of a circuit's overload relays: their heaters. */
export function heatersOf({ conductors, protections }: Circuit): Circuit['conductors'] {
  const relays = new Set(protections.flatMap(({ tag, spec }) => (spec.curve === 'overload' ? [tag] : [])));
  return conductors.filter(({ wire, tag }) => wire < 0 && relays.has(tag));
}

const nameOf = (circuit: Circuit, terminal: number): string => circuit.terminals[terminal]!.split(':')[1]!;

/**
 * Breadth first from some terminals to one of some goals, through the contacts that are admitted; null
 * where there is no way.
 */
export function wayBetween(
  circuit: Circuit,
  from: readonly TerminalIndex[],
  goals: readonly TerminalIndex[],
  through: (contact: Switch) => boolean,
): TerminalWay | null {
  const steps: Step[][] = circuit.terminals.map(() => []);
  const join = (a: TerminalIndex, b: TerminalIndex, contact: Switch | null, passes: string): void => {
    steps[a]!.push({ to: b, contact, passes });
    steps[b]!.push({ to: a, contact, passes });
  };
  const heaters = new Set(heatersOf(circuit));
  for (const conductor of circuit.conductors) {
    const { a, b, tag } = conductor;
    const heater = heaters.has(conductor) ? `${tag} ${nameOf(circuit, a)}-${nameOf(circuit, b)}` : '';
    join(a, b, null, heater);
  }
  for (const contact of circuit.switches)
    if (through(contact)) join(contact.a, contact.b, contact, `${contact.tag} ${contact.spec.name}`);
  const cameBy = new Map<TerminalIndex, { readonly from: TerminalIndex; readonly step: Step } | null>(
    from.map((terminal) => [terminal, null]),
  );
  for (const here of cameBy.keys()) {
    if (goals.includes(here)) return traced(here, cameBy);
    for (const step of steps[here]!) if (!cameBy.has(step.to)) cameBy.set(step.to, { from: here, step });
  }
  return null;
}

function traced(
  end: TerminalIndex,
  cameBy: ReadonlyMap<TerminalIndex, { readonly from: TerminalIndex; readonly step: Step } | null>,
): TerminalWay {
  const taken: Step[] = [];
  let at = end;
  for (let by = cameBy.get(at); by; by = cameBy.get(at)) {
    taken.unshift(by.step);
    at = by.from;
  }
  return {
    from: at,
    to: end,
    contacts: taken.flatMap(({ contact }) => contact ?? []),
    passes: taken.flatMap(({ passes }) => passes || []),
  };
}

/** A way in words: ` through Q1 5-6, F2 5-6`, or nothing where it passes no contact. */
export const wayWords = ({ passes }: Pick<TerminalWay, 'passes'>): string =>
  passes.length === 0 ? '' : ` through ${passes.join(', ')}`;
