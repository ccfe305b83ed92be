import {
  nowSeen,
  nowWritten,
  type Circuit,
  type Controller,
  type MechanicalState,
} from '../circuit/index.js';
import { isInput } from '../program/index.js';

/** What the inputs of a controller may show at a moment. */
export interface Readings {
  /** Places in `Circuit.coils` of the inputs that its program reads. */
  readonly coils: readonly number[];
  readonly isRunning: (state: MechanicalState) => boolean;
  /** By pattern of these inputs, the first in the lowest bit: true where they may show it. */
  readonly fits: readonly boolean[];
}

/** Programs that read more inputs than this, or may remember more, are judged on whole wirings alone. */
const MOST_INPUTS = 8;
const MOST_REMEMBERED = 256;
/** A program that is not at rest after so many scans has no rest. */
const MOST_SCANS = 16;

/** An input whose voltage is there and was seen by its program, and one without. */
const ON = nowSeen(255);
const OFF = nowSeen(0);

/**
 * What inputs may show while their controllers leave their outputs as they are in a settled state, whatever
 * else their programs remember.
 */
export const readingsAtRest = (circuit: Circuit, state: MechanicalState): Readings[] =>
  readersOf(circuit).flatMap((reader) => reader.readings(state, (from) => reader.isAtRest(from)));

/** What inputs may show for some output to change from a state that was settled; by controller. */
export const readingsForChange = (circuit: Circuit, state: MechanicalState): Readings[] =>
  readersOf(circuit).flatMap((reader) => {
    // What is remembered was at rest under what the inputs have shown before.
    const settled = reader.settledUnderAny(state);
    return reader.readings(state, (from) => settled(from) && reader.changesOutputs(from));
  });

const readersOf = (circuit: Circuit): Reader[] => circuit.controllers.map((one) => new Reader(circuit, one));

/** A controller with the inputs that its program reads and all that it may remember. */
class Reader {
  private readonly coils: readonly number[];
  private readonly inputs: readonly number[];
  private readonly others: readonly number[];
  /** Everything that its memory and its timers may hold; null where that is too much. */
  private readonly remembered: readonly (readonly number[])[] | null;

  constructor(
    { mechanisms, coils }: Circuit,
    private readonly controller: Controller,
  ) {
    const { program, inputs, outputs, processor, members } = controller;
    const read = new Set(program?.variables.filter(isInput).map((one) => ('at' in one ? one.at : '')));
    this.inputs = inputs.filter((k) => read.has(mechanisms[k]!.name));
    this.coils = this.inputs.map((k) => coils.findIndex(({ mechanism }) => mechanism === k));
    const known = new Set([processor, ...inputs, ...outputs]);
    this.others = members.filter((k) => !known.has(k));
    const counts = this.others.map((k) => mechanisms[k]!.states);
    const isFew = counts.reduce((product, count) => product * count, 1) <= MOST_REMEMBERED;
    this.remembered = isFew ? combinations(counts) : null;
  }

  /**
   * The readings with which a state fits; none where its program is not run there, is judged on whole wirings
   * alone, or fits with all or with none.
   */
  readings(state: MechanicalState, isFit: (from: MechanicalState) => boolean): Readings[] {
    const { coils, controller } = this;
    if (!controller.program || !controller.isRunning(state) || !this.isKnown) return [];
    const fits = this.patterns().map((pattern) => this.under(state, pattern).some(isFit));
    const isSplit = fits.includes(true) && fits.includes(false);
    return isSplit ? [{ coils, fits, isRunning: (at) => controller.isRunning(at) }] : [];
  }

  /** True of what may be remembered in a state that was settled, whatever the inputs have shown. */
  settledUnderAny(state: MechanicalState): (from: MechanicalState) => boolean {
    if (!this.isKnown) return () => true;
    const settled = new Set(
      this.patterns()
        .flatMap((pattern) => this.under(state, pattern))
        .filter((from) => this.isAtRest(from))
        .map((from) => this.rememberedIn(from)),
    );
    return (from) => settled.has(this.rememberedIn(from));
  }

  /** True where the program leaves everything as it is. */
  isAtRest(from: MechanicalState): boolean {
    const next = from.slice();
    this.controller.workInProof(next);
    return this.controller.members.every((k) => next[k] === from[k]);
  }

  /** True where the outputs do not stay as they are. */
  changesOutputs(from: MechanicalState): boolean {
    const { outputs, workInProof } = this.controller;
    const next = from.slice();
    for (let scans = 0; scans < MOST_SCANS; scans += 1) {
      workInProof(next);
      if (outputs.some((k) => nowWritten(next[k]!) !== from[k])) return true;
    }
    return false;
  }

  private get isKnown(): boolean {
    return this.remembered !== null && this.coils.length <= MOST_INPUTS && !this.coils.includes(-1);
  }

  private patterns(): number[] {
    return Array.from({ length: 2 ** this.inputs.length }, (_, pattern) => pattern);
  }

  private rememberedIn(from: MechanicalState): string {
    return this.others.map((k) => from[k]).join();
  }

  /** A state under a pattern of the inputs, with everything that may be remembered. */
  private under(state: MechanicalState, pattern: number): MechanicalState[] {
    return (this.remembered ?? []).map((held) => {
      const from = state.slice();
      this.inputs.forEach((k, bit) => (from[k] = ((pattern >> bit) & 1) === 1 ? ON : OFF));
      this.others.forEach((k, place) => (from[k] = held[place]!));
      return from;
    });
  }
}

/** All choices of one value of each of some ranges that begin at 0. */
const combinations = (counts: readonly number[]): number[][] =>
  counts.reduce<number[][]>(
    (all, count) => all.flatMap((one) => Array.from({ length: count }, (_, value) => [...one, value])),
    [[]],
  );

/** By readings: of a pattern that does not fit, the inputs of which one at least must show something else. */
const knownFlips = new WeakMap<Readings, Map<number, readonly number[]>>();

/**
 * Of a pattern that does not fit, places in `Readings.coils`: whoever comes to one that fits changes one of
 * these at least. Each smallest set of changes that leads to one is among them.
 */
export function inputsToChange(readings: Readings, pattern: number): readonly number[] {
  let known = knownFlips.get(readings);
  if (!known) knownFlips.set(readings, (known = new Map<number, readonly number[]>()));
  let found = known.get(pattern);
  if (!found) known.set(pattern, (found = smallestChanges(readings, pattern)));
  return found;
}

function smallestChanges({ coils, fits }: Readings, pattern: number): number[] {
  const leading = fits.flatMap((isFit, to) => (isFit ? [to ^ pattern] : []));
  const smallest = leading.filter(
    (one) => !leading.some((other) => other !== one && (other & one) === other),
  );
  return coils.flatMap((_, bit) => (smallest.some((one) => ((one >> bit) & 1) === 1) ? [bit] : []));
}
