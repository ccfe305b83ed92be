import type { Motor, Network } from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import { add, complex, mul, scale, sequenceAdmittance, ZERO, type Complex } from '../machines/index.js';
import type { SearchMap } from './look.js';
import type { Trunk } from './trunk.js';

/** Ends of a three-lead motor. */
const LEADS = 3;

/**
 * Largest volts by which a motor with its rotor at rest can raise a line above its own EMF, first order: of
 * all the ways in which contacts can put lines on its three leads, the one whose current opposes the EMF
 * most. A motor that lags by less than 60° raises none. Null of a motor that is joined otherwise.
 */
export function mostRise(solver: Solver, map: SearchMap, trunk: Trunk, k: number): number | null {
  const { network } = map;
  const motor = solver.circuit.motors[k]!;
  const leads = motor.terminals.map((terminal) => network.net(terminal));
  if (!trunk.isDivided || leads.length !== LEADS || !['star', 'delta'].includes(motor.connection))
    return null;
  const admittance = sequenceAdmittance(solver.motors[k]!, 1);
  const choices = leads.map((net) => [null, ...potentialsAt(map, trunk, net)]);
  let most = 0;
  for (const u of choices[0]!)
    for (const v of choices[1]!)
      for (const w of choices[2]!)
        most = Math.max(most, riseOf(solver, network, motor, admittance, [u, v, w]));
  return most;
}

/** Potentials that contacts could bring to a net, over no net of the trunk. */
function potentialsAt({ network, contactsAt }: SearchMap, trunk: Trunk, from: number): number[] {
  const met = new Set<number>();
  const seen = new Set([from]);
  for (const net of seen) {
    if (trunk.potential[net]! >= 0) {
      met.add(trunk.potential[net]!);
      continue;
    }
    for (const c of contactsAt[net]!) {
      const { a, b } = network.contacts[c]!;
      seen.add(a === net ? b : a);
    }
  }
  return [...met];
}

/**
 * Volts above their EMF to which the lines come with these potentials on a motor's leads; null is an open
 * lead.
 */
function riseOf(
  solver: Solver,
  network: Network,
  { connection }: Motor,
  admittance: Complex,
  leads: readonly (number | null)[],
): number {
  const volts = leads.map((one): Complex | null => (one === null ? null : network.potentials[one]!));
  const currents = connection === 'star' ? starCurrents(volts, admittance) : deltaCurrents(volts, admittance);
  const drawn = new Map<number, Complex>();
  leads.forEach((one, lead) => {
    if (one !== null) drawn.set(one, add(drawn.get(one) ?? ZERO, currents[lead]!));
  });
  let most = 0;
  for (const { terminal, re, im, ohms, henries, frequency } of solver.circuit.sources) {
    const own = network.supplyNodes.find((node) => node.terminal === terminal);
    const current = own && drawn.get(own.potential);
    if (!current) continue;
    const drop = mul(complex(ohms, 2 * Math.PI * frequency * henries), current);
    most = Math.max(most, -(drop.re * re + drop.im * im) / Math.max(Math.hypot(re, im), 1e-9));
  }
  return most;
}

/** Currents into the leads of three like windings that meet in a star point of their own. */
function starCurrents(volts: readonly (Complex | null)[], admittance: Complex): Complex[] {
  const joined = volts.filter((one) => one !== null);
  const star = scale(joined.reduce(add, ZERO), 1 / Math.max(joined.length, 1));
  return volts.map((one) => (one === null ? ZERO : mul(admittance, add(one, scale(star, -1)))));
}

/** Currents into the leads of three like windings in delta; an open lead leaves two of them in series. */
function deltaCurrents(volts: readonly (Complex | null)[], admittance: Complex): Complex[] {
  const open = volts.filter((one) => one === null).length;
  if (open > 1) return volts.map(() => ZERO);
  // A delta is a star of windings of three times the admittance, seen from outside.
  return starCurrents(volts, scale(admittance, LEADS));
}

/**
 * What adds to the first order: the part of a drop of `most` volts that stands across the EMF, and that the
 * loads see a voltage changed by as much.
 */
export const secondOrder = (most: number, volts: number): number =>
  (most * most) / (2 * volts) + (2 * most * most) / volts;
