import { ARRIVING, LETTING_GO, REST, RETURNING } from '../catalogue/index.js';
import {
  arrive,
  isArmature,
  isMoving,
  isUnseen,
  isUnwritten,
  nowSeen,
  nowWritten,
  react,
  seals,
  type Circuit,
  type Controller,
  type Mechanism,
  type MechanicalState,
  type MechanismIndex,
} from '../circuit/index.js';
import { perObject } from '../per-object.js';
import { BAD_VOLTAGE, PULLS_IN, SOLVE, STAYS_IN, type Decisions } from './decisions.js';
import type { Part } from './part.js';
import type { Situations } from './situations.js';

/** What a situation itself is, as bits. */
export const SETTLED = 1;
export const SHORTED = 2;
export const BAD = 4;

export function doubled(array: Int32Array<ArrayBuffer>): Int32Array<ArrayBuffer> {
  const grown = new Int32Array(2 * array.length);
  grown.set(array);
  return grown;
}

/** What of a board is worked, and of what only one order is followed. */
interface Scope {
  readonly part: Part | null;
  readonly inOneOrder: Uint8Array | null;
}

/** What depends on one mechanism's state alone. */
interface Tables {
  /** By mechanism: its next state by which of its coils want (as bits) and its state. */
  readonly reaction: readonly (readonly Uint8Array[])[];
  /** By mechanism: where a moving state arrives, or −1. */
  readonly arrival: readonly Int8Array[];
  readonly classOf: readonly Uint8Array[];
  readonly isArmature: Uint8Array;
  /** Of some coils, by coil and state of its mechanism: the bit that tells whether it wants. */
  readonly wantsBit: (coils: Circuit['coils']) => readonly Uint8Array[];
}

const statesOf = ({ states }: Mechanism) => Array.from({ length: states }, (_, s) => s);

/** Kept for the mechanisms themselves: a board with a fault has those of the sound one. */
const tablesOf = perObject((mechanisms: Circuit['mechanisms']): Tables => ({
  reaction: mechanisms.map((mechanism) =>
    mechanism.coils.length === 0
      ? []
      : Array.from({ length: 2 ** mechanism.coils.length }, (_, bits) => {
          const wants = mechanism.coils.map((__, k) => (bits & (1 << k)) !== 0);
          return Uint8Array.from(statesOf(mechanism), (s) => react(mechanism, s, wants));
        }),
  ),
  arrival: mechanisms.map((mechanism) =>
    Int8Array.from(statesOf(mechanism), (s) => (isMoving(mechanism, s) ? arrive(mechanism, s) : -1)),
  ),
  classOf: mechanisms.map(({ classOf }) => Uint8Array.from(classOf)),
  isArmature: Uint8Array.from(mechanisms, (mechanism) => (isArmature(mechanism) ? 1 : 0)),
  wantsBit: perObject((coils) =>
    coils.map(({ mechanism, asks }) => {
      const moved = mechanisms[mechanism]!;
      return Uint8Array.from(statesOf(moved), (s) => (seals(moved, s, asks) ? STAYS_IN : PULLS_IN));
    }),
  ),
}));

/**
 * One move at a time: coil decisions, then arrivals. Everything that depends on a mechanism's state alone
 * is tabulated.
 */
export class Moves {
  hasEnergised = false;
  /** Numbers of following situations; the last call wrote from its `begin` up to `end`. */
  successors = new Int32Array(1024);
  end = 0;
  /** The mechanisms that coils move, and by mechanism its place among them, or −1. */
  private readonly driven: Int32Array;
  private readonly drivenOf: Int32Array;
  /** By coil: the place among the driven of what it moves. */
  private readonly movesOf: Int32Array;
  /** By coil and state of its mechanism: the bit that tells whether it wants. */
  private readonly wantsBit: readonly Uint8Array[];
  /** By driven mechanism: its coils, and its next state by which of them want (as bits) and its state. */
  private readonly coilsOf: readonly (readonly number[])[];
  private readonly reaction: readonly (readonly Uint8Array[])[];
  private readonly movers: Int32Array;
  private round = 0;
  private readonly coils: number;
  /**
   * Of the situation at hand. By question: the round in which it was asked, whether it needs the whole
   * solution, what is shorted. By what coils move: which of them want (as bits), where it goes, whether it
   * has to. By coil: whether its voltage is bad.
   */
  private readonly asked: Int32Array;
  private readonly whole: Uint8Array;
  private wholes = 0;
  private readonly short: Uint8Array;
  private shorts = 0;
  private readonly wants: Uint8Array;
  private readonly target: Uint8Array;
  private readonly due: Uint8Array;
  private dues = 0;
  private readonly bad: Uint8Array;
  private bads = 0;
  /** By mechanism: where a moving state arrives, or −1. */
  private readonly arrival: readonly Int8Array[];
  private readonly isArmature: Uint8Array;
  private readonly classOf: readonly Uint8Array[];
  private readonly interlocked: Uint8Array;
  private readonly inOneOrder: Uint8Array | null;
  private readonly controllers: readonly Controller[];
  /** What a program makes of the situation at hand. */
  private readonly next: MechanicalState;
  /** By question, 1 where the situations do not depend on it. */
  private readonly left: Uint8Array;

  constructor(
    private readonly circuit: Circuit,
    private readonly decisions: Decisions,
    private readonly situations: Situations,
    { part, inOneOrder }: Scope,
  ) {
    this.inOneOrder = inOneOrder;
    this.next = circuit.initial.slice();
    this.controllers = circuit.controllers.filter(({ processor }) => part?.inside[processor] !== 0);
    const { mechanisms, coils } = circuit;
    const driven = mechanisms.filter(
      (mechanism) => mechanism.coils.length > 0 && part?.inside[mechanism.index] !== 0,
    );
    this.driven = Int32Array.from(driven, ({ index }) => index);
    this.drivenOf = new Int32Array(mechanisms.length).fill(-1);
    driven.forEach(({ index }, d) => (this.drivenOf[index] = d));
    this.movesOf = Int32Array.from(coils, ({ mechanism }) => this.drivenOf[mechanism]!);
    this.coilsOf = driven.map((mechanism) => mechanism.coils);
    const tables = tablesOf(mechanisms);
    this.wantsBit = tables.wantsBit(coils);
    this.reaction = driven.map(({ index }) => tables.reaction[index]!);
    this.arrival = tables.arrival;
    this.classOf = tables.classOf;
    this.isArmature = tables.isArmature;
    this.interlocked = new Uint8Array(mechanisms.length);
    for (const one of [...circuit.jammed, ...circuit.interlocks.flat()]) this.interlocked[one] = 1;
    this.movers = new Int32Array(mechanisms.length);
    const questions = decisions.shortAt + decisions.regions;
    this.coils = coils.length;
    this.left = Uint8Array.from({ length: questions }, (_, q) =>
      (
        q < coils.length
          ? this.movesOf[q]! < 0
          : q < decisions.shortAt || part?.regions[q - decisions.shortAt] === 0
      )
        ? 1
        : 0,
    );
    this.asked = new Int32Array(questions);
    this.whole = new Uint8Array(questions);
    this.short = new Uint8Array(questions);
    this.wants = new Uint8Array(driven.length);
    this.target = new Uint8Array(driven.length);
    this.due = new Uint8Array(driven.length);
    this.bad = new Uint8Array(coils.length);
  }

  /** Writes the numbers of all situations that can follow; says what the situation itself is. */
  from(number: number, begin: number): number {
    this.end = begin;
    this.situations.visit(number);
    this.refresh();
    if (this.shorts > 0) return SHORTED;
    const flags = this.bads > 0 ? BAD : 0;
    if (this.dues > 0 && this.react()) return flags;
    if (this.controllers.length > 0 && this.runPrograms()) return flags;
    return this.arrivals() ? flags : flags | SETTLED;
  }

  /**
   * Asks again what looks at a mechanism that has changed since the last situation, and what only a whole
   * solution tells.
   */
  private refresh(): void {
    const { decisions, asked, drivenOf, coilsOf, classOf } = this;
    const { changed, changes, was, state } = this.situations;
    this.round += 1;
    const { round } = this;
    for (let c = 0; c < changes; c += 1) {
      const mechanism = changed[c]!;
      const classes = classOf[mechanism]!;
      // States of one electrical class conduct alike.
      if (classes[was[c]!] !== classes[state[mechanism]!]) {
        const dependents = decisions.dependents[mechanism]!;
        for (let d = 0; d < dependents.length; d += 1) {
          const q = dependents[d]!;
          if (asked[q] !== round) this.ask(q);
        }
      }
      const d = drivenOf[mechanism]!;
      if (d < 0) continue;
      const coils = coilsOf[d]!;
      for (let k = 0; k < coils.length; k += 1) if (asked[coils[k]!] !== round) this.ask(coils[k]!);
    }
    if (this.round === 1 || this.wholes > 0)
      for (let q = 0; q < asked.length; q += 1)
        if (asked[q] !== round && (this.round === 1 || this.whole[q] === 1)) this.ask(q);
  }

  private ask(q: number): void {
    const { decisions, whole } = this;
    this.asked[q] = this.round;
    if (this.left[q] === 1) return;
    const { state } = this.situations;
    const answer = decisions.ask(q, state);
    const solve = answer === SOLVE ? 1 : 0;
    this.wholes += solve - whole[q]!;
    whole[q] = solve;
    if (q < this.coils) this.takeCoil(q, decisions.coilBits(q, answer, state));
    else {
      const short = decisions.isShort(answer, state) ? 1 : 0;
      this.shorts += short - this.short[q]!;
      this.short[q] = short;
    }
  }

  private takeCoil(k: number, bits: number): void {
    const d = this.movesOf[k]!;
    const now = this.situations.state[this.driven[d]!]!;
    if (bits !== 0) this.hasEnergised = true;
    const own = 1 << this.circuit.coils[k]!.asks;
    const others = this.wants[d]! & ~own;
    const wants = (bits & this.wantsBit[k]![now]!) !== 0 ? others | own : others;
    const to = this.reaction[d]![wants]![now]!;
    // An armature that loses its coil on the way in may fall back or still be carried in: see arrivals.
    const due = to === now || (now === ARRIVING && to === RETURNING) ? 0 : 1;
    const bad = (bits & BAD_VOLTAGE) === 0 ? 0 : 1;
    this.wants[d] = wants;
    this.target[d] = to;
    this.dues += due - this.due[d]!;
    this.due[d] = due;
    this.bads += bad - this.bad[k]!;
    this.bad[k] = bad;
  }

  /**
   * Coil decisions act at once; of mechanically interlocked armatures whichever starts first keeps the
   * others out.
   */
  private react(): boolean {
    const { situations, driven, due, target } = this;
    let changed = false;
    let rivals: number[] | null = null;
    for (let d = 0; d < driven.length; d += 1) {
      if (due[d] === 0) continue;
      const mechanism = driven[d]!;
      const to = target[d]!;
      if (to === ARRIVING && this.interlocked[mechanism] === 1) {
        (rivals ??= []).push(mechanism);
        continue;
      }
      if (!changed) situations.stage();
      changed = true;
      situations.put(mechanism, to);
    }
    if (changed) {
      this.push(situations.find());
      return true;
    }
    return rivals !== null && this.start(rivals);
  }

  /**
   * A scan is quicker than any armature: programs run to rest before anything arrives. Of inputs that have
   * changed together each may be seen a scan before the others.
   */
  private runPrograms(): boolean {
    const { next } = this;
    const { state } = this.situations;
    let works = false;
    for (const controller of this.controllers) {
      const { inputs, outputs, processor } = controller;
      next.set(state);
      if (!controller.isRunning(state)) {
        controller.stop(next);
        if (this.goTo(controller)) works = true;
        continue;
      }
      let isWritten = true;
      for (const k of outputs) {
        if (!isUnwritten(state[k]!)) continue;
        isWritten = false;
        next[k] = nowWritten(state[k]!);
      }
      if (!isWritten) {
        if (this.goTo(controller)) works = true;
        continue;
      }
      let unseen = 0;
      for (const k of inputs) if (isUnseen(state[k]!)) unseen += 1;
      if (unseen > 1 && this.inOneOrder?.[processor] !== 1)
        for (const first of inputs) {
          if (!isUnseen(state[first]!)) continue;
          next[first] = nowSeen(state[first]!);
          controller.workInProof(next);
          if (this.goTo(controller)) works = true;
          next.set(state);
        }
      for (const k of inputs) if (isUnseen(state[k]!)) next[k] = nowSeen(state[k]!);
      controller.workInProof(next);
      if (this.goTo(controller)) works = true;
    }
    return works;
  }

  /** The situation at hand with a controller as `next` has it; false where that is the same. */
  private goTo({ members }: Controller): boolean {
    const { situations, next } = this;
    let changed = false;
    for (const k of members) {
      if (next[k] === situations.state[k]) continue;
      if (!changed) situations.stage();
      changed = true;
      situations.put(k, next[k]!);
    }
    if (changed) this.push(situations.find());
    return changed;
  }

  private push(number: number): void {
    if (this.end === this.successors.length) this.successors = doubled(this.successors);
    this.successors[this.end] = number;
    this.end += 1;
  }

  /** The situation at hand with one mechanism in another state. */
  private go(mechanism: number, to: number): void {
    const { situations } = this;
    situations.stage();
    situations.put(mechanism, to);
    this.push(situations.find());
  }

  /** Mechanically interlocked armatures: whichever starts first keeps the others out. */
  private start(rivals: readonly number[]): boolean {
    const { state } = this.situations;
    const { interlocks, jammed } = this.circuit;
    const free = rivals.filter(
      (one) =>
        !jammed.includes(one as MechanismIndex) &&
        interlocks.every(
          (group) =>
            !group.includes(one as MechanismIndex) ||
            group.every((other) => other === one || state[other] === REST),
        ),
    );
    for (const one of free) this.go(one, ARRIVING);
    return free.length > 0;
  }

  /**
   * The one successor in which the first arrives of those whose order does not matter; false where none
   * moves.
   */
  private arriveInOrder(moving: number, lettingGo: boolean): boolean {
    const { movers, arrival, isArmature, situations } = this;
    for (let k = 0; k < moving; k += 1) {
      const index = movers[k]!;
      const now = situations.state[index]!;
      if (this.inOneOrder![index] === 0 || (lettingGo && now === ARRIVING && isArmature[index] === 1))
        continue;
      this.go(index, arrival[index]![now]!);
      return true;
    }
    return false;
  }

  /** One successor for each mechanism that may be the next to arrive; false where nothing moves. */
  private arrivals(): boolean {
    const { movers, arrival, isArmature, situations } = this;
    const { state } = situations;
    const count = situations.movers(movers);
    let lettingGo = false;
    let moving = 0;
    for (let k = 0; k < count; k += 1) {
      const index = movers[k]!;
      const now = state[index]!;
      if (arrival[index]![now]! < 0) continue;
      movers[moving] = index;
      moving += 1;
      if (now === LETTING_GO && isArmature[index] === 1) lettingGo = true;
    }
    if (this.inOneOrder !== null && this.arriveInOrder(moving, lettingGo)) return true;
    for (let k = 0; k < moving; k += 1) {
      const index = movers[k]!;
      const now = state[index]!;
      const arriving = now === ARRIVING && isArmature[index] === 1;
      // The lag of an armature that lets go is shorter than the travel of one that pulls in.
      if (lettingGo && arriving) continue;
      this.go(index, arrival[index]![now]!);
      if (!arriving) continue;
      if (this.target[this.drivenOf[index]!] === RETURNING) this.go(index, RETURNING);
    }
    return moving > 0;
  }
}
