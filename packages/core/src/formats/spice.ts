import type { MotorPlate } from '../catalogue/index.js';
import {
  BURNT_THROUGH,
  impedanceOf,
  isClosed,
  variantOf,
  type Circuit,
  type Impedance,
  type MechanicalState,
  type Source,
  type TerminalIndex,
  type Transformer,
} from '../circuit/index.js';
import { writeDeck, type Deck, type DeckElement } from './spice-deck.js';
import { fitMotor, inverse, sequenceAdmittance, zeroSequenceAdmittance } from '../machines/index.js';

/**
 * Resistance that stands for a lead or a closed contact, ohms: small against every load, large against
 * rounding.
 */
const JOINT = 1e-4;

/**
 * The circuit of one contact state as a SPICE deck for a steady-state analysis: leads and closed contacts
 * as tiny resistors between terminals, so that the other program joins nodes by itself. Rotors are at rest;
 * the windings of a three-phase motor are coupled as ours: leakage in each, and what the rotor shows to the
 * current without its zero sequence. AC sources have their phasors, DC sources their operating point; the
 * reference is the earthed neutral, or the minus of the first DC supply.
 */
export function toSpice(circuit: Circuit, state: MechanicalState, title = circuit.bench.title): string {
  return writeDeck(deckOf(circuit, state, title));
}

/** The same as elements between nodes. */
export function deckOf(circuit: Circuit, state: MechanicalState, title = circuit.bench.title): Deck {
  const deck = new DeckBuilder();
  const node = (terminal: number) => nodeName(circuit, terminal);
  for (const { a, b } of circuit.conductors) deck.joint(node(a), node(b));
  for (const contact of circuit.switches)
    if (isClosed(contact, state)) deck.joint(node(contact.a), node(contact.b));
  circuit.sources.forEach((source, k) => {
    if (source.liveIn[state[source.mechanism]!])
      deck.source(`e${k}`, node(source.terminal), node(source.reference), source);
  });
  for (const [k, element] of circuit.elements.entries()) {
    const { law, windings } = element;
    const variant = variantOf(circuit, element, state);
    if (variant === BURNT_THROUGH) continue;
    // A star point and other places inside a device have nodes of their own.
    const end = (at: number) => (at === -1 ? `s${k}` : at < 0 ? `i${k}_${-at}` : node(at));
    const ends = windings.map(([a, b]) => [end(a), end(b)] as const);
    if (law.kind === 'transformer') deck.transformer(circuit.transformers[law.transformer]!, node);
    else if (law.kind === 'motor') deck.motor(ends, circuit.motors[law.motor]!.plate);
    else for (const [a, b] of ends) deck.series(a, b, impedanceOf(law, variant));
  }
  return { title: title.replace(/\s+/g, ' '), elements: deck.elements };
}

/** Elements numbered as they come. */
class DeckBuilder {
  readonly elements: DeckElement[] = [];
  private count = 0;

  private next(letter: string): string {
    this.count += 1;
    return `${letter}${this.count}`;
  }

  private put(kind: DeckElement['kind'], a: string, b: string, more: Partial<DeckElement>): void {
    this.elements.push({ name: this.next(kind), kind, nodes: [a, b], ...more });
  }

  joint(a: string, b: string): void {
    if (a !== b) this.put('r', a, b, { value: JOINT });
  }

  series(a: string, b: string, { ohms, henries }: Impedance): void {
    if (henries === 0) {
      this.put('r', a, b, { value: ohms || JOINT });
      return;
    }
    const middle = `m${this.count}`;
    this.put('r', a, middle, { value: ohms || JOINT });
    this.put('l', middle, b, { value: henries });
  }

  source(
    inner: string,
    terminal: string,
    reference: string,
    { re, im, frequency, ohms, henries }: Source,
  ): void {
    const volts = Math.hypot(re, im);
    const degrees = (Math.atan2(im, re) * 180) / Math.PI;
    const gives = frequency === 0 ? { dc: re } : { dc: 0, ac: { volts, degrees } };
    this.put('v', inner, reference, gives);
    this.series(inner, terminal, { ohms: Math.max(ohms, JOINT), henries });
  }

  /**
   * Ideal transformer: the secondary EMF follows the primary, the primary draws the secondary's current by
   * the ratio.
   */
  transformer(
    { primary, secondary, ratio, series, magnetising, tag }: Transformer,
    node: (terminal: number) => string,
  ): void {
    const [h1, h2] = [node(primary[0]), node(primary[1])];
    this.series(h1, h2, magnetising);
    const inner = `t${tag.toLowerCase()}`;
    const sense = this.next('v');
    this.put('e', inner, node(secondary[1]), { by: [h1, h2], gain: 1 / ratio });
    this.elements.push({ name: sense, kind: 'v', nodes: [inner, `${inner}s`], value: 0 });
    this.put('f', h1, h2, { by: [sense], gain: 1 / ratio });
    this.series(`${inner}s`, node(secondary[0]), series);
  }

  /**
   * A motor's windings with its rotor at rest: three on one core, volts = Z0 · current + (Z1 − Z0) · (current
   * − mean of the three).
   */
  motor(ends: readonly (readonly [string, string])[], plate: MotorPlate): void {
    const machine = fitMotor(plate);
    const impedance = (re: number, im: number): Impedance => ({
      ohms: re,
      henries: im / (2 * Math.PI * plate.frequency),
    });
    const one = inverse(sequenceAdmittance(machine, 1));
    if (ends.length !== 3) {
      for (const [a, b] of ends) this.series(a, b, impedance(one.re, one.im));
      return;
    }
    const zero = inverse(zeroSequenceAdmittance(machine));
    const senses = ends.map(() => this.next('v'));
    ends.forEach(([a, b], k) => {
      const [inner, behind] = [`w${this.count}`, `x${this.count}`];
      this.elements.push({ name: senses[k]!, kind: 'v', nodes: [a, inner], value: 0 });
      this.series(inner, behind, impedance(zero.re, zero.im));
      this.series(behind, b, impedance(one.re - zero.re, one.im - zero.im));
      for (const sense of senses) this.put('f', behind, b, { by: [sense], gain: 1 / 3 });
    });
  }
}

/**
 * Node of a terminal in the deck: 0 where it is earthed, or the reference of the first supply where nothing
 * is.
 */
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
