import { OPERATED } from '../../catalogue/index.js';
import {
  controlOf,
  isArmature,
  isSwitchgear,
  linesOf,
  wayBetween,
  wayWords,
  type Circuit,
  type Stimulus,
  type Switch,
  type TerminalIndex,
  type TerminalWay,
} from '../../circuit/index.js';
import { DANGER, type PropertyRule } from './property.js';

const isOfSwitchgear = ({ mechanisms }: Circuit, { mechanism }: Switch): boolean =>
  isSwitchgear(mechanisms[mechanism]!);

/** What stands on the load side of switchgear: terminals of motors, coils and lamps. */
const loadsOf = ({ motors, coils, lamps }: Circuit): TerminalIndex[] => [
  ...motors.flatMap(({ terminals }) => terminals),
  ...[...coils, ...lamps].flatMap(({ a, b }) => [a, b]),
];

const switchgearOf = ({ mechanisms }: Circuit): string[] =>
  mechanisms.filter(isSwitchgear).map(({ device }) => device.tag);

/** Opens all switchgear, and closes by hand what else is open on a way. */
function stepsTo(circuit: Circuit, { contacts }: TerminalWay): Stimulus[] {
  const open = contacts.filter(({ mechanism, closedIn }) => !closedIn[circuit.initial[mechanism]!]);
  const held = open.map(({ mechanism, tag, spec, closedIn }): Stimulus => {
    const moved = circuit.mechanisms[mechanism]!;
    const pushed = contacts.every((other) => other.mechanism !== mechanism || other.closedIn[OPERATED]);
    if (controlOf(moved) !== null && closedIn[OPERATED] && pushed) return { press: tag };
    return isArmature(moved) && pushed
      ? { inject: { 'armature-jammed': tag, position: 'in' } }
      : { inject: { 'contact-stuck-closed': `${tag}:${spec.name}` } };
  });
  const once = new Map(held.map((step) => [JSON.stringify(step), step]));
  return [...switchgearOf(circuit).map((tag): Stimulus => ({ open: tag })), ...once.values()];
}

/**
 * With breakers, disconnectors and fuses open nothing that a fitter touches is on a line, whatever else is
 * closed.
 */
export const isolates: PropertyRule = {
  title: 'With everything switched off and the fuses out nothing is live',
  weight: DANGER,
  applies: (circuit) =>
    switchgearOf(circuit).length > 0 && linesOf(circuit).length > 0 && loadsOf(circuit).length > 0,
  tested: ({ circuit }) => wayBetween(circuit, linesOf(circuit), loadsOf(circuit), () => true) !== null,
  wiring(circuit) {
    const way = wayBetween(
      circuit,
      linesOf(circuit),
      loadsOf(circuit),
      (contact) => !isOfSwitchgear(circuit, contact),
    );
    if (!way) return null;
    const [line, end] = [circuit.terminals[way.from]!, circuit.terminals[way.to]!];
    return {
      found: `${end} is joined to ${line}${wayWords(way)} with ${switchgearOf(circuit).join(', ')} open`,
      trace: stepsTo(circuit, way),
    };
  },
};
