import { describeStimulus, isClosed, type Stimulus, type Switch } from '../circuit/index.js';
import { describeFault, faultKey, readFault, type WrittenFault } from '../faults/index.js';
import type { WhatIf } from '../explain/index.js';
import { isExpectation, type Step } from '../simulation/index.js';
import { plural } from '../plural.js';
import { isValue, type AskedBoard } from './asked.js';
import { shownAfter } from './danger.js';
import { dangerWords } from './words.js';
import type {
  Answer,
  BlocksQuestion,
  CauseQuestion,
  DangerQuestion,
  HoldsQuestion,
  Question,
  StatesQuestion,
  TerminalQuestion,
  ValueQuestion,
} from './question.js';

/** Something in an answer that is wrong, and the steps that show it on the board. */
export interface WrongCell {
  /** What was asked, in words. */
  readonly what: string;
  readonly answered: string;
  readonly right: string;
  /** A script that shows it: stimuli, then what is seen; empty where nothing is worked. */
  readonly replay: readonly Step[];
}

/** What an answer is worth. */
export interface JudgedAnswer {
  /** Part of the question's points, 0 to 1. */
  readonly share: number;
  readonly wrong: readonly WrongCell[];
}

const RIGHT: JudgedAnswer = { share: 1, wrong: [] };
/** Part by which a number that is seen may differ. */
const TOLERANCE = 0.05;

/** Units in which a value may be given, as multiples of ours. */
const UNITS: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  A: { A: 1, mA: 1e-3 },
  V: { V: 1, mV: 1e-3, kV: 1e3 },
  s: { s: 1, ms: 1e-3, min: 60 },
  VA: { VA: 1, kVA: 1e3 },
};

/** Marks one answer; one that was not given is wrong. */
export function judgeAnswer(board: AskedBoard, question: Question, answer: Answer | undefined): JudgedAnswer {
  switch (question.ask) {
    case 'states':
      return judgeStates(board, question, answer);
    case 'blocks':
      return judgeBlocks(board, question, answer);
    case 'holds':
      return judgeHolds(board, question, answer);
    case 'value':
      return judgeValue(board, question, answer);
    case 'terminal':
      return judgeTerminal(board, question, answer);
    case 'danger':
      return judgeDanger(board, question, answer);
    case 'cause':
      return judgeCause(board, question, answer);
  }
}

const isRecord = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** An answer as people say it. */
function said(value: unknown): string {
  if (value === undefined) return 'not answered';
  if (typeof value === 'string' || typeof value === 'number') return String(value);
  if (Array.isArray(value))
    return value.map((one: unknown) => (isRecord(one) ? stimulusWords(one) : String(one))).join(', ');
  if (!isRecord(value)) return JSON.stringify(value);
  if (typeof value.value === 'number')
    return typeof value.unit === 'string' ? `${value.value} ${value.unit}` : String(value.value);
  return faultWords(value);
}

/** In words; what has none as it was written. */
function orAsWritten(value: object, words: () => string): string {
  try {
    return words();
  } catch {
    return JSON.stringify(value);
  }
}

const stimulusWords = (value: object): string =>
  orAsWritten(value, () => describeStimulus(value as Stimulus));
const faultWords = (value: object): string =>
  orAsWritten(value, () => describeFault(readFault(value as WrittenFault)));

const wrong = (
  what: string,
  answered: unknown,
  right: string,
  replay: readonly Step[] = [],
): JudgedAnswer => ({
  share: 0,
  wrong: [{ what, answered: said(answered), right, replay }],
});

/** A cell is right where it is what a run shows; a number within the usual tolerance. */
function isShown(given: unknown, shown: string | number): boolean {
  if (typeof shown === 'string') return given === shown;
  const number = typeof given === 'number' ? given : Number.NaN;
  return Math.abs(number - shown) <= Math.max(TOLERANCE * Math.abs(shown), 1e-6);
}

function judgeStates(board: AskedBoard, question: StatesQuestion, answer: Answer | undefined): JudgedAnswer {
  const { steps, of } = question;
  const rows = Array.isArray(answer) ? (answer as readonly unknown[]) : [];
  const cells = board.states(question).flatMap((shown, k) =>
    of.map((what): WrongCell | null => {
      const row = rows[k];
      const given = isRecord(row) ? row[what] : undefined;
      const right = shown[what]!;
      if (isShown(given, right)) return null;
      const expected = typeof right === 'number' ? rangeOf(right) : right;
      return {
        what: `${what} after step ${k + 1}`,
        answered: said(given),
        right: String(right),
        replay: [...steps.slice(0, k + 1), { expect: { [what]: expected } }],
      };
    }),
  );
  const bad = cells.filter((cell) => cell !== null);
  return { share: 1 - bad.length / cells.length, wrong: bad };
}

function rangeOf(value: number): { min: number; max: number } {
  const slack = Math.max(TOLERANCE * Math.abs(value), 1e-6);
  return { min: value - slack, max: value + slack };
}

/** The contacts that an answer names; null where it names something else. */
const contactsIn = (board: AskedBoard, answer: Answer | undefined): Switch[] | null =>
  Array.isArray(answer) && answer.every((one) => typeof one === 'string') ? board.contacts(answer) : null;

function judgeBlocks(board: AskedBoard, question: BlocksQuestion, answer: Answer | undefined): JudgedAnswer {
  const { steps, then, of } = question;
  const right = board.blocks(question) ?? [];
  const replay = [...steps, then];
  const given = contactsIn(board, answer);
  const whatIf = board.whatIf(replay, of);
  // Another set of as few is as right.
  const isRight =
    given?.length === right.length &&
    given.every((one) => !isClosed(one, whatIf.state)) &&
    whatIf.with(given, true);
  return isRight ? RIGHT : wrong(`what keeps ${of} out`, answer, right.join(', '), replay);
}

function judgeHolds(board: AskedBoard, question: HoldsQuestion, answer: Answer | undefined): JudgedAnswer {
  const { steps, of } = question;
  const right = board.holds(question) ?? [];
  const given = contactsIn(board, answer);
  const whatIf = board.whatIf(steps, of);
  return given && isPath(board, whatIf, given)
    ? RIGHT
    : wrong(`what holds ${of}`, answer, right.join(', '), steps);
}

/** With every other contact held open it stays, and without any of those that were named it does not. */
function isPath(board: AskedBoard, whatIf: WhatIf, named: readonly Switch[]): boolean {
  if (named.some((one) => !isClosed(one, whatIf.state))) return false;
  const others = board.circuit.switches.filter(
    (one) => isClosed(one, whatIf.state) && !named.includes(one) && !board.isProtection(one),
  );
  const needed = named.filter((one) => !board.isProtection(one));
  return whatIf.with(others, false) && needed.every((one) => !whatIf.with([...others, one], false));
}

function judgeValue(board: AskedBoard, question: ValueQuestion, answer: Answer | undefined): JudgedAnswer {
  const right = board.value(question);
  if (!right) return wrong('a value', answer, 'the board does not say it');
  const words = `${Number(right.value.toPrecision(4))} ${right.unit}`;
  const { of } = question;
  const what =
    typeof of === 'string' ? of : 'volts' in of ? `volts(${of.volts.join(', ')})` : `amps(${of.amps})`;
  const given = numberIn(answer, right.unit);
  return given !== null && isValue(given, right.value, question.tolerance)
    ? RIGHT
    : wrong(what, answer, words, question.steps ?? []);
}

/** A number in our unit, from a number, a text with its unit, or both apart; null where the unit is another. */
function numberIn(answer: Answer | undefined, unit: string): number | null {
  if (typeof answer === 'number') return answer;
  if (typeof answer === 'string') {
    const [, number, own = unit] = /^\s*(-?\d+(?:[.,]\d+)?)\s*([A-Za-z]+)?\s*$/.exec(answer) ?? [];
    const factor = UNITS[unit]?.[own];
    return number === undefined || factor === undefined ? null : Number(number.replace(',', '.')) * factor;
  }
  if (!isRecord(answer) || typeof answer.value !== 'number') return null;
  const factor = typeof answer.unit === 'string' ? UNITS[unit]?.[answer.unit] : 1;
  return factor === undefined ? null : answer.value * factor;
}

function judgeTerminal(
  board: AskedBoard,
  { what }: TerminalQuestion,
  answer: Answer | undefined,
): JudgedAnswer {
  const right = board.terminals(what);
  const words =
    'joined' in what
      ? `a terminal that leads join to ${what.joined}`
      : 'coil' in what
        ? `a terminal of the coil of ${what.of}`
        : `a terminal of an ${what.contact.toUpperCase()} contact of ${what.of}`;
  return typeof answer === 'string' && right.includes(answer)
    ? RIGHT
    : wrong(words, answer, right.slice(0, 6).join(', '));
}

/** Half for a sequence that shows it and is longer than it need be. */
const LONGER = 0.5;

/** After how much a sequence shows what is asked for; null where it does not, or is no sequence at all. */
function worked(board: AskedBoard, { property }: DangerQuestion, steps: readonly Stimulus[]): number | null {
  if (!steps.every((step) => isRecord(step) && !isExpectation(step as Step))) return null;
  try {
    return shownAfter(board.solver, property, steps);
  } catch {
    // Words that are no stimulus do nothing.
    return null;
  }
}

function judgeDanger(board: AskedBoard, question: DangerQuestion, answer: Answer | undefined): JudgedAnswer {
  const shortest = board.danger(question);
  const trace = shortest?.trace ?? [];
  const what = `what ${dangerWords(question.property)}`;
  const steps = Array.isArray(answer) ? (answer as readonly Stimulus[]) : [];
  const shown = worked(board, question, steps);
  if (shown === null || !shortest) return wrong(what, answer, said(trace), trace);
  if (shown <= shortest.length) return RIGHT;
  const shorter = `${plural(shortest.length, 'step')}: ${said(trace)}`;
  return {
    share: LONGER,
    wrong: [{ what, answered: plural(shown, 'step'), right: shorter, replay: trace }],
  };
}

function judgeCause(board: AskedBoard, question: CauseQuestion, answer: Answer | undefined): JudgedAnswer {
  const right = board.causes(question);
  const given = isRecord(answer) ? keyOf(answer) : null;
  const isRight = given !== null && right.some((one) => keyOf(one) === given);
  return isRight
    ? RIGHT
    : wrong(
        'what explains the findings',
        answer,
        right.map(said).join(', '),
        question.findings[0]?.steps ?? [],
      );
}

/** The same for the same fault however its place is written; null of what is no fault. */
function keyOf(written: WrittenFault): string | null {
  try {
    return faultKey(readFault(written));
  } catch {
    return null;
  }
}
