import {
  BURNT_THROUGH,
  impedanceOf,
  variantOf,
  type Circuit,
  type Impedance,
  type MechanicalState,
  type TerminalIndex,
  type Transformer,
} from '../circuit/index.js';
import { writeDeck, type Deck, type DeckElement } from './spice-deck.js';
import {
  fitMotor,
  inverse,
  sequenceAdmittance,
  zeroSequenceAdmittance,
  type InductionMotor,
} from '../machines/index.js';

/** Resistance that stands for a lead or a closed contact, ohms: small against every load, large against rounding. */
const JOINT = 1e-4;

/**
 * The circuit of one contact state as a SPICE deck for a steady-state analysis: leads and closed contacts as tiny
 * resistors between terminals, so that the other program joins nodes by itself. Rotors are at rest; the windings of a
 * three-phase motor are coupled as ours: leakage in each, and what the rotor shows to the current without its zero sequence.
 * AC sources have their phasors, DC sources their operating point; the reference is the earthed neutral, or the minus of
 * the first DC supply.
 */
export function toSpice(circuit: Circuit, state: MechanicalState, title = circuit.bench.title): string {
  return writeDeck(deckOf(circuit, state, title));
}

/** The same as elements between nodes. */
export function deckOf(circuit: Circuit, state: MechanicalState, title = circuit.bench.title): Deck {
  const elements: DeckElement[] = [];
  let count = 0;
  const next = (letter: string) => `${letter}${(count += 1)}`;
  const node = (terminal: number) => nodeName(circuit, terminal);
  const put = (kind: DeckElement['kind'], a: string, b: string, more: Partial<DeckElement>) =>
    elements.push({ name: next(kind), kind, nodes: [a, b], ...more });
  const series = (a: string, b: string, { ohms, henries }: Impedance) => {
    if (henries === 0) {
      put('r', a, b, { value: ohms || JOINT });
      return;
    }
    const middle = `m${count}`;
    put('r', a, middle, { value: ohms || JOINT });
    put('l', middle, b, { value: henries });
  };

  /** Ideal transformer: the secondary EMF follows the primary, the primary draws the secondary's current by the ratio. */
  const transformer = ({ primary, secondary, ratio, series: impedance, magnetising, tag }: Transformer) => {
    const [h1, h2] = [node(primary[0]), node(primary[1])];
    series(h1, h2, magnetising);
    const inner = `t${tag.toLowerCase()}`;
    const sense = next('v');
    put('e', inner, node(secondary[1]), { by: [h1, h2], gain: 1 / ratio });
    elements.push({ name: sense, kind: 'v', nodes: [inner, `${inner}s`], value: 0 });
    put('f', h1, h2, { by: [sense], gain: 1 / ratio });
    series(`${inner}s`, node(secondary[0]), impedance);
  };

  /** Windings on one core: volts = Z0 · current + (Z1 − Z0) · (current − mean of the three). */
  const coupled = (ends: readonly (readonly [string, string])[], machine: InductionMotor, hertz: number) => {
    const [one, zero] = [sequenceAdmittance(machine, 1), zeroSequenceAdmittance(machine)].map(inverse);
    const impedance = (re: number, im: number): Impedance => ({
      ohms: re,
      henries: im / (2 * Math.PI * hertz),
    });
    const senses = ends.map(() => next('v'));
    ends.forEach(([a, b], k) => {
      const [inner, behind] = [`w${count}`, `x${count}`];
      elements.push({ name: senses[k]!, kind: 'v', nodes: [a, inner], value: 0 });
      series(inner, behind, impedance(zero!.re, zero!.im));
      series(behind, b, impedance(one!.re - zero!.re, one!.im - zero!.im));
      for (const sense of senses) put('f', behind, b, { by: [sense], gain: 1 / 3 });
    });
  };

  for (const { a, b } of circuit.conductors)
    if (node(a) !== node(b)) put('r', node(a), node(b), { value: JOINT });
  for (const { a, b, mechanism, closedIn } of circuit.switches) {
    if (closedIn[state[mechanism]!] && node(a) !== node(b)) put('r', node(a), node(b), { value: JOINT });
  }
  circuit.sources.forEach((source, k) => {
    if (!source.liveIn[state[source.mechanism]!]) return;
    const inner = `e${k}`;
    const volts = Math.hypot(source.re, source.im);
    const degrees = (Math.atan2(source.im, source.re) * 180) / Math.PI;
    const gives = source.frequency === 0 ? { dc: source.re } : { dc: 0, ac: { volts, degrees } };
    put('v', inner, node(source.reference), gives);
    series(inner, node(source.terminal), { ohms: Math.max(source.ohms, JOINT), henries: source.henries });
  });
  for (const [k, element] of circuit.elements.entries()) {
    const { law, windings } = element;
    const variant = variantOf(circuit, element, state);
    if (variant === BURNT_THROUGH) continue;
    if (law.kind === 'transformer') {
      transformer(circuit.transformers[law.transformer]!);
      continue;
    }
    // A star point and other places inside a device have nodes of their own.
    const end = (at: number) => (at === -1 ? `s${k}` : at < 0 ? `i${k}_${-at}` : node(at));
    const ends = windings.map(([a, b]) => [end(a), end(b)] as const);
    if (law.kind === 'motor') {
      const { plate } = circuit.motors[law.motor]!;
      const machine = fitMotor(plate);
      if (ends.length === 3) {
        coupled(ends, machine, plate.frequency);
        continue;
      }
      const z = inverse(sequenceAdmittance(machine, 1));
      for (const [a, b] of ends)
        series(a, b, { ohms: z.re, henries: z.im / (2 * Math.PI * plate.frequency) });
      continue;
    }
    for (const [a, b] of ends) series(a, b, impedanceOf(law, variant));
  }
  return { title: title.replace(/\s+/g, ' '), elements };
}

/** Node of a terminal in the deck: 0 where it is earthed, or the reference of the first supply where nothing is. */
export function nodeName(circuit: Circuit, terminal: number): string {
  const { earthed, sources, terminals } = circuit;
  const isReference =
    earthed.length > 0 ? earthed.includes(terminal as TerminalIndex) : sources[0]?.reference === terminal;
  if (isReference) return '0';
  const ref = terminals[terminal] ?? '';
  return `n_${ref
    .toLowerCase()
    .replace('+', 'plus')
    .replace(/-$/, 'minus')
    .replace(/[^a-z0-9]+/g, '_')}`;
}
