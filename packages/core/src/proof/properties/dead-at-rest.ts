import { REST } from '../../catalogue/index.js';
import {
  closedIn,
  isArmature,
  linesOf,
  meets,
  wayBetween,
  wayWords,
  wiredTogether,
  type Circuit,
  type MechanicalState,
  type TerminalIndex,
  type TerminalWay,
} from '../../circuit/index.js';
import type { Judging } from '../judging.js';
import { ByContacts, mechanismsBetween } from './by-contacts.js';
import { DANGER, perCircuit, perSearch, type PropertyRule } from './property.js';

/** A state as it would be with every armature out. */
function released({ mechanisms }: Circuit, state: MechanicalState): MechanicalState {
  const rest = state.slice();
  for (const one of mechanisms) if (isArmature(one)) rest[one.index] = REST;
  return rest;
}

/** Devices whose armatures are in, or on their way. */
const armaturesIn = ({ mechanisms }: Circuit, state: MechanicalState): string[] =>
  mechanisms.flatMap((one) => (isArmature(one) && state[one.index] !== REST ? [one.device.tag] : []));

/** An AC supply is off: its lines are dead. */
const isOff = ({ sources }: Circuit, state: MechanicalState): boolean =>
  sources.some(({ frequency, liveIn, mechanism }) => frequency > 0 && !liveIn[state[mechanism]!]);

const allOut = (circuit: Circuit, state: MechanicalState): boolean =>
  armaturesIn(circuit, state).length === 0;

/**
 * Some contact that no armature opens could join a line to a motor: otherwise there is nothing to look for.
 */
const mayBeLive = perCircuit((circuit) => {
  const sets = wiredTogether(
    circuit,
    ({ mechanism, closedIn: closed }) => !isArmature(circuit.mechanisms[mechanism]!) || closed[REST]!,
  );
  return circuit.motors.some(({ terminals }) =>
    terminals.some((terminal) => meets(sets, linesOf(circuit), terminal)),
  );
});

/** The nearest way from a line to a terminal of a motor that no armature cuts; null where there is none. */
function livePast(
  circuit: Circuit,
  state: MechanicalState,
  terminals: readonly TerminalIndex[],
): TerminalWay | null {
  return wayBetween(circuit, linesOf(circuit), terminals, closedIn(released(circuit, state)));
}

const terminalsOf = ({ circuit, motors }: Pick<Judging, 'circuit' | 'motors'>): TerminalIndex[] =>
  motors.flatMap((k) => circuit.motors[k]!.terminals);

const ways = perSearch((search) => {
  const { circuit } = search;
  const terminals = terminalsOf(search);
  const others = mechanismsBetween(circuit, terminals).filter(
    (mechanism) => !isArmature(circuit.mechanisms[mechanism]!),
  );
  return new ByContacts(circuit, others, (state) => livePast(circuit, state, terminals));
});

/**
 * A motor that no contactor feeds has no line on it, whatever stays where a hand has put it. It is judged
 * while no button is held: where a pole seals in, Start itself reaches the motor's terminal for as long as
 * it is pressed.
 */
export const deadAtRest: PropertyRule = {
  title: 'A stopped motor is cut from every line',
  weight: DANGER,
  applies: (circuit) =>
    circuit.motors.length > 0 && linesOf(circuit).length > 0 && circuit.mechanisms.some(isArmature),
  tested: ({ hasRun }) => hasRun,
  settled(search, settled) {
    const { circuit, exploration } = search;
    if (!mayBeLive(circuit) || exploration.held(settled.state) > 0 || isOff(circuit, settled.state)) return;
    const way = ways(search).at(settled.state);
    if (!way) return;
    const [line, end] = [circuit.terminals[way.from]!, circuit.terminals[way.to]!];
    search.violateSettled(
      'dead-at-rest',
      settled,
      `${end} is joined to ${line}${wayWords(way)} while every contactor is out`,
      ({ state }) => allOut(circuit, state) && livePast(circuit, state, terminalsOf(search)) !== null,
      armaturesIn(circuit, settled.state).map((tag) => ({ inject: { 'armature-jammed': tag } })),
    );
  },
};
