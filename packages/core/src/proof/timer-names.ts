import { secondsSet, type Circuit, type Stimulus } from '../circuit/index.js';
import type { TimerBlock } from '../program/index.js';

/** A timer of a program, as stimuli name it. */
interface Named {
  readonly name: string;
  readonly does: TimerBlock;
  readonly seconds: number;
}

const timersOf = ({ mechanisms }: Circuit): Named[] =>
  mechanisms.flatMap((one) =>
    one.kind === 'program-timer'
      ? [{ name: `${one.device.tag}.${one.name}`, does: one.does, seconds: one.delay }]
      : [],
  );

const elapse = (name: string): string => JSON.stringify({ elapse: name } satisfies Stimulus);

/**
 * Which timer of a reference's program each timer of a candidate's stands for, as stimuli: two people give
 * one timer two names. By name first, then by what it does and its preset, then by the order in which they
 * stand.
 */
export function timerNames(reference: Circuit, candidate: Circuit): ReadonlyMap<string, string> {
  const left = timersOf(reference);
  const names = new Map<string, string>();
  const isSame: readonly ((a: Named, b: Named) => boolean)[] = [
    (a, b) => a.name === b.name,
    (a, b) => a.does === b.does && a.seconds === b.seconds,
    (a, b) => a.does === b.does,
  ];
  for (const same of isSame)
    for (const own of timersOf(candidate)) {
      if (names.has(elapse(own.name))) continue;
      const k = left.findIndex((other) => same(other, own));
      if (k < 0) continue;
      names.set(elapse(own.name), elapse(left[k]!.name));
      left.splice(k, 1);
    }
  return names;
}

/** Seconds by which a wait outlasts the timer that it stands for. */
const LONGER = 0.1;

/** The same steps with waits in the place of timers that one of two boards does not have. */
export const onBoth = (circuits: readonly Circuit[], steps: readonly Stimulus[]): Stimulus[] =>
  steps.map((step) => {
    if (!('elapse' in step)) return step;
    const places = circuits.map(({ mechanismOf }) => mechanismOf.get(step.elapse));
    if (!places.includes(undefined)) return step;
    const seconds = circuits.map(({ mechanisms }, k) => {
      const place = places[k];
      return place === undefined ? 0 : (secondsSet(mechanisms[place]!) ?? 0);
    });
    return { wait: Math.max(...seconds) + LONGER };
  });
