import {
  isFuse,
  isSwitchgear,
  linesOf,
  wayBetween,
  wayWords,
  type Circuit,
  type Switch,
  type TerminalIndex,
} from '../../circuit/index.js';
import { breachAt, simple, type Breach } from './rule.js';

/**
 * The control circuit is dead when what switches the motor off is open, with its fuses left in (common
 * practice, no source).
 */
export const controlIsolated = simple(
  'control-isolated',
  'The control is switched off with the motor',
  'With every breaker and disconnector off, fuses left in, no coil, lamp or transformer of the control is on a line.',
  {
    applies: hasMainSwitch,
    breach: liveBreach,
  },
);

/** True of a pole that a hand opens: of a breaker or a disconnector, not of a fuse. */
const isSwitched = ({ mechanisms }: Circuit, { mechanism }: Switch): boolean =>
  isSwitchgear(mechanisms[mechanism]!) && !isFuse(mechanisms[mechanism]!);

/**
 * Whether a breaker or disconnector is made for a motor's lines: where fuses alone stand before a motor
 * there is nothing to go with.
 */
function hasMainSwitch(circuit: Circuit): boolean {
  const lines = Math.max(0, ...circuit.motors.map(({ terminals }) => Math.min(terminals.length, 3)));
  const poles = circuit.switches.filter((contact) => isSwitched(circuit, contact)).map(({ tag }) => tag);
  return lines > 0 && linesOf(circuit).length > 0 && poles.some((tag) => countOf(poles, tag) >= lines);
}

const countOf = (tags: readonly string[], tag: string): number => tags.filter((one) => one === tag).length;

const controlOf = ({ coils, lamps, transformers }: Circuit): TerminalIndex[] => [
  ...[...coils, ...lamps].flatMap(({ a, b }) => [a, b]),
  ...transformers.flatMap(({ primary }) => primary),
];

function liveBreach(circuit: Circuit): Breach | null {
  const way = wayBetween(
    circuit,
    linesOf(circuit),
    controlOf(circuit),
    (contact) => !isSwitched(circuit, contact),
  );
  if (!way) return null;
  const [line, end] = [circuit.terminals[way.from]!, circuit.terminals[way.to]!];
  return breachAt(
    [line, end],
    `${end} is joined to ${line}${wayWords(way)} with every breaker and disconnector off`,
  );
}
