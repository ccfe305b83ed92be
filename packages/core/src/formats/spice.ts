import { splitRef } from '../bench/index.js';
import { BURNT } from '../catalogue/index.js';
import { coilImpedance, type Circuit, type Impedance, type MechanicalState } from '../circuit/index.js';
import { fitMotor, inverse, sequenceAdmittance } from '../machines/index.js';

/** Resistance that stands for a lead or a closed contact, ohms: small against every load, large against rounding. */
const JOINT = 1e-4;
const EARTHED = new Set(['N', 'PE']);

/**
 * The circuit of one contact state as a SPICE deck for a steady-state analysis: leads and closed contacts as tiny
 * resistors between terminals, so that the other program joins nodes by itself. Rotors are at rest; a motor's windings are
 * three equal impedances, which is exact wherever no zero-sequence current can flow (star without neutral, closed delta).
 * AC sources have their phasors, DC sources their operating point; the reference is the earthed neutral, or the minus of
 * the first DC supply.
 */
export function toSpice(circuit: Circuit, state: MechanicalState, title = circuit.bench.title): string {
  const lines: string[] = [];
  let count = 0;
  const next = (letter: string) => `${letter}${(count += 1)}`;
  const node = (terminal: number) => nodeName(circuit, terminal);
  const series = (a: string, b: string, { ohms, henries }: Impedance) => {
    if (henries === 0) {
      lines.push(`${next('r')} ${a} ${b} ${ohms || JOINT}`);
      return;
    }
    const middle = `m${count}`;
    lines.push(`${next('r')} ${a} ${middle} ${ohms || JOINT}`, `${next('l')} ${middle} ${b} ${henries}`);
  };

  for (const { a, b } of circuit.conductors)
    if (node(a) !== node(b)) lines.push(`${next('r')} ${node(a)} ${node(b)} ${JOINT}`);
  for (const { a, b, mechanism, closedIn } of circuit.switches) {
    if (closedIn[state[mechanism] as number] && node(a) !== node(b))
      lines.push(`${next('r')} ${node(a)} ${node(b)} ${JOINT}`);
  }
  circuit.sources.forEach((source, k) => {
    if (!source.liveIn[state[source.mechanism] as number]) return;
    const inner = `e${k}`;
    const volts = Math.hypot(source.re, source.im);
    const degrees = (Math.atan2(source.im, source.re) * 180) / Math.PI;
    const value = source.frequency === 0 ? `dc ${source.re}` : `dc 0 ac ${volts} ${degrees}`;
    lines.push(`${next('v')} ${inner} ${node(source.reference)} ${value}`);
    series(inner, node(source.terminal), { ohms: Math.max(source.ohms, JOINT), henries: source.henries });
  });
  for (const coil of circuit.coils) {
    const impedance = coilImpedance(circuit, coil, state);
    if (impedance) series(node(coil.a), node(coil.b), impedance);
  }
  for (const lamp of circuit.lamps)
    if (state[lamp.mechanism] !== BURNT) series(node(lamp.a), node(lamp.b), { ohms: lamp.ohms, henries: 0 });
  for (const load of circuit.loads) series(node(load.a), node(load.b), load);
  for (const { primary, secondary, ratio, series: impedance, magnetising, tag } of circuit.transformers) {
    series(node(primary[0]), node(primary[1]), magnetising);
    // Ideal transformer: the secondary EMF follows the primary, the primary draws the secondary's current by the ratio.
    const inner = `t${tag.toLowerCase()}`;
    const sense = next('v');
    lines.push(
      `${next('e')} ${inner} ${node(secondary[1])} ${node(primary[0])} ${node(primary[1])} ${1 / ratio}`,
    );
    lines.push(
      `${sense} ${inner} ${inner}s 0`,
      `${next('f')} ${node(primary[0])} ${node(primary[1])} ${sense} ${1 / ratio}`,
    );
    series(`${inner}s`, node(secondary[0]), impedance);
  }
  circuit.motors.forEach((motor, k) => {
    const z = inverse(sequenceAdmittance(fitMotor(motor.plate), 1));
    const winding = { ohms: z.re, henries: z.im / (2 * Math.PI * motor.plate.frequency) };
    for (const [a, b] of motor.windings)
      series(a < 0 ? `s${k}` : node(a), b < 0 ? `s${k}` : node(b), winding);
  });
  return [`* ${title.replace(/\s+/g, ' ')}`, ...lines, '.options rshunt=1e9', '.end', ''].join('\n');
}

/** Node of a terminal in the deck: 0 where it is the reference. */
export function nodeName(circuit: Circuit, terminal: number): string {
  const ref = circuit.terminals[terminal] ?? '';
  const { tag, terminal: name } = splitRef(ref);
  const type = circuit.bench.devices.find((device) => device.tag === tag)?.type ?? '';
  if ((type === 'supply-3n' || type === 'supply-1n') && EARTHED.has(name)) return '0';
  const firstDc = circuit.bench.devices.find((device) => device.type === 'supply-dc')?.tag;
  if (tag === firstDc && name === '-' && !circuit.sources.some(({ frequency }) => frequency > 0)) return '0';
  return `n_${ref
    .toLowerCase()
    .replace('+', 'plus')
    .replace(/-$/, 'minus')
    .replace(/[^a-z0-9]+/g, '_')}`;
}
