import { describeStimulus, type Stimulus } from '../circuit/index.js';
import type { Danger, Measured, Meant, Question, ValueQuestion } from './question.js';

const done = (steps: readonly Stimulus[]): string =>
  steps.length === 0 ? 'With the supply on' : `After: ${steps.map(describeStimulus).join(', ')}`;

const listed = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)!}`;

/** Names of values after the point of `F2.dial`. */
const VALUES: Readonly<Record<string, string>> = {
  dial: 'to what current must the dial be set',
  delay: 'to what time is it set',
  current: 'what line current does the plate say',
  windingCurrent: 'what current does each winding carry at rated load',
  va: 'how many VA must it have at the least, as it is sold',
};

const measured = (of: Measured): string =>
  'volts' in of ? `how many volts lie between ${listed(of.volts)}` : `how many amperes flow into ${of.amps}`;

function valueWords({ of, steps = [] }: ValueQuestion): string {
  if (typeof of !== 'string') return `${done(steps)}: ${measured(of)}?`;
  const dot = of.lastIndexOf('.');
  return `${of.slice(0, dot)}: ${VALUES[of.slice(dot + 1)] ?? of}?`;
}

function meantWords(what: Meant): string {
  if ('joined' in what) return `Name a terminal that leads join to ${what.joined}.`;
  if ('coil' in what) return `Name a terminal of the coil of ${what.of}.`;
  return `Name a terminal of ${what.contact === 'no' ? 'a normally open' : 'a normally closed'} contact of ${what.of}.`;
}

const BREAKS: Readonly<Record<Danger, string>> = {
  'no-short': 'makes a short circuit',
  'stop-drops': 'leaves the motor running while Stop is held',
  'estop-holds': 'leaves the motor running while the emergency stop is set',
  'overload-drops': 'leaves the motor running while the overload relay is tripped',
  'no-self-start': 'makes the motor start by itself',
  'coil-voltage': 'gives a coil a wrong voltage',
  'no-chatter': 'makes a contactor chatter',
  'full-phases': 'drives the motor with a phase missing',
};

/** What an order of working does that breaks a property. */
export const dangerWords = (property: Danger): string => BREAKS[property];

/** A question in words. */
export function questionWords(question: Question): string {
  switch (question.ask) {
    case 'states':
      return `What do ${listed(question.of)} show after each of: ${question.steps.map(describeStimulus).join(', ')}?`;
    case 'blocks':
      return `${done([...question.steps, question.then])}: which open contacts keep ${question.of} from being energised?`;
    case 'holds':
      return `${done(question.steps)}: through which contacts is ${question.of} energised?`;
    case 'value':
      return valueWords(question);
    case 'terminal':
      return meantWords(question.what);
    case 'danger':
      return `Which shortest order of working ${BREAKS[question.property]}?`;
    case 'cause':
      return 'Which of these faults explains everything that was found?';
  }
}
