import {
  BAD_VOLTAGE,
  BURNT,
  Decisions,
  PULLS_IN,
  STAYS_IN,
  SUPPLY_OPEN,
  Solver,
  coilVolts,
  compile,
  isFixed,
  isShorted,
  lampState,
  pulls,
  voltageFault,
  type Bench,
  type Circuit,
  type Hands,
  type MechanicalState,
} from '@contactum/core';
import { exercises, seeded } from '../help.js';
import { wiredAnyhow } from './wrong-wirings.js';

/** A state mostly near rest, as far as a search moves anything; it loses whole supplies. */
function nearRest({ initial, mechanisms }: Circuit, hands: Hands, random: () => number): MechanicalState {
  const state = initial.slice();
  for (const one of mechanisms)
    if (!isFixed(one, hands) && random() < 0.4)
      state[one.index] = one.kind === 'supply' ? SUPPLY_OPEN : Math.floor(random() * one.states);
  return state;
}

export interface Solved {
  /** States that are shorted, and answers about others. */
  readonly shorts: number;
  readonly asked: number;
  readonly findings: readonly string[];
  /** Devices about which some answer rests on the whole solution. */
  readonly resting: readonly string[];
}

/**
 * Asks kept decisions about random states, reachable or not, and the whole solution of each: whether it is shorted,
 * what each coil asks, what each lamp shows, how each motor is driven.
 */
export function answersAsSolved(
  board: Bench,
  { states, hands = 'controls', random }: { states: number; hands?: Hands; random: () => number },
): Solved {
  const solver = new Solver(compile(board));
  const { circuit } = solver;
  const decisions = new Decisions(solver, hands);
  const findings: string[] = [];
  let [shorts, asked] = [0, 0];
  for (let k = 0; k < states; k += 1) {
    const state = nearRest(circuit, hands, random);
    const electrical = solver.at(state);
    const check = (what: string, kept: unknown, solved: unknown) => {
      asked += 1;
      if (kept !== solved)
        findings.push(`${what} is ${String(kept)}, solved ${String(solved)} in ${state.join('')}`);
    };
    check('shorted', decisions.shorted(state), isShorted(electrical));
    if (isShorted(electrical)) {
      shorts += 1;
      continue;
    }
    circuit.coils.forEach((coil, c) => {
      const bits = decisions.coil(c, state);
      const volts = coilVolts(electrical, c);
      check(`${coil.tag} pulls in`, (bits & PULLS_IN) !== 0, pulls(coil, false, volts));
      check(`${coil.tag} stays in`, (bits & STAYS_IN) !== 0, pulls(coil, true, volts));
      check(
        `${coil.tag} has a wrong voltage`,
        (bits & BAD_VOLTAGE) !== 0,
        voltageFault(coil, volts) !== null,
      );
    });
    circuit.lamps.forEach(({ tag, mechanism }, n) => {
      if (state[mechanism] !== BURNT)
        check(tag, decisions.lamp(n, state), lampState(circuit, electrical, state, n));
    });
    circuit.motors.forEach(({ tag }, n) =>
      check(tag, decisions.driven(n, state), electrical.motors[n]?.driven ?? 'none'),
    );
  }
  return { shorts, asked, findings, resting: decisions.resting };
}

/** The same of a board wired anyhow, by its seed; of exercises one after the other. */
export function anyhowAsSolved(seed: number, states = 50): Solved & { readonly board: string } {
  const wired = exercises().filter(({ reference }) => reference.length > 0);
  const one = wired[seed % wired.length]!;
  const random = seeded(seed);
  const hands: Hands = random() < 0.5 ? 'controls' : 'switchgear too';
  return { board: one.id, ...answersAsSolved(wiredAnyhow(one, random), { states, hands, random }) };
}
