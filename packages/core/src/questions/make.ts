import type { Bench, TerminalRef } from '../bench/index.js';
import { anatomy, kindOf, positionsOn, type Device } from '../catalogue/index.js';
import { contactPlace, type Stimulus } from '../circuit/index.js';
import { possibleFaults, writeFault, type Fault, type WrittenFault } from '../faults/index.js';
import { explained } from '../explain/index.js';
import { seededNumbers } from '../random/index.js';
import { AskedBoard } from './asked.js';
import { valueChoices } from './choices.js';
import { DANGERS, type Question, type QuestionKind } from './question.js';

export type QuestionDegree = 1 | 2 | 3 | 4 | 5;

export interface MakeOptions {
  readonly seed: number;
  /** From reading terminals to finding the danger; 2 by default. */
  readonly degree?: QuestionDegree;
  /** 6 by default. */
  readonly count?: number;
}

/** Kinds of question by degree; those that stand twice come twice as often. */
const KINDS: Readonly<Record<QuestionDegree, readonly QuestionKind[]>> = {
  1: ['terminal', 'terminal', 'states', 'value'],
  2: ['states', 'terminal', 'value', 'holds'],
  3: ['states', 'holds', 'blocks', 'danger'],
  4: ['blocks', 'states', 'cause', 'value', 'danger'],
  5: ['cause', 'danger', 'blocks', 'states'],
};
/** Stimuli of a sequence, by degree. */
const LENGTHS: Readonly<Record<QuestionDegree, number>> = { 1: 2, 2: 3, 3: 4, 4: 5, 5: 6 };
/** Draws without a new question after which no more are looked for. */
const DRAWS = 40;
const CAUSES = 4;
/** Points of a kind (common practice, no source). */
const POINTS: Readonly<Record<QuestionKind, number>> = {
  terminal: 1,
  value: 1,
  states: 4,
  holds: 2,
  blocks: 2,
  cause: 4,
  danger: 5,
};

type Draft = Question extends infer Q ? (Q extends Question ? Omit<Q, 'id' | 'points'> : never) : never;

/**
 * Questions about a board, the same for the same seed. Each has an answer on the board; fewer than were asked
 * for where it has no more to ask about.
 */
export function makeQuestions(bench: Bench, { seed, degree = 2, count = 6 }: MakeOptions): Question[] {
  const maker = new Maker(bench, seededNumbers(seed), degree);
  const found = new Map<string, Draft>();
  for (let idle = 0; found.size < count && idle < DRAWS;) {
    const draft = maker.draw();
    const key = draft && JSON.stringify(draft);
    if (draft && key && !found.has(key) && maker.isGood(draft)) {
      found.set(key, draft);
      idle = 0;
    } else idle += 1;
  }
  return [...found.values()].map((draft, k) => ({ id: `q${k + 1}`, points: POINTS[draft.ask], ...draft }));
}

/** Buttons that are held after some stimuli. */
function heldIn(steps: readonly Stimulus[]): string[] {
  const held = new Set<string>();
  for (const step of steps) {
    if ('press' in step) held.add(step.press);
    if ('release' in step) held.delete(step.release);
  }
  return [...held];
}

class Maker {
  private readonly board: AskedBoard;
  private readonly causes: readonly Fault[];
  private last: QuestionKind | null = null;
  /** Properties that this board breaks, found when first asked about. */
  private broken: readonly (typeof DANGERS)[number][] | null = null;

  constructor(
    private readonly bench: Bench,
    private readonly random: () => number,
    private readonly degree: QuestionDegree,
  ) {
    this.board = new AskedBoard(bench);
    this.causes = possibleFaults(this.board.circuit);
  }

  private pick<T>(list: readonly T[]): T | undefined {
    return list[Math.floor(this.random() * list.length)];
  }

  private several<T>(list: readonly T[], most: number): T[] {
    const left = [...list];
    const taken: T[] = [];
    while (taken.length < most && left.length > 0)
      taken.push(...left.splice(Math.floor(this.random() * left.length), 1));
    return taken;
  }

  isGood(draft: Draft): boolean {
    return this.board.problems({ id: 'q', points: 1, ...draft }).length === 0;
  }

  draw(): Draft | null {
    // Not the same kind twice: a board of many states would be asked for nothing else.
    const kinds = KINDS[this.degree];
    const kind = this.pick(kinds.filter((one) => one !== this.last))!;
    this.last = kind;
    switch (kind) {
      case 'terminal':
        return this.terminal();
      case 'value':
        return this.value();
      case 'states':
        return this.states();
      case 'holds':
        return this.holds();
      case 'blocks':
        return this.blocks();
      case 'danger':
        return this.danger();
      case 'cause':
        return this.cause();
    }
  }

  // ── what is done ──────────────────────────────────────────────────────────────────────────────

  /** What a hand may do next on a device, by what it has done before. */
  private acts(device: Device, done: readonly Stimulus[]): Stimulus[] {
    const { tag, duty } = device;
    const { verbs } = kindOf(device);
    const last = (verb: 'press' | 'release' | 'trip' | 'reset' | 'open' | 'close') =>
      done.findLastIndex((one) => (one as Readonly<Record<string, unknown>>)[verb] === tag);
    if (device.type === 'pushbutton' || device.type === 'estop')
      return last('press') > last('release') ? [{ release: tag }] : [{ press: tag }];
    if (device.type === 'selector') return positionsOn(device).map((to) => ({ turn: tag, to }));
    if (device.type === 'overload' && this.degree >= 2)
      return last('trip') > last('reset') ? [{ reset: tag }] : [{ trip: tag }];
    if (
      verbs.includes('open') &&
      this.degree >= 3 &&
      duty === undefined &&
      anatomy(device).sources.length > 0
    )
      return last('open') > last('close') ? [{ close: tag }] : [{ open: tag }];
    return [];
  }

  private sequence(length: number): Stimulus[] {
    const steps: Stimulus[] = [];
    while (steps.length < length) {
      // What is held is let go sooner or later.
      const held = this.pick(heldIn(steps));
      const next = this.pick(this.bench.devices.flatMap((device) => this.acts(device, steps)));
      if (held !== undefined && this.random() < 0.5) steps.push({ release: held });
      else if (next) steps.push(next);
      else return steps;
    }
    return steps;
  }

  /** What shows on a board by itself. */
  private get visible(): string[] {
    return this.bench.devices.flatMap((device) => {
      const { coils, lamps, motor } = anatomy(device);
      if (motor) return [`${device.tag}.driven`];
      return coils.length > 0 || lamps.length > 0 ? [device.tag] : [];
    });
  }

  private get contacts(): string[] {
    return this.board.circuit.switches.filter(({ spec }) => spec.role === 'aux').map(contactPlace);
  }

  // ── kinds ─────────────────────────────────────────────────────────────────────────────────────

  private terminal(): Draft | null {
    const device = this.pick(this.bench.devices.filter((one) => anatomy(one).contacts.length > 0));
    if (!device) return null;
    const { coils } = anatomy(device);
    const what = this.pick([
      { of: device.tag, contact: 'no' as const },
      { of: device.tag, contact: 'nc' as const },
      ...(coils.length > 0 ? [{ of: device.tag, coil: true as const }] : []),
      ...this.several(this.bench.wires, 1).map(({ from }) => ({ joined: from })),
    ])!;
    return { ask: 'terminal', what };
  }

  private value(): Draft | null {
    if (this.degree >= 4) {
      const wired = this.bench.wires.flatMap(({ from, to }): TerminalRef[] => [from, to]);
      const [a, b] = this.several(wired, 2);
      if (!a || !b) return null;
      const of = { volts: [a, b] as const };
      const steps = this.sequence(2);
      const read = this.board.value({ of, steps });
      // Volts of what hangs loose, or of a joint, say little.
      return read && read.value > 1 ? this.withChoices({ ask: 'value', of, steps }) : null;
    }
    const named = this.bench.devices.flatMap(({ tag, type }) => {
      if (type === 'overload') return [`${tag}.dial`];
      if (type === 'timer' || type === 'star-delta-timer') return [`${tag}.delay`];
      if (type === 'motor-3') return [`${tag}.current`, `${tag}.windingCurrent`];
      return type === 'transformer' ? [`${tag}.va`] : [];
    });
    const of = this.pick(named);
    return of === undefined ? null : this.withChoices({ ask: 'value', of });
  }

  /** With values to choose from, where mistakes give others. */
  private withChoices(draft: Draft & { readonly ask: 'value' }): Draft {
    const among = valueChoices(this.board, draft);
    return among ? { ...draft, among } : draft;
  }

  private states(): Draft | null {
    const steps = this.sequence(LENGTHS[this.degree]);
    const of = [...this.several(this.visible, this.degree === 1 ? 1 : 2), ...this.several(this.contacts, 1)];
    if (steps.length === 0 || of.length === 0) return null;
    const rows = this.board.states({ steps, of }).map((row) => JSON.stringify(row));
    // Where nothing changes there is nothing to think about.
    return new Set(rows).size > 1 ? { ask: 'states', steps, of } : null;
  }

  private holds(): Draft | null {
    const steps = this.sequence(LENGTHS[this.degree]);
    const of = this.pick(explained(this.board.circuit).filter((tag) => !this.isMotor(tag)));
    if (of === undefined) return null;
    const path = this.board.holds({ steps, of });
    return path && path.length > 1 ? { ask: 'holds', steps, of } : null;
  }

  private blocks(): Draft | null {
    const steps = this.sequence(LENGTHS[this.degree]);
    const then = steps.pop();
    const of = this.pick(explained(this.board.circuit).filter((tag) => !this.isMotor(tag)));
    if (!then || of === undefined) return null;
    // Something is pressed and nothing comes of it.
    if (!('press' in then)) return null;
    const set = this.board.blocks({ steps, then, of });
    return set && set.length <= 3 ? { ask: 'blocks', steps, then, of } : null;
  }

  private isMotor(tag: string): boolean {
    return this.board.circuit.motors.some((one) => one.tag === tag);
  }

  private danger(): Draft | null {
    this.broken ??= DANGERS.filter((property) => (this.board.danger({ property })?.length ?? 0) > 0);
    const property = this.pick(this.broken);
    return property ? { ask: 'danger', property } : null;
  }

  /** Four faults, and what one of them alone shows. */
  private cause(): Draft | null {
    const among = this.several(this.causes, CAUSES).map(writeFault);
    const [fault] = among;
    if (!fault || among.length < CAUSES) return null;
    const findings = Array.from({ length: 2 }, () => {
      const steps = this.sequence(LENGTHS[this.degree] - 1);
      return { steps, see: this.seen(fault, steps) };
    });
    const right = this.board.causes({ among, findings });
    return right.length === 1 ? { ask: 'cause', among: this.several(among, CAUSES), findings } : null;
  }

  private seen(fault: WrittenFault, steps: readonly Stimulus[]): Record<string, string> {
    const rows = this.board.states({ steps, of: this.visible }, [fault]);
    return Object.fromEntries(
      Object.entries(rows.at(-1) ?? {}).map(([what, value]) => [what, String(value)]),
    );
  }
}
