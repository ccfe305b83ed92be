import { STIMULUS_VERBS } from '../circuit/index.js';
import type { Expected, Step } from '../simulation/index.js';

/** Parts of a text between commas, but for those in brackets. */
const COMMAS = /, (?![^(]*\))/;
const RANGE = /^(\d+(?:\.\d+)?)?\.\.(\d+(?:\.\d+)?)?$/;

/**
 * Steps written shortly, as they are spoken: `press S2; KM1 in, M1.driven forward; wait 2; M1.speed
 * 1350..1500`. What does not begin with a verb is expected: what is looked at, and its value or a range.
 * `release S3 first KM1 then S3` says which is quicker.
 */
export function readSteps(text: string): Step[] {
  return text
    .split('; ')
    .map((part) => part.trim())
    .filter(Boolean)
    .map(readStep);
}

function readStep(part: string): Step {
  const [verb = '', ...rest] = part.split(' ');
  if (!(STIMULUS_VERBS as readonly string[]).includes(verb))
    return { expect: Object.fromEntries(part.split(COMMAS).map(readExpected)) };
  const [said = '', first] = rest.join(' ').split(' first ');
  const [target = '', to] = said.split(' to ');
  return {
    [verb]: valueOf(target),
    ...(to === undefined ? {} : { to: valueOf(to) }),
    ...(first === undefined ? {} : { first: first.split(' then ') }),
  } as unknown as Step;
}

const valueOf = (text: string): string | number => (/^\d+(\.\d+)?$/.test(text) ? Number(text) : text);

function readExpected(text: string): [string, Expected] {
  const space = text.lastIndexOf(' ');
  const value = text.slice(space + 1);
  const [range, min, max] = RANGE.exec(value) ?? [];
  if (range === undefined) return [text.slice(0, space), value];
  const bounds = {
    ...(min === undefined ? {} : { min: Number(min) }),
    ...(max === undefined ? {} : { max: Number(max) }),
  };
  return [text.slice(0, space), bounds];
}
