import { ARRIVING, LETTING_GO, REST, RETURNING, type Duty } from '../catalogue/index.js';
import { actOn, arrive, isMoving, isTiming, react, runOut, type Circuit, type Mechanism, type MechanicalState, type MechanismIndex, type Stimulus } from '../circuit/index.js';
import { coilVoltageFault, coilWants, isShorted, type CoilFault, type Electrical, type Solver } from '../electrics/index.js';

/** A mechanical state as a map key. */
export const keyOf = (state: MechanicalState): string => String.fromCharCode(...state);

/** Where a stimulus can end when every order of arrival is followed. */
export interface Settling {
  /** Settled states, each once, in order of discovery. */
  readonly ends: readonly { readonly key: string; readonly state: MechanicalState }[];
  /** First contact state on the way that joins two potentials. */
  readonly short: { readonly state: MechanicalState; readonly electrical: Electrical } | null;
  /** First coil on the way that is energised outside its limits. */
  readonly coilFault: ({ readonly coil: number } & CoilFault) | null;
  /** Tags of armatures that move for ever, from a situation out of which no order leads to rest. */
  readonly chatter: readonly string[] | null;
}

interface Situation {
  readonly key: string;
  readonly state: MechanicalState;
  readonly next: number[];
  ended: boolean;
}

/** A control that a person works, as the proof needs it. */
export interface Control {
  readonly tag: string;
  readonly mechanism: MechanismIndex;
  readonly duty: Duty | undefined;
  readonly momentary: boolean;
}

/**
 * The moves of a circuit: which stimuli a settled state admits, and where each can end. Every coil
 * decision is the electrical solution of the contact state.
 */
export class Transitions {
  readonly circuit: Circuit;
  readonly buttons: readonly Control[];
  readonly controls: readonly Control[];
  private readonly memo = new Map<string, Settling>();

  constructor(
    readonly solver: Solver,
    /** Most momentary buttons held at once. */
    readonly heldLimit = 2,
  ) {
    this.circuit = solver.circuit;
    this.controls = this.circuit.mechanisms
      .filter(({ kind }) => kind === 'plunger' || kind === 'latch' || kind === 'selector')
      .map(({ device, index }) => ({ tag: device.tag, mechanism: index, duty: device.duty, momentary: device.type === 'pushbutton' }));
    this.buttons = this.controls.filter(({ momentary }) => momentary);
  }

  /** Everything that can be done to a settled state, in a fixed order. */
  stimuli(state: MechanicalState, pairs: boolean): Stimulus[] {
    const list: Stimulus[] = [];
    const held = this.buttons.filter(({ mechanism }) => state[mechanism] !== REST).length;
    for (const { kind, device, index, positions } of this.circuit.mechanisms) {
      const { tag } = device;
      const now = state[index] as number;
      switch (kind) {
        case 'plunger':
        case 'latch':
          if (now !== REST) list.push({ release: tag });
          else if (device.type !== 'pushbutton' || held < this.heldLimit) list.push({ press: tag });
          break;
        case 'selector':
          for (const [k, to] of (positions ?? []).entries()) if (k !== now) list.push({ turn: tag, to });
          break;
        case 'trip':
          list.push(now === REST ? { trip: tag } : { reset: tag });
          break;
        case 'supply':
          list.push(now === 0 ? { open: tag } : { close: tag });
          break;
        case 'timer':
          if (isTiming(this.circuit.mechanisms[index] as Mechanism, now)) list.push({ elapse: tag });
          break;
        default:
      }
    }
    if (pairs && held === 0) {
      this.buttons.forEach((one, k) => {
        for (const other of this.buttons.slice(k + 1)) list.push({ together: [{ press: one.tag }, { press: other.tag }] });
      });
    }
    return list;
  }

  /** Where a stimulus given to a settled state can end. */
  after(state: MechanicalState, stimulus: Stimulus): Settling {
    const next = state.slice();
    for (const one of 'together' in stimulus ? stimulus.together : [stimulus]) {
      if ('elapse' in one) {
        const index = this.circuit.mechanismOf.get(one.elapse);
        const mechanism = index === undefined ? undefined : this.circuit.mechanisms[index];
        if (index !== undefined && mechanism && isTiming(mechanism, next[index] as number)) next[index] = runOut(mechanism);
      } else actOn(this.circuit, next, one);
    }
    return this.settle(next);
  }

  /** Follows every order in which what moves can arrive. */
  settle(start: MechanicalState): Settling {
    const startKey = keyOf(start);
    const kept = this.memo.get(startKey);
    if (kept) return kept;
    const situations: Situation[] = [{ key: startKey, state: start, next: [], ended: false }];
    const numbers = new Map<string, number>([[startKey, 0]]);
    const ends: { key: string; state: MechanicalState }[] = [];
    let short: Settling['short'] = null;
    let coilFault: Settling['coilFault'] = null;
    for (const here of situations) {
      const electrical = this.solver.at(here.state);
      if (isShorted(electrical)) {
        short ??= { state: here.state, electrical };
        here.ended = true;
        continue;
      }
      coilFault ??= this.coilFault(electrical);
      const successors = this.reactions(here.state) ?? this.arrivals(here.state);
      if (successors.length === 0) {
        here.ended = true;
        ends.push({ key: here.key, state: here.state });
        continue;
      }
      for (const state of successors) {
        const key = keyOf(state);
        let number = numbers.get(key);
        if (number === undefined) {
          number = situations.length;
          numbers.set(key, number);
          situations.push({ key, state, next: [], ended: false });
        }
        here.next.push(number);
      }
    }
    const settling = { ends, short, coilFault, chatter: this.endless(situations) };
    this.memo.set(startKey, settling);
    return settling;
  }

  private coilFault(electrical: Electrical): Settling['coilFault'] {
    for (const coil of this.circuit.coils.keys()) {
      const fault = coilVoltageFault(this.circuit, electrical, coil);
      if (fault) return { coil, ...fault };
    }
    return null;
  }

  /** States to which coil decisions lead at once; null where no decision differs from what its armature does. */
  private reactions(state: MechanicalState): MechanicalState[] | null {
    const { circuit } = this;
    const electrical = this.solver.at(state);
    let next: MechanicalState | null = null;
    const rivals: MechanismIndex[] = [];
    for (const [k, coil] of circuit.coils.entries()) {
      const now = state[coil.mechanism] as number;
      const to = react(circuit.mechanisms[coil.mechanism] as Mechanism, now, coilWants(circuit, electrical, state, k));
      // An armature that loses its coil on the way in may fall back or still be carried in: see arrivals.
      if (to === now || (now === ARRIVING && to === RETURNING)) continue;
      if (to === ARRIVING && circuit.interlocks.some((group) => group.includes(coil.mechanism))) {
        rivals.push(coil.mechanism);
        continue;
      }
      next ??= state.slice();
      next[coil.mechanism] = to;
    }
    if (next) return [next];
    // Mechanically interlocked armatures: whichever starts first keeps the others out.
    const free = rivals.filter((one) => circuit.interlocks.every((group) => !group.includes(one) || group.every((other) => other === one || state[other] === REST)));
    if (free.length === 0) return null;
    return free.map((one) => {
      const started = state.slice();
      started[one] = ARRIVING;
      return started;
    });
  }

  /** Successors for each mechanism that may be the next to arrive. */
  private arrivals(state: MechanicalState): MechanicalState[] {
    const { mechanisms } = this.circuit;
    const lettingGo = mechanisms.some(({ kind, index }) => kind === 'armature' && state[index] === LETTING_GO);
    const successors: MechanicalState[] = [];
    for (const mechanism of mechanisms) {
      const now = state[mechanism.index] as number;
      if (!isMoving(mechanism, now)) continue;
      // The lag of an armature that lets go is shorter than the travel of one that pulls in.
      if (lettingGo && mechanism.kind === 'armature' && now === ARRIVING) continue;
      const step = (to: number) => {
        const next = state.slice();
        next[mechanism.index] = to;
        successors.push(next);
      };
      step(arrive(mechanism, now));
      if (mechanism.kind === 'armature' && now === ARRIVING && !this.wants(mechanism.index, state)) step(RETURNING);
    }
    return successors;
  }

  private wants(armature: MechanismIndex, state: MechanicalState): boolean {
    const k = this.circuit.coils.findIndex(({ mechanism }) => mechanism === armature);
    return coilWants(this.circuit, this.solver.at(state), state, k);
  }

  /** Armatures that move in a situation from which no end can be reached; null where there is none. */
  private endless(situations: readonly Situation[]): string[] | null {
    const before: number[][] = situations.map(() => []);
    situations.forEach(({ next }, k) => next.forEach((to) => before[to]?.push(k)));
    const canEnd = situations.map(({ ended }) => ended);
    const queue = situations.flatMap(({ ended }, k) => (ended ? [k] : []));
    for (const k of queue) {
      for (const from of before[k] ?? []) {
        if (canEnd[from]) continue;
        canEnd[from] = true;
        queue.push(from);
      }
    }
    const stuck = situations.filter((_, k) => !canEnd[k]);
    if (stuck.length === 0) return null;
    const tags = this.circuit.mechanisms
      .filter(({ index, kind }) => kind === 'armature' && new Set(stuck.map(({ state }) => state[index])).size > 1)
      .map(({ device }) => device.tag);
    return tags.length > 0 ? tags : ['a coil'];
  }
}
