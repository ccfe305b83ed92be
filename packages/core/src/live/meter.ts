import type { Circuit, TerminalIndex } from '../circuit/index.js';
import { WireCurrents, readOhms, readVolts, type Reading } from '../electrics/index.js';
import type { Simulation } from '../simulation/index.js';

/** What a person does with the instruments of a bench. */
export type MeterRequest =
  | { readonly mode: 'volts' | 'ohms'; readonly at: readonly [string, string] }
  /** A clamp about a lead, by its place in the bench. */
  | { readonly mode: 'amps'; readonly lead: number }
  /** Which way round three lines follow one another. */
  | { readonly mode: 'sequence'; readonly at: readonly [string, string, string] };

export type MeterReading =
  | { readonly value: number; readonly unit: 'V' | 'A' | 'Ω'; readonly kind: 'ac' | 'dc' | null }
  | { readonly sequence: 'forward' | 'reverse' | 'none' }
  | { readonly refused: string };

/** Volts below which a line counts as missing to a phase-sequence tester, V (common practice, no source). */
const PRESENT = 50;

/** What an instrument shows on a running bench. */
export function measureAt(
  simulation: Simulation,
  circuit: Circuit,
  request: MeterRequest,
  isLive: boolean,
): MeterReading {
  const { solver, state, slips } = simulation;
  if (request.mode === 'amps') {
    if (circuit.bench.wires[request.lead] === undefined) return { refused: 'there is no such lead' };
    return told(new WireCurrents(solver, state, solver.solve(state, slips), slips).throughWire(request.lead));
  }
  const places = request.at.map((ref) => circuit.indexOf.get(ref));
  if (places.includes(undefined)) return { refused: 'a probe lies on no terminal' };
  const [a, b, c] = places as TerminalIndex[];
  if (request.mode === 'ohms')
    return isLive
      ? { refused: 'the board is live: isolate it first' }
      : told(readOhms(solver, state, a!, b!));
  const volts = (p: TerminalIndex, q: TerminalIndex) => readVolts(solver, state, p, q, slips);
  if (request.mode === 'volts') return told(volts(a!, b!));
  return { sequence: sequenceOf(volts(a!, b!), volts(b!, c!)) };
}

const told = ({ value, unit, angle }: Reading): MeterReading => ({
  value,
  unit,
  kind: unit === 'Ω' || value === 0 ? null : angle === null ? 'dc' : 'ac',
});

/** L1, L2, L3 in order: the voltage of the first two lines leads that of the next two by 120 degrees. */
function sequenceOf(first: Reading, second: Reading): 'forward' | 'reverse' | 'none' {
  if (first.angle === null || second.angle === null) return 'none';
  if (Math.min(first.value, second.value) < PRESENT) return 'none';
  const lead = (((first.angle - second.angle) % 360) + 360) % 360;
  if (Math.abs(lead - 120) < 30) return 'forward';
  return Math.abs(lead - 240) < 30 ? 'reverse' : 'none';
}
