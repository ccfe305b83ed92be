import type { Circuit, MechanicalState, Switch } from '../circuit/index.js';
import { Solver, coilWants, isShorted, lampState, type Driven } from '../electrics/index.js';

/** What is explained: a coil, a lamp or a motor, by its place in its list of the circuit. */
export interface Target {
  readonly kind: 'coil' | 'lamp' | 'motor';
  readonly k: number;
  readonly tag: string;
}

/** The first coil, lamp or motor of a device; null where it has none. */
export function targetIn({ coils, lamps, motors }: Circuit, tag: string): Target | null {
  const lists = [
    ['coil', coils],
    ['lamp', lamps],
    ['motor', motors],
  ] as const;
  for (const [kind, list] of lists) {
    const k = list.findIndex((one) => one.tag === tag);
    if (k >= 0) return { kind, k, tag };
  }
  return null;
}

/**
 * A board as it stands, and as it would be with some contacts held closed or open by hand while everything
 * else stays where it is.
 */
export class WhatIf {
  readonly solver: Solver;

  constructor(
    readonly circuit: Circuit,
    readonly state: MechanicalState,
    readonly target: Target,
    solver?: Solver,
  ) {
    this.solver = solver ?? new Solver(circuit);
  }

  /** The field of the motor that is explained; `none` of anything else. */
  readonly field = (solver = this.solver): Driven =>
    this.target.kind === 'motor' ? (solver.at(this.state).motors[this.target.k]?.driven ?? 'none') : 'none';

  /** Whether the coil asks its armature in, the lamp is lit, or the motor is driven. */
  isEnergised(solver = this.solver): boolean {
    const { circuit, state, target } = this;
    const electrical = solver.at(state);
    if (isShorted(electrical)) return false;
    if (target.kind === 'coil') return coilWants(solver.circuit, electrical, state, target.k);
    if (target.kind === 'lamp') return lampState(circuit, electrical, state, target.k) === 'lit';
    const field = this.field(solver);
    return field === 'forward' || field === 'reverse';
  }

  /** The same with some contacts held as they are not. */
  with(contacts: readonly Switch[], closed: boolean): boolean {
    if (contacts.length === 0) return this.isEnergised();
    const held = new Set(contacts);
    const switches = this.circuit.switches.map((one) =>
      held.has(one) ? { ...one, closedIn: one.closedIn.map(() => closed) } : one,
    );
    return this.isEnergised(new Solver({ ...this.circuit, switches }));
  }
}
