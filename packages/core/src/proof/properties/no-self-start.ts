import type { Duty } from '../../catalogue/index.js';
import { describeStimulus, type Stimulus } from '../../circuit/index.js';
import type { Judging, Settled } from '../judging.js';
import { DANGER, hasSubjects, type PropertyRule } from './property.js';

/** Judged by the search itself (`judgeStart`): only it knows whether anything ran before. */
export const noSelfStart: PropertyRule = {
  title: 'Nothing starts by itself',
  weight: DANGER,
  applies: hasSubjects,
  tested: ({ hasRun }) => hasRun,
};

/** The return of the supply, a stop or emergency stop released, a reset: none of them may start anything. */
export function startsNothing(by: Stimulus | null, dutyOf: (tag: string) => Duty | undefined): boolean {
  if (by === null) return false;
  if ('close' in by || 'reset' in by) return true;
  if (!('release' in by)) return false;
  const duty = dutyOf(by.release);
  return duty === 'stop' || duty === 'emergency-stop';
}

/** Something runs after a stimulus that may not start anything, and before it nothing ran. */
export function judgeStart(search: Judging, settled: Settled, by: Stimulus): void {
  const { state } = settled;
  if (search.startsHeld(state) > 0 || search.unnamedHeld(state)) return;
  search.violateSettled('no-self-start', settled, `${search.drivenIn(state)} by ${describeStimulus(by)}`);
}
