import type { Solver } from '../electrics/index.js';
import type { MechanicalState } from '../circuit/index.js';
import type { Settled, Violation } from './judging.js';
import type { Part } from './part.js';
import type { Decisions } from './decisions.js';
import type { ProofOptions } from './proof.js';
import type { Lead, PropertyId, PropertyRule } from './properties/index.js';
import { SearchBound } from './exploration.js';
import { Search, type Unshown } from './search.js';

/**
 * A sequence that a part's search found: mechanisms as they are worked, and at its end perhaps two buttons
 * at one instant.
 */
export interface Sequence {
  readonly steps: readonly Worked[];
  readonly pair: readonly [number, number] | null;
}

interface Worked {
  readonly mechanism: number;
  readonly when: number;
  readonly to: number;
}

const lengthOf = ({ steps, pair }: Sequence): number => steps.length + (pair ? 1 : 0);

/** What a sequence shows on the whole board. */
export interface Shown {
  readonly violation: Violation | undefined;
  readonly unshown: Unshown | undefined;
}

/** A part was worked whose answers rest on something outside it. */
export class NotClosed extends Error {}

export interface PartSearchOptions {
  readonly proof: ProofOptions;
  readonly decisions: Decisions;
  readonly part: Part;
  /** Length of the shortest sequence that another part has shown against a property. */
  readonly best: ReadonlyMap<PropertyId, number>;
  /** Ends as soon as nothing is left to find against the properties. */
  readonly untilFound: boolean;
  /** Works a sequence on the whole board. */
  readonly confirm: (id: PropertyId, sequence: Sequence) => Shown;
}

/**
 * The search through one part of a board. What breaks a property in it is worked on the whole board before it
 * counts: there it is told, and shown in time.
 */
export class PartSearch extends Search {
  /** Properties that a sequence of this part seemed to break and did not, on the whole board. */
  readonly doubtful = new Set<PropertyId>();
  /** By property: length of the sequence that shows its violation. */
  readonly lengths = new Map<PropertyId, number>();
  /** Some way ends in a short circuit or does not end. */
  mayEnd = false;
  /** Place of the first situation in which something runs, or −1. */
  firstRun = -1;
  private readonly depth: number[] = [];
  private now = 0;

  constructor(
    solver: Solver,
    private readonly options: PartSearchOptions,
  ) {
    super(solver, options.proof, { decisions: options.decisions, part: options.part });
  }

  /** The sequence by which a situation was reached, and what was then worked. */
  sequenceTo(place: number, choice = -1, pair = -1): Sequence {
    const { choices, pairs } = this.exploration;
    const steps = choice >= 0 ? [choices[choice]!] : [];
    for (let at = place; at >= 0 && this.by[at]! >= 0; at = this.parent[at]!)
      steps.unshift(choices[this.by[at]!]!);
    return { steps, pair: pairs[pair]?.mechanisms ?? null };
  }

  /** Stimuli to the first situation in which something runs; Infinity where nothing does. */
  get stepsToRun(): number {
    return this.depth[this.firstRun] ?? Number.POSITIVE_INFINITY;
  }

  override isOpen(id: PropertyId): boolean {
    return super.isOpen(id) && this.now < (this.options.best.get(id) ?? Number.POSITIVE_INFINITY);
  }

  protected override get isOver(): boolean {
    return this.options.untilFound && !this.options.proof.properties!.some((id) => this.isOpen(id));
  }

  protected override take(code: number, started: MechanicalState, from: number, choice: number): void {
    this.now = from < 0 ? 0 : this.depth[from]! + 1;
    if (code < 0) {
      const { short, chatter } = this.exploration.outcome(code);
      this.mayEnd ||= short || chatter !== null;
    }
    super.take(code, started, from, choice);
  }

  protected override keep(end: number, from: number, choice: number, running: boolean): void {
    super.keep(end, from, choice, running);
    this.depth.push(this.now);
    if (running && this.firstRun < 0) this.firstRun = this.depth.length - 1;
  }

  protected override judgeLead(id: PropertyId, _: PropertyRule, { from, choice }: Lead): void {
    this.suspect(id, this.sequenceTo(from, choice));
  }

  protected override findPair(_: MechanicalState, from: number, pair: number): void {
    this.now = this.depth[from]! + 1;
    if (this.isOpen('no-short')) this.suspect('no-short', this.sequenceTo(from, -1, pair));
  }

  override violateSettled(id: PropertyId, { from, choice }: Settled): void {
    this.suspect(id, this.sequenceTo(from, choice));
  }

  private suspect(id: PropertyId, sequence: Sequence): void {
    const { violation, unshown } = this.options.confirm(id, sequence);
    if (violation) {
      this.violations.set(id, violation);
      this.lengths.set(id, lengthOf(sequence));
    } else if (unshown) this.note(id, unshown.violation, { shown: false, burns: unshown.burns });
    else {
      this.doubtful.add(id);
      this.closed.add(id);
    }
  }
}

/** A search that follows one sequence on the whole board, along all the ways that it can take there. */
export class Follower extends Search {
  /** What shows on it; nothing where the board takes more ways than a search may follow. */
  follow(sequence: Sequence): void {
    try {
      this.work(sequence);
    } catch (error) {
      if (!(error instanceof SearchBound)) throw error;
    }
  }

  private work({ steps, pair }: Sequence): void {
    const state = this.circuit.initial.slice();
    const { exploration } = this;
    const { choices, pairs } = exploration;
    this.begin();
    let first = 0;
    for (const { mechanism, when, to } of steps) {
      const choice = choices.findIndex(
        (one) => one.mechanism === mechanism && one.when === when && one.to === to,
      );
      const end = this.queue.length;
      for (let here = first; here < end; here += 1) {
        exploration.situations.read(this.queue[here]!, state);
        if (state[mechanism] !== when) continue;
        state[mechanism] = to;
        this.take(exploration.lead(state), state, here, choice);
      }
      first = end;
    }
    if (!pair) return;
    const both = pairs.findIndex(({ mechanisms: [a, b] }) => a === pair[0] && b === pair[1]);
    for (let here = first, end = this.queue.length; here < end; here += 1) {
      exploration.situations.read(this.queue[here]!, state);
      this.takePair(state, here, both);
    }
  }
}
