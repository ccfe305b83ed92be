import { ARRIVING, REST, START_DUTIES, type Duty } from '../catalogue/index.js';
import { isIn, type Circuit, type MechanicalState, type Stimulus } from '../circuit/index.js';
import type { Solver } from '../electrics/index.js';
import {
  directed,
  isSame,
  powered,
  replayed,
  worked,
  type Directed,
  type Segment,
  type Shows,
} from './directed.js';
import type { Decisions } from './decisions.js';
import { Exploration, SearchBound, type Explored } from './exploration.js';
import {
  PROPERTY_IDS,
  findShort,
  judgeStart,
  startsNothing,
  mechanismsBetween,
  propertyRule,
  type Lead,
  type PropertyId,
  type PropertyRule,
} from './properties/index.js';
import type { Judging, LastSegment, Met, Settled, Violation } from './judging.js';
import type { Proof, ProofOptions, Property } from './proof.js';

const MAX_SITUATIONS = 4_000_000;

/**
 * Ways to a violation that are tried before one is told whose steps do not show it. Each takes dozens of runs;
 * of 18 000 wrong boards none was shown by more than the nineteenth.
 */
const MOST_TRIES = 24;

/** Most running states that are kept. */
export const MOST_RUNNING = 256;

/** No stimulus: the bench as it is switched on. */
const FRESH = -1;

/** What is said of a violation that no steps show. */
const NO_STEPS =
  '; it takes an order of switching that these devices do not have at their usual speeds, so no steps show it';

/** What was found and no steps show. */
export interface Unshown {
  readonly violation: Violation;
  readonly tries: number;
  readonly burns: boolean;
}

/** The properties that are judged on a bench, of those that are asked for. */
export const judgedOn = (
  circuit: Solver['circuit'],
  properties: readonly PropertyId[] = PROPERTY_IDS,
): PropertyId[] => PROPERTY_IDS.filter((id) => properties.includes(id) && propertyRule(id).applies(circuit));

/** What a property came to: what was found against it, or that nothing was. */
export function verdict(
  id: PropertyId,
  violation: Violation | undefined,
  met: Met,
  so: { readonly complete: boolean; readonly states: number; readonly shortedAtOnce: boolean },
): Property {
  if (violation) {
    const found = violation.unshown ? `${violation.found}${NO_STEPS}` : violation.found;
    return { id, holds: false, tested: true, ...violation, found };
  }
  const rule = propertyRule(id);
  const tested = so.shortedAtOnce ? id === 'no-short' : rule.tested(met);
  // What the wiring itself shows needs no search.
  const decided = so.complete || rule.wiring !== undefined;
  const found = decided ? '' : `not decided: the search stopped at ${so.states} situations`;
  return { id, holds: decided, tested, trace: [], found };
}

/** What was found against properties. */
interface Found {
  readonly violations: ReadonlyMap<PropertyId, Violation>;
  readonly unshown: ReadonlyMap<PropertyId, Unshown>;
}

/**
 * What counts against a property; where no steps show it because heat always comes before, only if that is
 * left out of account.
 */
export function counted(
  { violations, unshown }: Found,
  id: PropertyId,
  { heatless }: Pick<ProofOptions, 'heatless'>,
): Violation | undefined {
  const shown = violations.get(id);
  const found = unshown.get(id);
  if (shown || !found || (found.burns && !heatless)) return shown;
  return { ...found.violation, unshown: true };
}

/** The violation that the wiring itself shows of each property; those that hold are left out. */
export function ofWiring(
  circuit: Solver['circuit'],
  judged: readonly PropertyId[],
): [PropertyId, Violation][] {
  return judged.flatMap((id): [PropertyId, Violation][] => {
    const fault = propertyRule(id).wiring?.(circuit) ?? null;
    return fault ? [[id, { trace: fault.trace ?? [], found: fault.found }]] : [];
  });
}

/**
 * Breadth-first search through the settled situations of a bench; what it meets is judged by the
 * properties.
 */
export class Search implements Judging {
  readonly circuit: Circuit;
  readonly exploration: Exploration;
  readonly decisions: Decisions;
  readonly isCleared: ProofOptions['isCleared'];
  /** Something ran; a three-phase motor was driven. */
  hasRun = false;
  hasDriven = false;
  readonly motors: readonly number[];
  /** Coils whose armatures count as running where there is no motor. */
  private readonly coils: Solver['circuit']['coils'];
  private readonly judged: readonly PropertyId[];
  private readonly onLead: readonly (readonly [PropertyId, PropertyRule])[];
  private readonly onRunning: readonly (readonly [PropertyId, NonNullable<PropertyRule['running']>])[];
  private readonly onSettled: readonly (readonly [PropertyId, NonNullable<PropertyRule['settled']>])[];
  readonly violations = new Map<PropertyId, Violation>();
  /** Found, and not shown by the steps that were found for it: another way to the same is looked for. */
  readonly unshown = new Map<PropertyId, Unshown>();
  /** Properties against which enough was found that no steps show. */
  protected readonly closed = new Set<PropertyId>();
  private shortedAtOnce = false;
  /**
   * Settled situations in order of discovery; from which place in this list, and by which choice, each was
   * reached.
   */
  protected readonly queue: number[] = [];
  protected readonly parent: number[] = [];
  protected readonly by: number[] = [];
  protected readonly running: boolean[] = [];
  private reached = new Uint8Array(1024);
  private readonly maxSituations: number;
  readonly heatless: boolean;
  private readonly untilLost: boolean;
  /** By what conducts around the motors: a state in which one is driven. */
  private readonly ran = new Map<string, MechanicalState>();
  private aroundMotors: readonly number[] | undefined;
  private readonly arrived: MechanicalState;
  protected complete = true;

  constructor(
    readonly solver: Solver,
    {
      maxSituations = MAX_SITUATIONS,
      properties = PROPERTY_IDS,
      hands = 'switchgear too',
      isCleared,
      heatless = false,
      untilLost = false,
    }: ProofOptions,
    { decisions, exploration, part = null, inOneOrder = null }: Explored = {},
  ) {
    this.maxSituations = maxSituations;
    this.heatless = heatless;
    this.untilLost = untilLost;
    this.isCleared = isCleared;
    this.circuit = solver.circuit;
    this.arrived = this.circuit.initial.slice();
    this.exploration =
      exploration ??
      new Exploration(solver, undefined, maxSituations, hands, {
        ...(decisions ? { decisions } : {}),
        part,
        inOneOrder,
      });
    this.decisions = decisions ?? this.exploration.decisions;
    this.motors = part?.motors ?? this.circuit.motors.map((_, k) => k);
    this.coils = this.circuit.coils.filter(({ mechanism }) => part?.inside[mechanism] !== 0);
    this.judged = judgedOn(this.circuit, properties);
    this.onLead = this.judged.flatMap((id) => {
      const rule = propertyRule(id);
      return rule.lead ? [[id, rule] as const] : [];
    });
    this.onRunning = this.judged.flatMap((id) => {
      const { running } = propertyRule(id);
      return running ? [[id, running] as const] : [];
    });
    this.onSettled = this.judged.flatMap((id) => {
      const { settled } = propertyRule(id);
      return settled ? [[id, settled] as const] : [];
    });
  }

  run(): Proof {
    const searched = this.search();
    const so = { ...searched, shortedAtOnce: this.shortedAtOnce };
    return {
      ...searched,
      properties: this.judged.map((id) => verdict(id, counted(this, id, this), this, so)),
    };
  }

  /** Works everything that can be worked; violations are kept. */
  search(): Omit<Proof, 'properties'> {
    try {
      this.explore();
    } catch (error) {
      if (!(error instanceof SearchBound)) throw error;
      this.complete = false;
    }
    return {
      complete: this.complete,
      states: this.queue.length,
      situations: this.exploration.situations.count,
      running: [...this.ran.values()],
    };
  }

  get hasEnergised(): boolean {
    return this.exploration.hasEnergised;
  }

  /** True where nothing more is to be found. */
  protected get isOver(): boolean {
    return false;
  }

  protected begin(): void {
    this.take(this.exploration.begin(), this.circuit.initial, FRESH, FRESH);
  }

  private explore(): void {
    const { exploration } = this;
    this.begin();
    this.shortedAtOnce = this.queue.length === 0 && this.found('no-short');
    // Nothing else is judged of a bench that is shorted as its supply comes on.
    if (this.shortedAtOnce)
      for (const id of this.judged) {
        if (id === 'no-short') continue;
        this.violations.delete(id);
        this.unshown.delete(id);
        this.closed.delete(id);
      }
    if (!this.shortedAtOnce)
      for (const [id, violation] of ofWiring(this.circuit, this.judged)) this.violations.set(id, violation);
    const state = this.circuit.initial.slice();
    for (let here = 0; here < this.queue.length && !this.isOver; here += 1) {
      exploration.situations.read(this.queue[here]!, state);
      this.tryAll(state, here);
      if (exploration.situations.count > this.maxSituations) {
        this.complete = false;
        return;
      }
    }
  }

  /** Everything that can be done in one settled situation. */
  private tryAll(state: MechanicalState, here: number): void {
    const { exploration } = this;
    const { choices } = exploration;
    const held = exploration.held(state);
    for (let k = 0; k < choices.length; k += 1) {
      const { mechanism, when, to, holds } = choices[k]!;
      if (state[mechanism] !== when || (holds && held >= exploration.heldLimit)) continue;
      state[mechanism] = to;
      this.take(exploration.lead(state), state, here, k);
      state[mechanism] = when;
    }
    if (held === 0) this.takePairs(state, here);
  }

  /** Two pressed at one instant are tried for shorts alone: one after the other leads everywhere else. */
  private takePairs(state: MechanicalState, from: number): void {
    if (!this.isOpen('no-short')) return;
    const { exploration } = this;
    for (let k = 0; k < exploration.pairs.length; k += 1) this.takePair(state, from, k);
  }

  protected takePair(state: MechanicalState, from: number, pair: number): void {
    const { exploration } = this;
    const { mechanisms } = exploration.pairs[pair]!;
    for (const mechanism of mechanisms) state[mechanism] = ARRIVING;
    const code = exploration.lead(state);
    if (code < 0 && exploration.outcome(code).short) this.findPair(state, from, pair);
    for (const mechanism of mechanisms) state[mechanism] = REST;
  }

  /** Two buttons pressed at one instant may make a short circuit. */
  protected findPair(started: MechanicalState, from: number, pair: number): void {
    findShort(this, { started, from, by: this.exploration.pairs[pair]!.stimulus });
  }

  /** Judges where one stimulus led and keeps the situations that are new. */
  protected take(code: number, started: MechanicalState, from: number, choice: number): void {
    if (code >= 0) {
      this.arrive(code, from, choice);
      return;
    }
    const outcome = this.exploration.outcome(code);
    const lead = { outcome, started, from, choice, by: this.stimulus(choice) };
    for (const [id, rule] of this.onLead)
      if (this.isOpen(id) && rule.suspects?.(this, lead)) this.judgeLead(id, rule, lead);
    for (const end of outcome.ends) this.arrive(end, from, choice);
  }

  protected judgeLead(_: PropertyId, rule: PropertyRule, lead: Lead): void {
    rule.lead?.(this, lead);
  }

  private arrive(end: number, from: number, choice: number): void {
    const known = end < this.reached.length && this.reached[end] === 1;
    const by = this.stimulus(choice);
    const starter =
      from >= 0 &&
      this.running[from] === false &&
      this.isOpen('no-self-start') &&
      startsNothing(by, this.dutyOf);
    if (known && !starter) return;
    const state = this.arrived;
    this.exploration.situations.read(end, state);
    const running = this.isRunning(state);
    const now = { state, from, choice };
    if (!known) for (const [id, judge] of this.onSettled) if (this.isOpen(id)) judge(this, now);
    if (running) {
      this.hasRun = true;
      if (!known) this.noteRun(state);
      if (!known)
        for (const [id, judge] of this.onRunning) if (this.isOpen(id) || !this.hasDriven) judge(this, now);
      if (starter && by) judgeStart(this, now, by);
    }
    if (!known) this.keep(end, from, choice, running);
  }

  private noteRun(state: MechanicalState): void {
    const { motors, mechanisms } = this.circuit;
    if (motors.length === 0 || this.ran.size >= MOST_RUNNING) return;
    this.aroundMotors ??= mechanismsBetween(
      this.circuit,
      this.motors.flatMap((k) => motors[k]!.terminals),
    );
    const key = String.fromCharCode(...this.aroundMotors.map((k) => mechanisms[k]!.classOf[state[k]!]!));
    if (!this.ran.has(key)) this.ran.set(key, state.slice());
  }

  protected keep(end: number, from: number, choice: number, running: boolean): void {
    if (end >= this.reached.length) {
      const grown = new Uint8Array(Math.max(end + 1, 2 * this.reached.length));
      grown.set(this.reached);
      this.reached = grown;
    }
    this.reached[end] = 1;
    this.queue.push(end);
    this.parent.push(from);
    this.by.push(choice);
    this.running.push(running);
  }

  // ── what the properties ask ─────────────────────────────────────────────────────────────────────

  private found(id: PropertyId): boolean {
    return this.violations.has(id) || this.unshown.has(id);
  }

  /** True while a property is judged and nothing was found against it whose steps show it. */
  isOpen(id: PropertyId): boolean {
    if (!this.judged.includes(id) || this.violations.has(id) || this.closed.has(id)) return false;
    // The first that is lost is the last to be asked for.
    return !this.untilLost || this.judged.find((one) => one === id || this.violations.has(one)) === id;
  }

  private stimulus(choice: number): Stimulus | null {
    return this.exploration.choices[choice]?.stimulus ?? null;
  }

  /** Start controls that are held. */
  startsHeld(state: MechanicalState): number {
    return this.exploration.buttons.filter(
      ({ mechanism, duty }) => state[mechanism] !== REST && START_DUTIES.includes(duty),
    ).length;
  }

  private readonly dutyOf = (tag: string): Duty | undefined =>
    this.exploration.controls.find((one) => one.tag === tag)?.duty;

  /** True while a button is held whose duty nobody has said. */
  unnamedHeld(state: MechanicalState): boolean {
    return this.exploration.buttons.some(
      ({ mechanism, duty }) => duty === undefined && state[mechanism] !== REST,
    );
  }

  /** A motor is driven, or on a bench without motors a contactor or relay is in. */
  private isRunning(state: MechanicalState): boolean {
    if (this.circuit.motors.length === 0) return this.coils.some(({ mechanism }) => isIn(state[mechanism]!));
    for (const k of this.motors) if (this.decisions.isDriven(k, state)) return true;
    return false;
  }

  /** What runs in a state, in words. */
  drivenIn(state: MechanicalState): string {
    const { motors, coils } = this.circuit;
    if (motors.length === 0) {
      const inside = coils.filter(({ mechanism }) => isIn(state[mechanism]!));
      return inside.map(({ tag }) => `${tag} is in`).join(', ');
    }
    const driven = motors.map(({ tag }, k) => ({ tag, field: this.decisions.driven(k, state) }));
    return driven
      .filter(({ field }) => field !== 'none')
      .map(({ tag, field }) => `${tag} is driven ${field}`)
      .join(', ');
  }

  /** Keeps what was found; where its steps do not show it in time, only as long as no others do. */
  note(id: PropertyId, violation: Violation, { shown, burns }: Pick<Directed, 'shown' | 'burns'>): void {
    if (shown) this.violations.set(id, violation);
    else {
      const before = this.unshown.get(id) ?? { violation, tries: 0, burns };
      const better = before.burns && !burns ? { violation, burns } : before;
      const tries = before.tries + 1;
      this.unshown.set(id, { violation: better.violation, burns: better.burns, tries });
      if (tries >= MOST_TRIES) this.closed.add(id);
    }
  }

  /** A violation in a settled situation: something runs, or what `shows` tells. */
  violateSettled(
    id: PropertyId,
    { state, from, choice }: Settled,
    found: string,
    shows: Shows = (simulation) => simulation.isRunning,
    then: readonly Stimulus[] = [],
  ): void {
    const end = state.slice();
    const goal = (other: MechanicalState) => isSame(end, other);
    const last = this.segmentOf(from, choice, goal) ?? { stimulus: null, started: end, goal };
    this.violate(id, from, last, found, shows, then);
  }

  /** Notes what was found, with the script that shows it. */
  violate(
    id: PropertyId,
    from: number,
    { stimulus, started, goal }: LastSegment,
    found: string,
    shows: Shows,
    then: readonly Stimulus[] = [],
  ): void {
    const { solver, exploration } = this;
    const before = this.segments(from);
    let way = {
      root: before.root,
      segments: stimulus ? [...before.segments, { stimulus, started, goal }] : [],
    };
    // What shows as the supply comes on, in one of the ways in which it may, shows when it is switched off
    // and on again.
    if (!stimulus && !shows(worked(solver, then), then))
      way = { root: worked(solver, [], true).state, segments: powered(solver, goal) };
    const { steps, ...so } =
      way.segments.length > 0
        ? directed(solver, exploration, way, shows, then)
        : replayed(solver, [], shows, then);
    this.note(id, { trace: steps, found }, so);
  }

  /** The situation in which the bench came on, and the steps by which a later one was reached from it. */
  segments(place: number): { readonly root: MechanicalState; readonly segments: Segment[] } {
    const segments: Segment[] = [];
    let at = place;
    for (; at >= 0 && this.by[at]! >= 0; at = this.parent[at]!) {
      const end = this.exploration.state(this.queue[at]!);
      const segment = this.segmentOf(this.parent[at]!, this.by[at]!, (state) => isSame(end, state));
      if (segment) segments.unshift(segment);
    }
    return { root: this.exploration.state(this.queue[Math.max(at, 0)]!), segments };
  }

  private segmentOf(from: number, choice: number, goal: Segment['goal']): Segment | null {
    const chosen = this.exploration.choices[choice];
    if (!chosen || from < 0) return null;
    const started = this.exploration.state(this.queue[from]!);
    started[chosen.mechanism] = chosen.to;
    return { stimulus: chosen.stimulus, started, goal };
  }
}
