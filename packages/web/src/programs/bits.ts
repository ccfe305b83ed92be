import {
  isConnected,
  isCounter,
  isMemory,
  isTimer,
  isTimerOn,
  type Program,
  type TraceEvent,
} from '@contactum/core';

/** States of the timers of programs, by the words in which they are told. */
const TIMER_STATES: Readonly<Record<string, number>> = { idle: 0, timing: 1, done: 2 };

/**
 * What of a program is on, by name as rungs look at it, from what the bench has told; nothing while the
 * controller does not run.
 */
export function bitsOn(program: Program, tag: string, events: readonly TraceEvent[]): ReadonlySet<string> {
  const last = new Map<string, string>();
  for (const { what, state } of events)
    if (what === tag || what.startsWith(`${tag}.`)) last.set(what.slice(tag.length + 1), state);
  if (last.get('') !== 'run') return new Set();
  return new Set(
    program.variables.flatMap((variable) => {
      const { name } = variable;
      if (isTimer(variable)) {
        const state = TIMER_STATES[last.get(name) ?? 'idle'] ?? 0;
        return isTimerOn(variable.timer, state) ? [`${name}.Q`] : [];
      }
      if (isCounter(variable)) return [];
      const said = last.get(isConnected(variable) ? variable.at : name);
      const initial = isMemory(variable) && variable.initial === true;
      return said === 'on' || (said === undefined && initial) ? [name] : [];
    }),
  );
}

/** When each timer that runs now began to run, by name, seconds on the bench's clock. */
export function timingSince(
  program: Program,
  tag: string,
  events: readonly TraceEvent[],
): ReadonlyMap<string, number> {
  const since = new Map<string, number>();
  for (const { what, state, t } of events) {
    if (what === tag && state !== 'run') since.clear();
    if (!what.startsWith(`${tag}.`)) continue;
    const name = what.slice(tag.length + 1);
    if (state === 'timing') since.set(name, t);
    else since.delete(name);
  }
  const timers = new Set(program.variables.flatMap((one) => (isTimer(one) ? [one.name] : [])));
  return new Map([...since].filter(([name]) => timers.has(name)));
}
