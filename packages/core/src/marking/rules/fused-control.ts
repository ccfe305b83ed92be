import {
  controlProtections,
  feeds,
  isMainPole,
  meets,
  wiredTerminals,
  wiredTogether,
  type Circuit,
  type TerminalIndex,
} from '../../circuit/index.js';
import { breachAt, simple, touches, wiredCoils, type Breach } from './rule.js';

/**
 * Every coil, lamp and buzzer of the control circuit is fed through a fuse or breaker that is rated for it,
 * all through one of the same line.
 */
export const fusedControl = simple(
  'fused-control',
  'Control circuit is fused',
  'Every coil and lamp of the control circuit is fed through its fuse or breaker, all of them from one line.',
  { breach: fuseBreach },
);

interface Load {
  readonly tag: string;
  readonly a: TerminalIndex;
  readonly b: TerminalIndex;
}

/** Coils and lamps that are wired at both ends. A brake's coil goes with its motor. */
function controlLoads(circuit: Circuit): Load[] {
  const wired = wiredTerminals(circuit);
  const brakes = new Set(circuit.motors.map(({ brake }) => brake));
  return [...wiredCoils(circuit), ...circuit.lamps].filter(
    ({ a, b, mechanism }) => wired.has(a) && wired.has(b) && !brakes.has(mechanism),
  );
}

const named = (loads: readonly Load[]): string => loads.map(({ tag }) => tag).join(', ');
const verb = (loads: readonly Load[], one: string, many: string): string => (loads.length === 1 ? one : many);

function fuseBreach(circuit: Circuit): Breach | null {
  const loads = controlLoads(circuit);
  const protections = controlProtections(circuit);
  const unfused = wiredTogether(circuit, ({ mechanism }) => !protections.has(mechanism));
  const bare = loads.filter((load) => touches(unfused, feeds(circuit), load));
  if (bare.length > 0)
    return breachAt(
      bare.map(({ tag }) => tag),
      `${named(bare)} can be fed without passing a fuse or breaker of the control circuit`,
    );
  return otherLine(circuit, loads);
}

/** Loads that are fed from another line of a supply than most are. */
function otherLine(circuit: Circuit, loads: readonly Load[]): Breach | null {
  // Poles of contactors join lines that the control circuit has nothing to do with.
  const sets = wiredTogether(circuit, (contact) => !isMainPole(circuit, contact));
  const tagOf = (terminal: TerminalIndex) => circuit.terminals[terminal]!.split(':')[0]!;
  const groups = new Map<string, Map<string, Load[]>>();
  for (const load of loads) {
    const lines = feeds(circuit).filter((feed) => meets(sets, [load.a, load.b], feed));
    const [first] = lines;
    if (first === undefined) continue;
    const supply = groups.get(tagOf(first)) ?? new Map<string, Load[]>();
    const key = lines.map((line) => circuit.terminals[line]!).join(' and ');
    groups.set(tagOf(first), supply.set(key, [...(supply.get(key) ?? []), load]));
  }
  for (const supply of groups.values()) {
    const [most, ...others] = [...supply].sort(([, a], [, b]) => b.length - a.length);
    const [other] = others;
    if (!most || !other) continue;
    const [[line, usual], [odd, few]] = [most, other];
    return breachAt(
      few.map(({ tag }) => tag),
      `${named(few)} ${verb(few, 'is', 'are')} fed from ${odd}, ${named(usual)} from ${line}`,
    );
  }
  return null;
}
